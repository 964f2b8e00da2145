import { squared } from '../../../exact';
import { seededRandom, type Random } from '../../../raster';
import type { BoardStock, EndJoint, Run } from './ends';

/** A stretch of a course of the repeat that is copied from one place of the sample. */
export interface Board {
  /** First cell along the course, and how many. */
  from: number;
  cells: number;
  /** Course of the sample it is copied from, and where in it its first cell begins. */
  course: number;
  startMm: number;
  /** Which of its ends shows a joint: its own, before or after it; a joint alone is a board of its own. */
  shows: 'before' | 'after' | 'none' | 'joint';
}

/** Boards by course of the repeat, in order along it. */
export type Boards = readonly (readonly Board[])[];

export interface BoardsTask {
  stock: BoardStock;
  /** Cells along a course of the repeat, and the length of one. */
  cells: number;
  cellMm: number;
  /** Courses in the repeat. */
  courses: number;
  /** Whether courses close on themselves, and the last one meets the first. */
  closed: { along: boolean; courses: boolean };
  /** Same seed, same boards. */
  seed: number;
  /** Boards are rather taken from where nothing stands out. */
  calm?: boolean;
}

/**
 * Ways to fill a course that are tried, and how often every course is laid again beside the others. In a large floor fewer
 * are needed: what is far away does not matter.
 */
const TRIES = { most: 64, least: 8, boards: 400 };
const SWEEPS = { most: 5, least: 2, boards: 500 };
/** So many courses on each side are looked at. */
const NEAR = 5;
/** More boards than can be named in a map, and told apart by anybody. */
const MOST_BOARDS = 20000;

const usualNumber = ({ stock, cells, cellMm }: BoardsTask): number =>
  Math.max(1, (cells * cellMm) / stock.boardMm);
const fewerFor = ({ most, least, boards }: typeof TRIES, number: number): number =>
  Math.round(Math.min(most, Math.max(least, boards / number)));
/** Joints of neighbouring courses keep this share of the usual board apart, where that goes. */
const APART = 0.28;
/** Places of the sample that are tried for one board. */
const PLACES = 8;
/** No board is shorter than this share of the usual one, where that goes. */
const SHORT = 0.4;
/** What a board costs that shows what another shows, of all its length: beside it, and anywhere … */
const SAME_BESIDE = 6;
const SAME = 2;
/** … and so many times that where it shows it nearly straight above or below, within this share of the repeat. */
const IN_LINE = 1.8;
const LINE_REACH = 0.2;
const STAGGER = 4;
/** What a board costs for each robust deviation that something in it stands out, where calm ones are asked for. */
const STANDS_OUT = 0.5;
const BORROWED = 0.12;

/** A stretch of a course that is to be filled. */
interface Gap {
  from: number;
  cells: number;
  /** What stands at its ends: no joint is needed, one is there already, one is to be shown; round: it meets itself. */
  start: 'open' | 'there' | 'needed' | 'round';
  end: 'open' | 'there' | 'needed' | 'round';
}

/**
 * Lays boards in courses, each cut to length from a run of the sample and laid joint to joint: a board shows one of its own
 * joints, or one is borrowed from elsewhere in the sample where it has none. What lies where is chosen so that joints of
 * neighbouring courses keep apart, and nothing is shown twice that need not be, least of all side by side: several fillings
 * of each course are tried beside all other courses, and the best kept, over several rounds.
 *
 * @param task what is laid
 * @returns boards by course; null when no run of the sample is long enough, or there would be far too many
 */
export function layBoards(task: BoardsTask): Boards | null {
  const number = task.courses * usualNumber(task);
  if (number > MOST_BOARDS) return null;
  const random = seededRandom(task.seed);
  const sweeps = fewerFor(SWEEPS, number / SWEEPS.most);
  const out: Board[][] = Array.from({ length: task.courses }, () => []);
  const gap: Gap = task.closed.along
    ? { from: 0, cells: task.cells, start: 'round', end: 'round' }
    : { from: 0, cells: task.cells, start: 'open', end: 'open' };
  for (let sweep = 0; sweep < sweeps; sweep++)
    for (let k = 0; k < task.courses; k++) {
      const now = out[k]!;
      out[k] = [];
      const best = bestFilling(task, random, out, k, gap, now.length > 0 ? now : null, []);
      if (!best) return null;
      out[k] = best;
    }
  return out;
}

