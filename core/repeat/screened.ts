import { atOnce, type Steps } from '../steps';
import { apply, vCycle, gridOf, type Grid } from './grids';

/** What stays as it was, and what may move. */
export interface Kept {
  /** 1 where values may change. */
  free: Uint8Array;
  values: Float32Array;
}

/** What is left of the right-hand side when it is solved, as a share of its energy. */
const LEFT = 1e-6;
/** Far more than are ever needed. */
const MOST_STEPS = 200;

/**
 * Solves (λ + L)·c = wanted, L the graph Laplacian of the grid, wrapped where closed, cut at joints: conjugate gradients,
 * each step preconditioned by one symmetric cycle over coarser and coarser grids (Tatebe 1993). Single precision holds all
 * that shows; sums are kept in double.
 *
 * @param wanted right-hand side, one value per cell
 * @param screening λ, above 0
 * @param kept where values stay as they were; nothing: nowhere
 */
export const solveScreened = (...of: Parameters<typeof screenedSteps>): Float32Array =>
  atOnce(screenedSteps(...of));

/** The same in steps. */
export function* screenedSteps(
  wanted: Float64Array,
  grid: Grid,
  screening: number,
  kept?: Kept,
): Steps<Float32Array> {
  const finest = gridOf(grid, screening, kept?.free);
  yield;
  const n = wanted.length;
  const solved = kept ? kept.values.slice() : new Float32Array(n);
  const image = new Float32Array(n);
  const residue = Float32Array.from(wanted);
  if (kept) {
    apply(finest, solved, image);
    for (let i = 0; i < n; i++) residue[i] = kept.free[i] === 1 ? residue[i]! - image[i]! : 0;
  }
  const better = new Float32Array(n);
  const enough = LEFT * dot(residue, residue);
  if (enough === 0) return solved;
  yield;
  vCycle(finest, residue, better);
  const direction = better.slice();
  let along = dot(residue, better);
  for (let k = 0; k < MOST_STEPS; k++) {
    yield;
    apply(finest, direction, image);
    if (kept) for (let i = 0; i < n; i++) if (kept.free[i] === 0) image[i] = 0;
    const step = along / dot(direction, image);
    let energy = 0;
    for (let i = 0; i < n; i++) {
      solved[i]! += step * direction[i]!;
      const left = residue[i]! - step * image[i]!;
      residue[i] = left;
      energy += left * left;
    }
    if (energy <= enough) break;
    yield;
    vCycle(finest, residue, better);
    const next = dot(residue, better);
    const turn = next / along;
    along = next;
    for (let i = 0; i < n; i++) direction[i] = better[i]! + turn * direction[i]!;
  }
  return solved;
}

function dot(a: Float32Array, b: Float32Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i]! * b[i]!;
  return sum;
}
