import {
  blurWrapped,
  luminancePlane,
  makePlane,
  percentiles,
  type ColourPicture,
  type Plane,
} from '../../../raster';

/**
 * Boards lie in courses of one width; along a course each ends where it ends, in a joint across it. A carpenter cuts
 * boards to length and lays them joint to joint, and so does Jossel: this finds the joints.
 */

/** The courses of a sample. */
export interface CoursesOfSample {
  /** Axis along which boards run: the courses follow each other on the other one. */
  along: 'across' | 'up';
  /** Width of a course. */
  pitchMm: number;
  /** About where a line between two courses lies: from the left edge of the sample, or from its top. */
  firstMm: number;
}

/** A joint across a course. */
export interface EndJoint {
  /** Which course, counted from the first line. */
  course: number;
  /** Along the course. */
  fromMm: number;
  toMm: number;
}

/** A stretch of a course from joint to joint, or to where the sample ends or is kept out. */
export interface Run {
  course: number;
  fromMm: number;
  toMm: number;
  /** Width of the joint before it, and after it; 0: none is seen there. */
  jointBeforeMm: number;
  jointAfterMm: number;
}

/** What boards can be cut from. */
export interface BoardStock {
  runs: readonly Run[];
  /** Of each course, where the joint before it begins: a course is laid with that joint, and without the one after it. */
  beginsMm: ReadonlyMap<number, number>;
  joints: readonly EndJoint[];
  /** Of each course, how much stands out in it from place to place: robust deviations, over steps of `stepMm` along it. */
  standsOut: ReadonlyMap<number, Float32Array>;
  stepMm: number;
  /** Usual length of a board: the length of all courses over the number of joints. */
  boardMm: number;
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

/**
 * Finds the joints across the courses of a sample: lines that in each of four bands across the course are darker, or in
 * each lighter, than what lies on both sides of them, by more than grain and knots are. Medians over each band leave
 * grain out, which runs along.
 *
 * @param picture the sample as it lies, linear light
 * @param pxPerMm its density
 * @param courses how its courses lie
 * @param keptOut 1 where it must not be used, of its shape; null: everywhere usable
 * @returns null where no course lies whole in the sample, or no joint can be used
 */
export function findBoards(
  picture: ColourPicture,
  pxPerMm: { x: number; y: number },
  courses: CoursesOfSample,
  keptOut: Plane | null,
): BoardStock | null {
  const turned = courses.along === 'up';
  const light = lightnessAlong(picture, turned);
  const kept = keptOut && (turned ? transposed(keptOut) : keptOut);
  const [perMm, crossPerMm] = turned ? [pxPerMm.y, pxPerMm.x] : [pxPerMm.x, pxPerMm.y];
  const { widthPx: w } = light;
  const period = courses.pitchMm * crossPerMm;
  const rows = rowsOf(light);
  const all = wholeCourses(courses, light.heightPx / crossPerMm).map((course) => {
    const y0 = courses.firstMm * crossPerMm + course * period;
    return { course, y0, y1: y0 + period, line: lineNear(rows, y0, period) };
  });
  // A course whose joint lies outside the sample cannot be laid with it. Where no joints are seen at all, none is missed.
  const lines = all.flatMap(({ line }) => (line ? [line.step] : []));
  const clear = lines.length > all.length / 2 ? LIKE_OTHERS * middle(lines) : null;
  const bands = clear === null ? all : all.filter(({ line }) => line && line.step > clear);
  const beginsMm = new Map(
    bands.map(({ course, y0, line }) => [
      course,
      (clear === null ? Math.max(0, y0) : line!.from) / crossPerMm,
    ]),
  );
  const seen = bands.flatMap(({ course, y0, y1 }) =>
    jointsIn(light, y0 + MARGIN * period, y1 - MARGIN * period, period).map((j) => ({ course, ...j })),
  );
  if (seen.length === 0) return null;
  const usualStep = middle(seen.map((j) => j.step));
  const joints: EndJoint[] = seen
    .filter((j) => j.step >= LIKE_OTHERS * usualStep)
    .map(({ course, from, to }) => ({ course, fromMm: from / perMm, toMm: to / perMm }));
  const runs: Run[] = [];
  for (const { course, y0, y1 } of bands) {
    const own = joints.filter((j) => j.course === course);
    let [fromMm, before] = [0, 0];
    for (const joint of [...own, null]) {
      const toMm = joint ? joint.fromMm : w / perMm;
      const run: Run = {
        course,
        fromMm,
        toMm,
        jointBeforeMm: before,
        jointAfterMm: joint ? joint.toMm - joint.fromMm : 0,
      };
      runs.push(...(kept ? usableOf(run, kept, perMm, y0, y1) : [run]));
      if (joint) [fromMm, before] = [joint.toMm, joint.toMm - joint.fromMm];
    }
  }
  const usable = joints.filter((j) => isShown(j, runs));
  if (usable.length === 0) return null;
  const boardMm = ((w / perMm) * bands.length) / joints.length;
  const step = Math.max(1, Math.round(w / STEPS));
  const standsOut = standingOut(light, bands, period, step);
  return { runs, joints: usable, boardMm, beginsMm, standsOut, stepMm: step / perMm };
}

/** What stands out is told in about so many steps along a course, and looked for in so large places, as shares of its width. */
const STEPS = 400;
const PLACE = 1 / 14;

/** How much stands out along each course: of a band of lightness, the greatest robust deviation across the course. */
function standingOut(
  light: Plane,
  bands: readonly { course: number; y0: number; y1: number }[],
  period: number,
  step: number,
): Map<number, Float32Array> {
  const { widthPx: w, heightPx: h } = light;
  const smooth = blurWrapped(light, PLACE * period, PLACE * period).data;
  const broad = blurWrapped(light, 3 * PLACE * period, 3 * PLACE * period).data;
  const edge = 2 * MARGIN * period;
  const out = new Map<number, Float32Array>();
  const all: number[] = [];
  for (const { course, y0, y1 } of bands) {
    const along = new Float32Array(Math.ceil(w / step));
    const [top, bottom] = [Math.max(0, Math.ceil(y0 + edge)), Math.min(h, Math.floor(y1 - edge))];
    for (let y = top; y < bottom; y++)
      for (let x = 0; x < w; x++) {
        const differs = Math.abs(smooth[y * w + x]! - broad[y * w + x]!);
        if ((x + y) % 5 === 0) all.push(differs);
        const k = Math.floor(x / step);
        along[k] = Math.max(along[k]!, differs);
      }
    out.set(course, along);
  }
  const [usual] = percentiles(Float32Array.from(all), [0.5]) as [number];
  for (const along of out.values())
    for (let k = 0; k < along.length; k++) along[k]! /= DEVIATION * Math.max(1e-3, usual);
  return out;
}

/** What is left of a stock when parts of the sample are not to be used any more. */
export function withoutTaken(
  stock: BoardStock,
  taken: Plane,
  pxPerMm: { x: number; y: number },
  courses: CoursesOfSample,
): BoardStock {
  const turned = courses.along === 'up';
  const plane = turned ? transposed(taken) : taken;
  const [perMm, crossPerMm] = turned ? [pxPerMm.y, pxPerMm.x] : [pxPerMm.x, pxPerMm.y];
  const period = courses.pitchMm * crossPerMm;
  const runs = stock.runs.flatMap((run) => {
    const y0 = courses.firstMm * crossPerMm + run.course * period;
    return usableOf(run, plane, perMm, y0, y0 + period);
  });
  return { ...stock, runs, joints: stock.joints.filter((j) => isShown(j, runs)) };
}

/** Whether a run still shows a joint at its end: one that is kept out belongs to none. */
const isShown = (joint: EndJoint, runs: readonly Run[]): boolean =>
  runs.some(
    (run) =>
      run.course === joint.course &&
      ((run.jointAfterMm > 0 && run.toMm === joint.fromMm) ||
        (run.jointBeforeMm > 0 && run.fromMm === joint.toMm)),
  );

/** Numbers of the courses that lie whole in a sample, but for a pixel or so of their joints. */
function wholeCourses({ pitchMm, firstMm }: CoursesOfSample, lengthMm: number): number[] {
  const [first, last] = [
    Math.ceil(-firstMm / pitchMm - MARGIN / 2),
    Math.floor((lengthMm - firstMm) / pitchMm + MARGIN / 2) - 1,
  ];
  return Array.from({ length: Math.max(0, last - first + 1) }, (_, k) => first + k);
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

const middle = (values: number[]) => values.sort((a, b) => a - b)[values.length >> 1]!;

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

/** Where the joint that runs along near a place begins, and by how much it differs; null: none is seen. */
function lineNear(rows: Float64Array, y0: number, period: number): { from: number; step: number } | null {
  const reach = Math.max(2, Math.round(LINE_REACH * period));
  const ground = (y: number) => {
    const [a, b] = [rows[Math.max(0, y - 2 * reach)]!, rows[Math.min(rows.length - 1, y + 2 * reach)]!];
    return (a + b) / 2;
  };
  let [at, most] = [-1, LEAST_STEP];
  for (
    let y = Math.max(1, Math.round(y0) - reach);
    y <= Math.min(rows.length - 2, Math.round(y0) + reach);
    y++
  ) {
    const differs = Math.abs(rows[y]! - ground(y));
    if (differs > most) [at, most] = [y, differs];
  }
  if (at < 0) return null;
  const level = ground(at);
  const part = (y: number) => (rows[y]! - level) / (rows[at]! - level);
  let from = at;
  while (from > 0 && at - from < 2 * reach && part(from - 1) > 0.5) from--;
  // Between pixels: the row before it holds a part of the joint.
  return { from: from - Math.min(1, Math.max(0, from > 0 ? part(from - 1) : 0)), step: most };
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

/** The stretches of a run over which a whole course is usable. */
function usableOf(run: Run, keptOut: Plane, perMm: number, y0: number, y1: number): Run[] {
  const { widthPx: w, heightPx: h, data } = keptOut;
  const [top, bottom] = [Math.max(0, Math.floor(y0)), Math.min(h, Math.ceil(y1))];
  const isKeptOut = (x: number) => {
    for (let y = top; y < bottom; y++) if (data[y * w + x]! > 0.02) return true;
    return false;
  };
  // Its joints are looked at as well: one that is kept out is not to be shown.
  const [first, last] = [
    Math.max(0, Math.floor((run.fromMm - run.jointBeforeMm) * perMm)),
    Math.min(w, Math.ceil((run.toMm + run.jointAfterMm) * perMm)),
  ];
  const out: Run[] = [];
  let start: number | null = null;
  for (let x = first; x <= last; x++) {
    const open = x < last && !isKeptOut(x);
    if (open && start === null) start = x;
    if (open || start === null) continue;
    const [whole, wholeEnd] = [start === first, x === last];
    const fromMm = whole ? run.fromMm : start / perMm;
    const toMm = wholeEnd ? run.toMm : x / perMm;
    if (toMm > fromMm)
      out.push({
        course: run.course,
        fromMm,
        toMm,
        jointBeforeMm: whole ? run.jointBeforeMm : 0,
        jointAfterMm: wholeEnd ? run.jointAfterMm : 0,
      });
    start = null;
  }
  return out;
}
