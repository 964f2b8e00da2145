import type { ColourPicture, Plane } from '../../raster';
import { invert, project, type Point, type Quad } from '../../straighten';
import type { Courses } from './courses';
import { findLattice } from './find';

/** How a picture is taken upright by the structure that is seen in it. */
export interface ProposedFrame {
  /** Corners of the largest rectangle of the surface within the picture, in shares of it. */
  corners: Quad;
  /** By how much courses fall to the right in the middle of the picture, degrees; upwards where it is negative. */
  slopeDeg: number;
  /** How much longer the lower side of that rectangle is seen than the upper one, and the right one than the left, as shares. */
  converges: { across: number; up: number };
}

/** The structure that was followed: its lengths as shares of the picture, as they are in its middle. */
export interface SeenStructure {
  across: number | null;
  up: number | null;
  /** Shift of one course against the one above it, as a share of the way along. */
  stagger: number;
}

/** What was found out about how a picture leans. */
export type StraighteningFound =
  | { kind: 'leans'; proposed: ProposedFrame; structure: SeenStructure }
  | { kind: 'true'; structure: SeenStructure }
  | { kind: 'no-structure' };

/** A picture lies true where no side of the rectangle leans by more, degrees. */
const LIES_TRUE_DEG = 0.08;

/**
 * Proposes how a picture is straightened, by the courses, joints or yarns that are seen all over it.
 * @param picture linear light, a few hundred pixels
 * @param keptOut 1 where it must not be looked at
 */
export function findStraightening(picture: ColourPicture, keptOut?: Plane): StraighteningFound {
  const found = findLattice(picture, keptOut);
  if (!found?.holds) return { kind: 'no-structure' };
  const { widthPx: w, heightPx: h } = picture;
  const structure = inShares(found.courses, w, h);
  const [left, right, top, bottom] = [-0.5, w - 0.5, -0.5, h - 0.5];
  const outline = (
    [
      [left, top],
      [right, top],
      [right, bottom],
      [left, bottom],
    ] as const
  ).map((p) => project(found.upright, p)) as unknown as Quad;
  const [a, b, c, d] = outline;
  const [x0, x1] = [Math.max(a[0], d[0]), Math.min(b[0], c[0])];
  const [y0, y1] = [Math.max(a[1], b[1]), Math.min(c[1], d[1])];
  const back = invert(found.upright);
  const corners = (
    [
      [x0, y0],
      [x1, y0],
      [x1, y1],
      [x0, y1],
    ] as const
  ).map((p) => project(back, p)) as unknown as Quad;
  if (mostLean(corners) < LIES_TRUE_DEG) return { kind: 'true', structure };
  const middle: Point = [(x0 + x1) / 2, (y0 + y1) / 2];
  const from = project(back, [middle[0] - 1, middle[1]]);
  const to = project(back, [middle[0] + 1, middle[1]]);
  const side = (p: Point, q: Point) => Math.hypot(p[0] - q[0], p[1] - q[1]);
  return {
    kind: 'leans',
    structure,
    proposed: {
      corners: corners.map(([x, y]) => [(x + 0.5) / w, (y + 0.5) / h]) as unknown as Quad,
      slopeDeg: degrees(Math.atan2(to[1] - from[1], to[0] - from[0])),
      converges: {
        across: side(corners[3], corners[2]) / side(corners[0], corners[1]) - 1,
        up: side(corners[1], corners[2]) / side(corners[0], corners[3]) - 1,
      },
    },
  };
}

const degrees = (radians: number) => (radians * 180) / Math.PI;

/** How far the sides of a rectangle lean from the picture's own, at most, degrees. */
function mostLean([a, b, c, d]: Quad): number {
  const lying = (
    [
      [a, b],
      [d, c],
    ] as const
  ).map(([p, q]) => Math.atan2(q[1] - p[1], q[0] - p[0]));
  const standing = (
    [
      [a, d],
      [b, c],
    ] as const
  ).map(([p, q]) => Math.atan2(q[0] - p[0], q[1] - p[1]));
  return degrees(Math.max(...[...lying, ...standing].map(Math.abs)));
}

const inShares = ({ acrossPx, upPx, stagger }: Courses, w: number, h: number) => ({
  across: acrossPx && acrossPx / w,
  up: upPx && upPx / h,
  stagger,
});
