import { makePlane, type Plane } from '../raster';
import { atOnce, type Steps } from '../steps';
import {
  applyGrid,
  tieGrids,
  weightedCycle,
  weightedGrids,
  type Ties,
  type WeightedGrid,
} from './weighted-grids';

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
  const grids = weightedGrids(weight, mmPerPx);
  const [grid] = grids as [WeightedGrid];
  const b = divergence(slope, grid, mmPerPx);
  const x = new Float64Array(b.length);
  if (start) x.set(start.data, grid.first);
  const padded = (pixel: number) => grid.first + pixel;
  const ties: Ties = {
    high: known.high.map(padded),
    low: known.low.map(padded),
    trust: known.weight.map((v) => DIFFERENCE_WEIGHT * v),
  };
  for (let round = 0; round < (known.mm.length > 0 ? DOUBTED : 1); round++) {
    const pulled = b.slice();
    known.mm.forEach((mm, k) => {
      pulled[ties.high[k]!]! += ties.trust[k]! * mm;
      pulled[ties.low[k]!]! -= ties.trust[k]! * mm;
    });
    tieGrids(grids, ties);
    yield* solve(grids, pulled, x);
    doubt(known, x, ties, Math.max(mmPerPx.x, mmPerPx.y));
  }
  const out = makePlane(w, h);
  const heights = x.subarray(grid.first, grid.first + w * h);
  let sum = 0;
  for (const v of heights) sum += v;
  const mean = sum / heights.length;
  for (let i = 0; i < heights.length; i++) out.data[i] = heights[i]! - mean;
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
  { mm, weight }: HeightDifferences,
  x: Float64Array,
  { high, low, trust }: Ties,
  pixelMm: number,
): void {
  for (let k = 0; k < mm.length; k++) {
    const off =
      (x[high[k]!]! - x[low[k]!]! - mm[k]!) / (HALF_DOUBTED_PX * pixelMm + HALF_DOUBTED_SHARE * mm[k]!);
    trust[k] = (DIFFERENCE_WEIGHT * weight[k]!) / (1 + off * off);
  }
}

const MOST_STEPS = 60;
const RELATIVE_RESIDUAL = 2e-4;

/** Right side of the normal equations, padded as the grid is: what each asked difference pulls at its two pixels. */
function divergence(
  slope: { x: Plane; y: Plane },
  { w, h, first, right, down }: WeightedGrid,
  mm: { x: number; y: number },
): Float64Array {
  const b = new Float64Array(right.length);
  for (let y = 0, i = 0; y < h; y++)
    for (let x = 0; x < w; x++, i++) {
      const at = first + i;
      if (x + 1 < w) {
        const pull = right[at]! * 0.5 * (slope.x.data[i]! + slope.x.data[i + 1]!) * mm.x;
        b[at + 1]! += pull;
        b[at]! -= pull;
      }
      if (y + 1 < h) {
        // Rows run down the picture, the slope up.
        const pull = -down[at]! * 0.5 * (slope.y.data[i]! + slope.y.data[i + w]!) * mm.y;
        b[at + w]! += pull;
        b[at]! -= pull;
      }
    }
  return b;
}

/** Conjugate gradients; `x` holds where they start, and then the solution. */
function* solve(grids: WeightedGrid[], b: Float64Array, x: Float64Array): Steps<void> {
  const [grid] = grids as [WeightedGrid];
  const [r, q, p] = [b.slice(), new Float64Array(b.length), new Float64Array(b.length)];
  applyGrid(grid, x, q);
  for (let i = 0; i < r.length; i++) r[i]! -= q[i]!;
  const enough = RELATIVE_RESIDUAL * RELATIVE_RESIDUAL * dot(b, b);
  if (dot(r, r) <= enough) return;
  let rz = 1;
  for (let step = 0; step < MOST_STEPS; step++) {
    yield;
    grid.b.set(r);
    weightedCycle(grids);
    const more = dot(r, grid.x);
    const beta = step > 0 ? more / rz : 0;
    rz = more;
    for (let i = 0; i < p.length; i++) p[i] = grid.x[i]! + beta * p[i]!;
    applyGrid(grid, p, q);
    const alpha = rz / dot(p, q);
    let left = 0;
    for (let i = 0; i < x.length; i++) {
      x[i]! += alpha * p[i]!;
      const v = r[i]! - alpha * q[i]!;
      r[i] = v;
      left += v * v;
    }
    if (left <= enough) return;
  }
}

function dot(a: Float64Array, b: Float32Array | Float64Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i]! * b[i]!;
  return sum;
}
