import { cellularNoise, fractalNoise, gradientNoise, hashUnit, smoothstep } from '../../raster';
import { cells, paint, tone, type Area, type GeneratedSurface, type Rgb } from './surface';

export interface RolledMetalSettings extends Area {
  metal: Rgb;
  /** Thin oxide that dulls and tints it, 0 bright … 1 fully weathered. */
  weathering: number;
  oxide: Rgb;
}

/** Rolled sheet: fine grain along the rolling direction (x), soft mill bands, faint spangle, handling marks. */
export function rolledMetal(settings: RolledMetalSettings): GeneratedSurface {
  const { widthMm, heightMm, seed, metal, oxide, weathering } = settings;
  return paint(settings, (x, y, spot) => {
    const u = x / widthMm;
    const v = y / heightMm;
    const grain =
      0.5 * gradientNoise(u, v, cells(widthMm, 60), cells(heightMm, 0.9), seed + 1) +
      0.4 * gradientNoise(u, v, cells(widthMm, 22), cells(heightMm, 0.45), seed + 2) +
      0.35 * gradientNoise(u, v, cells(widthMm, 150), cells(heightMm, 3.2), seed + 3);
    const band =
      fractalNoise(u, v, 1, cells(heightMm, 120), 3, 0.6, seed + 4) +
      0.35 * fractalNoise(u, v, 2, cells(heightMm, 26), 2, 0.5, seed + 5);
    const cloud = fractalNoise(u, v, cells(widthMm, 240), cells(heightMm, 190), 6, 0.6, seed + 6);
    const fine = fractalNoise(u, v, cells(widthMm, 14), cells(heightMm, 10), 4, 0.7, seed + 7);
    const spangle = cellularNoise(
      u + 0.004 * fine,
      v + 0.004 * fine,
      cells(widthMm, 11),
      cells(heightMm, 9),
      0.95,
      seed + 8,
    );
    const facet = hashUnit(spangle.id, 0, 0, seed) - 0.5;
    const veil = Math.min(1, Math.max(0, weathering * (1 + 0.34 * cloud + 0.2 * fine + 0.3 * facet)));
    spot.r = metal[0] + (oxide[0] - metal[0]) * veil;
    spot.g = metal[1] + (oxide[1] - metal[1]) * veil;
    spot.b = metal[2] + (oxide[2] - metal[2]) * veil;
    const rim = 1 - smoothstep(0, 0.1, spangle.edge);
    tone(spot, 1 + 0.09 * grain + 0.07 * band + 0.05 * cloud + 0.16 * facet - 0.05 * rim);
    // Water has dried here and there and left pale rims.
    const drop = Math.abs(
      fractalNoise(u, v, cells(widthMm, 330), cells(heightMm, 260), 3, 0.5, seed + 9) - 0.55,
    );
    tone(spot, 1 + 0.06 * (1 - smoothstep(0, 0.05, drop)));
    spot.heightMm = 0.0025 * grain + 0.004 * band + 0.0008 * facet;
    spot.glossGu = 60 - 38 * veil + 8 * grain;
  });
}
