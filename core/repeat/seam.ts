import { luminanceSteps, type ColourPicture, type Plane } from '../raster';
import { atOnce, type Steps } from '../steps';

/** Contrast across the edges of a repeat over that inside: 1.00 is perfect. */
export interface SeamFigures {
  /** Across the left and right edge, where one repeat meets the next to its side. */
  acrossWidth: number;
  /** Across the top and bottom edge. */
  acrossHeight: number;
  /** What lines parallel to each edge have inside, nine of ten of them: an edge within that is like any other line. */
  inside: { acrossWidth: Spread; acrossHeight: Spread };
  /** Where on each edge the contrast is highest, over a stretch of it. */
  worst: { acrossWidth: WorstPlace; acrossHeight: WorstPlace };
}

export interface Spread {
  from: number;
  to: number;
}

/** The stretch of an edge at which it shows most. */
export interface WorstPlace {
  /** Its middle: from the left end of the edge, or from its top, as a share. */
  at: number;
  /** Contrast there over that inside. */
  figure: number;
}

/** Length of a stretch, as a share of its edge. */
const STRETCH = 1 / 20;

/**
 * Seam figure per edge: mean absolute step across the edge, over the mean for lines parallel to it inside, on
 * luminance to the power 1/3 in linear light.
 *
 * Where the repeat is a whole number of modules, its edge lies beside a joint, which has contrast of its own: it is
 * then compared with the same place beside all the other joints.
 *
 * @param picture one repeat
 * @param modules how many modules lie in the repeat across its width and its height, where counted
 */
export const seamFigures = (picture: ColourPicture, modules?: ModulesInRepeat): SeamFigures =>
  atOnce(seamFiguresSteps(picture, modules));

export interface ModulesInRepeat {
  across?: number | undefined;
  up?: number | undefined;
}

/** As `seamFigures`, left between rows. */
export function* seamFiguresSteps(picture: ColourPicture, modules: ModulesInRepeat = {}): Steps<SeamFigures> {
  const light = yield* lightOf(picture);
  const { columns, rows } = yield* stepsIn(light);
  const across = shownModules(columns, modules.across);
  const up = shownModules(rows, modules.up);
  const acrossWidth = edgeFigures(columns, across)(0);
  const acrossHeight = edgeFigures(rows, up)(0);
  return {
    acrossWidth,
    acrossHeight,
    inside: { acrossWidth: insideOf(columns, across), acrossHeight: insideOf(rows, up) },
    worst: {
      acrossWidth: worstOf(overEdge(light, true, across), acrossWidth),
      acrossHeight: worstOf(overEdge(light, false, up), acrossHeight),
    },
  };
}

/** A module of fewer lines has no joint of its own in the picture. */
const LEAST_LINES = 3;

/** How many modules a picture shows; undefined: they are too small to be told apart, or not counted. */
const shownModules = (steps: Float64Array, modules: number | undefined) =>
  modules !== undefined && modules * LEAST_LINES <= steps.length ? modules : undefined;

/** Figures between which nine of ten lines inside lie, the edge itself left out. */
function insideOf(steps: Float64Array, modules = 1): Spread {
  const n = steps.length;
  let sum = 0;
  for (let i = 0; i < n; i++) sum += steps[i]!;
  const figureAt = edgeFigures(steps, modules);
  const figures =
    modules > 1
      ? Array.from({ length: modules - 1 }, (_, k) => figureAt(Math.round(((k + 1) * n) / modules)))
      : Array.from(steps.subarray(1), (step) => figureOf(step, (sum - step) / (n - 1)));
  if (figures.length === 0) return { from: 1, to: 1 };
  figures.sort((a, b) => a - b);
  const at = (share: number) => figures[Math.round(share * (figures.length - 1))]!;
  return { from: at(0.05), to: at(0.95) };
}

/** Steps over an edge place by place along it: the steepest of a few lines where joints lie beside it. */
function overEdge(
  { widthPx: w, heightPx: h, data: l }: Plane,
  upright: boolean,
  modules: number | undefined,
) {
  const [lines, along] = upright ? [w, h] : [h, w];
  const reach = reachOf(lines, modules);
  const at = (line: number, i: number) => {
    const k = ((line % lines) + lines) % lines;
    return l[upright ? i * w + k : k * w + i]!;
  };
  const out = new Float64Array(along);
  for (let i = 0; i < along; i++)
    for (let d = -reach; d <= reach; d++) out[i] = Math.max(out[i]!, Math.abs(at(d, i) - at(d - 1, i)));
  return out;
}

