import {
  aspectOf,
  faultOfQuad,
  invert,
  project,
  quadArea,
  solveHomography,
  UNIT_SQUARE,
  type Aspect,
  type Homography,
  type Point,
  type Quad,
} from './homography';
import { fitBow, hasBow, NO_BOW, withBow, withoutBow, type LensBow } from './lens-bow';

/** A sample as received: its pixels, and its camera's focal length in pixels when the file tells. */
export interface PictureShape {
  widthPx: number;
  heightPx: number;
  focalPx?: number | null | undefined;
}

/** How a sample is straightened. All places are in shares of the picture as received: 0, 0 its top left, 1, 1 its bottom right. */
export interface StraightenSettings {
  /** Points along edges that are straight in reality; the lens distortion is fitted to them. */
  bowLines: readonly (readonly Point[])[];
  /** The four corners that become a true rectangle; null: the whole picture. */
  frame: Quad | null;
}

/**
 * A rectangle of the finish in a picture: places in it run from 0, 0 to 1, 1 (`u` to the right, `v` down) and are taken
 * to the picture through the plane's perspective and the lens's bow.
 */
export interface Frame {
  picture: PictureShape;
  bow: LensBow;
  /** Unit square to straight places, in half diagonals from the picture's middle. */
  plane: Homography;
  back: Homography;
  aspect: Aspect;
  /** Pixels that keep all detail, in true proportions as far as they are known. */
  widthPx: number;
  heightPx: number;
  /** The whole picture as it is: nothing needs to be resampled. */
  whole: boolean;
}

const half = (p: PictureShape) => Math.hypot(p.widthPx, p.heightPx) / 2;

/** A place in shares of the picture, as half diagonals from its middle. */
export const fromMiddle = (p: PictureShape, [x, y]: Point): Point => [
  ((x - 0.5) * p.widthPx) / half(p),
  ((y - 0.5) * p.heightPx) / half(p),
];
/** Half diagonals from the middle, as shares of the picture. */
export const toShares = (p: PictureShape, [x, y]: Point): Point => [
  (x * half(p)) / p.widthPx + 0.5,
  (y * half(p)) / p.heightPx + 0.5,
];

/** The bow that the drawn lines tell; none when nothing is drawn. @throws RangeError as fitBow */
export const bowOfLines = (picture: PictureShape, lines: StraightenSettings['bowLines']): LensBow =>
  lines.length === 0 ? NO_BOW : fitBow(lines.map((line) => line.map((p) => fromMiddle(picture, p)))).bow;

/**
 * The frame that a sample's settings give.
 * @throws RangeError with a sentence when the corners frame nothing or the bow cannot be
 */
export function makeFrame(picture: PictureShape, settings: StraightenSettings): Frame {
  const bow = bowOfLines(picture, settings.bowLines);
  return settings.frame || hasBow(bow)
    ? frameOfQuad(picture, bow, settings.frame ?? UNIT_SQUARE)
    : {
        ...frameOfQuad(picture, bow, UNIT_SQUARE),
        whole: true,
        widthPx: picture.widthPx,
        heightPx: picture.heightPx,
        aspect: { ratio: picture.widthPx / picture.heightPx, by: 'parallel', spread: 0 },
      };
}

/** A frame round any four corners of the picture, with a known bow. @throws RangeError with a sentence */
export function frameOfQuad(picture: PictureShape, bow: LensBow, quad: Quad): Frame {
  const fault = faultOfQuad(quad);
  if (fault) throw new RangeError(fault);
  const straight = quad.map((p) => withoutBow(bow, fromMiddle(picture, p))) as unknown as Quad;
  const plane = solveHomography(UNIT_SQUARE, straight);
  const edge = (i: number, j: number) =>
    Math.hypot(straight[i]![0] - straight[j]![0], straight[i]![1] - straight[j]![1]) * half(picture);
  const aspect = aspectOf(plane, 2, picture.focalPx ? picture.focalPx / half(picture) : undefined);
  const across = Math.max(edge(0, 1), edge(3, 2));
  const up = Math.max(edge(0, 3), edge(1, 2));
  const widthPx = Math.max(1, Math.round(Math.max(across, up * aspect.ratio)));
  return {
    picture,
    bow,
    plane,
    back: invert(plane),
    aspect,
    widthPx,
    heightPx: Math.max(1, Math.round(widthPx / aspect.ratio)),
    whole: false,
  };
}

/** From a place in the frame (0–1) to the picture (shares). */
export const toPicture = (frame: Frame, at: Point): Point =>
  toShares(frame.picture, withBow(frame.bow, project(frame.plane, at)));

/** From a place in the picture (shares) to the frame (0–1 inside it). */
export const toFrame = (frame: Frame, at: Point): Point =>
  project(frame.back, withoutBow(frame.bow, fromMiddle(frame.picture, at)));

/** Pixels of the picture per unit of the frame at a place of the frame: the columns of the Jacobian, in pixels. */
export function stretchAt(frame: Frame, [u, v]: Point): { du: Point; dv: Point } {
  const e = 1e-4;
  const px = ([x, y]: Point): Point => [x * frame.picture.widthPx, y * frame.picture.heightPx];
  const d = (a: Point, b: Point): Point => {
    const [p, q] = [px(toPicture(frame, a)), px(toPicture(frame, b))];
    return [(q[0] - p[0]) / (2 * e), (q[1] - p[1]) / (2 * e)];
  };
  return { du: d([u - e, v], [u + e, v]), dv: d([u, v - e], [u, v + e]) };
}