/**
 * Boards with some of them laid anew; all others stay.
 * @param task the stock holds only what may still be used
 * @param boards what is there
 * @param away which of them are to go
 * @returns null when nothing is left that is long enough
 */
export function relayBoards(
  task: BoardsTask,
  boards: Boards,
  away: (board: Board) => boolean,
): Boards | null {
  const random = seededRandom(task.seed);
  const out = boards.map((course) => [...course]);
  for (const [k, course] of boards.entries()) {
    const goes = course.map((b) => b.shows !== 'joint' && away(b));
    // A borrowed joint goes with the board after it.
    for (const [i, b] of course.entries()) if (b.shows === 'joint') goes[i] = goes[(i + 1) % course.length]!;
    if (!goes.includes(true)) continue;
    out[k] = course.filter((_, i) => !goes[i]);
    const removed = course.filter((_, i) => goes[i]);
    for (const gap of gapsOf(task, course, goes)) {
      const filling = bestFilling(task, random, out, k, gap, null, removed);
      if (!filling) return null;
      out[k] = [...out[k]!, ...filling].sort((a, b) => a.from - b.from);
    }
  }
  return out;
}

/** Stretches of a course whose boards go. */
function gapsOf({ cells, closed }: BoardsTask, course: readonly Board[], goes: readonly boolean[]): Gap[] {
  const n = course.length;
  if (!goes.includes(false))
    return closed.along
      ? [{ from: 0, cells, start: 'round', end: 'round' }]
      : [{ from: 0, cells, start: 'open', end: 'open' }];
  const out: Gap[] = [];
  for (let i = 0; i < n; i++) {
    const before = course[(i + n - 1) % n]!;
    if (!goes[i] || (goes[(i + n - 1) % n] && !(i === 0 && !closed.along))) continue;
    let last = i;
    while (goes[(last + 1) % n] && !(last + 1 === n && !closed.along)) last++;
    const length = Array.from({ length: last - i + 1 }, (_, k) => course[(i + k) % n]!.cells);
    const after = course[(last + 1) % n]!;
    const opens = !closed.along && i === 0;
    const ends = !closed.along && last === n - 1;
    out.push({
      from: course[i]!.from,
      cells: length.reduce((a, b) => a + b, 0),
      start: opens ? 'open' : before.shows === 'after' || before.shows === 'joint' ? 'there' : 'needed',
      end: ends ? 'open' : after.shows === 'before' || after.shows === 'joint' ? 'there' : 'needed',
    });
  }
  return out;
}

/** The best of several fillings of a gap; `now` is one of them. */
function bestFilling(
  task: BoardsTask,
  random: Random,
  boards: readonly (readonly Board[])[],
  k: number,
  gap: Gap,
  now: Board[] | null,
  not: readonly Board[],
): Board[] | null {
  const shown = shownBy(task, boards, k);
  let best = now;
  let least = now ? costOf(task, boards, shown, k, now, not) : Infinity;
  const tries = fewerFor(TRIES, usualNumber(task));
  for (let t = 0; t < tries; t++) {
    // Where runs are short, more boards are needed.
    const filling = filled(task, random, shown, gap, Math.floor((3 * t) / tries));
    if (!filling) continue;
    const cost = costOf(task, boards, shown, k, filling, not);
    if (cost < least) [least, best] = [cost, filling];
  }
  return best;
}

const longest = (run: Run) => run.toMm - run.fromMm + Math.max(run.jointBeforeMm, run.jointAfterMm);