/** The stretch of an edge with the steepest steps; its figure in proportion to that of the whole edge. */
function worstOf(steps: Float64Array, figure: number): WorstPlace {
  const n = steps.length;
  const long = Math.max(1, Math.round(STRETCH * n));
  let [sum, all] = [0, 0];
  for (let i = 0; i < n; i++) all += steps[i]!;
  for (let i = 0; i < long; i++) sum += steps[i]!;
  let [most, first] = [sum, 0];
  for (let i = 1; i + long <= n; i++) {
    sum += steps[i + long - 1]! - steps[i - 1]!;
    if (sum > most) [most, first] = [sum, i];
  }
  const usual = (all * long) / n;
  return { at: (first + long / 2) / n, figure: usual > 1e-12 ? (figure * most) / usual : figure };
}

/** How far pieces of a structure may stray from their period, as a share of it. */
const STRAYING = 1 / 8;

/** How many lines beside a joint are looked at on each side; none where there are no joints. */
const reachOf = (lines: number, modules = 1) =>
  modules > 1 ? Math.max(1 + Math.ceil(lines / 500), Math.round((STRAYING * lines) / modules)) : 0;

/**
 * The figures of an edge for any line that the repeat may begin at.
 * @param steps mean step between each line and the one before it, round the repeat
 * @param modules whole modules in the repeat on this axis
 */
export function edgeFigures(steps: Float64Array, modules: number | undefined): (line: number) => number {
  const n = steps.length;
  if (!modules || modules <= 1) {
    let sum = 0;
    for (let i = 0; i < n; i++) sum += steps[i]!;
    return (line) => figureOf(steps[line]!, (sum - steps[line]!) / Math.max(1, n - 1));
  }
  // Joints are not straight to a pixel, and pieces stray: all steps about each joint are taken together.
  const reach = reachOf(n, modules);
  const about = Float64Array.from(steps, (_, at) => {
    let all = 0;
    for (let d = -reach; d <= reach; d++) all += steps[(((at + d) % n) + n) % n]!;
    return all;
  });
  if (modules > n) {
    // Each line is the joint of some modules: what all of them sum up to is nearly the same for each.
    const times = new Uint32Array(n);
    for (let k = 1; k < modules; k++) times[Math.round((k * n) / modules) % n]!++;
    return (line) => {
      let sum = 0;
      for (let d = 0; d < n; d++) sum += times[d]! * about[(line + d) % n]!;
      return figureOf(about[line % n]!, sum / (modules - 1));
    };
  }
  return (line) => {
    let sum = 0;
    for (let k = 1; k < modules; k++) sum += about[(line + Math.round((k * n) / modules)) % n]!;
    return figureOf(about[line % n]!, sum / (modules - 1));
  };
}

/** Contrast at an edge over that inside; 1 where there is none at all. */
const figureOf = (edge: number, inside: number) => (inside > 1e-9 ? edge / inside : edge > 1e-9 ? 99 : 1);

/** Mean step between each line of a repeat and the one before it, on luminance to the power 1/3. */
export const stepsOf = (picture: ColourPicture) => atOnce(stepsIn(atOnce(lightOf(picture))));

/** Luminance to the power 1/3. */
function* lightOf(picture: ColourPicture): Steps<Plane> {
  const light = yield* luminanceSteps(picture);
  const { widthPx: w, heightPx: h, data } = light;
  for (let y = 0; y < h; y++) {
    yield;
    for (let i = y * w; i < (y + 1) * w; i++) data[i] = Math.cbrt(Math.max(0, data[i]!));
  }
  return light;
}

interface LineSteps {
  columns: Float64Array;
  rows: Float64Array;
}

function* stepsIn(light: Plane): Steps<LineSteps> {
  const steps = { columns: new Float64Array(light.widthPx), rows: new Float64Array(light.heightPx) };
  for (let y = 0; y < light.heightPx; y++) {
    yield;
    addSteps(steps, light, y);
  }
  return steps;
}

/** Adds the steps of one row to those of all lines. */
function addSteps(
  { columns, rows }: LineSteps,
  { widthPx: w, heightPx: h, data: l }: Plane,
  y: number,
): void {
  const [here, above] = [y * w, (y === 0 ? h - 1 : y - 1) * w];
  for (let x = 0; x < w; x++) {
    const v = l[here + x]!;
    columns[x]! += Math.abs(v - l[here + (x === 0 ? w - 1 : x - 1)]!) / h;
    rows[y]! += Math.abs(v - l[above + x]!) / w;
  }
}
