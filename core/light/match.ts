import { squared } from '../exact';
import {
  linearToOklab,
  oklabToLinear,
  labToXyz,
  xyzToLinear,
  type ColourReading,
  type Triple,
} from '../colour';
import { blurWrapped, luminanceOf, type ColourPicture, type Plane } from '../raster';
import type { HandCorrection, ReferenceColour } from './settings';

/** Beyond this share of clipped pixels a target makes no sense for the picture. */
export const MOST_CLIPPED = 0.5;

/** A picture whose channels are multiplied. */
export function timesChannels(picture: ColourPicture, [fr, fg, fb]: Triple): ColourPicture {
  const times = (data: Float32Array, f: number) => {
    const out = new Float32Array(data.length);
    for (let i = 0; i < data.length; i++) out[i] = data[i]! * f;
    return out;
  };
  return { ...picture, r: times(picture.r, fr), g: times(picture.g, fg), b: times(picture.b, fb) };
}

/** Mean in linear light of a part of a picture. @throws RangeError when the part is empty */
export function meanOfPart(picture: ColourPicture, part: Plane): Triple {
  const sums: [number, number, number, number] = [0, 0, 0, 0];
  for (let i = 0; i < part.data.length; i++) {
    const w = part.data[i]!;
    sums[0] += w * picture.r[i]!;
    sums[1] += w * picture.g[i]!;
    sums[2] += w * picture.b[i]!;
    sums[3] += w;
  }
  if (sums[3] < 0.001 * part.data.length)
    throw new RangeError(
      'The part that the colourways recolour covers next to nothing of the repeat. Widen its tolerance under Sample, parts, or recolour the whole finish.',
    );
  return [sums[0] / sums[3], sums[1] / sums[3], sums[2] / sums[3]];
}

/** A picture whose channels are multiplied in a part of it. */
export function timesInPart(picture: ColourPicture, [fr, fg, fb]: Triple, part: Plane): ColourPicture {
  const times = (data: Float32Array, f: number) => data.map((v, i) => v * (1 + part.data[i]! * (f - 1)));
  return { ...picture, r: times(picture.r, fr), g: times(picture.g, fg), b: times(picture.b, fb) };
}

/** A picture held within 0–1, as an encoded map shows it. */
export function clippedTo01(picture: ColourPicture): ColourPicture {
  const held = (data: Float32Array) => data.map((v) => (v < 0 ? 0 : v > 1 ? 1 : v));
  return { ...picture, r: held(picture.r), g: held(picture.g), b: held(picture.b) };
}

/** The one factor that brings a picture's mean luminance to a light reflectance value. */
export const factorForLrv = (reading: Pick<ColourReading, 'lrv'>, lrv: number): number =>
  reading.lrv > 1e-6 ? lrv / reading.lrv : 1;

/**
 * Factors per channel in linear light that bring a picture's mean to a colour.
 * @param meanLinear of the picture
 * @param lab the colour
 * @throws RangeError with a sentence when the colour lies outside the gamut or the picture is black
 */
export function factorsForColour(meanLinear: Triple, lab: Triple): Triple {
  const target = xyzToLinear(labToXyz(lab));
  const fault = faultOfTarget(lab);
  if (fault) throw new RangeError(fault);
  return target.map((t, k) => Math.max(t, 0) / Math.max(meanLinear[k as 0], 1e-4)) as unknown as Triple;
}

/** Why a colour cannot be the mean of a finish; null when it can. */
export function faultOfTarget(lab: Triple): string | null {
  const target = xyzToLinear(labToXyz(lab));
  // Half an 8-bit step of a mean is no matter; more cannot be shown by any picture.
  if (Math.min(...target) < -0.004 || Math.max(...target) > 1.004) {
    const named = (['red', 'green', 'blue'] as const).filter(
      (_, k) => target[k]! < -0.004 || target[k]! > 1.004,
    );
    return `Lab ${lab.map((v) => Number(v.toFixed(1))).join(', ')} lies outside the sRGB gamut (${named.join(' and ')}); take a colour with less a* and b*.`;
  }
  return null;
}