/** One filling of a gap by chance; null when a board finds no place. */
function filled(task: BoardsTask, random: Random, shown: Shown, gap: Gap, more: number): Board[] | null {
  const { stock, cellMm } = task;
  const most = Math.max(0, ...stock.runs.map(longest)) / cellMm;
  const usual = stock.boardMm / cellMm;
  const wanted = Math.round(gap.cells / Math.min(usual, 0.9 * most) + random.between(-0.5, 0.5));
  const count = Math.max(1, wanted, Math.ceil(gap.cells / most)) + more;
  if (gap.cells < 2 * count) return null;
  // Lengths by chance, that fill the gap.
  const parts = Array.from({ length: count }, () => random.between(0.55, 1.45));
  const sum = parts.reduce((a, b) => a + b, 0);
  const round = gap.start === 'round';
  let at = round ? random.whole(task.cells) : gap.from;
  let left = gap.cells;
  const lengths = parts.map((p, i) => {
    const length = i === count - 1 ? left : Math.max(1, Math.min(left, Math.round((p / sum) * gap.cells)));
    left -= length;
    return length;
  });
  if (lengths.some((l) => l < 2)) return null;
  const out: Board[] = [];
  for (const [i, length] of lengths.entries()) {
    const [first, last] = [i === 0, i === count - 1];
    const before = out.at(-1);
    const mayBefore = first ? gap.start === 'needed' || round : before!.shows !== 'after';
    const mayAfter =
      !last || gap.end === 'needed' || (round && (count === 1 ? true : out[0]!.shows === 'none'));
    const needsBefore = first ? gap.start === 'needed' : before!.shows !== 'after';
    const laid = placeFor(task, random, shown, at, length, mayBefore, mayAfter, out);
    if (!laid) return null;
    const jointed = needsBefore && laid.shows !== 'before' ? withJoint(task, random, laid) : [laid];
    if (!jointed) return null;
    out.push(...jointed);
    at += length;
  }
  const [head, tail] = [out[0]!, out.at(-1)!];
  if (round && head.shows !== 'before' && head.shows !== 'joint' && tail.shows !== 'after') {
    const jointed = withJoint(task, random, head);
    if (!jointed) return null;
    out.splice(0, 1, ...jointed);
  }
  if (gap.end === 'needed' && tail.shows !== 'after') {
    const joint = borrowed(task, random, tail.from + tail.cells);
    if (!joint || tail.cells <= joint.cells + 1) return null;
    out.splice(
      -1,
      1,
      { ...tail, cells: tail.cells - joint.cells },
      { ...joint, from: joint.from - joint.cells },
    );
  }
  if (out.some((b) => b.cells < 1)) return null;
  return out
    .map((b) => ({ ...b, from: ((b.from % task.cells) + task.cells) % task.cells }))
    .sort((a, b) => a.from - b.from);
}

/** A joint from anywhere in the sample, and the board after it, shortened by it; null when no joint is left. */
function withJoint(task: BoardsTask, random: Random, board: Board): [Board, Board] | null {
  const joint = borrowed(task, random, board.from);
  if (!joint) return null;
  return [
    joint,
    {
      ...board,
      from: board.from + joint.cells,
      cells: board.cells - joint.cells,
      startMm: board.startMm + joint.cells * task.cellMm,
    },
  ];
}

function borrowed({ stock, cellMm }: BoardsTask, random: Random, from: number): Board | null {
  if (stock.joints.length === 0) return null;
  const joint: EndJoint = stock.joints[random.whole(stock.joints.length)]!;
  const cells = Math.max(1, Math.round((joint.toMm - joint.fromMm) / cellMm));
  const middle = (joint.fromMm + joint.toMm) / 2;
  return { from, cells, course: joint.course, startMm: middle - (cells * cellMm) / 2, shows: 'joint' };
}

/** The best of several places of the sample for one board. */
function placeFor(
  task: BoardsTask,
  random: Random,
  shown: Shown,
  from: number,
  cells: number,
  mayBefore: boolean,
  mayAfter: boolean,
  beside: readonly Board[],
): Board | null {
  const { stock, cellMm } = task;
  const mm = cells * cellMm;
  const fitting = stock.runs.filter((run) => longest(run) >= mm);
  if (fitting.length === 0) return null;
  let best: Board | null = null;
  let least = Infinity;
  for (let t = 0; t < PLACES; t++) {
    const run = fitting[random.whole(fitting.length)]!;
    const { course, fromMm, toMm, jointBeforeMm: before, jointAfterMm: after } = run;
    const free = toMm - fromMm - mm;
    const ways: Board[] = [];
    if (mayBefore && before > 0 && free + before >= 0)
      ways.push({ from, cells, course, startMm: fromMm - before, shows: 'before' });
    if (mayAfter && after > 0 && free + after >= 0)
      ways.push({ from, cells, course, startMm: toMm + after - mm, shows: 'after' });
    if (free >= 0) ways.push({ from, cells, course, startMm: fromMm + random.next() * free, shows: 'none' });
    for (const board of ways) {
      const cost =
        samenessOf(task, shown, board, beside) +
        (board.shows === 'none' ? BORROWED : 0) +
        unrest(task, board) +
        0.05 * random.next();
      if (cost < least) [least, best] = [cost, board];
    }
  }
  return best;
}

