import { invert, project, type Homography, type Point, type Quad } from '../../straighten';
import type { ProposedFrame } from '../found-structure';

/** A picture is straight where no side of the rectangle leans by more, degrees: with many cells it is known so well, with few by so much less. */
const LIES_TRUE_DEG = 0.08;
const OF_ONE_CELL_DEG = 5;
const MOST_DEG = 0.6;
/** With lines along one axis it is known so well. */
const BY_LINES_DEG = 0.35;
/** Leans are followed no better than what windows are off by over half the picture, times this: their errors go together. */
const OF_WANDER = 2.5;

/**
 * The frame by which a picture is straightened: the largest rectangle of the rectified surface that lies within the picture.
 * @param rectifier maps the picture to the rectified one, in its pixels
 * @param cells so many cells of the structure lie in the picture; null: it repeats along one axis
 * @param wanderPx by so much windows are off the even structure
 * @returns null where the picture is straight already
 */
export function proposedFrame(
  rectifier: Homography,
  w: number,
  h: number,
  cells: number | null,
  wanderPx: number,
): ProposedFrame | null {
  const [left, right, top, bottom] = [-0.5, w - 0.5, -0.5, h - 0.5];
  const outline = quad([left, top], [right, top], [right, bottom], [left, bottom]);
  const [a, b, c, d] = mapped(rectifier, outline);
  const [x0, x1] = [Math.max(a[0], d[0]), Math.min(b[0], c[0])];
  const [y0, y1] = [Math.max(a[1], b[1]), Math.min(c[1], d[1])];
  const back = invert(rectifier);
  const corners = mapped(back, quad([x0, y0], [x1, y0], [x1, y1], [x0, y1]));
  const followedTo = degrees((OF_WANDER * wanderPx) / (Math.max(w, h) / 2));
  const liesTrue =
    cells === null
      ? BY_LINES_DEG
      : Math.min(MOST_DEG, Math.max(LIES_TRUE_DEG + OF_ONE_CELL_DEG / cells, followedTo));
  if (mostLean(corners) < liesTrue) return null;
  const middle: Point = [(x0 + x1) / 2, (y0 + y1) / 2];
  const from = project(back, [middle[0] - 1, middle[1]]);
  const to = project(back, [middle[0] + 1, middle[1]]);
  const side = (p: Point, q: Point) => Math.hypot(p[0] - q[0], p[1] - q[1]);
  return {
    corners: corners.map(([x, y]) => [(x + 0.5) / w, (y + 0.5) / h]) as unknown as Quad,
    slopeDeg: degrees(Math.atan2(to[1] - from[1], to[0] - from[0])),
    converges: {
      across: side(corners[3], corners[2]) / side(corners[0], corners[1]) - 1,
      up: side(corners[1], corners[2]) / side(corners[0], corners[3]) - 1,
    },
  };
}

const quad = (...corners: Quad): Quad => corners;
const mapped = (map: Homography, corners: Quad) => corners.map((p) => project(map, p)) as unknown as Quad;
const degrees = (radians: number) => (radians * 180) / Math.PI;

/** How far the sides of a rectangle lean from the picture's own, at most, degrees. */
function mostLean([a, b, c, d]: Quad): number {
  const lying = [slope(a, b), slope(d, c)];
  const standing = [slope(swapped(a), swapped(d)), slope(swapped(b), swapped(c))];
  return degrees(Math.max(...[...lying, ...standing].map(Math.abs)));
}

const slope = (p: Point, q: Point) => Math.atan2(q[1] - p[1], q[0] - p[0]);
const swapped = ([x, y]: Point): Point => [y, x];
