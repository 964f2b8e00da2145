import { seededRandom, type Random } from '../../raster';
import type { Steps } from '../../steps';
import type { Board, BoardsOfPicture, Joint } from './boards-of-picture';

/**
 * Lays boards of a picture in courses, as on a floor: every board is whole, or cut to length in a joint; ends in neighbouring courses lie
 * apart; and the same place of the picture comes again as rarely, and as far away, as it can.
 */

/** How a board lies: 1 as in the picture, -1 the other way round, along the courses and across them. */
export interface Lying {
  along: 1 | -1;
  across: 1 | -1;
}

/** A board in a course of the repeat, with the joint after it. */
export interface LaidBoard {
  /** Number of the board in the picture. */
  board: number;
  lying: Lying;
  /** Stretch of the picture that is shown, without the joint, mm. */
  fromMm: number;
  toMm: number;
  /** Its own joint lies after it; else number of the joint of the picture that is put there. */
  joint: 'own' | number;
  /** Where it begins: a cell of the course. It may go on over the end of the repeat. */
  at: number;
  /** Its length with the joint, cells. */
  cells: number;
  /** Of these, the joint that is put there; 0: its own lies there. */
  jointCells: number;
}

export type LaidCourse = readonly LaidBoard[];

/** How many boards lie in a repeat, and how many of them in their whole length, from joint to joint of the picture. */
export interface BoardsLaid {
  laid: number;
  whole: number;
}

/** A length is the same within this, mm. */
const SAME_MM = 0.01;

export function countBoards({ boards }: BoardsOfPicture, courses: readonly LaidCourse[]): BoardsLaid {
  const all = courses.flat();
  const isWhole = ({ board, fromMm, toMm, joint }: LaidBoard) => {
    const of = boards[board]!;
    const uncut = toMm - fromMm > of.toMm - of.fromMm - SAME_MM;
    return uncut && joint === 'own' && of.joints.before && of.joints.after;
  };
  return { laid: all.length, whole: all.filter(isWhole).length };
}

export interface BoardsTask extends BoardsOfPicture {
  /** Cells in a course, all along the repeat. */
  cells: number;
  cellMm: number;
  courses: number;
  /** Width of a course with its joint, mm. */
  pitchMm: number;
  /** How boards may lie; as in the picture comes first. */
  lyings: readonly Lying[];
}

/** No board is cut shorter than the shortest whole one that the picture shows, nor than so many widths, … */
const SHORTEST_WIDTHS = 2.5;
/** … but two always have room in the repeat and in the longest board. */
const SHORTEST_SHARE = 0.3;
const SHORTEST_OF_LONGEST = 0.5;
/** Ends in courses beside each other lie so many widths apart where there is room. */
const APART_WIDTHS = 1.8;
/** So many arrangements of a course are compared. */
const TRIED = 60;
/** What speaks against one: ends near those of the next course, or of the one after; a joint that is put in. */
const NEAR = [3, 0.6] as const;
const PUT_IN = 0.15;
/** A place of the picture that is shown again counts once for the longest board; in the courses near by more often. */
const SOON_COURSES = 3;
const SOON_TIMES = 3;
/** A course that cannot be filled is given up after about so many boards that do not fit. */
const GIVEN_UP = 1 / 50;
/** Of the joints that are most like a board, one of so many is put at its end. */
const LIKE_JOINTS = 3;

/**
 * @param seed the same seed gives the same courses
 * @returns steps; in the end the courses from the top, or null where no board is long enough
 */
export function* layBoards(task: BoardsTask, seed: number): Steps<LaidCourse[] | null> {
  const random = seededRandom(seed);
  const rules = rulesOf(task);
  if (!rules) return null;
  const laid: LaidCourse[] = [];
  for (let k = 0; k < task.courses; k++) {
    yield;
    const whole = () => filled(task, rules, random, random.whole(task.cells), task.cells);
    const best = bestOf(task, rules, laid, k, whole);
    if (!best) return null;
    laid.push(best);
  }
  return laid;
}

/**
 * Lays some of the boards anew; all others stay as they are.
 * @param isTouched whether a board of a course is to be laid anew
 * @param mayShow whether a stretch of the picture may be used
 * @returns steps; in the end the courses, or null where nothing else is left to lay
 */
