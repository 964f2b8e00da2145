import { blurWrapped, makePlane, type Plane } from '../raster';
import type { ShadowSteps } from './shadow-steps';
import type { HeightDifferences } from './surface-from-slopes';

/** Steps around a place are compared over a blur of this sigma, px: one shadow is a pixel longer or shorter by chance. */
const COMPARED_PX = 12;
/** Shadows count where they say steps higher than slopes do, and in full where they say so much more, as a share. */
const COUNT_IN_FULL = 0.06;
/**
 * Where edges are crowded, as on threads and pebbles, hollows are no wider than some pixels and blurred: shadows say a tenth more
 * than slopes though no wall is unseen. There they count only from this share more on.
 */
const BLURRED_SHARE = 0.17;
/** How many shadows of one light end on a pixel, on average: from where on edges are close together, and crowded. At joints 0.002 to 0.01. */
const CROWDED = [0.015, 0.03] as const;
/**
 * Shadows are those of edges as sharp as they are, slopes those of pictures that are blurred: so much of the difference is due to
 * walls that were not seen.
 */
const DUE_TO_WALLS = 0.6;
/**
 * Where shadows say about as much as slopes, the steps of slopes are made higher, as single shadows are a pixel longer or shorter
 * by chance. From the first of these times as high on, slopes miss too much to tell one step from the next, and at the second each
 * shadow is taken at its word.
 */
const AT_THEIR_WORD = [1.2, 1.32] as const;
/** What the slopes at an unseen wall are trusted. */
const SLOPES_THERE = 0.07;

/** The wall opposite to one that shadows tell counts so much beside it. */
const OPPOSITE_WEIGHT = 0.5;
/** Its step is made at most so many times as high as slopes say. */
const MOST_TIMES = 3;
/** It is looked for so far behind a shadow, px. */
const WIDEST_PX = 60;
/** It is a wall once it is as high as this share of the step, and ends where a pixel rises by less than that. */
const HIGH_ENOUGH = 0.5;
const STILL_RISING = 0.04;
/** Walls on which no pixel rises by this share are round, and slopes tell all of them. */
const STEEP = 0.33;

/** What shadows tell of a surface beyond its slopes. */
export interface UnseenWalls {
  differences: HeightDifferences;
  /** 0–1: how far slopes are trusted beside it. */
  slopes: Float32Array;
}

/**
 * Keeps of the steps that shadows tell those at which a wall was not seen: there slopes alone make the surface too shallow.
 * @param bySlopes height by slopes alone, mm
 * @param lights how many lights threw the shadows
 */
export function unseenWalls(
  { edge, behind, end, mm }: ShadowSteps,
  bySlopes: Plane,
  lights: number,
): UnseenWalls {
  const [byShadow, bySlope, ends] = [emptyLike(bySlopes), emptyLike(bySlopes), emptyLike(bySlopes)];
  mm.forEach((step, k) => {
    byShadow.data[end[k]!]! += step;
    ends.data[end[k]!]! += 1 / lights;
    bySlope.data[end[k]!]! += bySlopes.data[edge[k]!]! - bySlopes.data[end[k]!]!;
  });
  const [said, seen, crowd] = [byShadow, bySlope, ends].map((p) => blurredInside(p, COMPARED_PX).data);
  const slopes = new Float32Array(bySlopes.data.length).fill(1);
  const found: Differences = { high: [], low: [], mm: [], weight: [] };
  for (let k = 0; k < mm.length; k++) {
    const [from, at] = [edge[k]!, end[k]!];
    const counts = countsFor(said![at]!, seen![at]!, crowd![at]!);
    if (counts === 0) continue;
    const distrust = (i: number, by: number) =>
      (slopes[i] = Math.min(slopes[i]!, 1 - (1 - SLOPES_THERE) * by));
    const times = said![at]! / seen![at]!;
    const step = bySlopes.data[from]! - bySlopes.data[at]!;
    add(found, from, at, stepOf(mm[k]!, step, times), counts);
    distrust(from, counts);
    distrust(behind[k]!, counts);
    // Below that, both walls are nearly as high as slopes say.
    const countsThere = counts * ramp(times, ...AT_THEIR_WORD);
    const opposite = countsThere > 0 && step > 0 ? wallOpposite(bySlopes, from, at, step) : null;
    if (!opposite) continue;
    const { below, above } = opposite;
    const mmThere = (bySlopes.data[above]! - bySlopes.data[at]!) * Math.min(MOST_TIMES, times);
    add(found, above, at, mmThere, OPPOSITE_WEIGHT * countsThere);
    distrust(below, countsThere);
    distrust(above, countsThere);
  }
  const differences = {
    high: Int32Array.from(found.high),
    low: Int32Array.from(found.low),
    mm: Float32Array.from(found.mm),
    weight: Float32Array.from(found.weight),
  };
  return { differences, slopes };
}

