import { distanceTo, makePlane, maskWhere, type ColourPicture, type Plane } from '../raster';
import { findBoards, type CoursesOfSample } from './boards';
import { isGrain, jointWidthsPx, labPlanes, segmentingSteps } from './segment';
import { atOnce, type Steps } from '../steps';
import { median } from './statistics';

/** A joint fades into the piece over this share of the piece's side, and over a pixel at least. */
const FADES = 0.12;
/** Joints are known to a pixel or so. */
const JOINT_PX = 1;
/** Half of what is taken for a line between courses, px. */
const LINE_PX = 1;
const SQUARE = { x: 1, y: 1 };

/** Joints of a sample, and the pieces between them. */
export interface JointsAndPieces {
  /** 1 in joints, fading to 0 into the pieces. */
  joints: Plane;
  /** 1 in pieces, 0 in joints. */
  pieces: Plane;
  /** How many pieces were seen, also in part. */
  count: number;
}

/**
 * Joints of the pieces that a sample shows.
 * @param picture linear light
 * @returns null where it shows no pieces that joints part
 */
export const jointsOfPieces = (picture: ColourPicture): JointsAndPieces | null =>
  atOnce(jointsOfPiecesSteps(picture));

/** The same in steps: of a large picture it takes seconds. @param lenient see `segmentingSteps` */
export function* jointsOfPiecesSteps(picture: ColourPicture, lenient = true): Steps<JointsAndPieces | null> {
  const { widthPx: w, heightPx: h } = picture;
  const found = yield* segmentingSteps(labPlanes(picture), jointWidthsPx(Math.min(w, h)), lenient);
  if (!found) return null;
  const { label, pieces } = found.pieces;
  const whole = pieces.filter((p) => !p.cutOff);
  if (isGrain(whole)) return null;
  const inPiece = maskWhere(label, (k) => k >= 0);
  const fadesPx = FADES * Math.sqrt(median(whole.map((p) => p.areaPx))!);
  return { ...fadingFrom(inPiece, w, h, fadesPx), count: pieces.length };
}

/**
 * Joints of a sample of boards, which may be too thin to be told from its grain: those between courses lie where the courses meet, those
 * across them are found.
 * @param picture linear light
 * @param courses how its courses lie
 * @returns null where no course lies whole in the sample
 */
export function jointsOfBoards(picture: ColourPicture, courses: CoursesOfSample): JointsAndPieces | null {
  const { widthPx: w, heightPx: h } = picture;
  const found = findBoards(picture, courses);
  if (!found) return null;
  // Boards of courses that the sample cuts are pieces as well; where those end is not known.
  const across = courses.along === 'across';
  const inPiece = new Uint8Array(w * h).fill(1);
  // A thin line between courses is seen wider than it is.
  const widerPx = Math.max(0, found.jointPx.along / 2 - LINE_PX);
  const [from, to] = endsOf(
    found.boards.map(({ left, right, top, bottom }) => (across ? [top, bottom] : [left, right])),
  );
  for (let i = 0; i < inPiece.length; i++) {
    const at = across ? Math.floor(i / w) : i % w;
    if (at >= Math.floor(from) - JOINT_PX && at < Math.ceil(to) + JOINT_PX) inPiece[i] = 0;
  }
  const [overX, overY] = across ? [0, widerPx] : [widerPx, 0];
  for (const { left, right, top, bottom } of found.boards) {
    const [x0, x1] = [Math.max(0, Math.round(left - overX)), Math.min(w, Math.round(right + overX))];
    for (let y = Math.max(0, Math.round(top - overY)); y < Math.min(h, Math.round(bottom + overY)); y++)
      inPiece.fill(1, y * w + x0, y * w + x1);
  }
  return { ...fadingFrom(inPiece, w, h, FADES * courses.pitchPx, 0), count: found.boards.length };
}

const endsOf = (stretches: readonly (readonly number[])[]): [number, number] => [
  Math.min(...stretches.map(([from]) => from!)),
  Math.max(...stretches.map(([, to]) => to!)),
];

/** Joints that fade into the pieces within a length. @param inPiece 1 in pieces, 0 in joints @param surePx how exactly joints are known */
export function fadingFrom(
  inPiece: Uint8Array,
  w: number,
  h: number,
  fadesPx: number,
  surePx = JOINT_PX,
): Omit<JointsAndPieces, 'count'> {
  const far = distanceTo(
    maskWhere(inPiece, (v) => v === 0),
    w,
    h,
    SQUARE,
  );
  const [joints, pieces] = [makePlane(w, h), makePlane(w, h)];
  for (let i = 0; i < inPiece.length; i++) {
    joints.data[i] = 1 - Math.min(1, Math.max(0, (far.data[i]! - surePx) / Math.max(1, fadesPx)));
    pieces.data[i] = inPiece[i]!;
  }
  return { joints, pieces };
}
