import { solveLinear, squared } from '../exact';
import type { Point } from './homography';

/**
 * Radial bow of a lens, two terms, about the picture's middle; radii in half diagonals. It says where a place of the
 * picture would be without bow: straight = middle + (place − middle)·(1 + k1·r² + k2·r⁴). Positive k1 undoes a barrel.
 */
export interface LensBow {
  k1: number;
  k2: number;
}

export const NO_BOW: LensBow = { k1: 0, k2: 0 };
export const hasBow = (bow: LensBow): boolean => bow.k1 !== 0 || bow.k2 !== 0;

/** Takes bow out of a place; both in half diagonals from the middle. */
export function withoutBow(bow: LensBow, [x, y]: Point): Point {
  const r2 = x * x + y * y;
  const s = 1 + r2 * (bow.k1 + r2 * bow.k2);
  return [x * s, y * s];
}

/** Shrinking of a straight place back to the bowed picture, by the square of its straight radius: solved by Newton's method. */
export function bowFactor(bow: LensBow, straightR2: number): number {
  if (straightR2 === 0) return 1;
  const wanted = Math.sqrt(straightR2);
  let r = wanted;
  for (let i = 0; i < 12; i++) {
    const r2 = r * r;
    const f = r * (1 + r2 * (bow.k1 + r2 * bow.k2)) - wanted;
    const slope = 1 + r2 * (3 * bow.k1 + 5 * r2 * bow.k2);
    if (!(slope > 0.05)) break;
    const step = f / slope;
    r -= step;
    if (Math.abs(step) < 1e-13) break;
  }
  return r / wanted;
}

/** Puts bow into a straight place. */
export function withBow(bow: LensBow, [x, y]: Point): Point {
  const s = bowFactor(bow, x * x + y * y);
  return [x * s, y * s];
}

/** Distances of points from the line fitted through them (total least squares), and the line's direction. */
function offLine(points: readonly Point[]): { off: number[]; length: number } {
  let [cx, cy] = [0, 0];
  for (const [x, y] of points) {
    cx += x / points.length;
    cy += y / points.length;
  }
  let [xx, xy, yy] = [0, 0, 0];
  for (const [x, y] of points) {
    xx += squared(x - cx);
    xy += (x - cx) * (y - cy);
    yy += squared(y - cy);
  }
  const angle = 0.5 * Math.atan2(2 * xy, xx - yy);
  const [nx, ny] = [-Math.sin(angle), Math.cos(angle)];
  const [first, last] = [points[0]!, points[points.length - 1]!];
  return {
    off: points.map(([x, y]) => nx * (x - cx) + ny * (y - cy)),
    length: Math.hypot(last[0] - first[0], last[1] - first[1]),
  };
}

export interface FittedBow {
  bow: LensBow;
  /** Root mean square distance of the points from their lines, before and after, in half diagonals. */
  before: number;
  after: number;
}

/**
 * Fits the bow so that the points of each line come to lie on a straight one (Gauss–Newton, numerical derivatives).
 * The second term is used only when there are enough points far enough out to carry it.
 *
 * @param lines each at least three points along an edge that is straight in reality; half diagonals from the middle
 * @throws RangeError with a sentence when nothing can be fitted
 */
export function fitBow(lines: readonly (readonly Point[])[]): FittedBow {
  const usable = lines.filter((line) => line.length >= 3);
  if (usable.length === 0)
    throw new RangeError('A line that should be straight needs at least three points along it.');
  const residuals = (k: readonly number[]) =>
    usable.flatMap((line) => offLine(line.map((p) => withoutBow({ k1: k[0]!, k2: k[1] ?? 0 }, p))).off);
  const spread = (r: readonly number[]) => Math.sqrt(r.reduce((s, v) => s + v * v, 0) / r.length);
  if (usable.every((line) => offLine(line).length < 0.05))
    throw new RangeError(
      'The line is too short to show any bow; draw it along an edge that crosses much of the picture.',
    );
  const radii = usable.flat().map(([x, y]) => Math.hypot(x, y));
  const terms = usable.flat().length >= 8 && Math.max(...radii) > 0.75 && usable.length >= 2 ? 2 : 1;
  let k = new Array<number>(terms).fill(0);
  const before = spread(residuals(k));
  for (let turn = 0; turn < 20; turn++) {
    const r = residuals(k);
    const slopes = k.map((_, i) => {
      const h = 1e-6;
      const moved = residuals(k.map((v, j) => (i === j ? v + h : v)));
      return moved.map((v, n) => (v - r[n]!) / h);
    });
    const a = slopes.map((p, i) =>
      slopes.map((q, j) => p.reduce((s, v, n) => s + v * q[n]!, 0) + (i === j ? 1e-12 : 0)),
    );
    const step = solveLinear(
      a,
      slopes.map((p) => -p.reduce((s, v, n) => s + v * r[n]!, 0)),
    );
    k = k.map((v, i) => v + step[i]!);
    if (Math.hypot(...step) < 1e-12) break;
  }
  const bow = { k1: k[0]!, k2: k[1] ?? 0 };
  // Must be one-to-one out to the corners, and no lens bows more than this.
  const folds = [0.25, 0.5, 0.75, 1].some((r) => 1 + r * r * (3 * bow.k1 + 5 * r * r * bow.k2) < 0.3);
  if (folds || Math.abs(bow.k1) > 0.6 || Math.abs(bow.k2) > 0.6)
    throw new RangeError(
      'No lens bows this much; the points do not lie along one edge. Put them on it again.',
    );
  return { bow, before, after: spread(residuals(k)) };
}
