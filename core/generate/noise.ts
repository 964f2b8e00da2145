import compiled from '../kernels/noise.wasm';
import { KernelModule, makeRoom, MemoryLayout, type Kernel } from '../kernels/web-assembly';
import { gradientNoise, hash32, hashUnit, smoothstep } from '../raster';
import { printNumber } from '../units';
import { isHelped, shareRows, type RowTask } from '../shared-rows';
import { atOnce } from '../steps';

/**
 * Noise over a repeat, computed row by row. Every lattice has a whole number of cells over the repeat, so that it closes, and
 * waves that pixels are too coarse for fade out instead of turning into false patterns.
 */

/** What noise is laid over. */
export interface NoiseGround {
  sizeMm: { width: number; height: number };
  px: { width: number; height: number };
  /** Memory that all noise of it shares; left out: each has its own. */
  noise?: NoiseMemory;
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

/** See core/kernels/assembly/noise.ts; addresses in bytes. */
interface Functions {
  nearestPoint(
    px: number,
    py: number,
    cellsU: number,
    cellsV: number,
    x: number,
    y: number,
    work: number,
    found: number,
  ): void;
  drawDirections(hashed: number, cells: number, row: number, into: number): void;
  addRow(
    out: number,
    width: number,
    directions: number,
    lower: number,
    upper: number,
    cells: number,
    step: number,
    shift: number,
    fy: number,
    b: number,
    scale: number,
  ): void;
}
const KERNEL = new KernelModule<Functions>(compiled);

/** A kernel, and what of its memory is taken. It is freed when all noise in it is. */
export class NoiseMemory {
  readonly kernel: Kernel<Functions> = KERNEL.ofItsOwn();
  private readonly layout = new MemoryLayout();
  /** Where the directions lie, f64. */
  readonly directions = this.place(64);

  constructor() {
    new Float64Array(this.kernel.memory.buffer, this.directions, 32).set([...GX, ...GY]);
  }

  /** Takes room for so many 32-bit numbers. @returns its address */
  place(length: number): number {
    const at = this.layout.of(length);
    makeRoom(this.kernel, this.layout.bytes);
    return at;
  }
}

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

/** Where the arrays of one octave lie in the kernel's memory. */
interface OctavePlaces {
  hashed: number;
  lower: number;
  upper: number;
}

/** Octaves of gradient noise (Perlin 2002), row by row; the directions at a row of a lattice are drawn once. */
class OctaveRows {
  private readonly start: number;
  private readonly places: OctavePlaces[];
  /** Row of the lattice that each octave stands at. */
  private readonly rows: number[];
  private readonly memory: NoiseMemory;
  private readonly out: Float32Array;
  private readonly height: number;

  constructor(
    private readonly octaves: readonly Octave[],
    px: { width: number; height: number },
    memory?: NoiseMemory,
  ) {
    this.memory = memory ?? new NoiseMemory();
    this.height = px.height;
    this.out = new Float32Array(px.width);
    this.start = this.memory.place(px.width);
    this.rows = octaves.map(() => Number.NEGATIVE_INFINITY);
    this.places = octaves.map((octave) => this.placesOf(octave));
  }

  private placesOf({ cellsU, seed }: Octave): OctavePlaces {
    const { memory } = this;
    const bytes = Math.ceil(cellsU / 4);
    const places = { hashed: memory.place(cellsU), lower: memory.place(bytes), upper: memory.place(bytes) };
    const s = Math.imul(seed, 0x9e3779b1);
    const hashed = new Int32Array(memory.kernel.memory.buffer, places.hashed, cellsU);
    for (let x = 0; x < cellsU; x++) hashed[x] = hash32(x ^ s);
    return places;
  }

  /** Draws the directions at a row of an octave's lattice. */
  private draw(k: number, y: number, into: number): void {
    const { cellsU, cellsV } = this.octaves[k]!;
    const row = Math.imul(y % cellsV, 0x85ebca77);
    this.memory.kernel.drawDirections(this.places[k]!.hashed, cellsU, row, into);
  }

  private moveTo(k: number, y: number): void {
    const place = this.places[k]!;
    if (y === this.rows[k]) return;
    if (y === this.rows[k]! + 1) [place.lower, place.upper] = [place.upper, place.lower];
    else this.draw(k, y, place.lower);
    this.draw(k, y + 1, place.upper);
    this.rows[k] = y;
  }

