import { gradientNoise, hash32, hashUnit, smoothstep } from '../raster';

/**
 * Noise over a repeat, computed row by row. Every lattice has a whole number of cells over the repeat, so that it closes, and
 * waves that pixels are too coarse for fade out instead of turning into false patterns.
 */

/** What noise is laid over. */
export interface NoiseGround {
  sizeMm: { width: number; height: number };
  px: { width: number; height: number };
}

/** Values of one row at a time; the array is used again for the next row. */
export interface Rows {
  row(y: number): Float32Array;
}

export interface NoiseOptions {
  /** Cells of the coarsest lattice, mm; a wave is about two of them. */
  cellMm: number | { x: number; y: number };
  /** Each octave has cells half as large as the one before; default 1. */
  octaves?: number;
  /** Amplitude of each octave relative to the one before; default 0.5. */
  gain?: number;
  seed: number;
}

/** Pixels per cell at which an octave is left out, and from which it counts in full. */
const FADE_FROM = 0.7;
const FADE_TO = 1.6;

const GX = new Float64Array(16);
const GY = new Float64Array(16);
// Sixteen even directions from square roots alone, so that they are the same bits everywhere.
{
  const c = Math.sqrt(2 + Math.SQRT2) / 2;
  const s = Math.sqrt(2 - Math.SQRT2) / 2;
  const d = Math.SQRT1_2;
  const quarter = [
    [1, 0],
    [c, s],
    [d, d],
    [s, c],
  ] as const;
  for (let k = 0; k < 16; k++) {
    const [x, y] = quarter[k % 4]!;
    const turn = Math.floor(k / 4);
    GX[k] = turn === 0 ? x : turn === 1 ? -y : turn === 2 ? -x : y;
    GY[k] = turn === 0 ? y : turn === 1 ? x : turn === 2 ? -y : -x;
  }
}

const fade = (t: number) => t * t * t * (t * (t * 6 - 15) + 10);

interface Octave {
  cellsU: number;
  cellsV: number;
  amplitude: number;
  seed: number;
  /** Shift of the lattice, in cells: lattices of several octaves that lay one on another would show as a grid. */
  shiftU: number;
  shiftV: number;
}

/** Octaves of noise on a ground, normalised to the spread of one octave; those that fade out wholly are left out. */
function octavesOf({ sizeMm, px }: NoiseGround, options: NoiseOptions): Octave[] {
  const { cellMm, octaves = 1, gain = 0.5, seed } = options;
  const { x, y } = typeof cellMm === 'number' ? { x: cellMm, y: cellMm } : cellMm;
  let [cellsU, cellsV] = [cellsOver(sizeMm.width, x), cellsOver(sizeMm.height, y)];
  const out: Octave[] = [];
  let [amplitude, total] = [1, 0];
  for (let o = 0; o < octaves; o++) {
    const cellPx = Math.min(px.width / cellsU, px.height / cellsV);
    const seen = smoothstep(FADE_FROM, FADE_TO, cellPx);
    const own = seed + o * 101;
    const shiftU = hashUnit(o, 1, 0, own) * cellsU;
    const shiftV = hashUnit(o, 2, 0, own) * cellsV;
    if (seen > 0) out.push({ cellsU, cellsV, amplitude: amplitude * seen, seed: own, shiftU, shiftV });
    total += amplitude * amplitude;
    amplitude *= gain;
    cellsU *= 2;
    cellsV *= 2;
  }
  const scale = 1 / Math.sqrt(total);
  return out.map((octave) => ({ ...octave, amplitude: octave.amplitude * scale }));
}

/** Whole lattice cells of about a size over a length. */
export const cellsOver = (lengthMm: number, cellMm: number): number =>
  Math.max(1, Math.round(lengthMm / cellMm));

/** One octave of gradient noise (Perlin 2002), row by row; the directions at a row of its lattice are drawn once. */
class OctaveRows {
  private readonly hashed: Int32Array;
  private lower: Uint8Array;
  private upper: Uint8Array;
  private row = Number.NEGATIVE_INFINITY;

  constructor(private readonly octave: Octave) {
    const { cellsU, seed } = octave;
    const s = Math.imul(seed, 0x9e3779b1);
    this.hashed = Int32Array.from({ length: cellsU }, (_, x) => hash32(x ^ s));
    this.lower = new Uint8Array(cellsU);
    this.upper = new Uint8Array(cellsU);
  }