export function* layBoardsAnew(
  task: BoardsTask,
  before: readonly LaidCourse[],
  isTouched: (board: LaidBoard, course: number) => boolean,
  mayShow: (board: Board) => boolean,
  seed: number,
): Steps<LaidCourse[] | null> {
  const random = seededRandom(seed);
  // Numbers of boards stay: one that may not be used has no length.
  const boards = task.boards.map((b) => (mayShow(b) ? b : { ...b, toMm: b.fromMm }));
  const left: BoardsTask = { ...task, boards };
  const rules = rulesOf(left);
  if (!rules) return null;
  const laid = [...before];
  for (let k = 0; k < task.courses; k++) {
    yield;
    const course = before[k]!;
    const touched = course.map((board) => isTouched(board, k));
    if (!touched.includes(true)) continue;
    const stay = course.filter((_, n) => !touched[n]);
    const spans = spansOf(task, course, touched);
    const others = laid.map((other, n) => (n === k ? undefined : other));
    const best = bestOf(left, rules, others, k, () => {
      const now = spans.map(({ at, cells }) => filled(left, rules, random, at, cells));
      return now.some((span) => span === null) ? null : [...stay, ...now.flatMap((span) => span!)];
    });
    if (!best) return null;
    laid[k] = best;
  }
  return laid;
}

/** Runs of boards to be laid anew. */
function spansOf(task: BoardsTask, course: LaidCourse, touched: readonly boolean[]) {
  if (!touched.includes(false)) return [{ at: course[0]!.at, cells: task.cells }];
  // Begun behind a board that stays, so that no run goes on over the end of the list.
  const first = touched.indexOf(false);
  const spans: { at: number; cells: number }[] = [];
  const boards = [...course].sort((a, b) => a.at - b.at);
  const order = boards.map((board) => ({ board, isTouched: touched[course.indexOf(board)]! }));
  const begin = order.findIndex(({ board }) => board === course[first]);
  for (let n = 0; n < order.length; n++) {
    const { board, isTouched } = order[(begin + n) % order.length]!;
    const { isTouched: before } = order[(begin + n + order.length - 1) % order.length]!;
    if (!isTouched) continue;
    if (before) spans.at(-1)!.cells += board.cells;
    else spans.push({ at: board.at, cells: board.cells });
  }
  return spans;
}

/** Lengths that are kept to, and the longest board, mm. */
interface Rules {
  shortestMm: number;
  apartMm: number;
  longestMm: number;
  thinnestJointMm: number;
}

const lengthOf = ({ fromMm, toMm }: { fromMm: number; toMm: number }) => toMm - fromMm;

function rulesOf({ boards, joints, cells, cellMm, pitchMm }: BoardsTask): Rules | null {
  const longestMm = Math.max(0, ...boards.map(lengthOf));
  if (joints.length === 0 || longestMm === 0) return null;
  const whole = boards.filter((b) => b.joints.before && b.joints.after).map(lengthOf);
  const shortestMm = Math.min(
    SHORTEST_SHARE * cells * cellMm,
    SHORTEST_OF_LONGEST * longestMm,
    Math.max(SHORTEST_WIDTHS * pitchMm, ...(whole.length > 0 ? [Math.min(...whole)] : [])),
  );
  const apartMm = Math.min(APART_WIDTHS * pitchMm, shortestMm / 2);
  return { shortestMm, apartMm, longestMm, thinnestJointMm: Math.min(...joints.map(lengthOf)) };
}

/** The arrangement of a course that least speaks against. @param make one; null: it could not be filled */
function bestOf(
  task: BoardsTask,
  rules: Rules,
  laid: readonly (LaidCourse | undefined)[],
  k: number,
  make: () => LaidCourse | null,
): LaidCourse | null {
  let [best, least] = [null as LaidCourse | null, Infinity];
  for (let n = 0; n < TRIED; n++) {
    const tried = make();
    const against = tried ? speaksAgainst(task, rules, laid, k, tried) : Infinity;
    if (against < least) [best, least] = [tried, against];
  }
  return best;
}

/** Boards that fill a stretch of a course. @returns null where what is left over cannot be filled */
function filled(
  task: BoardsTask,
  rules: Rules,
  random: Random,
  start: number,
  cells: number,
): LaidBoard[] | null {
  const { boards, lyings } = task;
  const out: LaidBoard[] = [];
  let left = cells;
  while (left > 0) {
    const board = random.whole(boards.length);
    const lying = lyings[random.whole(lyings.length)]!;
    const taken = cellsTaken(boards[board]!, left, task, rules, random);
    if (taken > 0) {
      out.push(cutTo(task, board, lying, (start + cells - left) % task.cells, taken, random));
      left -= taken;
    } else if (random.next() < GIVEN_UP) return null;
  }
  return out;
}

