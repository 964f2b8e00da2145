import { f0OfIndex, fresnelDielectric, fresnelMetal } from '../optics';
import { glossOfRoughness, roughnessOfGloss, type ReflectingSurface } from './glossmeter';
import { labToXyz, xyzToLab, xyzToLinear, type Triple } from '../colour';
import { power } from '../exact';
import type { ColourPicture } from '../raster';
import type { CoatSettings, CoatTint } from './settings';

/** A clear coat over a surface. */
export interface CoatReport {
  /** glTF roughness that reads the coat's gloss. */
  roughness: number;
  /**
   * Share of a coat of index 1.5, which is what receivers assume: reflectance of this coat at normal incidence over that of
   * one of 1.5, at most 1.
   */
  factor: number;
  /** What a meter reads of coat and surface together at 60°, GU. */
  readsGu: number;
}

const ASSUMED_INDEX = 1.5;
const COS_60 = 0.5;

/**
 * A clear coat over a surface. The light that the surface below adds to the reading has passed the coat's surface twice,
 * meets it at the refracted angle, and is reflected by the step from the coat's index to its own; its lobe is taken as
 * wide as it is without the coat.
 * @param roughness of the surface below
 * @param below what it is
 */
export function coatOver(
  { glossGu, index }: Pick<CoatSettings, 'glossGu' | 'index'>,
  roughness: number,
  below: ReflectingSurface,
): CoatReport {
  const n = index.value;
  const coat = roughnessOfGloss(glossGu.value, { kind: 'dielectric', index: n });
  const cosWithin = Math.sqrt(1 - (1 - COS_60 * COS_60) / (n * n));
  const passes = 1 - fresnelDielectric(COS_60, n);
  const bare =
    below.kind === 'metal' ? fresnelMetal(COS_60, below.f0) : fresnelDielectric(COS_60, below.index);
  const under =
    below.kind === 'metal' ? fresnelMetal(cosWithin, below.f0) : fresnelStep(cosWithin, below.index / n);
  const added = glossOfRoughness(roughness, below) * (under / bare) * passes * passes;
  return {
    roughness: coat.roughness,
    factor: Math.min(1, f0OfIndex(n) / f0OfIndex(ASSUMED_INDEX)),
    readsGu: glossOfRoughness(coat.roughness, { kind: 'dielectric', index: n }) + added,
  };
}

/** Least share of a channel: darker hues are not told apart. */
const LEAST = 1e-4;

/**
 * Share of each channel (linear red, green, blue) that is left of light that passes the coat once: that of the layer it is
 * given for, to the power of how many such layers the coat is thick (Beer, Lambert).
 */
export function passedOnce({ lightPercent, ofThicknessMm, thicknessMm, hue }: CoatTint): Triple {
  const share = lightPercent.value / 100;
  const [l] = xyzToLab([share, share, share]);
  const layers = thicknessMm.value / ofThicknessMm.value;
  const layer = xyzToLinear(labToXyz([l, hue[0], hue[1]]));
  return layer.map((v) => power(Math.min(1, Math.max(LEAST, v)), layers)) as unknown as Triple;
}

/** Colour under a coat that absorbs: light passes it on its way in and out. */
export function underTint(colour: ColourPicture, tint: CoatTint): ColourPicture {
  const [r, g, b] = passedOnce(tint).map((v) => v * v) as unknown as Triple;
  return {
    ...colour,
    r: colour.r.map((v) => v * r),
    g: colour.g.map((v) => v * g),
    b: colour.b.map((v) => v * b),
  };
}

/** Reflectance of a step in index, also to a lower one; all of it beyond the critical angle. */
const fresnelStep = (cosIn: number, n: number): number =>
  (1 - cosIn * cosIn) / (n * n) >= 1 ? 1 : fresnelDielectric(cosIn, n);