  /** Directions at a row of the lattice. */
  private draw(y: number, into: Uint8Array): void {
    const h = Math.imul(y % this.octave.cellsV, 0x85ebca77);
    for (let x = 0; x < into.length; x++) into[x] = hash32(this.hashed[x]! ^ h) & 15;
  }

  private moveTo(y: number): void {
    if (y === this.row) return;
    if (y === this.row + 1) {
      [this.lower, this.upper] = [this.upper, this.lower];
      this.draw(y + 1, this.upper);
    } else {
      this.draw(y, this.lower);
      this.draw(y + 1, this.upper);
    }
    this.row = y;
  }

  /** Adds a row of it. @param y row of pixels, of so many */
  addTo(out: Float32Array, y: number, height: number): void {
    const { cellsU, cellsV, amplitude, shiftU, shiftV } = this.octave;
    const v = ((y + 0.5) / height) * cellsV + shiftV;
    const yi = Math.floor(v);
    const fy = v - yi;
    this.moveTo(yi);
    const { lower, upper } = this;
    const b = fade(fy);
    const step = cellsU / out.length;
    const scale = 1.5 * amplitude;
    let [cell, at] = [-1, 0];
    let [ax, ay, bx, by, cx, cy, dx, dy] = [0, 0, 0, 0, 0, 0, 0, 0];
    for (let i = 0; i < out.length; i++) {
      const u = (i + 0.5) * step + shiftU;
      const xi = Math.floor(u);
      if (xi !== cell) {
        at = xi % cellsU;
        cell = xi;
        const next = at + 1 === cellsU ? 0 : at + 1;
        const [k0, k1, k2, k3] = [lower[at]!, lower[next]!, upper[at]!, upper[next]!];
        ax = GX[k0]!;
        ay = GY[k0]! * fy;
        bx = GX[k1]!;
        by = GY[k1]! * fy;
        cx = GX[k2]!;
        cy = GY[k2]! * (fy - 1);
        dx = GX[k3]!;
        dy = GY[k3]! * (fy - 1);
      }
      const fx = u - xi;
      const a = fade(fx);
      const n00 = ax * fx + ay;
      const n01 = cx * fx + cy;
      const top = n00 + a * (bx * (fx - 1) + by - n00);
      const bottom = n01 + a * (dx * (fx - 1) + dy - n01);
      out[i]! += scale * (top + b * (bottom - top));
    }
  }
}

/** Sum of octaves of gradient noise, about −1…1, mean 0. */
export function waves(ground: NoiseGround, options: NoiseOptions): Rows {
  const octaves = octavesOf(ground, options).map((octave) => new OctaveRows(octave));
  const out = new Float32Array(ground.px.width);
  return {
    row(y) {
      out.fill(0);
      for (const octave of octaves) octave.addTo(out, y, ground.px.height);
      return out;
    },
  };
}

/**
 * Ridged sum (after Musgrave 1994): crests run where an octave crosses zero. 0–1; high on the crests.
 * Octaves that fade out leave their mean.
 */
export function ridges(ground: NoiseGround, options: NoiseOptions): Rows {
  const { octaves: count = 1, gain = 0.5 } = options;
  const layers = Array.from({ length: count }, (_, o) => {
    const [own] = octavesOf(ground, octaveAlone(options, o));
    return own ? { seen: own.amplitude, rows: new OctaveRows({ ...own, amplitude: 1 }) } : null;
  });
  const total = layers.reduce((sum, _, o) => sum + gainOf(gain, o), 0);
  const out = new Float32Array(ground.px.width);
  const one = new Float32Array(ground.px.width);
  return {
    row(y) {
      out.fill(0);
      layers.forEach((octave, o) => {
        const share = gainOf(gain, o) / total;
        one.fill(0);
        octave?.rows.addTo(one, y, ground.px.height);
        const seen = octave?.seen ?? 0;
        for (let i = 0; i < out.length; i++) {
          const ridge = 1 - Math.abs(one[i]!);
          out[i]! += share * (MEAN_RIDGE + seen * (ridge * ridge - MEAN_RIDGE));
        }
      });
      return out;
    },
  };
}
/** Mean of a squared ridge, about. */
const MEAN_RIDGE = 0.5;

const gainOf = (gain: number, octave: number): number => (octave === 0 ? 1 : gain * gainOf(gain, octave - 1));

