import { blurWrapped, luminancePlane, percentiles, type ColourPicture, type Plane } from '../raster';

/** Which level stays in place when the relief gets deeper: the face on average, its highest or its lowest point. */
export const ZERO_LEVELS = ['mean', 'top', 'bottom'] as const;
export type ZeroLevel = (typeof ZERO_LEVELS)[number];

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
  zero: ZeroLevel;
}

/** Height of a surface, in mm above its zero level. */
export interface HeightField extends Plane {
  minMm: number;
  maxMm: number;
}

/** Standard deviation of the Gaussian that halves a wave of this length: λ·√(2·ln 2)/(2π). */
const SIGMA_OF_WAVELENGTH = Math.sqrt(2 * Math.LN2) / (2 * Math.PI);

/**
 * Height from the picture of a closed repeat: lightness split into three bands of wavelength (mm), each with its amount,
 * summed, and brought to the asked depth. Filters wrap, so the relief closes where the picture does.
 *
 * The range from the 0.5th to the 99.5th percentile of the sum becomes the depth; what lies beyond is held at its ends.
 *
 * @param picture one repeat, linear light
 * @param mmPerPx size of a pixel
 */
export function reliefFromPicture(picture: ColourPicture, mmPerPx: { x: number; y: number }, settings: ReliefFromPicture): HeightField {
  const lightness = luminancePlane(picture);
  const data = lightness.data;
  for (let i = 0; i < data.length; i++) data[i] = Math.cbrt(Math.max(0, data[i]!));
  const blur = (plane: Plane, wavelengthMm: number) =>
    blurWrapped(plane, (wavelengthMm * SIGMA_OF_WAVELENGTH) / mmPerPx.x, (wavelengthMm * SIGMA_OF_WAVELENGTH) / mmPerPx.y);
  const broad = blur(lightness, settings.broadFromMm).data;
  const middle = blur(lightness, settings.fineBelowMm).data;
  let sum: Plane = { widthPx: picture.widthPx, heightPx: picture.heightPx, data: new Float32Array(data.length) };
  for (let i = 0; i < data.length; i++) {
    sum.data[i] = settings.broad * broad[i]! + settings.middle * (middle[i]! - broad[i]!) + settings.fine * (data[i]! - middle[i]!);
  }
  if (settings.smoothMm > 0) sum = blur(sum, settings.smoothMm);
  const [low, high] = percentiles(sum.data, [0.005, 0.995]) as [number, number];
  const span = high - low;
  const height = sum.data;
  const sign = settings.invert ? -1 : 1;
  for (let i = 0; i < height.length; i++) {
    const t = span > 1e-7 ? Math.min(1, Math.max(0, (height[i]! - low) / span)) : 0.5;
    height[i] = sign * (t - 0.5) * settings.depthMm;
  }
  return withZero({ widthPx: sum.widthPx, heightPx: sum.heightPx, data: height }, settings.zero);
}

/** Shifts a height so that its mean, top or bottom is at zero, and states its range. */
export function withZero(plane: Plane, zero: ZeroLevel): HeightField {
  let min = Infinity;
  let max = -Infinity;
  let sum = 0;
  for (let i = 0; i < plane.data.length; i++) {
    const v = plane.data[i]!;
    if (v < min) min = v;
    if (v > max) max = v;
    sum += v;
  }
  const shift = zero === 'mean' ? sum / plane.data.length : zero === 'top' ? max : min;
  for (let i = 0; i < plane.data.length; i++) plane.data[i] = plane.data[i]! - shift;
  return { ...plane, minMm: min - shift, maxMm: max - shift };
}
