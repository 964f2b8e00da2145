import { labToXyz, xyzToLinear, type Triple } from '../colour';
import type { ResponseSettings } from './settings';
import type { ResponseReport } from './stage';

/** A response in the terms of glTF's physical material, as it is written to a panel and shown in the proof. */
export interface PhysicalMaterial {
  /** Refractive index; null: bare metal. */
  index: number | null;
  /** Clear coat: share of it, its roughness, and whether its surface is flat over the relief. */
  coat: { factor: number; roughness: number; levels: boolean } | null;
  /** Nap: its colour in linear light and its roughness. */
  sheen: { linear: Triple; roughness: number } | null;
  /** Brushed: strength, and direction in which the highlight is drawn out, anticlockwise from the width. */
  brushed: { strength: number; rotationRad: number } | null;
  /** Haze: share of the light in a wide lobe, its roughness, and the roughness of the core as a factor of the finish's. */
  haze: { wideShare: number; wideRoughness: number; narrowFactor: number } | null;
  /** Glass: share of each channel left after the thickness, and roughness of its satin side; 0: clear. */
  glass: { attenuation: Triple; thicknessMm: number; roughness: number } | null;
  /** Woven: light that threads let through scattered, as a share of what is not open. */
  cloth: { diffuse: number } | null;
}

/**
 * The physical material of a response.
 * @param report what the response came to, with the mean colour of the finish
 */
export function physicalOf(
  { base, coat, sheen, brushed, openness }: ResponseSettings,
  report: Pick<ResponseReport, 'coat' | 'glass' | 'brushed' | 'haze' | 'roughness'> & {
    meanLab: readonly [number, number, number];
  },
): PhysicalMaterial {
  const glass = base.kind === 'glass' ? base : null;
  const mean = xyzToLinear(labToXyz(report.meanLab));
  return {
    index: base.kind === 'metal' ? null : base.index.value,
    coat:
      coat && report.coat && !glass
        ? { factor: report.coat.factor, roughness: report.coat.roughness, levels: coat.levels }
        : null,
    sheen:
      sheen && !glass && base.kind !== 'metal'
        ? {
            linear: mean.map(
              (v) => sheen.strength * (sheen.hue === 'own' ? Math.max(0, v) : 1),
            ) as unknown as Triple,
            roughness: sheen.roughness,
          }
        : null,
    brushed:
      brushed && report.brushed
        ? {
            strength: report.brushed.strength,
            // The highlight is drawn out across the scratches.
            rotationRad: ((brushed.alongDeg + 90) * Math.PI) / 180,
          }
        : null,
    glass:
      glass && report.glass
        ? {
            attenuation: report.glass.attenuation,
            thicknessMm: report.glass.thicknessMm,
            roughness: report.glass.roughness,
          }
        : null,
    haze: glass || brushed ? null : hazeLobes(report),
    cloth:
      openness && !glass
        ? {
            diffuse: Math.min(
              1,
              openness.diffusePercent.value / Math.max(1, 100 - openness.openPercent.value),
            ),
          }
        : null,
  };
}

/** Two lobes, where readings at three angles tell of them. */
function hazeLobes({
  haze,
  roughness,
}: Pick<ResponseReport, 'haze' | 'roughness'>): PhysicalMaterial['haze'] {
  if (!haze?.two || haze.contradicts || roughness <= 0) return null;
  const { roughness: lobes, wideShare } = haze.two;
  return { wideShare, wideRoughness: lobes[1], narrowFactor: lobes[0] / roughness };
}
