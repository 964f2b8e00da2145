import { luminancePlane, makePlane, type ColourPicture, type Plane } from '../raster';

/**
 * Boards of a sample. They lie in courses of one width; along a course each ends where it ends, in a joint across it. Lines
 * between courses are known from the structure of the sample; the joints across them are found here.
 */

/** The courses of a sample. */
export interface CoursesOfSample {
  /** Axis along which boards run: the courses follow each other on the other one. */
  along: 'across' | 'up';
  /** Width of a course with its joint, px. */
  pitchPx: number;
  /** About where a line between two courses lies: from the left edge of the sample, or from its top, px. */
  firstPx: number;
}

/** A rectangle of a picture, px from its upper left corner. */
export interface PieceBox {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

export interface BoardsOfSample {
  /** Every board without its joints, as much of it as the sample shows; course after course. */
  boards: readonly PieceBox[];
  /** Usual width of the joints between courses and of those across them, px; 0: none is seen. */
  jointPx: { along: number; across: number };
  /** Usual length of a board, px: the length of all courses over the number of joints across them; no longer than the sample. */
  lengthPx: number;
}

/** The margins of a course, as a share of its width, are left out: joints between courses are a little wide, and wander. */
const MARGIN = 0.1;
/** A joint runs across the whole course: it is looked for in so many bands, and must be in all of them. */
const BANDS = 4;
/** How far beside it a joint is compared, as shares of a course's width. */
const REACHES = [0.025, 0.05] as const;
/** A joint is darker or lighter than what lies beside it by so much L*, and by so many robust deviations … */
const LEAST_STEP = 1.5;
const OUT = 7;
/** … about as much in one band as in another, and not much less than other joints of the sample. */
const EVEN = 0.45;
const LIKE_OTHERS = 0.3;
/** Per median of absolute deviations. */
const DEVIATION = 1.4826;
/** No board is shorter than this share of its width. */
const SHORTEST = 0.6;
/** Pixels at the edge of a joint that belong to it in part. */
const EDGE_PX = 0.5;

/**
 * Finds the boards of a sample. Joints across courses are lines that in each of four bands across the course are darker, or in
 * each lighter, than what lies on both sides of them, by more than grain and knots are. Medians over each band leave grain out,
 * which runs along.
 *
 * @param picture the sample as it lies, linear light
 * @param courses how its courses lie
 * @param keptOut 1 where it must not be used, of its shape
 * @returns null where no course lies whole in the sample
 */
export function findBoards(
  picture: ColourPicture,
  courses: CoursesOfSample,
  keptOut?: Plane,
): BoardsOfSample | null {
  const turned = courses.along === 'up';
  const light = lightnessAlong(picture, turned);
  const kept = keptOut && (turned ? transposed(keptOut) : keptOut);
  const { widthPx: w } = light;
  const period = courses.pitchPx;
  const bands = wholeCourses(courses, light);
  const seen = bands.flatMap(({ course, y0, y1 }) =>
    jointsIn(light, y0 + MARGIN * period, y1 - MARGIN * period, period).map((j) => ({ course, ...j })),
  );
  if (bands.length === 0) return null;
  const usualStep = seen.length > 0 ? middle(seen.map((j) => j.step)) : 0;
  const joints = seen.filter((j) => j.step >= LIKE_OTHERS * usualStep);
  const boards: PieceBox[] = [];
  for (const { course, top, bottom } of bands) {
    let left = 0;
    for (const joint of [...joints.filter((j) => j.course === course), null]) {
      const right = joint ? joint.from - EDGE_PX : w;
      const board = { left, top, right, bottom };
      boards.push(...(kept ? usableOf(board, kept) : [board]));
      if (joint) left = joint.to + EDGE_PX;
    }
  }
  const long = boards.filter((b) => b.right - b.left >= SHORTEST * period);
  const between = bands.flatMap(({ line }) => (line ? [line.to - line.from] : []));
  return {
    boards: turned ? long.map(transposedBox) : long,
    jointPx: {
      along: between.length > 0 ? middle(between) : 0,
      across: joints.length > 0 ? middle(joints.map((j) => j.to - j.from)) : 0,
    },
    lengthPx: (w * bands.length) / Math.max(bands.length, joints.length),
  };
}

/** A box of the picture with its axes exchanged. */
export const transposedBox = ({ left, top, right, bottom }: PieceBox): PieceBox => ({
  left: top,
  top: left,
  right: bottom,
  bottom: right,
});

/** A course that lies whole in a sample. */
interface Course {
  course: number;
  /** From one line to the next. */
  y0: number;
  y1: number;
  /** Its boards, without the joints. */
  top: number;
  bottom: number;
  /** The joint before it; null: none is seen. */
  line: Line | null;
}

/** The courses that lie whole in a sample, but for a pixel or so of their joints. */
function wholeCourses({ pitchPx, firstPx }: CoursesOfSample, light: Plane): Course[] {
  const [first, last] = [
    Math.ceil(-firstPx / pitchPx - MARGIN / 2),
    Math.floor((light.heightPx - firstPx) / pitchPx + MARGIN / 2) - 1,
  ];
  const rows = rowsOf(light);
  const places = Array.from(
    { length: Math.max(0, last - first + 2) },
    (_, k) => firstPx + (first + k) * pitchPx,
  );
  const lines = alike(
    places.map((y0) => lineNear(rows, y0, pitchPx)),
    places,
    STRAY * pitchPx,
  );
  return Array.from({ length: Math.max(0, last - first + 1) }, (_, k) => {
    const course = first + k;
    const [y0, y1] = [firstPx + course * pitchPx, firstPx + (course + 1) * pitchPx];
    const [line, next] = [lines[k]!, lines[k + 1]!];
    return {
      course,
      y0,
      y1,
      line,
      top: Math.max(0, line ? line.to : y0),
      bottom: Math.min(light.heightPx, next ? next.from : y1),
    };
  });
}

function lightnessAlong(picture: ColourPicture, turned: boolean): Plane {
  const plane = luminancePlane(picture);
  for (let i = 0; i < plane.data.length; i++) plane.data[i] = 116 * Math.cbrt(Math.max(0, plane.data[i]!));
  return turned ? transposed(plane) : plane;
}

function transposed({ widthPx, heightPx, data }: Plane): Plane {
  const out = makePlane(heightPx, widthPx);
  for (let y = 0; y < heightPx; y++)
    for (let x = 0; x < widthPx; x++) out.data[x * heightPx + y] = data[y * widthPx + x]!;
  return out;
}

/** Sorted as an array of numbers, which is several times as fast as by a comparison. */
const middle = (values: readonly number[]) => Float64Array.from(values).sort()[values.length >> 1]!;

/** Middle lightness of each row. */
function rowsOf({ widthPx: w, heightPx: h, data }: Plane): Float64Array {
  const step = Math.max(1, Math.floor(w / 400));
  const values: number[] = [];
  return Float64Array.from({ length: h }, (_, y) => {
    values.length = 0;
    for (let x = 0; x < w; x += step) values.push(data[y * w + x]!);
    return middle(values);
  });
}

/** How far beside the place where it should be a line between courses is looked for, as a share of a period. */
const LINE_REACH = 0.04;

/** A joint that runs along: where it begins and ends, px. */
interface Line {
  from: number;
  to: number;
}

/** A line lies no farther than this from where the others let it be expected, as a share of a period. */
const STRAY = 0.012;

/** Lines of which those that stray, where grain beside the joint was taken for it, are put where the others lie. */
function alike(lines: readonly (Line | null)[], places: readonly number[], strayPx: number): (Line | null)[] {
  const off = (at: 'from' | 'to') => lines.flatMap((line, k) => (line ? [line[at] - places[k]!] : []));
  const [before, after] = [off('from'), off('to')];
  if (before.length < 3) return [...lines];
  const [from, to] = [middle(before), middle(after)];
  const most = Math.max(1.5, strayPx);
  return lines.map((line, k) => {
    const place = places[k]!;
    const strays =
      line && (Math.abs(line.from - place - from) > most || Math.abs(line.to - place - to) > most);
    return strays ? { from: place + from, to: place + to } : line;
  });
}

/** The joint that runs along near a place; null: none is seen. */
function lineNear(rows: Float64Array, y0: number, period: number): Line | null {
  const reach = Math.max(2, Math.round(LINE_REACH * period));
  const ground = (y: number) => {
    const [a, b] = [rows[Math.max(0, y - 2 * reach)]!, rows[Math.min(rows.length - 1, y + 2 * reach)]!];
    return (a + b) / 2;
  };
  let [at, most] = [-1, LEAST_STEP];
  const last = Math.min(rows.length - 2, Math.round(y0) + reach);
  for (let y = Math.max(1, Math.round(y0) - reach); y <= last; y++) {
    const differs = Math.abs(rows[y]! - ground(y));
    if (differs > most) [at, most] = [y, differs];
  }
  if (at < 0) return null;
  const level = ground(at);
  const part = (y: number) => (rows[y]! - level) / (rows[at]! - level);
  let [from, to] = [at, at + 1];
  while (from > 0 && at - from < 2 * reach && part(from - 1) > 0.5) from--;
  while (to < rows.length && to - at < 2 * reach && part(to) > 0.5) to++;
  // Between pixels: the rows beside it hold a part of the joint.
  const rest = (y: number) => Math.min(1, Math.max(0, y >= 0 && y < rows.length ? part(y) : 0));
  return { from: from - rest(from - 1), to: to + rest(to) };
}

/** Joints in the rows of one course: from and to along it, px. */
function jointsIn(
  { widthPx: w, heightPx: h, data }: Plane,
  top: number,
  bottom: number,
  period: number,
): { from: number; to: number; step: number }[] {
  const [y0, y1] = [Math.max(0, Math.ceil(top)), Math.min(h, Math.floor(bottom))];
  const reaches = REACHES.map((share) => Math.max(2, Math.round(share * period)));
  const widest = reaches.at(-1)! + 1;
  if (y1 - y0 < BANDS * 2 || w < 4 * widest) return [];
  // Of each column, what it differs from both its sides by, in the band where it differs least.
  const line = new Float64Array(w);
  const median = new Float64Array(w);
  const values: number[] = [];
  const bandOf = (b: number) => [
    y0 + Math.floor((b * (y1 - y0)) / BANDS),
    y0 + Math.floor(((b + 1) * (y1 - y0)) / BANDS),
  ];
  const noise: number[] = [];
  for (let x = 0; x < w; x++) {
    values.length = 0;
    for (let y = y0; y < y1; y++) values.push(data[y * w + x]!);
    median[x] = middle(values);
    for (const reach of reaches) {
      if (x < reach || x + reach >= w) continue;
      let [least, greatest, sign] = [Infinity, 0, 0];
      for (let b = 0; b < BANDS; b++) {
        const [from, to] = bandOf(b) as [number, number];
        values.length = 0;
        for (let y = from; y < to; y++) {
          const i = y * w + x;
          values.push(data[i]! - (data[i - reach]! + data[i + reach]!) / 2);
        }
        const differs = middle(values);
        noise.push(Math.abs(differs));
        if (b > 0 && Math.sign(differs) !== sign) [least, sign] = [0, 0];
        else [least, sign] = [Math.min(least, Math.abs(differs)), Math.sign(differs)];
        greatest = Math.max(greatest, Math.abs(differs));
      }
      if (least < EVEN * greatest) continue;
      if (least * Math.abs(sign) > Math.abs(line[x]!)) line[x] = least * sign;
    }
  }
  const deviation = DEVIATION * middle(noise);
  const enough = Math.max(LEAST_STEP, OUT * deviation);
  const order = [...line.keys()]
    .filter((x) => Math.abs(line[x]!) > enough)
    .sort((a, b) => Math.abs(line[b]!) - Math.abs(line[a]!));
  const found: { at: number; from: number; to: number; step: number }[] = [];
  for (const at of order) {
    if (found.some((f) => Math.abs(f.at - at) < SHORTEST * period)) continue;
    // As wide as it differs by more than a third of what its middle does.
    const ground = (median[Math.max(0, at - 2 * widest)]! + median[Math.min(w - 1, at + 2 * widest)]!) / 2;
    const peak = median[at]! - ground;
    const belongs = (x: number) => x >= 0 && x < w && (median[x]! - ground) / peak > 0.33;
    let [from, to] = [at, at + 1];
    while (at - from < widest && belongs(from - 1)) from--;
    while (to - at < widest && belongs(to)) to++;
    // What has no end is no line.
    if (to - from > widest) continue;
    found.push({ at, from: from - 0.5, to: to + 0.5, step: Math.abs(line[at]!) });
  }
  return found.sort((a, b) => a.at - b.at);
}

/** The stretches of a board over which it is usable all across. */
function usableOf(board: PieceBox, { widthPx: w, data }: Plane): PieceBox[] {
  const [top, bottom] = [Math.floor(board.top), Math.ceil(board.bottom)];
  const isKeptOut = (x: number) => {
    for (let y = top; y < bottom; y++) if (data[y * w + x]! > 0.02) return true;
    return false;
  };
  const out: PieceBox[] = [];
  const [first, last] = [Math.ceil(board.left), Math.floor(board.right)];
  let start: number | null = null;
  for (let x = first; x <= last; x++) {
    const open = x < last && !isKeptOut(x);
    if (open && start === null) start = x;
    if (open || start === null) continue;
    out.push({ ...board, left: start === first ? board.left : start, right: x === last ? board.right : x });
    start = null;
  }
  return out;
}
