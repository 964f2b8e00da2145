import { power } from '../../exact';
import { luminancePlane, resample, fft2d, type ColourPicture } from '../../raster';
import { isOwnWave, type Courses } from './lattice';

/** From how far a repetition is seen: contrast of its waves against the eye's sensitivity to contrast. */

/** A wave with which a repeat repeats: whole periods in the repeat, across and up. */
export interface Wave {
  across: number;
  up: number;
  /** Length of one period. */
  lengthMm: number;
  /** Amplitude of luminance over its mean. */
  contrast: number;
}

export interface Visibility {
  /** Side of the square field that is looked at. */
  fieldMm: number;
  /** Luminance of the surface, cd/m². */
  luminance: number;
  /** Distance up to which the repetition is seen; null: at none. */
  farthestMm: number | null;
  /** Distance from which on it is seen; null: from none. */
  nearestMm: number | null;
  /** Distance at which it is seen best. */
  strongestMm: number;
  /** The wave that shows most there; null: the repeat is even. */
  strongest: Wave | null;
  /** At distances evenly spread on a logarithmic scale: how many times what can just be seen all waves are together. */
  curve: readonly { distanceMm: number; times: number; threshold: number }[];
}

/** Waves up to so many periods in the repeat are taken for its repetition; shorter ones are its texture. */
const MOST_PERIODS = 6;
const SIDE_PX = 128;
/** Waves are seen together by probability summation with this exponent (Quick 1974; Robson and Graham 1981). */
const SUMMATION = 3.5;
const NEAREST_MM = 300;
const FARTHEST_MM = 300000;
const DISTANCES = 96;

/**
 * Sensitivity of the eye to contrast: the inverse of the contrast that can just be seen.
 * Source: Barten, "Formula for the contrast sensitivity of the human eye", 2004, equation 5.
 *
 * @param perDeg spatial frequency, cycles per degree
 * @param luminance of what is looked at, cd/m²
 * @param fieldDeg angular side of the square field
 */
export function contrastSensitivity(perDeg: number, luminance: number, fieldDeg: number): number {
  const u = perDeg;
  const eye = 5200 * Math.exp(-0.0016 * u * u * power(1 + 100 / luminance, 0.08));
  const field = 1 + 144 / (fieldDeg * fieldDeg) + 0.64 * u * u;
  const noise = 63 / power(luminance, 0.83) + 1 / (1 - Math.exp(-0.02 * u * u));
  return eye / Math.sqrt(field * noise);
}

/**
 * How far away the repetition of a repeat is seen.
 *
 * Tiled, a repeat has waves of whole periods in it only. Those of few periods are what the eye takes for a repetition; those of a
 * regular structure itself are left out. Their contrasts, each against the sensitivity at its frequency, are summed by
 * probability.
 *
 * @param picture one repeat, linear light
 * @param repeatMm its size
 * @param options side of the field that is looked at, its luminance, and a regular structure in the repeat
 */
export function repetitionSeen(
  picture: ColourPicture,
  repeatMm: { width: number; height: number },
  { fieldMm, luminance, courses = {} }: { fieldMm: number; luminance: number; courses?: Courses },
): Visibility {
  const waves = wavesOf(picture, repeatMm, courses);
  const deg = (share: number) => (2 * Math.atan(share / 2) * 180) / Math.PI;
  const at = (distanceMm: number) => {
    const fieldDeg = deg(fieldMm / distanceMm);
    const seen = waves.map((wave) => ({
      wave,
      sensitivity: contrastSensitivity(1 / deg(wave.lengthMm / distanceMm), luminance, fieldDeg),
    }));
    const times = power(
      seen.reduce((sum, s) => sum + power(s.wave.contrast * s.sensitivity, SUMMATION), 0),
      1 / SUMMATION,
    );
    return { seen, times };
  };
  const distances = Array.from(
    { length: DISTANCES },
    (_, k) => NEAREST_MM * power(FARTHEST_MM / NEAREST_MM, k / (DISTANCES - 1)),
  );
  const all = distances.map((distanceMm) => ({ distanceMm, ...at(distanceMm) }));
  const best = all.reduce((a, b) => (b.times > a.times ? b : a));
  const shown = (s: (typeof best)['seen'][number]) => s.wave.contrast * s.sensitivity;
  const strongest =
    best.seen.length > 0 ? best.seen.reduce((a, b) => (shown(b) > shown(a) ? b : a)).wave : null;
  // Between two distances, where the logarithm of what is seen passes through none.
  const between = (from: number, to: number): number => {
    const [a, b] = [all[from]!, all[to]!];
    const t = Math.log(a.times) / Math.log(a.times / Math.max(1e-12, b.times));
    return a.distanceMm * power(b.distanceMm / a.distanceMm, Math.min(1, Math.max(0, t)));
  };
  const first = all.findIndex((d) => d.times >= 1);
  const last = all.findLastIndex((d) => d.times >= 1);
  const nearestMm = first < 0 ? null : first > 0 ? between(first, first - 1) : all[first]!.distanceMm;
  const farthestMm =
    last < 0 ? null : last + 1 < all.length ? between(last, last + 1) : all[last]!.distanceMm;
  return {
    fieldMm,
    luminance,
    nearestMm,
    farthestMm,
    strongestMm: best.distanceMm,
    strongest,
    curve: all.map(({ distanceMm, times }) => ({
      distanceMm,
      times,
      threshold: strongest
        ? 1 /
          contrastSensitivity(1 / deg(strongest.lengthMm / distanceMm), luminance, deg(fieldMm / distanceMm))
        : 1,
    })),
  };
}

/** The waves of few periods in a repeat, without those of its structure. */
export function wavesOf(
  picture: ColourPicture,
  repeatMm: { width: number; height: number },
  courses: Courses = {},
): Wave[] {
  const light = luminancePlane(picture);
  // On powers of two, by means over stretches: a plain Fourier series of one repeat.
  const small = resample(
    light,
    { leftPx: 0, topPx: 0, stepX: light.widthPx / SIDE_PX, stepY: light.heightPx / SIDE_PX },
    SIDE_PX,
    SIDE_PX,
  );
  const data = new Float64Array(2 * SIDE_PX * SIDE_PX);
  let mean = 0;
  for (let i = 0; i < small.data.length; i++) {
    data[2 * i] = small.data[i]!;
    mean += small.data[i]! / small.data.length;
  }
  if (mean < 1e-6) return [];
  const spectrum = fft2d({ widthPx: SIDE_PX, heightPx: SIDE_PX, data }).data;
  const out: Wave[] = [];
  for (let n = 0; n <= MOST_PERIODS; n++)
    for (let m = n === 0 ? 1 : -MOST_PERIODS; m <= MOST_PERIODS; m++) {
      if (Math.hypot(m, n) > MOST_PERIODS || isOwnWave(courses, m, n)) continue;
      const k = 2 * (n * SIDE_PX + ((m + SIDE_PX) % SIDE_PX));
      const amplitude = (2 * Math.hypot(spectrum[k]!, spectrum[k + 1]!)) / (SIDE_PX * SIDE_PX);
      out.push({
        across: m,
        up: n,
        lengthMm: 1 / Math.hypot(m / repeatMm.width, n / repeatMm.height),
        contrast: amplitude / mean,
      });
    }
  return out;
}
