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
 * @param sample linear light, at the scale of the repeats
 * @returns compares a repeat, linear light, by the map of which copy lies where in it
 */
export function likenessTo(
  sample: ColourPicture,
): (repeat: ColourPicture, map: PlacementMap) => RepeatLikeness {
  const own = new SampleLook(sample);
  return (repeat, map) => {
    let over: readonly Plane[] = labPlanes(repeat);
    const { widthPx, heightPx } = repeat;
    const meet = whereCopiesMeet(map, widthPx, heightPx);
    let met: Plane = { widthPx, heightPx, data: Float32Array.from(meet) };
    const isMixed = !map.cells;
    const mixed = isMixed ? meet.reduce((sum, one) => sum + one, 0) : 0;
    const mixedContrast = mixed < LEAST_PX ? 1 : contrastOfFeatures(own, over[0]!, met);
    const unlike: { share: number; meets: number }[] = [];
    for (let scale = 0; scale < SCALES; scale++) {
      over = over.map(coarser);
      met = halve(met);
      if (Math.min(...[...own.planes(scale), ...over].flatMap((p) => [p.widthPx, p.heightPx])) < 3 * PATCH_PX)
        break;
      unlike.push(unlikeAt(own, scale, over, met));
    }
    return {
      meetShare: Math.max(0, ...unlike.map(({ meets }) => meets)),
      unlikeShare: Math.max(0, ...unlike.map(({ share }) => share)),
      mixedShare: mixed / meet.length,
      mixedContrast,
    };
  };
}

const coarser = (plane: Plane) => halve(blurWrapped(plane, 1, 1));

/** What a sample looks like, found when it is first asked for and kept: several repeats are compared with it. */
class SampleLook {
  /** L*, a*, b* at its own size, and of every scale. */
  private readonly scales: (readonly Plane[])[];
  private readonly patches: { all: Sorted; limit: number }[] = [];
  private readonly contrasts = new Map<number, number>();

  constructor(sample: ColourPicture) {
    this.scales = [labPlanes(sample)];
  }

  /** Planes of a scale. Thin lines fall on other pixels in a repeat than in the sample, the less so the coarser they are. */
  planes(scale: number): readonly Plane[] {
    while (this.scales.length <= scale + 1) this.scales.push(this.scales.at(-1)!.map(coarser));
    return this.scales[scale + 1]!;
  }

  /** All patches at a scale, and how far nearly all of them are from one another at most, squared. */
  patchesAt(scale: number): { all: Sorted; limit: number } {
    const known = this.patches[scale];
    if (known) return known;
    const planes = this.planes(scale);
    const all = sorted(patchesOf(planes, allInside(planes[0]!)));
    const own = spread(all.at, PATCHES);
    const usual = own.map((k) => nearestOf(all, k, all, true)).sort((a, b) => a - b);
    const limit = Math.max(NOT_SEEN, usual[Math.floor(USUAL * (usual.length - 1))]!);
    return (this.patches[scale] = { all, limit });
  }

  /** Contrast of what stands out most in L* of a band. */
  contrast(sigma: number): number {
    let contrast = this.contrasts.get(sigma);
    if (contrast === undefined)
      this.contrasts.set(sigma, (contrast = standsOut(this.scales[0]![0]!, sigma, null)));
    return contrast;
  }
}

/** Share of the repeat from whose patches copies are seen to meet, and of those that are unlike the sample. */
function unlikeAt(sample: SampleLook, scale: number, repeat: readonly Plane[], met: Plane) {
  const near = extremes(met, PATCH_PX >> 1, 'greatest', true).data;
  const places: number[] = [];
  for (let i = 0; i < near.length; i++) if (near[i]! > 0) places.push(i);
  const meets = places.length / near.length;
  if (places.length === 0) return { share: 0, meets };
  const { all, limit } = sample.patchesAt(scale);
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

/** With fewer patches than one to so many pixels, waves across are found for each by itself. */
const FEW = 10;

/** Waves of the patches of a picture at some places: upper left corners, or middles where `centred`; over its edges it wraps. */
function patchesOf(planes: readonly Plane[], at: readonly number[], centred = false): Patches {
  const { widthPx: w, heightPx: h } = planes[0]!;
  const waves = new Float32Array(at.length * WAVES);
  const back = centred ? PATCH_PX >> 1 : 0;
  let first = 0;
  planes.forEach((plane, channel) => {
    const order = ORDER.slice(0, channel ? COLOUR_WAVES : LIGHTNESS_WAVES);
    const across = wavesAcross(plane, 1 + Math.max(...order.map(({ u }) => u)), FEW * at.length < w * h);
    for (let k = 0; k < at.length; k++) {
      const along = across(((at[k]! % w) - back + w) % w, Math.floor(at[k]! / w) - back + h);
      for (let c = 0; c < order.length; c++) {
        const { u, v } = order[c]!;
        const cosines = COSINES[v]!;
        let sum = 0;
        for (let d = 0; d < PATCH_PX; d++) sum += cosines[d]! * along[u * PATCH_PX + d]!;
        waves[k * WAVES + first + c] = sum;
      }
    }
    first += order.length;
  });
  return { at, widthPx: w, waves };
}

/**
 * Waves across the rows of patches, the longest `count`.
 * @param few only some patches are asked for
 * @returns of a patch by its upper left corner: all rows of the first wave, then those of the next. Overwritten by the next call
 */
function wavesAcross(plane: Plane, count: number, few: boolean): (x: number, y: number) => Float32Array {
  const { widthPx: w, heightPx: h, data } = plane;
  const found = new Float32Array(count * PATCH_PX);
  const at = (x: number, row: number, cosines: Float64Array) => {
    let sum = 0;
    for (let d = 0; d < PATCH_PX; d++) sum += cosines[d]! * data[row + ((x + d) % w)]!;
    return sum;
  };
  const everywhere = (cosines: Float64Array): Float32Array => {
    const out = new Float32Array(w * h);
    for (let row = 0; row < out.length; row += w)
      for (let x = 0; x < w; x++) out[row + x] = at(x, row, cosines);
    return out;
  };
  const whole = few ? null : COSINES.slice(0, count).map(everywhere);
  return (x, y) => {
    for (let u = 0; u < count; u++)
      for (let d = 0; d < PATCH_PX; d++) {
        const row = ((y + d) % h) * w;
        found[u * PATCH_PX + d] = whole ? whole[u]![row + x]! : at(x, row, COSINES[u]!);
      }
    return found;
  };
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
const contrastOfFeatures = (sample: SampleLook, repeat: Plane, { data: met }: Plane): number =>
  Math.min(
    ...BANDS_PX.map((sigma) => standsOut(repeat, sigma, met) / Math.max(1e-6, sample.contrast(sigma))),
  );

/** Mean of what stands out most of a band. @param only where this is above 0; null: everywhere */
function standsOut(plane: Plane, sigma: number, only: ArrayLike<number> | null): number {
  const fine = blurWrapped(plane, sigma, sigma).data;
  const broad = blurWrapped(plane, 2 * sigma, 2 * sigma).data;
  const values: number[] = [];
  for (let i = 0; i < fine.length; i++)
    if (!only || only[i]! > 0) values.push(Math.abs(fine[i]! - broad[i]!));
  values.sort((a, b) => b - a);
  const n = Math.max(1, Math.round(DISTINCT * values.length));
  return values.slice(0, n).reduce((sum, v) => sum + v, 0) / n;
}
