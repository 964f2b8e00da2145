import { makePlane, type Plane } from '../raster';
import { atOnce, type Steps } from '../steps';

/**
 * Height whose slopes are nearest to given ones, each as far as it is trusted; its borders are free. Weighted least squares over
 * the differences of neighbours (Quéau, Durou, Aujol, "Normal Integration: A Survey", 2018), solved by conjugate gradients
 * with one multigrid cycle as preconditioner.
 *
 * @param slope ∂h/∂x to the right and ∂h/∂y up the picture, mm per mm
 * @param weight 0–1 for every pixel; where it is 0 the surface is the smoothest that joins what is around
 * @param mmPerPx size of a pixel
 * @param start height to start from; default: level
 * @param known height differences of pairs of pixels that are known as well
 * @returns height in mm, mean 0
 */
export const surfaceFromSlopes = (...of: Parameters<typeof integrationSteps>): Plane =>
  atOnce(integrationSteps(...of));

/** The same, left between any two steps of the solver. */
export function* integrationSteps(
  slope: { x: Plane; y: Plane },
  weight: Plane,
  mmPerPx: { x: number; y: number },
  start?: Plane,
  known: HeightDifferences = NO_DIFFERENCES,
): Steps<Plane> {
  const { widthPx: w, heightPx: h } = weight;
  const levels = levelsOf(weight, mmPerPx);
  const b = divergence(slope, levels[0]!, mmPerPx);
  const x = Float64Array.from(start?.data ?? new Float32Array(w * h));
  const trust = known.weight.map((v) => DIFFERENCE_WEIGHT * v);
  for (let round = 0; round < (known.mm.length > 0 ? DOUBTED : 1); round++) {
    const pulled = b.slice();
    known.mm.forEach((mm, k) => {
      pulled[known.high[k]!]! += trust[k]! * mm;
      pulled[known.low[k]!]! -= trust[k]! * mm;
    });
    yield* solve(levels, pulled, x, known, trust);
    doubt(known, x, Math.max(mmPerPx.x, mmPerPx.y), trust);
  }
  const out = makePlane(w, h);
  let sum = 0;
  for (const v of x) sum += v;
  const mean = sum / x.length;
  for (let i = 0; i < x.length; i++) out.data[i] = x[i]! - mean;
  return out;
}

/** Pairs of pixels of which one is known to stand higher than the other by so many mm. */
export interface HeightDifferences {
  high: Int32Array;
  low: Int32Array;
  mm: Float32Array;
  /** 0–1: how much each counts. */
  weight: Float32Array;
}
const NO_DIFFERENCES: HeightDifferences = {
  high: new Int32Array(0),
  low: new Int32Array(0),
  mm: new Float32Array(0),
  weight: new Float32Array(0),
};
/** Weight of a known difference against a slope that is fully trusted. */
const DIFFERENCE_WEIGHT = 0.1;
/** It is doubted so often, by how far it is from what the rest says: half of its weight is left at this many pixels' widths. */
const DOUBTED = 2;
const HALF_DOUBTED_PX = 1;
const HALF_DOUBTED_SHARE = 0.2;

function doubt(
  { high, low, mm, weight }: HeightDifferences,
  x: Float64Array,
  pixelMm: number,
  trust: Float32Array,
) {
  for (let k = 0; k < mm.length; k++) {
    const off =
      (x[high[k]!]! - x[low[k]!]! - mm[k]!) / (HALF_DOUBTED_PX * pixelMm + HALF_DOUBTED_SHARE * mm[k]!);
    trust[k] = (DIFFERENCE_WEIGHT * weight[k]!) / (1 + off * off);
  }
}

/** No pixel is trusted less than this, so that the height is determined everywhere. */
const LEAST_WEIGHT = 1e-3;
/** Grids smaller than this are solved by relaxation alone. */
const COARSEST_PX = 4;
const COARSEST_SWEEPS = 24;
const MOST_STEPS = 60;
const RELATIVE_RESIDUAL = 2e-4;

/** A grid of the multigrid cycle: weights of the differences to the right and downwards over the square of their length. */
interface Level {
  w: number;
  h: number;
  right: Float32Array;
  down: Float32Array;
  x: Float64Array;
  b: Float64Array;
  r: Float64Array;
}

