import type { ArrisForm } from './settings';

/**
 * How far the face has dropped at a distance from its edge, mm.
 * @param form of the arris
 * @param distanceMm from the edge, 0 or more
 * @param sizeMm width of the arris here
 */
export function arrisDropMm(form: ArrisForm, distanceMm: number, sizeMm: number): number {
  if (form === 'square' || sizeMm <= 0 || distanceMm >= sizeMm) return 0;
  const rest = sizeMm - distanceMm;
  if (form === 'bevel') return rest;
  // A quarter of a circle; what is chipped breaks out in a hollow of the same depth.
  const round = sizeMm - Math.sqrt(sizeMm * sizeMm - rest * rest);
  return form === 'chipped' ? Math.sqrt(sizeMm * sizeMm - distanceMm * distanceMm) * 0.6 : round;
}
