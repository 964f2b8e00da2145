import { solveLinear, squared, wholePower } from '../exact';

/** Projective maps of the plane, and what can be read from them. Points are [x, y]. */

export type Point = readonly [number, number];
/** Corners in order round the figure: top left, top right, bottom right, bottom left of what they frame. */
export type Quad = readonly [Point, Point, Point, Point];
/** 3 × 3, row by row; acts on (x, y, 1). */
export type Homography = readonly [number, number, number, number, number, number, number, number, number];

export const UNIT_SQUARE: Quad = [
  [0, 0],
  [1, 0],
  [1, 1],
  [0, 1],
];

export function project(h: Homography, [x, y]: Point): Point {
  const w = h[6] * x + h[7] * y + h[8];
  return [(h[0] * x + h[1] * y + h[2]) / w, (h[3] * x + h[4] * y + h[5]) / w];
}

export function compose(a: Homography, b: Homography): Homography {
  const at = (r: number, c: number) =>
    a[3 * r]! * b[c]! + a[3 * r + 1]! * b[3 + c]! + a[3 * r + 2]! * b[6 + c]!;
  return [at(0, 0), at(0, 1), at(0, 2), at(1, 0), at(1, 1), at(1, 2), at(2, 0), at(2, 1), at(2, 2)];
}

/** @throws RangeError when the map flattens the plane to a line and cannot be turned round */
export function invert(h: Homography): Homography {
  const [a, b, c, d, e, f, g, i, j] = h;
  const [A, B, C] = [e * j - f * i, f * g - d * j, d * i - e * g];
  const det = a * A + b * B + c * C;
  const size = Math.max(...h.map(Math.abs));
  if (!(Math.abs(det) > 1e-14 * wholePower(size, 3)))
    throw new RangeError('These points lie on one line; no plane goes through them.');
  return [
    A,
    c * i - b * j,
    b * f - c * e,
    B,
    a * j - c * g,
    c * d - a * f,
    C,
    b * g - a * i,
    a * e - b * d,
  ].map((v) => v / det) as unknown as Homography;
}

/** Moves points to mean 0 and mean distance √2 (Hartley 1997), so that the equations are well conditioned. */
function normalising(points: readonly Point[]): Homography {
  let [cx, cy] = [0, 0];
  for (const [x, y] of points) {
    cx += x / points.length;
    cy += y / points.length;
  }
  let distance = 0;
  for (const [x, y] of points) distance += Math.hypot(x - cx, y - cy) / points.length;
  const s = Math.SQRT2 / (distance || 1);
  return [s, 0, -s * cx, 0, s, -s * cy, 0, 0, 1];
}

/**
 * The projective map that takes `from` to `to`: normalised direct linear transform, least squares beyond four pairs
 * (Hartley, Zisserman 2004, algorithm 4.2). The smallest eigenvector is found by inverse iteration.
 *
 * @param from at least four points, no three of the first four on a line
 * @param to as many points
 * @throws RangeError when there are too few points or they lie on a line
 */
export function solveHomography(from: readonly Point[], to: readonly Point[]): Homography {
  if (from.length < 4 || from.length !== to.length)
    throw new RangeError(
      `A plane needs at least four pairs of points; there are ${Math.min(from.length, to.length)}.`,
    );
  const [tf, tt] = [normalising(from), normalising(to)];
  const normal = Array.from({ length: 9 }, () => new Array<number>(9).fill(0));
  for (let k = 0; k < from.length; k++) {
    const [x, y] = project(tf, from[k]!);
    const [u, v] = project(tt, to[k]!);
    for (const row of [
      [-x, -y, -1, 0, 0, 0, u * x, u * y, u],
      [0, 0, 0, -x, -y, -1, v * x, v * y, v],
    ])
      for (let i = 0; i < 9; i++) for (let j = 0; j < 9; j++) normal[i]![j]! += row[i]! * row[j]!;
  }
  for (let i = 0; i < 9; i++) normal[i]![i]! += 1e-12;
  let h = [1, 0.1, 0.2, 0.1, 1, 0.3, 0.1, 0.2, 1];
  for (let turn = 0; turn < 6; turn++) {
    const next = solveLinear(
      normal.map((row) => [...row]),
      [...h],
    );
    const length = Math.hypot(...next);
    h = next.map((v) => v / length);
  }
  const full = compose(invert(tt), compose(h as unknown as Homography, tf));
  invert(full);
  // Points in front of the camera have one sign of w; chosen to be positive.
  const [x, y] = from[0]!;
  const sign = full[6] * x + full[7] * y + full[8] < 0 ? -1 : 1;
  return full.map((v) => v * sign) as unknown as Homography;
}

/** Twice the signed area; positive when the corners run clockwise as seen on screen (y down). */
export function quadArea(quad: readonly Point[]): number {
  let sum = 0;
  for (let i = 0; i < quad.length; i++) {
    const [x0, y0] = quad[i]!;
    const [x1, y1] = quad[(i + 1) % quad.length]!;
    sum += x0 * y1 - x1 * y0;
  }
  return sum / 2;
}

const turnAt = (a: Point, b: Point, c: Point) =>
  (b[0] - a[0]) * (c[1] - b[1]) - (b[1] - a[1]) * (c[0] - b[0]);