function levelsOf(weight: Plane, mm: { x: number; y: number }): Level[] {
  const levels: Level[] = [];
  let { widthPx: w, heightPx: h } = weight;
  let trust: Float32Array = weight.data.map((v) => Math.max(LEAST_WEIGHT, v));
  for (let scale = 1; ; scale *= 2) {
    const [right, down] = [new Float32Array(w * h), new Float32Array(w * h)];
    // Energy of a coarse cell is that of the fine cells in it: the weights stay, whatever the scale.
    const [kx, ky] = [mm.y / mm.x, mm.x / mm.y];
    for (let y = 0, i = 0; y < h; y++)
      for (let x = 0; x < w; x++, i++) {
        if (x + 1 < w) right[i] = kx * harmonic(trust[i]!, trust[i + 1]!);
        if (y + 1 < h) down[i] = ky * harmonic(trust[i]!, trust[i + w]!);
      }
    const n = w * h;
    levels.push({
      w,
      h,
      right,
      down,
      x: new Float64Array(n),
      b: new Float64Array(n),
      r: new Float64Array(n),
    });
    if (Math.max(w, h) <= COARSEST_PX || Math.min(w, h) < 2) return levels;
    [trust, w, h] = coarser(trust, w, h);
  }
}

const harmonic = (a: number, b: number): number => (2 * a * b) / (a + b);

/** Mean of two by two, and of what is left of them at the end of a row or column. */
function coarser(trust: Float32Array, w: number, h: number): [Float32Array, number, number] {
  const [cw, ch] = [(w + 1) >> 1, (h + 1) >> 1];
  const out = new Float32Array(cw * ch);
  for (let y = 0; y < ch; y++)
    for (let x = 0; x < cw; x++) {
      const [x1, y1] = [Math.min(w - 1, 2 * x + 1), Math.min(h - 1, 2 * y + 1)];
      out[y * cw + x] =
        (trust[2 * y * w + 2 * x]! + trust[2 * y * w + x1]! + trust[y1 * w + 2 * x]! + trust[y1 * w + x1]!) /
        4;
    }
  return [out, cw, ch];
}

/** Right side of the normal equations: what each asked difference pulls at its two pixels. */
function divergence(
  slope: { x: Plane; y: Plane },
  { w, h, right, down }: Level,
  mm: { x: number; y: number },
): Float64Array {
  const b = new Float64Array(w * h);
  for (let y = 0, i = 0; y < h; y++)
    for (let x = 0; x < w; x++, i++) {
      if (x + 1 < w) {
        const pull = right[i]! * 0.5 * (slope.x.data[i]! + slope.x.data[i + 1]!) * mm.x;
        b[i + 1]! += pull;
        b[i]! -= pull;
      }
      if (y + 1 < h) {
        // Rows run down the picture, the slope up.
        const pull = -down[i]! * 0.5 * (slope.y.data[i]! + slope.y.data[i + w]!) * mm.y;
        b[i + w]! += pull;
        b[i]! -= pull;
      }
    }
  return b;
}

/** out = A·x, with the known differences. */
function applyAll(
  level: Level,
  { high, low }: HeightDifferences,
  trust: Float32Array,
  x: Float64Array,
  out: Float64Array,
): void {
  apply(level, x, out);
  for (let k = 0; k < trust.length; k++) {
    const d = trust[k]! * (x[high[k]!]! - x[low[k]!]!);
    out[high[k]!]! += d;
    out[low[k]!]! -= d;
  }
}

/** out = A·x. */
function apply({ w, h, right, down }: Level, x: Float64Array, out: Float64Array): void {
  out.fill(0);
  for (let row = 0, i = 0; row < h; row++)
    for (let column = 0; column < w; column++, i++) {
      const v = x[i]!;
      if (column + 1 < w) {
        const d = right[i]! * (x[i + 1]! - v);
        out[i]! -= d;
        out[i + 1]! += d;
      }
      if (row + 1 < h) {
        const d = down[i]! * (x[i + w]! - v);
        out[i]! -= d;
        out[i + w]! += d;
      }
    }
}