  /** The sum of all octaves at a row of pixels; the array is used again for the next one. */
  row(y: number): Float32Array {
    const { kernel, directions } = this.memory;
    const { length } = this.out;
    const sum = new Float32Array(kernel.memory.buffer, this.start, length);
    sum.fill(0);
    for (const [k, { cellsU, cellsV, amplitude, shiftU, shiftV }] of this.octaves.entries()) {
      const v = ((y + 0.5) / this.height) * cellsV + shiftV;
      const yi = Math.floor(v);
      this.moveTo(k, yi);
      const { lower, upper } = this.places[k]!;
      kernel.addRow(
        this.start,
        length,
        directions,
        lower,
        upper,
        cellsU,
        cellsU / length,
        shiftU,
        v - yi,
        fade(v - yi),
        1.5 * amplitude,
      );
    }
    this.out.set(sum);
    return this.out;
  }
}

interface NoiseRowsSettings {
  octaves: readonly Octave[];
  px: { width: number; height: number };
  /** Which row of the noise the first row of the results is. */
  first: number;
}

export const NOISE_ROWS: RowTask<
  NoiseRowsSettings,
  Record<string, never>,
  Record<string, never>,
  { values: Float32Array }
> = {
  name: 'rows of noise',
  begin({ first, ...noise }) {
    const rows = keptRows(noise);
    const { width } = noise.px;
    return (_, { values }, from, to) => {
      for (let y = from; y < to; y++) values.set(rows.row(first + y), (y - from) * width);
    };
  },
};

/** Noise that this thread computed rows of last: the next rows of it begin with what was drawn for these. */
const lastNoise = new Map<string, OctaveRows>();
const MOST_NOISE = 24;

function keptRows({ octaves, px }: Omit<NoiseRowsSettings, 'first'>): OctaveRows {
  const key = JSON.stringify([octaves, px]);
  const rows = lastNoise.get(key) ?? new OctaveRows(octaves, px);
  lastNoise.delete(key);
  lastNoise.set(key, rows);
  const [oldest] = lastNoise.keys();
  if (lastNoise.size > MOST_NOISE) lastNoise.delete(oldest!);
  return rows;
}

/** Values that are computed ahead. */
const AHEAD = 1 << 20;
/** Noise of fewer pixels is not worth the help of others. */
const LEAST_HELPED = 1 << 21;

/** Rows that threads compute together, some of them ahead. */
class RowsAhead implements Rows {
  private values = new Float32Array(0);
  private from = 0;
  private to = 0;

  constructor(
    private readonly octaves: readonly Octave[],
    private readonly px: { width: number; height: number },
  ) {}

  row(y: number): Float32Array {
    const { width } = this.px;
    if (y < this.from || y >= this.to) this.compute(y);
    return this.values.subarray((y - this.from) * width, (y - this.from + 1) * width);
  }

  private compute(first: number): void {
    const { octaves, px } = this;
    const rows = Math.max(1, Math.min(px.height - first, Math.ceil(AHEAD / px.width)));
    const values = new Float32Array(rows * px.width);
    const settings = { octaves, px, first };
    atOnce(shareRows(NOISE_ROWS, { settings, whole: {}, byRow: {}, out: { values }, rows }));
    [this.values, this.from, this.to] = [values, first, first + rows];
  }
}

const rowsOfOctaves = (octaves: readonly Octave[], ground: NoiseGround): Rows =>
  isHelped() && ground.px.width * ground.px.height >= LEAST_HELPED
    ? new RowsAhead(octaves, ground.px)
    : new OctaveRows(octaves, ground.px, ground.noise);

/** Sum of octaves of gradient noise, about −1…1, mean 0. */
export const waves = (ground: NoiseGround, options: NoiseOptions): Rows =>
  rowsOfOctaves(octavesOf(ground, options), ground);

/**
 * Ridged sum (after Musgrave 1994): crests run where an octave crosses zero. 0–1; high on the crests.
 * Octaves that fade out leave their mean.
 */
export function ridges(ground: NoiseGround, options: NoiseOptions): Rows {
  const { octaves: count = 1, gain = 0.5 } = options;
  const layers = Array.from({ length: count }, (_, o) => {
    const [own] = octavesOf(ground, octaveAlone(options, o));
    return own ? { seen: own.amplitude, rows: rowsOfOctaves([{ ...own, amplitude: 1 }], ground) } : null;
  });
  const total = layers.reduce((sum, _, o) => sum + gainOf(gain, o), 0);
  const out = new Float32Array(ground.px.width);
  const nothing = new Float32Array(ground.px.width);
  return {
    row(y) {
      out.fill(0);
      layers.forEach((octave, o) => {
        const share = gainOf(gain, o) / total;
        const one = octave?.rows.row(y) ?? nothing;
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

/** @throws RangeError when there are too many cells for one repeat */
export function refuseTooManyCells(cells: number): void {
  if (cells > MOST_CELLS)
    throw new RangeError(
      `About ${printNumber(cells / 1e6, 2)} million cells would lie in this repeat; at most ${MOST_CELLS / 1e6} million can. Make the repeat smaller, or its elements larger.`,
    );
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
  refuseTooManyCells(cellsU * cellsV);
  const memory = new NoiseMemory();
  const places = [0, 1].map(() => memory.place(2 * cellsU * cellsV)) as [number, number];
  const [work, result] = [memory.place(2 * 75), memory.place(2 * 3)];
  const { kernel } = memory;
  const [px, py] = places.map((at) => new Float64Array(kernel.memory.buffer, at, cellsU * cellsV)) as [
    Float64Array,
    Float64Array,
  ];
  const nearest = new Float64Array(kernel.memory.buffer, result, 3);
  for (let y = 0; y < cellsV; y++)
    for (let x = 0; x < cellsU; x++) {
      px[y * cellsU + x] = 0.5 + jitter * (hashUnit(x, y, 0, seed) - 0.5);
      py[y * cellsU + x] = 0.5 + jitter * (hashUnit(x, y, 1, seed) - 0.5);
    }
  const found: NearestCell = { f1: 0, edge: 0, id: 0 };
  return (u, v) => {
    kernel.nearestPoint(places[0], places[1], cellsU, cellsV, u * cellsU, v * cellsV, work, result);
    found.f1 = nearest[0]!;
    found.edge = nearest[1]!;
    found.id = nearest[2]!;
    return found;
  };
}