/** Length of the frame's edges through its middle, in pixels of the picture as received. */
export function framePx(frame: Frame): { across: number; up: number } {
  if (frame.whole) return { across: frame.picture.widthPx, up: frame.picture.heightPx };
  let [across, up] = [0, 0];
  for (let k = 0; k < 8; k++) {
    const t = (k + 0.5) / 8;
    across += Math.hypot(...stretchAt(frame, [t, 0.5]).du) / 8;
    up += Math.hypot(...stretchAt(frame, [0.5, t]).dv) / 8;
  }
  return { across, up };
}

/** Quarter turns of a frame, clockwise: the corner that was at the bottom left comes to the top left. */
export const turned = (quad: Quad, quarters: number): Quad =>
  [0, 1, 2, 3].map((i) => quad[(((i - quarters) % 4) + 4) % 4]!) as unknown as Quad;

/**
 * An upright rectangle in the picture, turned so that a drawn line (along the grain, or along a course) runs level.
 * @param picture the sample
 * @param frame the rectangle before
 * @param from start of the line, shares
 * @param to end of the line, shares
 * @throws RangeError when the line has no length
 */
export function turnedAlong(picture: PictureShape, frame: Quad, from: Point, to: Point): Quad {
  const px = ([x, y]: Point): Point => [x * picture.widthPx, y * picture.heightPx];
  const [a, b] = [px(from), px(to)];
  if (Math.hypot(b[0] - a[0], b[1] - a[1]) < 4)
    throw new RangeError('The line along the grain is too short; draw it over a good part of the picture.');
  let angle = Math.atan2(b[1] - a[1], b[0] - a[0]);
  // To the nearest level or upright direction: the person meant the slope, not a quarter turn.
  angle -= Math.round(angle / (Math.PI / 2)) * (Math.PI / 2);
  const corners = frame.map(px);
  const [cx, cy] = [0, 1].map((k) => corners.reduce((s, p) => s + p[k]!, 0) / 4) as [number, number];
  // The frame's own slope is replaced, not added to.
  const top = Math.atan2(corners[1]![1] - corners[0]![1], corners[1]![0] - corners[0]![0]);
  const own = top - Math.round(top / (Math.PI / 2)) * (Math.PI / 2);
  const [c, s] = [Math.cos(angle - own), Math.sin(angle - own)];
  let shrink = 1;
  const at = (k: number) =>
    corners.map(([x, y]): Point => [
      (cx + k * (c * (x - cx) - s * (y - cy))) / picture.widthPx,
      (cy + k * (s * (x - cx) + c * (y - cy))) / picture.heightPx,
    ]) as unknown as Quad;
  // Drawn in until it lies on the picture again.
  while (shrink > 0.3 && at(shrink).some(([x, y]) => x < 0 || x > 1 || y < 0 || y > 1)) shrink -= 0.005;
  return at(shrink);
}

/**
 * The frame that a target card in the picture gives: a rectangle that stands straight with the card, as large as fits
 * into the picture without the card itself. The person draws it in from there.
 *
 * @param marks centres of the card's marks, shares of the picture, in the card's order
 * @param knownMm the same marks in mm on the card
 */
export function frameBesideCard(
  picture: PictureShape,
  bow: LensBow,
  marks: readonly Point[],
  knownMm: readonly Point[],
): Quad {
  const plane = solveHomography(
    knownMm,
    marks.map((p) => withoutBow(bow, fromMiddle(picture, p))),
  );
  const back = invert(plane);
  const shares = (p: Point) => toShares(picture, withBow(bow, project(plane, p)));
  const onCard = (p: Point) => project(back, withoutBow(bow, fromMiddle(picture, p)));
  const [cx, cy] = onCard([0.5, 0.5]);
  const inside = (l: number, t: number, r: number, b: number) =>
    (
      [
        [l, t],
        [r, t],
        [r, b],
        [l, b],
      ] as Point[]
    ).every((p) => {
      const [x, y] = shares(p);
      return x >= 0.01 && x <= 0.99 && y >= 0.01 && y <= 0.99;
    });
  // Grown from the middle of the picture, one side after the other, by steps of a fiftieth of the card.
  const clear = (l: number, t: number, r: number, b: number) =>
    r < -4 || b < -4 || l > 124 || t > 84 || !(r > l && b > t);
  let [l, t, r, b] = [cx, cy, cx + 1, cy + 1];
  const step = 3;
  for (let turn = 0, still = 0; turn < 4000 && still < 4; turn++) {
    const next = [l, t, r, b] as [number, number, number, number];
    next[turn % 4]! += turn % 4 < 2 ? -step : step;
    if (inside(...next) && clear(...next)) {
      [l, t, r, b] = next;
      still = 0;
    } else still++;
  }
  return [shares([l, t]), shares([r, t]), shares([r, b]), shares([l, b])];
}

/** Share of the picture that a frame covers. */
export const coverOf = (quad: Quad): number => Math.abs(quadArea(quad));
