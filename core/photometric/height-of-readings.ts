import type { Plane } from '../raster';
import type { Steps } from '../steps';
import type { Brightness, LitPicture, Surroundings } from './lit-picture';
import type { Readings } from './readings';
import { shadowSteps } from './shadow-steps';
import { withoutSpecks } from './specks';
import { integrationSteps } from './surface-from-slopes';
import { unseenWalls } from './unseen-walls';
import { flattened } from './flattened';

/**
 * The height that explains the slopes and, once the surroundings are known, the lengths of the shadows.
 * @returns mm
 */
export function* heightOf(
  set: readonly LitPicture[],
  readings: Readings,
  brightness: Brightness,
  mmPerPx: { x: number; y: number },
  known: Surroundings | null,
): Steps<Plane> {
  const slopes = slopesOf(readings);
  const trusted = trust(readings, confidenceOf(readings, set.length));
  const bySlopes = yield* integrationSteps(slopes, trusted, mmPerPx, known?.height);
  if (!known) return yield* finished(bySlopes, mmPerPx);
  const walls = unseenWalls(yield* shadowSteps(set, brightness, mmPerPx, known), bySlopes, set.length);
  if (walls.differences.mm.length === 0) return yield* finished(bySlopes, mmPerPx);
  const beside = { ...trusted, data: trusted.data.map((v, i) => v * walls.slopes[i]!) };
  const byBoth = yield* integrationSteps(slopes, beside, mmPerPx, bySlopes, walls.differences);
  return yield* finished(byBoth, mmPerPx);
}

/** A height without what slopes and shadows do not tell: bow, and specks. */
const finished = (height: Plane, mmPerPx: { x: number; y: number }): Steps<Plane> =>
  withoutSpecks(flattened(height), mmPerPx);

/** Slopes steeper than this (80°) are held there. */
const STEEPEST = 5.67;

function slopesOf({ x, y, z }: Readings): { x: Plane; y: Plane } {
  const of = (n: Plane): Plane => ({
    ...n,
    data: n.data.map((v, i) => Math.min(STEEPEST, Math.max(-STEEPEST, -v / Math.max(0.05, z.data[i]!)))),
  });
  return { x: of(x), y: of(y) };
}

/** Residual at which readings are half trusted. */
const HALF_TRUSTED = 0.08;

/** 0–1 for every pixel: how well its readings agree, and how many were of use. */
export function confidenceOf({ used, residual, z }: Readings, count: number): Plane {
  const spare = Math.max(1, Math.min(4, count - 2));
  return {
    ...used,
    data: used.data.map((u, i) => {
      if (z.data[i]! <= 0) return 0;
      const enough = Math.min(1, Math.max(0, (u - 2) / spare));
      const t = residual.data[i]! / HALF_TRUSTED;
      return enough / (1 + t * t);
    }),
  };
}

/** A slope is as uncertain as the square of its secant. */
const trust = ({ z }: Readings, confidence: Plane): Plane => ({
  ...confidence,
  data: confidence.data.map((v, i) => v * z.data[i]! * z.data[i]!),
});