/** How many cells a board takes of those that are left, with its joint; 0: it does not fit. */
function cellsTaken(
  board: Board,
  left: number,
  { cellMm }: BoardsTask,
  { shortestMm, thinnestJointMm }: Rules,
  random: Random,
): number {
  if (lengthOf(board) <= 0) return 0;
  const most = Math.floor((lengthOf(board) + thinnestJointMm) / cellMm);
  const shortest = Math.min(left, Math.ceil(shortestMm / cellMm));
  if (most < shortest) return 0;
  if (left <= most) return left;
  if (left - most >= shortest) return most;
  // What were left over would be too short: this one is cut shorter.
  const room = left - shortest;
  return room < shortest ? 0 : room - random.whole(1 + Math.floor(Math.min(room - shortest, room / 4)));
}

/** A board cut to a number of cells with its joint: where it ends in none, or where its joint is not shown. */
function cutTo(
  { boards, joints, cellMm }: BoardsTask,
  number: number,
  lying: Lying,
  at: number,
  cells: number,
  random: Random,
): LaidBoard {
  const board = boards[number]!;
  const isTurned = lying.along < 0;
  const { before, after } = board.joints;
  const hasOwn = isTurned ? before : after;
  const beginsInJoint = isTurned ? after : before;
  const joint = hasOwn ? 'own' : jointLike(joints, board.tone, random);
  const jointCells = joint === 'own' ? 0 : Math.ceil(lengthOf(joints[joint]!) / cellMm);
  const jointMm = joint === 'own' ? lengthOf(jointBeside(joints, board, isTurned)) : jointCells * cellMm;
  const shown = cells * cellMm - jointMm;
  const spare = Math.max(0, lengthOf(board) - shown);
  // Its own joint stays at its end; what begins in a joint begins there; else it is taken from anywhere.
  const skipped = hasOwn ? spare : beginsInJoint ? 0 : spare * random.next();
  const fromMm = isTurned ? board.toMm - skipped - shown : board.fromMm + skipped;
  return { board: number, lying, fromMm, toMm: fromMm + shown, joint, at, cells, jointCells };
}

/** The joint that a board ends in. */
const jointBeside = (joints: readonly Joint[], board: Board, before: boolean): Joint =>
  joints.find(
    (j) => j.middleMm === board.middleMm && (before ? j.toMm === board.fromMm : j.fromMm === board.toMm),
  )!;

/** A joint beside which boards are about as light. */
function jointLike(joints: readonly Joint[], tone: number, random: Random): number {
  const off = (k: number) => Math.abs(joints[k]!.tone - tone);
  const nearest = [...joints.keys()].sort((a, b) => off(a) - off(b));
  return nearest[random.whole(Math.min(LIKE_JOINTS, nearest.length))]!;
}

/** What speaks against an arrangement of course k beside the others, as far as they lie. */
function speaksAgainst(
  task: BoardsTask,
  { apartMm, longestMm }: Rules,
  laid: readonly (LaidCourse | undefined)[],
  k: number,
  tried: LaidCourse,
): number {
  const { courses } = task;
  let sum = 0;
  for (const [n, weight] of NEAR.entries())
    for (const side of [-1, 1]) {
      const other = laid[(k + side * (n + 1) + courses) % courses];
      if (other && courses > n + 1) sum += weight * nearEnds(tried, other, task, apartMm);
    }
  const again = (board: LaidBoard, others: readonly LaidBoard[]) =>
    others.reduce((shown, other) => shown + sameShown(board, other, longestMm), 0);
  tried.forEach((board, n) => {
    if (board.joint !== 'own') sum += PUT_IN;
    sum += SOON_TIMES * again(board, tried.slice(0, n));
  });
  for (const [n, course] of laid.entries()) {
    if (!course) continue;
    const apart = Math.abs(k - n);
    const times = Math.min(apart, courses - apart) <= SOON_COURSES ? SOON_TIMES : 1;
    for (const board of tried) sum += times * again(board, course);
  }
  return sum;
}

/** How many ends of two courses lie nearer than they should, each by how much, 0–1. */
function nearEnds(a: LaidCourse, b: LaidCourse, { cells, cellMm }: BoardsTask, apartMm: number): number {
  let sum = 0;
  for (const { at } of a)
    for (const other of b) {
      const off = Math.abs(at - other.at);
      sum += Math.max(0, 1 - (Math.min(off, cells - off) * cellMm) / apartMm);
    }
  return sum;
}

/** How much of the picture two boards both show, as a share of the longest board. */
const sameShown = (a: LaidBoard, b: LaidBoard, longestMm: number): number =>
  a.board === b.board ? Math.max(0, Math.min(a.toMm, b.toMm) - Math.max(a.fromMm, b.fromMm)) / longestMm : 0;
