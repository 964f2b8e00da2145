import { findBoards, inFewSizes, transposedBox, type CoursesOfSample, type PieceBox } from '../../pieces';
import { luminancePlane, type ColourPicture, type Plane } from '../../raster';

/** Boards of a picture and the joints across them, of which a repeat can be laid. Lengths run along the courses. */

/** A stretch of one course of the picture, without joints, mm. */
export interface Stretch {
  fromMm: number;
  toMm: number;
  /** Middle of its course, mm from the edge that courses are counted from. */
  middleMm: number;
}

export interface Board extends Stretch {
  /** Number of its course, and its width without joints, mm. */
  course: number;
  widthMm: number;
  /** Whether it ends in a joint that the picture shows, and not at the edge of the picture. */
  joints: { before: boolean; after: boolean };
  /** Mean lightness, L*. */
  tone: number;
}

export interface Joint extends Stretch {
  /** Mean lightness of the boards on both sides, L*. */
  tone: number;
}

export interface BoardsOfPicture {
  boards: readonly Board[];
  joints: readonly Joint[];
}

/** Boards are at least so many times as long as wide. */
const ASPECT = 2.2;
/** With fewer joints across them it may be anything. */
const LEAST_JOINTS = 2;
/** What parts two boards of a course by more, as a multiple of the usual joint, is no joint between them. */
const WIDEST_JOINT = 3;
/** At the edge of a picture so many pixels are not used. */
const EDGE_PX = 1;

/**
 * @param picture linear light
 * @param courses how its courses lie
 * @param pxPerMm of the picture
 * @returns null where it shows no boards that joints part, or pieces of a few lengths, as bricks are, whose bond has to be kept
 */
export function boardsOfPicture(
  picture: ColourPicture,
  courses: CoursesOfSample,
  pxPerMm: { x: number; y: number },
  keptOut?: Plane,
): BoardsOfPicture | null {
  const found = findBoards(picture, courses, keptOut);
  if (!found || found.jointPx.across === 0) return null;
  const across = courses.along === 'across';
  const lengthPx = across ? picture.widthPx : picture.heightPx;
  const perMm = across ? pxPerMm : { x: pxPerMm.y, y: pxPerMm.x };
  const light = luminancePlane(picture);
  const inCourses = byCourse(found.boards.map((box) => (across ? box : transposedBox(box))));
  const boards: Board[] = [];
  const joints: Joint[] = [];
  for (const [course, row] of inCourses.entries()) {
    const isJoint = (k: number) =>
      k >= 0 && k + 1 < row.length && row[k + 1]!.left - row[k]!.right <= WIDEST_JOINT * found.jointPx.across;
    row.forEach((box, k) => {
      const inside = { left: Math.max(EDGE_PX, box.left), right: Math.min(lengthPx - EDGE_PX, box.right) };
      const middleMm = (box.top + box.bottom) / 2 / perMm.y;
      const board: Board = {
        course,
        widthMm: (box.bottom - box.top) / perMm.y,
        fromMm: inside.left / perMm.x,
        toMm: inside.right / perMm.x,
        middleMm,
        joints: { before: isJoint(k - 1), after: isJoint(k) },
        tone: meanLightness(light, across ? box : transposedBox(box)),
      };
      if (board.joints.before) {
        const last = boards.at(-1)!;
        const tone = (board.tone + last.tone) / 2;
        joints.push({ fromMm: last.toMm, toMm: board.fromMm, middleMm, tone });
      }
      boards.push(board);
    });
  }
  return areBoards(boards, joints, courses.pitchPx / perMm.y) ? { boards, joints } : null;
}

function areBoards(boards: readonly Board[], joints: readonly Joint[], pitchMm: number): boolean {
  if (joints.length < LEAST_JOINTS) return false;
  const length = ({ fromMm, toMm }: Board) => toMm - fromMm;
  const whole = boards.filter((b) => b.joints.before && b.joints.after).map(length);
  const shown = boards.reduce((sum, board) => sum + length(board), 0);
  const usual = shown / joints.length;
  const sameLengths = whole.length > 2 && inFewSizes(whole);
  return usual >= ASPECT * pitchMm && !sameLengths;
}

/** Boxes that lie in one course, in the order in which they lie. */
function byCourse(boxes: readonly PieceBox[]): PieceBox[][] {
  const courses = new Map<number, PieceBox[]>();
  for (const box of boxes) courses.set(box.top, [...(courses.get(box.top) ?? []), box]);
  return [...courses.values()].map((row) => row.sort((a, b) => a.left - b.left));
}

/** Mean lightness, L*, of a box of a picture. */
function meanLightness({ widthPx, data }: Plane, { left, top, right, bottom }: PieceBox): number {
  let [sum, n] = [0, 0];
  for (let y = Math.floor(top); y < Math.floor(bottom); y++)
    for (let x = Math.floor(left); x < Math.floor(right); x++) {
      sum += data[y * widthPx + x]!;
      n++;
    }
  return 116 * Math.cbrt(Math.max(0, sum / Math.max(1, n))) - 16;
}