/** What a board costs for what stands out in it; its ends, where joints lie, aside. */
function unrest({ stock, cellMm, calm }: BoardsTask, board: Board): number {
  const along = stock.standsOut.get(board.course);
  if (!calm || !along) return 0;
  const [from, to] = [board.startMm, board.startMm + board.cells * cellMm].map((mm) =>
    Math.round(mm / stock.stepMm),
  ) as [number, number];
  let most = 0;
  for (let k = from + 3; k < to - 3; k++) most = Math.max(most, along[k] ?? 0);
  return STANDS_OUT * most;
}

/** What is shown near a course already, by course of the sample: each board, and whether it lies beside the course that is filled. */
type Shown = ReadonlyMap<number, readonly { board: Board; beside: boolean }[]>;

function shownBy({ courses, closed }: BoardsTask, boards: readonly (readonly Board[])[], k: number): Shown {
  const out = new Map<number, { board: Board; beside: boolean }[]>();
  for (const [q, row] of boards.entries()) {
    const off = Math.abs(k - q);
    const apart = closed.courses ? Math.min(off, courses - off) : off;
    if (apart > NEAR) continue;
    const beside = apart <= 1;
    for (const board of row) {
      if (board.shows === 'joint') continue;
      const list = out.get(board.course) ?? [];
      list.push({ board, beside });
      out.set(board.course, list);
    }
  }
  return out;
}

/** What a board costs that shows what others show as well, those of its own course among them. */
function samenessOf(task: BoardsTask, shown: Shown, board: Board, own: readonly Board[]): number {
  let sum = 0;
  for (const { board: other, beside } of shown.get(board.course) ?? [])
    sum += sameness(task, board, other, beside);
  for (const other of own) if (other.course === board.course) sum += sameness(task, board, other, true);
  return sum;
}

/** What of two boards from one course is the same, over the usual length of one. */
function sameness({ stock, cells, cellMm }: BoardsTask, a: Board, b: Board, beside: boolean): number {
  if (a.shows === 'joint' || b.shows === 'joint') return 0;
  const both =
    Math.min(a.startMm + a.cells * cellMm, b.startMm + b.cells * cellMm) - Math.max(a.startMm, b.startMm);
  if (both <= 0) return 0;
  const shift = (a.startMm - b.startMm) / cellMm - (a.from - b.from);
  const off = Math.abs(shift / cells - Math.round(shift / cells));
  const line = 1 + (IN_LINE - 1) * Math.max(0, 1 - off / LINE_REACH);
  return ((beside ? SAME_BESIDE : SAME) * line * both) / Math.min(stock.boardMm, cells * cellMm);
}

/** Cells at which boards of a course meet. */
const jointsOf = (course: readonly Board[], closed: boolean) =>
  course
    .filter((b) => b.shows === 'joint' || b.shows === 'before')
    .map((b) => b.from)
    .concat(
      course
        .filter((b) => b.shows === 'after' && (closed || b !== course.at(-1)))
        .map((b) => b.from + b.cells),
    );

/** What a course costs beside all others; the less the better. */
function costOf(
  task: BoardsTask,
  boards: readonly (readonly Board[])[],
  shown: Shown,
  k: number,
  filling: readonly Board[],
  not: readonly Board[],
): number {
  const { stock, cells, cellMm, closed, courses } = task;
  const apart = (APART * stock.boardMm) / cellMm;
  let cost = 0;
  const own = jointsOf([...(boards[k] ?? []), ...filling], closed.along);
  for (const d of [-1, 1]) {
    const q = k + d;
    if (!closed.courses && (q < 0 || q >= courses)) continue;
    const row = boards[((q % courses) + courses) % courses]!;
    if (courses < 2) continue;
    for (const a of jointsOf(row, closed.along))
      for (const b of own) {
        const off = Math.abs((((a - b) % cells) + cells) % cells);
        const far = closed.along ? Math.min(off, cells - off) : Math.abs(a - b);
        if (far < apart) cost += STAGGER * squared(1 - far / apart);
      }
  }
  for (const [i, board] of filling.entries()) {
    if (board.shows === 'joint') {
      cost += BORROWED;
      continue;
    }
    const short = (board.cells * cellMm) / (SHORT * stock.boardMm);
    if (short < 1) cost += squared(1 - short);
    cost += unrest(task, board);
    cost += samenessOf(task, shown, board, filling.slice(i + 1));
    // What went does not come again where it was.
    for (const other of not)
      if (
        other.course === board.course &&
        Math.abs(board.startMm - other.startMm - (board.from - other.from) * cellMm) < 2 * cellMm
      )
        cost += 100;
  }
  return cost;
}
