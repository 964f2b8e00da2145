import type { Random } from '../../raster';
import type { Steps } from '../../steps';
import { rectangle, type LaidCells } from '../cell';
import type { Sizes } from './bond';

/** Courses of pieces of random lengths, whose end joints keep a distance from those of the courses beside them. */

export interface LengthsOfCourse {
  /** Shortest and longest piece with its joint, mm. */
  shortest: number;
  longest: number;
  /** Least distance of end joints in neighbouring courses, mm. */
  stagger: number;
}

const TRIES = 24;
/** Longer courses take longer, and further tries rarely help. */
const LONG_COURSE = 24;
const TRIES_OF_LONG = 8;

/**
 * Lays courses that close on both axes.
 * @param heights of the courses with their joints from the bottom, mm
 * @throws RangeError where no courses of such lengths keep the stagger, with the largest that can be kept
 */
export function* coursesSteps(
  heights: readonly number[],
  lengths: LengthsOfCourse,
  { repeatMm, random, joint }: Pick<Sizes, 'joint'> & { repeatMm: { width: number }; random: Random },
): Steps<LaidCells> {
  const width = widthThatFits(repeatMm.width, lengths);
  const rows = yield* joints(heights.length, width, lengths, random);
  let y = 0;
  const cells = heights.flatMap((height, course) => {
    const at = rows[course]!;
    const row = at.map((x, k) => {
      const next = at[(k + 1) % at.length]! + (k + 1 === at.length ? width : 0);
      return rectangle([x, y], { width: next - x, height }, { ...joint, course });
    });
    y += height;
    return row;
  });
  return { repeatMm: { width, height: y }, cells, courses: heights.length };
}

/** The nearest width that whole pieces can fill. */
function widthThatFits(wanted: number, { shortest, longest }: LengthsOfCourse): number {
  const most = Math.max(1, Math.floor(wanted / shortest + 1e-9));
  const fewest = Math.ceil(wanted / longest - 1e-9);
  if (fewest <= most) return wanted;
  const [less, more] = [most * longest, (most + 1) * shortest];
  return wanted - less < more - wanted ? less : more;
}

/** End joints of every course, each from the left. @throws RangeError where the stagger cannot be kept */
function* joints(
  courses: number,
  width: number,
  lengths: LengthsOfCourse,
  random: Random,
): Steps<number[][]> {
  const tries = width / lengths.longest > LONG_COURSE ? TRIES_OF_LONG : TRIES;
  const rows =
    (yield* attempted(courses, width, lengths, tries, random)) ??
    (yield* alternating(courses, width, lengths, random));
  if (rows) return rows;
  let stagger = 0.93 * lengths.stagger;
  while (stagger > 0.5 && !(yield* attempted(courses, width, { ...lengths, stagger }, 4, random)))
    stagger *= 0.93;
  throw new RangeError(
    `A stagger of ${Math.round(lengths.stagger)} mm cannot be kept by pieces of ${Math.round(lengths.shortest)} to ${Math.round(lengths.longest)} mm in a repeat ${Math.round(width)} mm wide. ${Math.floor(stagger)} mm can, or a wider repeat.`,
  );
}

function* attempted(
  courses: number,
  width: number,
  lengths: LengthsOfCourse,
  tries: number,
  random: Random,
): Steps<number[][] | null> {
  for (let attempt = 0; attempt < tries; attempt++) {
    const rows: number[][] = [];
    while (rows.length < courses) {
      yield;
      const last = rows.length === courses - 1 && rows.length > 0;
      const beside = [...(rows[rows.length - 1] ?? []), ...(last ? rows[0]! : [])];
      const next = row(width, lengths, beside, random);
      if (!next) break;
      rows.push(next);
    }
    if (rows.length === courses) return rows;
  }
  return null;
}

/**
 * In a long course the last one hardly ever fits both the first and the one below it. Then every second course is laid like
 * the first and every other like the second, each joint a little off.
 * @returns null: it cannot be
 */
function* alternating(
  courses: number,
  width: number,
  lengths: LengthsOfCourse,
  random: Random,
): Steps<number[][] | null> {
  if (courses % 2 === 1) return null;
  const { shortest, longest, stagger } = lengths;
  const off = Math.min(0.25 * stagger, 0.1 * (longest - shortest));
  const narrower = { shortest: shortest + 2 * off, longest: longest - 2 * off, stagger: stagger + 2 * off };
  const pair = yield* attempted(2, width, narrower, TRIES, random);
  if (!pair) return null;
  return Array.from({ length: courses }, (_, k) => pair[k % 2]!.map((x) => x + random.between(-off, off)));
}

/** Which of evenly spaced places on a closed course are at least a stagger away from the joints beside it. */
function freePlaces(
  { places, step, offset, width }: { places: number; step: number; offset: number; width: number },
  beside: readonly number[],
  stagger: number,
): boolean[] {
  const free = Array<boolean>(places).fill(true);
  const within = Math.min(places, Math.ceil(stagger / step) + 1);
  for (const b of beside) {
    const nearest = Math.round((b - offset) / step);
    for (let n = -within; n <= within; n++) {
      const k = (((nearest + n) % places) + places) % places;
      const d = Math.abs(offset + k * step - b) % width;
      if (Math.min(d, width - d) < stagger) free[k] = false;
    }
  }
  return free;
}

/** Number of candidate places over the length of the shortest piece. */
const FINE = 24;
const MOST_PLACES = 3000;

/**
 * End joints of one course: starting from a random one, each next one is drawn at random among those from which the course can
 * still be closed.
 * @param beside end joints of the courses beside
 * @returns null: none keeps the stagger
 */
function row(
  width: number,
  lengths: LengthsOfCourse,
  beside: readonly number[],
  random: Random,
): number[] | null {
  const places = Math.min(MOST_PLACES, Math.max(FINE, Math.ceil((FINE * width) / lengths.shortest)));
  const step = width / places;
  const offset = random.next() * step;
  const free = freePlaces({ places, step, offset, width }, beside, lengths.stagger);
  const least = Math.max(1, Math.ceil(lengths.shortest / step - 1e-9));
  const most = Math.max(least, Math.floor(lengths.longest / step + 1e-9));
  const starts = free.flatMap((is, k) => (is ? [k] : []));
  for (let attempt = 0; attempt < 8 && starts.length > 0; attempt++) {
    const start = starts[random.whole(starts.length)]!;
    const closes = closable(free, start, least, most);
    if (closes[0] === 0) continue;
    const at: number[] = [];
    for (let k = 0; k < places;) {
      at.push(offset + ((start + k) % places) * step);
      const next: number[] = [];
      for (let n = k + least; n <= Math.min(places, k + most); n++) if (closes[n]) next.push(n);
      k = next[random.whole(next.length)]!;
    }
    return at.sort((a, b) => a - b);
  }
  return null;
}

/** From which places after a start the course can be closed: 1 where it can. */
function closable(free: readonly boolean[], start: number, least: number, most: number): Uint8Array {
  const places = free.length;
  const closes = new Uint8Array(places + 1);
  closes[places] = 1;
  // How many of the places from one on close.
  const after = new Int32Array(places + 2);
  after[places] = 1;
  for (let k = places - 1; k >= 0; k--) {
    const from = k + least;
    const to = Math.min(places, k + most);
    const any = from <= places && after[from]! - after[to + 1]! > 0;
    closes[k] = any && free[(start + k) % places] ? 1 : 0;
    after[k] = after[k + 1]! + closes[k]!;
  }
  return closes;
}
