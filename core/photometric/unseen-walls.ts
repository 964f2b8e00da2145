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
  const kept: number[] = [];
  const weight: number[] = [];
  for (let k = 0; k < mm.length; k++) {
    const at = end[k]!;
    const counts = countsFor(said![at]!, seen![at]!, crowd![at]!);
    if (counts === 0) continue;
    kept.push(k);
    weight.push(counts);
    const trusted = 1 - (1 - SLOPES_THERE) * counts;
    for (const i of [edge[k]!, behind[k]!]) slopes[i] = Math.min(slopes[i]!, trusted);
  }
  const differences = {
    high: Int32Array.from(kept, (k) => edge[k]!),
    low: Int32Array.from(kept, (k) => end[k]!),
    mm: Float32Array.from(kept, (k) =>
      stepOf(mm[k]!, bySlopes.data[edge[k]!]! - bySlopes.data[end[k]!]!, said![end[k]!]! / seen![end[k]!]!),
    ),
    weight: Float32Array.from(weight),
  };
  return { differences, slopes };
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
