import type { PieceBox } from './boards';
import { median } from './statistics';

/** Which bond rectangular pieces are laid in, by what lies beside and below each of them. */

export type FoundBond =
  | { kind: 'stack' }
  /**
   * Every course shifted against the one below by a share of a piece and its joint: every second one by at most one half, or,
   * rising, each further on, 0–1.
   */
  | { kind: 'running'; shift: number; rising: boolean }
  /** Pieces at right angles, each ending in the side of the next, or in blocks. */
  | { kind: 'herringbone' | 'basket' }
  /** Courses of headers between so many of stretchers. */
  | { kind: 'english'; stretcherCourses: number }
  /** One stretcher and a header in turn in every course; of monk bond two stretchers. */
  | { kind: 'flemish' | 'monk' };

/** A stretcher has at least this share of the usual length; a header is between these. */
const STRETCHER = 0.85;
const HEADER = [0.33, 0.58] as const;
/** Pieces lie beside each other when the gap is at most so many usual joints and half of their sides face each other. */
const GAPS = 2.5;
const FACING = 0.5;
/** Below this share headers are pieces that were cut. */
const HEADERS = 0.12;
/** A course is of one kind when it has this share of it. */
const OF_ONE_KIND = 0.8;
/** Monk bond has two stretchers to a header, Flemish bond one: more than so many are monk bond. */
const FLEMISH_STRETCHERS = 1.45;
/** A smaller shift than this share of a piece is none. */
const LEAST_SHIFT = 0.04;
/** A larger shift is one half: to the right and to the left it is the same. */
const HALF = 0.46;
/** Shifts rise when this share of them goes the same way. */
const SAME_WAY = 0.8;
/** Pieces lie at right angles when at least this share stands, and as many lie. */
const STANDING = 0.25;

interface Course {
  stretchers: number;
  headers: number;
}

/**
 * The bond of pieces whose courses are level.
 * @param boxes those that are seen whole
 * @param lengthPx usual length of the longest pieces
 * @param jointPx usual joints between neighbours in a course, and between courses
 * @returns null where too few pieces lie one above another
 */
export function bondOfPieces(
  boxes: readonly PieceBox[],
  lengthPx: number,
  jointPx: { across: number; up: number },
): FoundBond | null {
  const below = pairs(boxes, (a, b) => isBelow(a, b, jointPx.up));
  const beside = pairs(boxes, (a, b) => isBeside(a, b, jointPx.across));
  if (below.length < 2) return null;
  const shifts = shiftsOf(boxes, below, lengthPx, lengthPx + jointPx.across);
  const angled = atRightAngles(boxes, lengthPx, shifts);
  if (angled) return angled;
  const courseOf = coursesOf(boxes.length, beside, below);
  const courses = countedKinds(boxes, courseOf, lengthPx);
  const all = [...courses.values()].reduce(
    (sum, { stretchers, headers }) => ({
      stretchers: sum.stretchers + stretchers,
      headers: sum.headers + headers,
    }),
    { stretchers: 0, headers: 0 },
  );
  if (all.headers >= HEADERS * (all.headers + all.stretchers)) return bondWithHeaders(courses, all);
  return runningBond(shifts);
}

type Pair = readonly [from: number, to: number];

function pairs(boxes: readonly PieceBox[], related: (a: PieceBox, b: PieceBox) => boolean): Pair[] {
  return boxes.flatMap((a, i) => boxes.flatMap((b, k): Pair[] => (i !== k && related(a, b) ? [[i, k]] : [])));
}

const facing = (fromA: number, toA: number, fromB: number, toB: number) =>
  Math.min(toA, toB) - Math.max(fromA, fromB);

const isBeside = (a: PieceBox, b: PieceBox, jointPx: number) =>
  b.left > (a.left + a.right) / 2 &&
  b.left - a.right <= GAPS * jointPx + 2 &&
  facing(a.top, a.bottom, b.top, b.bottom) >= FACING * Math.min(a.bottom - a.top, b.bottom - b.top);

const isBelow = (a: PieceBox, b: PieceBox, jointPx: number) =>
  b.top > (a.top + a.bottom) / 2 &&
  b.top - a.bottom <= GAPS * jointPx + 2 &&
  facing(a.left, a.right, b.left, b.right) > 0;

