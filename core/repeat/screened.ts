import { atOnce, type Steps } from '../steps';
import { apply, vCycle, gridOf, type Grid, type Level, type Runs } from './grids';

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
export const solveScreened = (
  wanted: Float64Array,
  grid: Grid,
  screening: number,
  kept?: Kept,
): Float32Array => atOnce(screenedSteps(wanted, gridOf(grid, screening, kept?.free), kept?.values));

/**
 * The same in steps.
 * @param level the operator λ + L as {@link gridOf} makes it, for any number of right-hand sides one after the other
 * @param values what stays where nothing may change; left out: everything may
 */
export function* screenedSteps(
  wanted: Float64Array,
  level: Level,
  values?: Float32Array,
): Steps<Float32Array> {
  const n = wanted.length;
  const { runs } = level;
  const solved = values ? values.slice() : new Float32Array(n);
  const image = new Float32Array(n);
  const residue = values ? new Float32Array(n) : Float32Array.from(wanted);
  if (values) {
    apply(level, solved, image);
    subtractTo(runs, wanted, image, residue);
  }
  const better = new Float32Array(n);
  const enough = LEFT * dot(runs, residue, residue);
  if (enough === 0) return solved;
  yield;
  vCycle(level, residue, better);
  const direction = better.slice();
  let along = dot(runs, residue, better);
  for (let k = 0; k < MOST_STEPS; k++) {
    yield;
    apply(level, direction, image);
    const step = along / dot(runs, direction, image);
    if (stepAlong(runs, step, { direction, image, solved, residue }) <= enough) break;
    yield;
    vCycle(level, residue, better);
    const next = dot(runs, residue, better);
    const turn = next / along;
    along = next;
    turnTo(runs, turn, better, direction);
  }
  return solved;
}

/** residue = wanted − image. */
function subtractTo(runs: Runs, wanted: Float64Array, image: Float32Array, residue: Float32Array): void {
  for (let r = 0; r < runs.length; r += 2) {
    const end = runs[r + 1]!;
    for (let i = runs[r]!; i < end; i++) residue[i] = Math.fround(wanted[i]!) - image[i]!;
  }
}

function dot(runs: Runs, a: Float32Array, b: Float32Array): number {
  let sum = 0;
  for (let r = 0; r < runs.length; r += 2) {
    const end = runs[r + 1]!;
    for (let i = runs[r]!; i < end; i++) sum += a[i]! * b[i]!;
  }
  return sum;
}

/** Goes a step along a direction. @returns the energy of what is left */
function stepAlong(
  runs: Runs,
  step: number,
  { direction, image, solved, residue }: Record<'direction' | 'image' | 'solved' | 'residue', Float32Array>,
): number {
  let energy = 0;
  for (let r = 0; r < runs.length; r += 2) {
    const end = runs[r + 1]!;
    for (let i = runs[r]!; i < end; i++) {
      solved[i]! += step * direction[i]!;
      const left = residue[i]! - step * image[i]!;
      residue[i] = left;
      energy += left * left;
    }
  }
  return energy;
}

/** direction = better + turn·direction. */
function turnTo(runs: Runs, turn: number, better: Float32Array, direction: Float32Array): void {
  for (let r = 0; r < runs.length; r += 2) {
    const end = runs[r + 1]!;
    for (let i = runs[r]!; i < end; i++) direction[i] = better[i]! + turn * direction[i]!;
  }
}
