import { blurWrapped, extremes, halve, type ColourPicture, type Plane } from '../raster';
import { labPlanes } from '../pieces';
import type { PlacementMap } from './placement';
import { whereCopiesMeet } from './where-copies-meet';

/** How a repeat looks where copies of the sample meet or mix, beside the sample itself. */
export interface RepeatLikeness {
  /** Share of the repeat from which such a place is seen within a patch. */
  meetShare: number;
  /** Share of the repeat that looks like no place of the sample. */
  unlikeShare: number;
  /** Share of the repeat in which copies are mixed. */
  mixedShare: number;
  /** Contrast of distinct features where copies are mixed, over the sample's: below 1 they are faded. */
  mixedContrast: number;
}

/** Patches are compared that are so wide, px, in the pictures halved and halved again. */
const PATCH_PX = 8;
const SCALES = 2;
/** So many are compared at each scale; the rest is like them. */
const PATCHES = 160;
/** Waves of a patch that are compared, those of the longest wavelength: in L*, and each of a* and b*. */
const LIGHTNESS_WAVES = 28;
const COLOUR_WAVES = 6;
/** So many of a hundred patches of the sample are at most as unlike its others. */
const USUAL = 0.95;
/** Patches that differ by less on average, squared ΔE*ab over their pixels, look alike: those of a regular finish hardly differ at all. */
const NOT_SEEN = PATCH_PX * PATCH_PX * 1.8 * 1.8;

/**
 * Compares patches of a repeat, where copies of the sample meet, with those of the sample. A patch that is farther from all of the sample's
 * than nearly all of the sample's are from one another is one that this finish does not have: a seam, a feature cut off or doubled.
 * Where copies are mixed, as a blend does, features shine through one another, which their contrast tells: cuts avoid features, so that
 * contrast says nothing of them.
 *
 * Source of the measure: the coherence term of Simakov, Caspi, Shechtman, Irani, "Summarizing visual data using
 * bidirectional similarity", 2008; patches by their cosine transform, whose order ends most comparisons early.
 *
 * @param sample linear light, at the scale of the repeat
 * @param repeat linear light
 * @param map which copy lies where in it
 */
export function likenessOf(sample: ColourPicture, repeat: ColourPicture, map: PlacementMap): RepeatLikeness {
  let [of, over]: [readonly Plane[], readonly Plane[]] = [labPlanes(sample), labPlanes(repeat)];
  const { widthPx, heightPx } = repeat;
  const meet = whereCopiesMeet(map, widthPx, heightPx);
  let met: Plane = { widthPx, heightPx, data: Float32Array.from(meet) };
  const isMixed = !map.cells;
  const mixed = isMixed ? meet.reduce((sum, one) => sum + one, 0) : 0;
  const mixedContrast = mixed < LEAST_PX ? 1 : contrastOfFeatures(of[0]!, over[0]!, met);
  const unlike: { share: number; meets: number }[] = [];
  for (let scale = 0; scale < SCALES; scale++) {
    // Thin lines fall on other pixels in the one than in the other, the less so the coarser they are.
    [of, over] = [of.map(coarser), over.map(coarser)];
    met = halve(met);
    if (Math.min(...[...of, ...over].flatMap((p) => [p.widthPx, p.heightPx])) < 3 * PATCH_PX) break;
    unlike.push(unlikeAt(of, over, met));
  }
  return {
    meetShare: Math.max(0, ...unlike.map(({ meets }) => meets)),
    unlikeShare: Math.max(0, ...unlike.map(({ share }) => share)),
    mixedShare: mixed / meet.length,
    mixedContrast,
  };
}

const coarser = (plane: Plane) => halve(blurWrapped(plane, 1, 1));