/**
 * What is wrong with four corners as the frame of a rectangle, in one sentence; null when nothing is.
 * @param quad in shares of the picture
 */
export function faultOfQuad(quad: Quad): string | null {
  if (quad.some((p) => !p.every((v) => Number.isFinite(v) && v >= -1 && v <= 2)))
    return 'A corner lies far outside the picture; keep corners on it or just beside it.';
  for (let i = 0; i < 4; i++)
    for (let j = i + 1; j < 4; j++)
      if (Math.hypot(quad[i]![0] - quad[j]![0], quad[i]![1] - quad[j]![1]) < 0.002)
        return 'Two corners lie in one place; pull them apart.';
  const turns = [0, 1, 2, 3].map((i) => turnAt(quad[i]!, quad[(i + 1) % 4]!, quad[(i + 2) % 4]!));
  const area = Math.abs(quadArea(quad));
  // A corner that hardly turns: three corners on a line within about half a degree at ordinary sizes.
  const flat = turns.filter((t) => Math.abs(t) < 1e-5).length;
  const right = turns.filter((t) => t > 0).length;
  if (flat >= 2 || (area < 1e-5 && right !== 2))
    return 'The four corners lie on one line; a frame needs an area.';
  if (flat) return 'Three of the corners lie on one line; pull one of them out.';
  if (right === 2) return 'The edges cross each other; take the corners in order round the frame.';
  if (right !== 4 && right !== 0) return 'One corner lies inside the other three; pull it out.';
  if (right === 0)
    return 'The corners run the wrong way round and would mirror the picture; take them clockwise from the top left.';
  return null;
}

export interface Aspect {
  /** Width over height of the rectangle that the four corners frame. */
  ratio: number;
  /** How it is known: from the camera's focal length, from the perspective itself, or with an ordinary lens taken for granted. */
  by: 'parallel' | 'focal length' | 'perspective' | 'ordinary lens';
  /** How far the ratio may be off, as a share: by the focal lengths that are as likely. */
  spread: number;
}

/** Lenses that are taken for possible, as focal length over the diagonal of the picture: 14 to 200 mm on the 24 × 36 mm format. */
const SHORTEST_LENS = 0.32;
const LONGEST_LENS = 4.6;
const ORDINARY_LENS = 0.8;
/** A focal length from a file is rounded, and the lens focused near. */
const FOCAL_OFF = 0.05;
/** Corners are placed so exactly, in half diagonals: the weaker the perspective, the less it tells of the lens. */
const CORNERS_OFF = 0.002;

/**
 * True proportions of a rectangle from its image in perspective (Zhang, He 2007): with the camera's principal point
 * in the picture's middle, the two directions of the rectangle are at right angles and of unit scale. Without a focal
 * length it is taken from the same condition when the perspective is strong enough on both axes.
 *
 * @param h unit square to picture, in pixels from the picture's middle
 * @param diagonalPx of the picture
 * @param focalPx focal length when known
 */
export function aspectOf(h: Homography, diagonalPx: number, focalPx?: number): Aspect {
  const [a, b] = [
    [h[0] / h[8], h[3] / h[8], h[6] / h[8]],
    [h[1] / h[8], h[4] / h[8], h[7] / h[8]],
  ] as [number[], number[]];
  const flat = Math.hypot(a[0]!, a[1]!) / Math.hypot(b[0]!, b[1]!);
  // How much nearer edges are larger than farther ones, on each axis.
  if (Math.abs(a[2]!) < 1e-4 && Math.abs(b[2]!) < 1e-4) return { ratio: flat, by: 'parallel', spread: 0 };
  let f2 = focalPx ? squared(focalPx) : 0;
  let by: Aspect['by'] = 'focal length';
  let [shorter, longer] = [1 - FOCAL_OFF, 1 + FOCAL_OFF];
  if (!f2) {
    f2 = -(a[0]! * b[0]! + a[1]! * b[1]!) / (a[2]! * b[2]!);
    by = 'perspective';
    const weaker = Math.min(Math.abs(a[2]!), Math.abs(b[2]!));
    [shorter, longer] = [1 - (2 * CORNERS_OFF) / weaker, 1 + (2 * CORNERS_OFF) / weaker];
    if (
      !(weaker > 0.03) ||
      !(f2 > squared(SHORTEST_LENS * diagonalPx) && f2 < squared(LONGEST_LENS * diagonalPx))
    ) {
      f2 = squared(ORDINARY_LENS * diagonalPx);
      by = 'ordinary lens';
      [shorter, longer] = [SHORTEST_LENS / ORDINARY_LENS, LONGEST_LENS / ORDINARY_LENS];
    }
  }
  const length = (v: number[], f: number) =>
    Math.sqrt((squared(v[0]!) + squared(v[1]!)) / f + squared(v[2]!));
  const ratioAt = (times: number) => length(a, f2 * squared(times)) / length(b, f2 * squared(times));
  const ratio = ratioAt(1);
  const spread = Math.max(
    ...[shorter, longer].map(ratioAt).map((other) => Math.max(other / ratio, ratio / other) - 1),
  );
  return { ratio, by, spread };
}