function octaveAlone({ cellMm, seed }: NoiseOptions, o: number): NoiseOptions {
  const { x, y } = typeof cellMm === 'number' ? { x: cellMm, y: cellMm } : cellMm;
  const by = 1 / (1 << o);
  return { cellMm: { x: x * by, y: y * by }, seed: seed + o * 173 };
}

/**
 * Noise read at single places, for what is bent before it is read. About −1…1.
 * @returns its value at a place, in shares of the repeat; what lies outside is read from the next repeat
 */
export function wavesAt(ground: NoiseGround, options: NoiseOptions): (u: number, v: number) => number {
  const octaves = octavesOf(ground, options);
  return (u, v) => {
    let sum = 0;
    for (const { cellsU, cellsV, amplitude, seed, shiftU, shiftV } of octaves)
      sum += amplitude * gradientNoise(u + shiftU / cellsU, v + shiftV / cellsV, cellsU, cellsV, seed);
    return sum;
  };
}

const MOST_CELLS = 4e6;

/** The nearest point of a cellular pattern. */
export interface NearestCell {
  /** Distance to it, and to the border of its cell, in cells. */
  f1: number;
  edge: number;
  /** A number that belongs to it. */
  id: number;
}

/**
 * Cellular pattern (after Worley 1996) that repeats: one point in every cell of a lattice. The points are drawn once.
 * @param jitter 0: points on a lattice; 1: anywhere in their cell
 * @throws RangeError when there are too many cells
 * @returns the nearest point of a place, in shares of the repeat; the same object every time
 */
export function cellsAt(
  cellsU: number,
  cellsV: number,
  jitter: number,
  seed: number,
): (u: number, v: number) => NearestCell {
  if (cellsU * cellsV > MOST_CELLS)
    throw new RangeError(
      `About ${Math.round((cellsU * cellsV) / 1e6)} million cells would lie in this repeat; at most ${MOST_CELLS / 1e6} million can. Make the repeat smaller, or its elements larger.`,
    );
  const [px, py] = [new Float64Array(cellsU * cellsV), new Float64Array(cellsU * cellsV)];
  for (let y = 0; y < cellsV; y++)
    for (let x = 0; x < cellsU; x++) {
      px[y * cellsU + x] = 0.5 + jitter * (hashUnit(x, y, 0, seed) - 0.5);
      py[y * cellsU + x] = 0.5 + jitter * (hashUnit(x, y, 1, seed) - 0.5);
    }
  const dxs = new Float64Array(25);
  const dys = new Float64Array(25);
  const squares = new Float64Array(25);
  const found: NearestCell = { f1: 0, edge: 0, id: 0 };
  return (u, v) => {
    const x = u * cellsU;
    const y = v * cellsV;
    const xi = Math.floor(x);
    const yi = Math.floor(y);
    let least = Infinity;
    let at = 0;
    let n = 0;
    for (let j = yi - 2; j <= yi + 2; j++) {
      const row = (((j % cellsV) + cellsV) % cellsV) * cellsU;
      let column = (((xi - 2) % cellsU) + cellsU) % cellsU;
      for (let i = xi - 2; i <= xi + 2; i++, n++) {
        const dx = i + px[row + column]! - x;
        const dy = j + py[row + column]! - y;
        if (++column === cellsU) column = 0;
        const d = dx * dx + dy * dy;
        dxs[n] = dx;
        dys[n] = dy;
        squares[n] = d;
        if (d < least) {
          least = d;
          at = n;
        }
      }
    }
    const f1 = Math.sqrt(least);
    const nx = dxs[at]!;
    const ny = dys[at]!;
    let edge = Infinity;
    let reach = Infinity;
    for (let k = 0; k < 25; k++) {
      // The border with a point lies at least half of its extra distance away.
      if (k === at || squares[k]! >= reach) continue;
      const ex = dxs[k]! - nx;
      const ey = dys[k]! - ny;
      const length = Math.sqrt(ex * ex + ey * ey);
      const d = ((nx + dxs[k]!) * ex + (ny + dys[k]!) * ey) / (2 * length);
      if (length > 1e-9 && d < edge) {
        edge = d;
        reach = (2 * edge + f1) * (2 * edge + f1);
      }
    }
    const [column, row] = [xi - 2 + (at % 5), yi - 2 + Math.floor(at / 5)];
    found.f1 = f1;
    found.edge = edge;
    found.id = (((row % cellsV) + cellsV) % cellsV) * cellsU + (((column % cellsU) + cellsU) % cellsU);
    return found;
  };
}