/** Mean and standard deviation in Oklab. */
export function oklabSpread(picture: ColourPicture): { mean: Triple; spread: Triple } {
  const sums = [0, 0, 0, 0, 0, 0];
  const n = picture.r.length;
  for (let i = 0; i < n; i++) {
    const lab = linearToOklab([picture.r[i]!, picture.g[i]!, picture.b[i]!]);
    for (let k = 0; k < 3; k++) {
      sums[k]! += lab[k]!;
      sums[k + 3]! += lab[k]! * lab[k]!;
    }
  }
  const mean = [0, 1, 2].map((k) => sums[k]! / n);
  return {
    mean: mean as unknown as Triple,
    spread: [0, 1, 2].map((k) =>
      Math.sqrt(Math.max(0, sums[k + 3]! / n - squared(mean[k]!))),
    ) as unknown as Triple,
  };
}

const meanOf = (picture: ColourPicture): Triple =>
  [picture.r, picture.g, picture.b].map((d) => d.reduce((a, v) => a + v, 0) / d.length) as unknown as Triple;

/** Brings a picture to the mean of another, and as much of its spread as is asked, amplified no more than allowed. */
export function matchReference(picture: ColourPicture, reference: ReferenceColour): ColourPicture {
  const own = oklabSpread(picture);
  const gains = own.spread.map((s, k) => {
    const wanted = s > 1e-6 ? reference.spread[k]! / s : 1;
    const held = Math.min(reference.limit, Math.max(1 / reference.limit, wanted));
    return 1 + reference.takeSpread * (held - 1);
  });
  const out = { ...picture, r: picture.r.slice(), g: picture.g.slice(), b: picture.b.slice() };
  for (let i = 0; i < out.r.length; i++) {
    const lab = linearToOklab([out.r[i]!, out.g[i]!, out.b[i]!]);
    const [r, g, b] = oklabToLinear(
      lab.map((v, k) => own.mean[k]! + gains[k]! * (v - own.mean[k]!)) as unknown as Triple,
    );
    out.r[i] = r;
    out.g[i] = g;
    out.b[i] = b;
  }
  const mean = meanOf(out);
  return timesChannels(
    out,
    reference.meanLinear.map((v, k) => v / Math.max(1e-4, mean[k]!)) as unknown as Triple,
  );
}

export const isNoHand = (h: HandCorrection): boolean =>
  h.lightness === 0 &&
  h.contrast === 1 &&
  h.hueDeg === 0 &&
  h.saturation === 1 &&
  h.tint[0] === 0 &&
  h.tint[1] === 0 &&
  h.sharpness === 0;

/**
 * Corrections by hand, in Oklab: contrast about the picture's mean lightness, lightness, saturation and hue about grey,
 * tint as a shift, sharpness of lightness only (unsharp masking), and last, if asked, one factor in linear light that
 * brings the reflectance back.
 * @param mmPerPx so that sharpness has its extent in mm
 * @param lab the picture in Oklab, where it is known already: a slider changes the corrections, not what they start from
 */
