import { hashUnit, type Random } from '../raster';
import type { Steps } from '../steps';
import type { Cell } from './cell';
import { CELLS_BETWEEN_TURNS, Corners, splittingSteps, type SplitCell } from './net';
import type { Point } from './polygon';

/** Stone that is not sawn: corners out of place and edges that waver, the same for both stones at an edge. */

export interface Roughness {
  /** How far corners stand off, mm. */
  cornerMm: number;
  /** How far edges waver from a straight line, mm. */
  edgeMm: number;
  /** Radius of the corners of stones, mm. */
  roundMm: number;
  /** Length of the shortest straight part of an edge, mm. */
  stepMm: number;
}

interface Size {
  width: number;
  height: number;
}

/** The same cells with rough edges; they still cover the repeat without a gap. */
export function* roughSteps(
  cells: readonly Cell[],
  repeatMm: Size,
  rough: Roughness,
  random: Random,
): Steps<Cell[]> {
  const { cells: split, corners } = yield* splittingSteps(cells, repeatMm);
  const moved = movedCorners(corners, split, rough.cornerMm, random);
  const middles = new Corners(repeatMm);
  const seed = random.whole(0x7fffffff);
  const out: Cell[] = [];
  for (const [k, cell] of cells.entries()) {
    if (k % CELLS_BETWEEN_TURNS === 0) yield;
    out.push({ ...cell, ...roughCell(split[k]!, moved, middles, rough, seed), roundMm: rough.roundMm });
  }
  return out;
}

/** A displacement of every corner where joints meet, at most as far as asked; corners of a curve stay. */
function movedCorners(
  { places }: Corners,
  cells: readonly SplitCell[],
  mostMm: number,
  random: Random,
): Point[] {
  const meeting = new Uint8Array(places.length);
  for (const { corners } of cells) for (const k of corners) meeting[k]!++;
  return places.map((_, k) => {
    const [angle, far] = [random.next() * 2 * Math.PI, mostMm * Math.sqrt(random.next())];
    return meeting[k]! > 2 ? [far * Math.cos(angle), far * Math.sin(angle)] : [0, 0];
  });
}

function roughCell(
  { outline, corners, jointMm }: SplitCell,
  moved: readonly Point[],
  middles: Corners,
  rough: Roughness,
  seed: number,
): Pick<Cell, 'outline' | 'jointMm'> {
  const points: Point[] = [];
  const joints: number[] = [];
  const place = (k: number): Point => {
    const n = k % outline.length;
    const [at, off] = [outline[n]!, moved[corners[n]!]!];
    return [at[0] + off[0], at[1] + off[1]];
  };
  outline.forEach((p, k) => {
    const q = outline[(k + 1) % outline.length]!;
    const [from, to] = [place(k), place(k + 1)];
    const edge = middles.numberOf([(p[0] + q[0]) / 2, (p[1] + q[1]) / 2]);
    // Both stones at an edge see it run the other way, and waver alike.
    const forward = q[0] - p[0] > 1e-6 || (Math.abs(q[0] - p[0]) <= 1e-6 && q[1] > p[1]);
    const line = forward
      ? wavering(from, to, rough, edge, seed)
      : wavering(to, from, rough, edge, seed).reverse();
    for (const point of line.slice(0, -1)) {
      points.push(point);
      joints.push(jointMm[k]!);
    }
  });
  return { outline: points, jointMm: joints };
}

/** A line between two places that strays from the straight one, both ends included. */
function wavering(
  from: Point,
  to: Point,
  { edgeMm, stepMm }: Roughness,
  edge: number,
  seed: number,
): Point[] {
  const length = Math.hypot(to[0] - from[0], to[1] - from[1]);
  const halvings =
    edgeMm > 0 ? Math.max(0, Math.min(5, Math.floor(Math.log2(Math.max(1, length / stepMm))))) : 0;
  const steps = 1 << halvings;
  const off = new Float64Array(steps + 1);
  let amount = Math.min(edgeMm, 0.12 * length);
  for (let step = steps; step > 1; step /= 2, amount *= 0.6)
    for (let k = step / 2; k < steps; k += step)
      off[k] =
        (off[k - step / 2]! + off[k + step / 2]!) / 2 + amount * (2 * hashUnit(edge, k, steps, seed) - 1);
  const [nx, ny] = length > 0 ? [-(to[1] - from[1]) / length, (to[0] - from[0]) / length] : [0, 0];
  return Array.from({ length: steps + 1 }, (_, k): Point => {
    const t = k / steps;
    return [from[0] + t * (to[0] - from[0]) + off[k]! * nx, from[1] + t * (to[1] - from[1]) + off[k]! * ny];
  });
}