/** Share of the repeat from whose patches copies are seen to meet, and of those that are unlike the sample. */
function unlikeAt(sample: readonly Plane[], repeat: readonly Plane[], met: Plane) {
  const near = extremes(met, PATCH_PX >> 1, 'greatest', true).data;
  const places: number[] = [];
  for (let i = 0; i < near.length; i++) if (near[i]! > 0) places.push(i);
  const meets = places.length / near.length;
  if (places.length === 0) return { share: 0, meets };
  const all = sorted(patchesOf(sample, allInside(sample[0]!)));
  const own = spread(all.at, PATCHES);
  const usual = own.map((k) => nearestOf(all, k, all, true)).sort((a, b) => a - b);
  const limit = Math.max(NOT_SEEN, usual[Math.floor(USUAL * (usual.length - 1))]!);
  const asked = patchesOf(
    repeat,
    spread(places, PATCHES).map((k) => places[k]!),
    true,
  );
  let beyond = 0;
  for (let k = 0; k < asked.at.length; k++) if (nearestOf(asked, k, all, false) > limit) beyond++;
  const share = Math.max(0, beyond / asked.at.length - (1 - USUAL)) * meets;
  return { share, meets };
}

/** Indexes of so many of a list, spread over it without a rhythm that it may have itself. */
function spread(of: ArrayLike<unknown>, count: number): number[] {
  const n = Math.min(count, of.length);
  // Golden section: places a low discrepancy apart.
  return Array.from({ length: n }, (_, k) => Math.floor(((k * 0.6180339887498949) % 1) * of.length));
}

/** Upper left corners at which a patch lies inside a plane. */
function allInside({ widthPx: w, heightPx: h }: Plane): number[] {
  const at: number[] = [];
  for (let y = 0; y + PATCH_PX <= h; y++) for (let x = 0; x + PATCH_PX <= w; x++) at.push(y * w + x);
  return at;
}

interface Patches {
  /** Upper left corner of each, as an index into the plane. */
  at: readonly number[];
  widthPx: number;
  /** Waves of each, the longest first. */
  waves: Float32Array;
}

/** Cosines of the waves over a patch, orthonormal. */
const COSINES = Array.from({ length: PATCH_PX }, (_, u) =>
  Float64Array.from(
    { length: PATCH_PX },
    (_, x) => Math.sqrt((u ? 2 : 1) / PATCH_PX) * Math.cos(((2 * x + 1) * u * Math.PI) / (2 * PATCH_PX)),
  ),
);
/** Waves across and up, the longest first. */
const ORDER = Array.from({ length: PATCH_PX * PATCH_PX }, (_, k) => ({
  u: k % PATCH_PX,
  v: Math.floor(k / PATCH_PX),
})).sort((a, b) => a.u + a.v - (b.u + b.v) || a.u - b.u);
const WAVES = LIGHTNESS_WAVES + 2 * COLOUR_WAVES;

/** Waves of the patches of a picture at some places: upper left corners, or middles where `centred`; over its edges it wraps. */
function patchesOf(planes: readonly Plane[], at: readonly number[], centred = false): Patches {
  const { widthPx: w, heightPx: h } = planes[0]!;
  const waves = new Float32Array(at.length * WAVES);
  const back = centred ? PATCH_PX >> 1 : 0;
  let first = 0;
  planes.forEach((plane, channel) => {
    const order = ORDER.slice(0, channel ? COLOUR_WAVES : LIGHTNESS_WAVES);
    const along = wavesAlong(plane, 1 + Math.max(...order.map(({ u }) => u)));
    for (let k = 0; k < at.length; k++) {
      const x = ((at[k]! % w) - back + w) % w;
      const y = Math.floor(at[k]! / w) - back + h;
      for (let c = 0; c < order.length; c++) {
        const { u, v } = order[c]!;
        const [row, cosines] = [along[u]!, COSINES[v]!];
        let sum = 0;
        for (let d = 0; d < PATCH_PX; d++) sum += cosines[d]! * row[((y + d) % h) * w + x]!;
        waves[k * WAVES + first + c] = sum;
      }
    }
    first += order.length;
  });
  return { at, widthPx: w, waves };
}