type Differences = Record<keyof HeightDifferences, number[]>;

function add(to: Differences, high: number, low: number, mm: number, weight: number): void {
  to.high.push(high);
  to.low.push(low);
  to.mm.push(mm);
  to.weight.push(weight);
}

/**
 * The wall on the other side of a joint into which a shadow falls. Nearer lights throw shorter shadows, so that often only one of
 * two walls is told by shadows; were it made higher alone, the faces on both sides would stand askew.
 * @param edge pixel that throws the shadow
 * @param end pixel where it ends
 * @param stepMm how much higher the edge stands by slopes
 * @returns the pixels before and after its steepest rise; null: the floor does not rise again, or so gently that all of it is seen
 */
function wallOpposite(
  { widthPx: w, heightPx: h, data }: Plane,
  edge: number,
  end: number,
  stepMm: number,
): { below: number; above: number } | null {
  const [x, y] = [end % w, Math.floor(end / w)];
  const [dx, dy] = [x - (edge % w), y - Math.floor(edge / w)];
  const length = Math.sqrt(dx * dx + dy * dy);
  const floor = data[end]!;
  let [before, below, above, steepest] = [end, -1, -1, 0];
  for (let t = 1; t <= WIDEST_PX; t++) {
    const [px, py] = [Math.round(x + (t * dx) / length), Math.round(y + (t * dy) / length)];
    if (px < 0 || py < 0 || px >= w || py >= h) return null;
    const at = py * w + px;
    const rise = data[at]! - data[before]!;
    if (rise > steepest) [below, above, steepest] = [before, at, rise];
    const isUp = data[at]! - floor > HIGH_ENOUGH * stepMm;
    if (isUp && rise < STILL_RISING * stepMm) return steepest > STEEP * stepMm ? { below, above } : null;
    before = at;
  }
  return null;
}

const emptyLike = ({ widthPx, heightPx }: Plane): Plane => makePlane(widthPx, heightPx);

const ramp = (value: number, from: number, to: number) =>
  Math.min(1, Math.max(0, (value - from) / (to - from)));

/**
 * 0–1: how far steps count that shadows and slopes say around a place.
 * @param crowd how many shadows of one light end there on a pixel
 */
function countsFor(byShadow: number, bySlopes: number, crowd: number): number {
  if (bySlopes <= 0) return 1;
  const from = 1 + BLURRED_SHARE * ramp(crowd, ...CROWDED);
  return ramp(byShadow / bySlopes, from, from + COUNT_IN_FULL);
}

/**
 * A step that a shadow and slopes say, mm.
 * @param times how many times as high as slopes shadows say steps around it; below 0 where slopes say there are none
 */
function stepOf(byShadow: number, bySlopes: number, times: number): number {
  if (bySlopes <= 0 || times <= 0) return byShadow;
  const atItsWord = ramp(times, ...AT_THEIR_WORD);
  return atItsWord * byShadow + (1 - atItsWord) * bySlopes * (1 + DUE_TO_WALLS * (times - 1));
}

/** Blurs a plane beyond whose borders there is nothing. */
function blurredInside({ widthPx: w, heightPx: h, data }: Plane, sigmaPx: number): Plane {
  const beyond = Math.ceil(3 * sigmaPx);
  const padded = makePlane(w + beyond, h + beyond);
  for (let y = 0; y < h; y++) padded.data.set(data.subarray(y * w, (y + 1) * w), y * padded.widthPx);
  const blurred = blurWrapped(padded, sigmaPx, sigmaPx);
  const out = makePlane(w, h);
  for (let y = 0; y < h; y++)
    out.data.set(blurred.data.subarray(y * padded.widthPx, y * padded.widthPx + w), y * w);
  return out;
}