/** Conjugate gradients. */
function* solve(
  levels: Level[],
  b: Float64Array,
  x: Float64Array,
  known: HeightDifferences,
  trust: Float32Array,
): Steps<void> {
  const [level] = levels as [Level];
  const n = b.length;
  const q = new Float64Array(n);
  applyAll(level, known, trust, x, q);
  const r = b.map((v, i) => v - q[i]!);
  const enough = RELATIVE_RESIDUAL * RELATIVE_RESIDUAL * dot(b, b);
  if (dot(r, r) <= enough) return;
  const z = precondition(levels, r);
  const p = z.slice();
  let rz = dot(r, z);
  for (let step = 0; step < MOST_STEPS; step++) {
    yield;
    applyAll(level, known, trust, p, q);
    const alpha = rz / dot(p, q);
    for (let i = 0; i < n; i++) {
      x[i]! += alpha * p[i]!;
      r[i]! -= alpha * q[i]!;
    }
    if (dot(r, r) <= enough) return;
    const next = precondition(levels, r);
    const more = dot(r, next);
    const beta = more / rz;
    rz = more;
    for (let i = 0; i < n; i++) p[i] = next[i]! + beta * p[i]!;
  }
}

function dot(a: Float64Array, b: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i]! * b[i]!;
  return sum;
}

/** One symmetric multigrid cycle. */
function precondition(levels: Level[], r: Float64Array): Float64Array {
  levels[0]!.b.set(r);
  vCycle(levels, 0);
  return levels[0]!.x;
}

function vCycle(levels: Level[], k: number): void {
  const level = levels[k]!;
  level.x.fill(0);
  if (k === levels.length - 1) {
    for (let n = 0; n < COARSEST_SWEEPS; n++) {
      relax(level, 0);
      relax(level, 1);
    }
    for (let n = 0; n < COARSEST_SWEEPS; n++) {
      relax(level, 1);
      relax(level, 0);
    }
    return;
  }
  relax(level, 0);
  relax(level, 1);
  apply(level, level.x, level.r);
  for (let i = 0; i < level.r.length; i++) level.r[i] = level.b[i]! - level.r[i]!;
  const below = levels[k + 1]!;
  restrict(level, below);
  vCycle(levels, k + 1);
  prolong(below, level);
  relax(level, 1);
  relax(level, 0);
}

/** Gauss–Seidel over every other pixel, as on a chequer board. */
function relax({ w, h, right, down, x, b }: Level, colour: 0 | 1): void {
  for (let row = 0; row < h; row++) {
    for (let column = (row + colour) & 1; column < w; column += 2) {
      const i = row * w + column;
      let [sum, total] = [b[i]!, 0];
      if (column + 1 < w) {
        sum += right[i]! * x[i + 1]!;
        total += right[i]!;
      }
      if (column > 0) {
        sum += right[i - 1]! * x[i - 1]!;
        total += right[i - 1]!;
      }
      if (row + 1 < h) {
        sum += down[i]! * x[i + w]!;
        total += down[i]!;
      }
      if (row > 0) {
        sum += down[i - w]! * x[i - w]!;
        total += down[i - w]!;
      }
      if (total > 0) x[i] = sum / total;
    }
  }
}

/** Visits the up to two coarse pixels that a fine one lies between, with their weights. */
const near = (at: number, size: number): [number, number] => {
  const whole = at >> 1;
  return [whole, Math.min(size - 1, Math.max(0, at & 1 ? whole + 1 : whole - 1))];
};
const NEARER = 0.75;
const FARTHER = 0.25;

/** The transpose of prolong. */
function restrict(fine: Level, coarse: Level): void {
  const { b } = coarse;
  b.fill(0);
  for (let y = 0, i = 0; y < fine.h; y++) {
    const [y0, y1] = near(y, coarse.h);
    for (let x = 0; x < fine.w; x++, i++) {
      const [x0, x1] = near(x, coarse.w);
      const v = fine.r[i]!;
      b[y0 * coarse.w + x0]! += NEARER * NEARER * v;
      b[y0 * coarse.w + x1]! += NEARER * FARTHER * v;
      b[y1 * coarse.w + x0]! += FARTHER * NEARER * v;
      b[y1 * coarse.w + x1]! += FARTHER * FARTHER * v;
    }
  }
}

/** Bilinear between the middles of coarse pixels. */
function prolong(coarse: Level, fine: Level): void {
  const { x: from } = coarse;
  for (let y = 0, i = 0; y < fine.h; y++) {
    const [y0, y1] = near(y, coarse.h);
    for (let x = 0; x < fine.w; x++, i++) {
      const [x0, x1] = near(x, coarse.w);
      fine.x[i]! +=
        NEARER * (NEARER * from[y0 * coarse.w + x0]! + FARTHER * from[y0 * coarse.w + x1]!) +
        FARTHER * (NEARER * from[y1 * coarse.w + x0]! + FARTHER * from[y1 * coarse.w + x1]!);
    }
  }
}