export function correctByHand(
  picture: ColourPicture,
  hand: HandCorrection,
  mmPerPx: { x: number; y: number },
  lab: InOklab = inOklab(picture),
): ColourPicture {
  if (isNoHand(hand)) return picture;
  const n = picture.r.length;
  const { L, A, B } = lab;
  let soft: Plane | null = null;
  if (hand.sharpness > 0) {
    const plane = { widthPx: picture.widthPx, heightPx: picture.heightPx, data: L };
    soft = blurWrapped(plane, hand.sharpMm / 2 / mmPerPx.x, hand.sharpMm / 2 / mmPerPx.y);
  }
  const turn = (hand.hueDeg * Math.PI) / 180;
  const [cos, sin] = [Math.cos(turn) * hand.saturation, Math.sin(turn) * hand.saturation];
  const [ta, tb] = [hand.tint[0] / 100, hand.tint[1] / 100];
  const { contrast, sharpness } = hand;
  const lift = lab.meanL * (1 - contrast) + hand.lightness / 100;
  const out = { ...picture, r: new Float32Array(n), g: new Float32Array(n), b: new Float32Array(n) };
  let after = 0;
  for (let i = 0; i < n; i++) {
    let l = contrast * L[i]! + lift;
    if (soft) l += sharpness * (L[i]! - soft.data[i]!);
    if (l < 0) l = 0;
    const a = cos * A[i]! - sin * B[i]! + ta;
    const b = sin * A[i]! + cos * B[i]! + tb;
    const x = l + 0.3963377774 * a + 0.2158037573 * b;
    const y = l - 0.1055613458 * a - 0.0638541728 * b;
    const z = l - 0.0894841775 * a - 1.291485548 * b;
    const x3 = x * x * x;
    const y3 = y * y * y;
    const z3 = z * z * z;
    const r = 4.0767416621 * x3 - 3.3077115913 * y3 + 0.2309699292 * z3;
    const g = -1.2684380046 * x3 + 2.6097574011 * y3 - 0.3413193965 * z3;
    const bb = -0.0041960863 * x3 - 0.7034186147 * y3 + 1.707614701 * z3;
    out.r[i] = r;
    out.g[i] = g;
    out.b[i] = bb;
    after += luminanceOf(r, g, bb);
  }
  if (!hand.keepReflectance || !(after > 0)) return out;
  const k = lab.sumY / after;
  for (let i = 0; i < n; i++) {
    out.r[i]! *= k;
    out.g[i]! *= k;
    out.b[i]! *= k;
  }
  return out;
}

/** A picture in Oklab, and what the corrections by hand need to know of it as a whole. */
export interface InOklab {
  L: Float32Array;
  A: Float32Array;
  B: Float32Array;
  meanL: number;
  /** Sum of luminance over the pixels. */
  sumY: number;
}

/** A picture in Oklab. Spelled out without tuples: this runs for every pixel. See `linearToOklab`. */
export function inOklab(picture: ColourPicture): InOklab {
  const n = picture.r.length;
  const [L, A, B] = [new Float32Array(n), new Float32Array(n), new Float32Array(n)];
  let [sumL, sumY] = [0, 0];
  for (let i = 0; i < n; i++) {
    const r = picture.r[i]!;
    const g = picture.g[i]!;
    const b = picture.b[i]!;
    const x = Math.cbrt(0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b);
    const y = Math.cbrt(0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b);
    const z = Math.cbrt(0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b);
    const l = 0.2104542553 * x + 0.793617785 * y - 0.0040720468 * z;
    L[i] = l;
    A[i] = 1.9779984951 * x - 2.428592205 * y + 0.4505937099 * z;
    B[i] = 0.0259040371 * x + 0.7827717662 * y - 0.808675766 * z;
    sumL += l;
    sumY += luminanceOf(r, g, b);
  }
  return { L, A, B, meanL: sumL / n, sumY };
}

/** The corrections by hand whose effect on the mean is told. */
export const HAND_EFFECTS = ['lightness', 'contrast', 'hueDeg', 'saturation', 'tint'] as const;
export type HandEffectKey = (typeof HAND_EFFECTS)[number];

/**
 * Mean colour in linear light under all corrections, and with each taken back by itself: the difference is what it does.
 * A few thousand pixels, the same for all, tell it well enough.
 * @param none corrections that change nothing
 */
export function meansUnderHand(
  picture: ColourPicture,
  hand: HandCorrection,
  mmPerPx: { x: number; y: number },
  none: HandCorrection,
): { all: Triple; without: Record<HandEffectKey, Triple> } {
  const step = Math.max(1, Math.floor(picture.r.length / 2000));
  const widthPx = Math.floor(picture.r.length / step);
  const pick = (d: Float32Array) => Float32Array.from({ length: widthPx }, (_, i) => d[i * step]!);
  const few = { widthPx, heightPx: 1, r: pick(picture.r), g: pick(picture.g), b: pick(picture.b) };
  const under = (change: Partial<HandCorrection>) =>
    meanOf(correctByHand(few, { ...hand, sharpness: 0, ...change }, mmPerPx));
  const without = Object.fromEntries(HAND_EFFECTS.map((key) => [key, under({ [key]: none[key] })]));
  return { all: under({}), without: without as Record<HandEffectKey, Triple> };
}
