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
/** Where shadows say more than so many times what slopes do, slopes see hardly any wall, and none is made higher by them. */
const MOST_TIMES = 3;
/** From so many shadows of its own for each of its pixels on, it is told by them. */
const ENOUGH_SHADOWS = 2;
/** They are counted so far around. */
const NEAR_PX = 3;
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
export function unseenWalls(steps: ShadowSteps, bySlopes: Plane, lights: number): UnseenWalls {
  const { edge, behind, end, mm } = steps;
  const around = stepsAround(steps, bySlopes, lights);
  const slopes = new Float32Array(bySlopes.data.length).fill(1);
  const found: Differences = { high: [], low: [], mm: [], weight: [] };
  const keep = (high: number, low: number, stepMm: number, weight: number) => {
    found.high.push(high);
    found.low.push(low);
    found.mm.push(stepMm);
    found.weight.push(weight);
  };
  const distrust = (by: number, ...pixels: number[]) =>
    pixels.forEach((i) => (slopes[i] = Math.min(slopes[i]!, 1 - (1 - SLOPES_THERE) * by)));
  const rise = (from: number, to: number) => bySlopes.data[to]! - bySlopes.data[from]!;
  for (let k = 0; k < mm.length; k++) {
    const at = end[k]!;
    const { times, counts } = around(at);
    if (counts === 0) continue;
    keep(edge[k]!, at, stepOf(mm[k]!, rise(at, edge[k]!), times), counts);
    distrust(counts, edge[k]!, behind[k]!);
  }
  const own = alongEdges(found.high, bySlopes);
  for (let k = 0; k < mm.length; k++) {
    const at = end[k]!;
    const { times, counts, countsOpposite } = around(at);
    if (countsOpposite === 0) continue;
    const opposite = wallOpposite(bySlopes, edge[k]!, at);
    if (!opposite) continue;
    const { below, above } = opposite;
    const lacking = 1 - own[above]! / ENOUGH_SHADOWS;
    if (lacking <= 0) continue;
    keep(above, at, rise(at, above) * times, lacking * countsOpposite);
    distrust(counts, below, above);
  }
  return {
    differences: {
      high: Int32Array.from(found.high),
      low: Int32Array.from(found.low),
      mm: Float32Array.from(found.mm),
      weight: Float32Array.from(found.weight),
    },
    slopes,
  };
}

/** What shadows and slopes say of the steps around a place. */
interface StepsAround {
  /** How many times as high as slopes shadows say them. */
  times: number;
  /** 0–1: how far steps that are told by shadows count, and how far walls opposite to them. */
  counts: number;
  countsOpposite: number;
}

function stepsAround(
  { edge, end, mm }: ShadowSteps,
  bySlopes: Plane,
  lights: number,
): (at: number) => StepsAround {
  const [byShadow, bySlope, ends] = [emptyLike(bySlopes), emptyLike(bySlopes), emptyLike(bySlopes)];
  mm.forEach((step, k) => {
    byShadow.data[end[k]!]! += step;
    ends.data[end[k]!]! += 1 / lights;
    bySlope.data[end[k]!]! += bySlopes.data[edge[k]!]! - bySlopes.data[end[k]!]!;
  });
  const [said, seen, crowds] = [byShadow, bySlope, ends].map((p) => blurredInside(p, COMPARED_PX).data);
  return (at) => {
    const times = said![at]! / seen![at]!;
    const crowd = crowds![at]!;
    const counts = countsFor(said![at]!, seen![at]!, crowd);
    return { times, counts, countsOpposite: counts * countsForOpposite(times, crowd) };
  };
}

type Differences = Record<keyof HeightDifferences, number[]>;

/** How many shadows each pixel of an edge throws, on average around every pixel. @param edges pixels, one for each shadow */
function alongEdges(edges: readonly number[], { widthPx: w, heightPx: h }: Plane): Float32Array {
  const out = new Float32Array(w * h);
  for (const i of edges) {
    const [x, y] = [i % w, Math.floor(i / w)];
    for (let dy = Math.max(-NEAR_PX, -y); dy <= Math.min(NEAR_PX, h - 1 - y); dy++)
      for (let dx = Math.max(-NEAR_PX, -x); dx <= Math.min(NEAR_PX, w - 1 - x); dx++)
        out[i + dy * w + dx]! += 1 / (2 * NEAR_PX + 1);
  }
  return out;
}

/**
 * The wall on the other side of a joint into which a shadow falls. Nearer lights throw shorter shadows, so that often only one of
 * two walls is told by shadows; were it made higher alone, the faces on both sides would stand askew.
 * @param edge pixel that throws the shadow
 * @param end pixel where it ends
 * @returns the pixels before and after its steepest rise; null: the floor does not rise again, or so gently that all of it is seen
 */
function wallOpposite(
  { widthPx: w, heightPx: h, data }: Plane,
  edge: number,
  end: number,
): { below: number; above: number } | null {
  const [x, y] = [end % w, Math.floor(end / w)];
  const [dx, dy] = [x - (edge % w), y - Math.floor(edge / w)];
  const length = Math.sqrt(dx * dx + dy * dy);
  const floor = data[end]!;
  const stepMm = data[edge]! - floor;
  if (stepMm <= 0) return null;
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
 * 0–1: how far the wall opposite counts: where single steps are taken from shadows, and slopes see the other wall too.
 * @param times how many times as high as slopes shadows say steps around it
 */
const countsForOpposite = (times: number, crowd: number): number =>
  times > 0 && times < MOST_TIMES
    ? OPPOSITE_WEIGHT * ramp(times, ...AT_THEIR_WORD) * (1 - ramp(crowd, ...CROWDED))
    : 0;

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
