import { power } from '../exact';
import {
  blurSteps,
  extentSteps,
  luminanceSteps,
  meanSteps,
  percentileSteps,
  type ColourPicture,
  type Plane,
} from '../raster';
import { spans, type Steps } from '../steps';

/** Which level stays in place when the relief gets deeper: the face on average, its highest or its lowest point. */
export const ZERO_LEVELS = ['mean', 'top', 'bottom'] as const;
export type ZeroLevel = (typeof ZERO_LEVELS)[number];

/** Shares of the range of heights that are kept, and what lies half-way between them. */
export interface Levels {
  low: number;
  high: number;
  middle: number;
}

export interface ReliefFromPicture {
  /** Signed amount of each band of detail; 1 takes it as it is, −1 turns it over. */
  broad: number;
  middle: number;
  fine: number;
  /** Wavelength that separates broad from middle detail. */
  broadFromMm: number;
  /** Wavelength that separates middle from fine detail. */
  fineBelowMm: number;
  /** Detail shorter than this is smoothed away. */
  smoothMm: number;
  /** Dark is high instead of deep. */
  invert: boolean;
  /** From the deepest to the highest point. */
  depthMm: number;
  /** Heights are clipped and their middle is shifted; default: as they are. */
  levels?: Levels | undefined;
  /** Lightness is height already, 0–1 over the depth: it is not stretched to fill it. */
  absolute?: boolean;
}

/** Height of a surface, in mm above its zero level. */
export interface HeightField extends Plane {
  minMm: number;
  maxMm: number;
}

/** Standard deviation of the Gaussian that halves a wave of this length: λ·√(2·ln 2)/(2π). */
export const SIGMA_OF_WAVELENGTH = Math.sqrt(2 * Math.LN2) / (2 * Math.PI);

/** Lightness of a picture, and the same without detail finer than the two wavelengths that separate the bands. */
export interface Bands {
  lightness: Plane;
  withoutFine: Plane;
  broadOnly: Plane;
}

const blurWave = (plane: Plane, wavelengthMm: number, mmPerPx: { x: number; y: number }) =>
  blurSteps(
    plane,
    (wavelengthMm * SIGMA_OF_WAVELENGTH) / mmPerPx.x,
    (wavelengthMm * SIGMA_OF_WAVELENGTH) / mmPerPx.y,
  );

/**
 * Splits the lightness (luminance to the power 1/3) of a closed repeat at two wavelengths. Filters wrap, so each band
 * closes where the picture does.
 * @param picture one repeat, linear light
 * @param mmPerPx size of a pixel
 */
export function* bandsOfPictureSteps(
  picture: ColourPicture,
  mmPerPx: { x: number; y: number },
  settings: Pick<ReliefFromPicture, 'broadFromMm' | 'fineBelowMm'>,
): Steps<Bands> {
  const lightness = yield* luminanceSteps(picture);
  const { data } = lightness;
  for (const { from, to } of spans(data.length)) {
    yield;
    for (let i = from; i < to; i++) data[i] = Math.cbrt(Math.max(0, data[i]!));
  }
  return yield* bandsOfPlaneSteps(lightness, mmPerPx, settings);
}

/** Splits a height that came as a map in the same way; its values have any unit. */
export function* bandsOfPlaneSteps(
  lightness: Plane,
  mmPerPx: { x: number; y: number },
  settings: Pick<ReliefFromPicture, 'broadFromMm' | 'fineBelowMm'>,
): Steps<Bands> {
  return {
    lightness,
    withoutFine: yield* blurWave(lightness, settings.fineBelowMm, mmPerPx),
    broadOnly: yield* blurWave(lightness, settings.broadFromMm, mmPerPx),
  };
}

/** The bands of a picture, each with its signed amount: what a relief is before it has a depth. */
export interface SummedBands {
  sum: Plane;
  /** 0.5th and 99.5th percentile. */
  low: number;
  high: number;
}

/** Sums the bands of one repeat. @param mmPerPx size of a pixel */
export function* summedBandsSteps(
  { lightness, withoutFine, broadOnly }: Bands,
  mmPerPx: { x: number; y: number },
  amounts: Pick<ReliefFromPicture, 'broad' | 'middle' | 'fine' | 'smoothMm'>,
): Steps<SummedBands> {
  const [all, middle, broad] = [lightness.data, withoutFine.data, broadOnly.data];
  const { broad: ofBroad, middle: ofMiddle, fine: ofFine } = amounts;
  const data = new Float32Array(all.length);
  for (const { from, to } of spans(all.length)) {
    yield;
    for (let i = from; i < to; i++)
      data[i] = ofBroad * broad[i]! + ofMiddle * (middle[i]! - broad[i]!) + ofFine * (all[i]! - middle[i]!);
  }
  const rough: Plane = { ...lightness, data };
  const sum = amounts.smoothMm > 0 ? yield* blurWave(rough, amounts.smoothMm, mmPerPx) : rough;
  const [low, high] = (yield* percentileSteps(sum.data, [0.005, 0.995])) as [number, number];
  return { sum, low, high };
}

/**
 * Height of summed bands, brought to the asked depth about its middle: the range from the 0.5th to the 99.5th percentile
 * becomes the depth, and what lies beyond is held at its ends.
 * @returns mm
 */
export function* heightOfBandsSteps(
  { sum, low, high }: SummedBands,
  {
    invert,
    levels,
    depthMm,
    absolute,
  }: Pick<ReliefFromPicture, 'invert' | 'levels' | 'depthMm' | 'absolute'>,
): Steps<Plane> {
  const of = sum.data;
  const height = new Float32Array(of.length);
  const sign = invert ? -1 : 1;
  if (absolute && !levels) {
    for (const { from, to } of spans(height.length)) {
      yield;
      for (let i = from; i < to; i++) height[i] = sign * (of[i]! - 0.5) * depthMm;
    }
    return { ...sum, data: height };
  }
  const span = high - low;
  const spanMm = absolute ? span * depthMm : depthMm;
  if (!(span > 1e-7)) height.fill(sign * ((levels ? levelled(0.5, levels) : 0.5) - 0.5) * spanMm);
  else
    for (const { from, to } of spans(height.length)) {
      yield;
      for (let i = from; i < to; i++) {
        const t = Math.min(1, Math.max(0, (of[i]! - low) / span));
        height[i] = sign * ((levels ? levelled(t, levels) : t) - 0.5) * spanMm;
      }
    }
  return { ...sum, data: height };
}

/** A share of the range, clipped, and bent so that the middle between the clips comes to lie where it is asked. */
function levelled(t: number, { low, high, middle }: Levels): number {
  const clipped = Math.min(1, Math.max(0, (t - low) / (high - low)));
  // A power p takes ½ to the middle: ½ᵖ = middle.
  const bent = middle === 0.5 ? clipped : power(clipped, -Math.log2(middle));
  return low + bent * (high - low);
}

/** A height shifted so that its mean, top or bottom is at zero, and its range. */
export function* withZeroSteps({ widthPx, heightPx, data }: Plane, zero: ZeroLevel): Steps<HeightField> {
  const { min, max } = yield* extentSteps(data);
  const shift = zero === 'mean' ? yield* meanSteps(data) : zero === 'top' ? max : min;
  const shifted = new Float32Array(data.length);
  for (const { from, to } of spans(data.length)) {
    yield;
    for (let i = from; i < to; i++) shifted[i] = data[i]! - shift;
  }
  return {
    widthPx,
    heightPx,
    data: shifted,
    minMm: min - shift,
    maxMm: max - shift,
  };
}
