import { luminancePlane, type ColourPicture } from '../raster';

/** Contrast across the edges of a repeat over that inside: 1.00 is perfect. */
export interface SeamFigures {
  /** Across the left and right edge, where one repeat meets the next to its side. */
  acrossWidth: number;
  /** Across the top and bottom edge. */
  acrossHeight: number;
  /** Where on each edge the contrast is highest, over a stretch of it. */
  worst: { acrossWidth: WorstPlace; acrossHeight: WorstPlace };
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
export function seamFigures(
  picture: ColourPicture,
  modules: { across?: number | undefined; up?: number | undefined } = {},
): SeamFigures {
  const { widthPx: w, heightPx: h } = picture;
  const l = luminancePlane(picture).data;
  for (let i = 0; i < l.length; i++) l[i] = Math.cbrt(Math.max(0, l[i]!));
  // Mean step between each line and the one before it; line 0 meets the last line across the edge.
  const columns = new Float64Array(w);
  const rows = new Float64Array(h);
  // Steps over the edge itself, place by place: the steepest of a few lines where joints lie beside it.
  const wide = {
    across: (modules.across ?? 1) > 1 ? reachOf(w) : 0,
    up: (modules.up ?? 1) > 1 ? reachOf(h) : 0,
  };
  const atSide = new Float64Array(h);
  const atTop = new Float64Array(w);
  for (let y = 0; y < h; y++) {
    const row = y * w;
    const above = (y === 0 ? h - 1 : y - 1) * w;
    for (let x = 0; x < w; x++) {
      const across = Math.abs(l[row + x]! - l[row + (x === 0 ? w - 1 : x - 1)]!);
      const up = Math.abs(l[row + x]! - l[above + x]!);
      columns[x]! += across / h;
      rows[y]! += up / w;
      if (x <= wide.across || x >= w - wide.across) atSide[y] = Math.max(atSide[y]!, across);
      if (y <= wide.up || y >= h - wide.up) atTop[x] = Math.max(atTop[x]!, up);
    }
  }
  const acrossWidth = edgeFigure(columns, modules.across);
  const acrossHeight = edgeFigure(rows, modules.up);
  return {
    acrossWidth,
    acrossHeight,
    worst: { acrossWidth: worstOf(atSide, acrossWidth), acrossHeight: worstOf(atTop, acrossHeight) },
  };
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

/** How many lines beside a joint are looked at on each side. */
const reachOf = (lines: number) => 1 + Math.ceil(lines / 500);

/**
 * The figure of an edge, if the repeat began at a line.
 * @param steps mean step between each line and the one before it, round the repeat
 * @param modules whole modules in the repeat on this axis
 * @param line where it begins
 */
export function edgeFigure(steps: Float64Array, modules: number | undefined, line = 0): number {
  const n = steps.length;
  let sum = 0;
  let count = 0;
  let edge = steps[line]!;
  if (modules && modules > 1) {
    // Joints are not straight to a pixel, and a period is known to a part of one only: the steepest of a few lines is
    // taken everywhere.
    const reach = reachOf(n);
    const steepest = (at: number) => {
      let most = 0;
      for (let d = -reach; d <= reach; d++) most = Math.max(most, steps[(((at + d) % n) + n) % n]!);
      return most;
    };
    edge = steepest(line);
    for (let k = 1; k < modules; k++) sum += steepest(line + Math.round((k * n) / modules));
    count = modules - 1;
  } else {
    for (let i = 0; i < n; i++) sum += steps[i]!;
    sum -= edge;
    count = Math.max(1, n - 1);
  }
  const inside = sum / count;
  return inside > 1e-9 ? edge / inside : edge > 1e-9 ? 99 : 1;
}

/** Mean step between each line of a repeat and the one before it, on luminance to the power 1/3. */
export function stepsOf(picture: ColourPicture): { columns: Float64Array; rows: Float64Array } {
  const { widthPx: w, heightPx: h } = picture;
  const l = luminancePlane(picture).data;
  for (let i = 0; i < l.length; i++) l[i] = Math.cbrt(Math.max(0, l[i]!));
  const columns = new Float64Array(w);
  const rows = new Float64Array(h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const here = l[y * w + x]!;
      columns[x]! += Math.abs(here - l[y * w + (x === 0 ? w - 1 : x - 1)]!) / h;
      rows[y]! += Math.abs(here - l[(y === 0 ? h - 1 : y - 1) * w + x]!) / w;
    }
  return { columns, rows };
}