/** The number of the course of every piece: neighbours have the same, the one below has one more; pieces apart from all others none. */
function coursesOf(count: number, beside: readonly Pair[], below: readonly Pair[]): (number | null)[] {
  const links: [to: number, courses: number][][] = Array.from({ length: count }, () => []);
  const link = ([from, to]: Pair, courses: number) => {
    links[from]!.push([to, courses]);
    links[to]!.push([from, -courses]);
  };
  for (const pair of beside) link(pair, 0);
  for (const pair of below) link(pair, 1);
  const first = links.reduce((best, own, k) => (own.length > links[best]!.length ? k : best), 0);
  const course = Array<number | null>(count).fill(null);
  course[first] = 0;
  const reached = [first];
  for (let at = reached.pop(); at !== undefined; at = reached.pop())
    for (const [to, courses] of links[at]!)
      if (course[to] === null) {
        course[to] = course[at]! + courses;
        reached.push(to);
      }
  return course;
}

function countedKinds(
  boxes: readonly PieceBox[],
  courseOf: readonly (number | null)[],
  lengthPx: number,
): Map<number, Course> {
  const courses = new Map<number, Course>();
  boxes.forEach(({ left, right }, k) => {
    const course = courseOf[k];
    if (course === null || course === undefined) return;
    const counted = courses.get(course) ?? { stretchers: 0, headers: 0 };
    const share = (right - left) / lengthPx;
    if (share >= STRETCHER) counted.stretchers++;
    else if (share >= HEADER[0] && share <= HEADER[1]) counted.headers++;
    courses.set(course, counted);
  });
  return courses;
}

/** Headers in every course, or courses of them. */
function bondWithHeaders(courses: ReadonlyMap<number, Course>, all: Course): FoundBond | null {
  const counted = [...courses].filter(([, { stretchers, headers }]) => stretchers + headers > 0);
  const shareOf = ({ stretchers, headers }: Course) => headers / (stretchers + headers);
  const ofOneKind = counted.filter(([, course]) => Math.abs(shareOf(course) - 0.5) >= OF_ONE_KIND - 0.5);
  if (ofOneKind.length < counted.length / 2)
    return { kind: all.stretchers > FLEMISH_STRETCHERS * all.headers ? 'monk' : 'flemish' };
  const ofHeaders = ofOneKind
    .filter(([, course]) => shareOf(course) > 0.5)
    .map(([course]) => course)
    .sort((a, b) => a - b);
  const apart = ofHeaders.slice(1).map((course, k) => course - ofHeaders[k]!);
  const stretcherCourses = Math.min(9, Math.max(1, (median(apart) ?? 2) - 1));
  return { kind: 'english', stretcherCourses };
}

/** By how much each stretcher is shifted against one below it, as a share of the module, −1/2 to 1/2; to the right above zero. */
function shiftsOf(
  boxes: readonly PieceBox[],
  below: readonly Pair[],
  lengthPx: number,
  modulePx: number,
): number[] {
  const isStretcher = ({ left, right }: PieceBox) => right - left >= STRETCHER * lengthPx;
  return below.flatMap(([upper, lower]) => {
    const [a, b] = [boxes[upper]!, boxes[lower]!];
    if (!isStretcher(a) || !isStretcher(b)) return [];
    const share = (a.left + a.right - b.left - b.right) / (2 * modulePx);
    return [share - Math.round(share)];
  });
}

/** Pieces that stand and pieces that lie, of one length. */
function atRightAngles(
  boxes: readonly PieceBox[],
  lengthPx: number,
  shifts: readonly number[],
): FoundBond | null {
  const standing = boxes.filter(
    ({ top, bottom }) => Math.abs((bottom - top) / lengthPx - 1) <= 1 - STRETCHER,
  );
  const lying = boxes.filter(({ left, right }) => right - left >= STRETCHER * lengthPx);
  const upright = standing.filter((box) => !lying.includes(box)).length;
  if (upright < STANDING * boxes.length || lying.length < STANDING * boxes.length) return null;
  const inBlocks = (median(shifts.map(Math.abs)) ?? 1) < LEAST_SHIFT;
  return { kind: inBlocks ? 'basket' : 'herringbone' };
}

/** Courses that all shift the same way, or there and back. */
function runningBond(shifts: readonly number[]): FoundBond | null {
  const shift = median(shifts.map(Math.abs));
  if (shift === undefined) return null;
  if (shift < LEAST_SHIFT) return { kind: 'stack' };
  const onwards = shifts.filter((s) => s > 0).length / shifts.length;
  const rising = shift < HALF && Math.max(onwards, 1 - onwards) >= SAME_WAY;
  return { kind: 'running', shift: rising && onwards < 0.5 ? 1 - shift : shift, rising };
}