/** Waves across a patch, for patches that begin at every pixel: the longest so many. */
function wavesAlong({ widthPx: w, heightPx: h, data }: Plane, count: number): Float32Array[] {
  return COSINES.slice(0, count).map((cosines) => {
    const out = new Float32Array(w * h);
    for (let y = 0; y < h; y++)
      for (let x = 0; x < w; x++) {
        let sum = 0;
        for (let d = 0; d < PATCH_PX; d++) sum += cosines[d]! * data[y * w + ((x + d) % w)]!;
        out[y * w + x] = sum;
      }
    return out;
  });
}

/** Patches by their mean, so that the search for the nearest ends where means differ by more than the nearest found. */
interface Sorted extends Patches {
  byMean: Int32Array;
  means: Float32Array;
}

function sorted(patches: Patches): Sorted {
  const mean = (k: number) => patches.waves[k * WAVES]!;
  const byMean = Int32Array.from(patches.at, (_, k) => k).sort((a, b) => mean(a) - mean(b) || a - b);
  return { ...patches, byMean, means: Float32Array.from(byMean, mean) };
}

/** Squared distance of a patch to the nearest of many; of its own picture, to those that do not overlap it. */
function nearestOf(of: Patches, k: number, among: Sorted, own: boolean): number {
  const { widthPx, waves, at, byMean, means } = among;
  const [x, y] = [of.at[k]! % widthPx, Math.floor(of.at[k]! / widthPx)];
  const overlaps = (place: number) =>
    Math.abs((place % widthPx) - x) < PATCH_PX && Math.abs(Math.floor(place / widthPx) - y) < PATCH_PX;
  const from = k * WAVES;
  let least = Infinity;
  const consider = (n: number) => {
    let sum = 0;
    for (let c = 0, w = n * WAVES; c < WAVES && sum < least; c++, w++) {
      const off = waves[w]! - of.waves[from + c]!;
      sum += off * off;
    }
    if (sum < least && !(own && overlaps(at[n]!))) least = sum;
  };
  const mean = of.waves[from]!;
  let above = firstAtLeast(means, mean);
  let below = above - 1;
  while (true) {
    const up = above < means.length ? means[above]! - mean : Infinity;
    const down = below >= 0 ? mean - means[below]! : Infinity;
    const off = Math.min(up, down);
    if (off === Infinity || off * off >= least) return least;
    consider(byMean[up <= down ? above++ : below--]!);
  }
}

/** Index of the first of rising values that is at least so large. */
function firstAtLeast(values: Float32Array, least: number): number {
  let [from, to] = [0, values.length];
  while (from < to) {
    const middle = (from + to) >> 1;
    if (values[middle]! < least) from = middle + 1;
    else to = middle;
  }
  return from;
}

/** Features are looked at in bands from so many pixels to twice that. */
const BANDS_PX = [0.8, 1.6, 3.2];
/** Distinct are so many of a hundred places, those that stand out most. */
const DISTINCT = 0.04;
/** With fewer pixels the few that stand out say nothing. */
const LEAST_PX = 600;

/** Mean of what stands out most of a band where copies meet, over that of the sample; the least of all bands. */
function contrastOfFeatures(sample: Plane, repeat: Plane, { data: met }: Plane): number {
  const standsOut = (plane: Plane, sigma: number, only: ArrayLike<number> | null) => {
    const fine = blurWrapped(plane, sigma, sigma).data;
    const broad = blurWrapped(plane, 2 * sigma, 2 * sigma).data;
    const values: number[] = [];
    for (let i = 0; i < fine.length; i++)
      if (!only || only[i]! > 0) values.push(Math.abs(fine[i]! - broad[i]!));
    values.sort((a, b) => b - a);
    const n = Math.max(1, Math.round(DISTINCT * values.length));
    return values.slice(0, n).reduce((sum, v) => sum + v, 0) / n;
  };
  return Math.min(
    ...BANDS_PX.map(
      (sigma) => standsOut(repeat, sigma, met) / Math.max(1e-6, standsOut(sample, sigma, null)),
    ),
  );
}
