import type { Vector } from '../vector';

/** Lights that a sample was photographed under. x to the right of the picture, y up, z towards the camera. */

export type { Vector };

/** A far light by the direction to it, or a near one by its place, mm from the middle of the picture on the sample. */
export type Light = ({ directionTo: Vector } | { positionMm: Vector }) & {
  /** What a perfect white facing the light in the middle of the picture would read; default: 1. */
  strength?: number;
};

/** Fewer lights give no normals. */
export const LEAST_LIGHTS = 3;
/** With fewer, nothing is left to tell shadow and glare by. */
export const ROBUST_LIGHTS = 6;
export const MOST_LIGHTS = 24;
/** Lights are called one-sided when no light stands within a gap as wide as this, seen from above. */
const WIDEST_GAP_DEG = 200;
/** Least singular value of the unit directions, over the square root of their number, that tells normals. */
const LEAST_SPREAD = 0.08;

/** Unit vector to a light from the middle of the picture. */
export function directionOf(light: Light): Vector {
  const [x, y, z] = 'directionTo' in light ? light.directionTo : light.positionMm;
  const length = Math.sqrt(x * x + y * y + z * z);
  return [x / length, y / length, z / length];
}

/** Degrees counter-clockwise from the right, 0–360, and above the sample. */
export function anglesOf(light: Light): { azimuthDeg: number; elevationDeg: number } {
  const [x, y, z] = directionOf(light);
  const azimuth = (Math.atan2(y, x) * 180) / Math.PI;
  return {
    azimuthDeg: azimuth < 0 ? azimuth + 360 : azimuth,
    elevationDeg: (Math.asin(Math.min(1, Math.max(-1, z))) * 180) / Math.PI,
  };
}

/** Why no normals can be told from these lights, in a sentence; null: they can. */
export function faultOfLights(lights: readonly Light[]): string | null {
  if (lights.length < LEAST_LIGHTS)
    return `${lights.length === 1 ? 'One light is' : `${lights.length} lights are`} not enough to measure relief: at least ${LEAST_LIGHTS} are needed, and from ${ROBUST_LIGHTS} on shadow and glare can be rejected.`;
  if (lights.length > MOST_LIGHTS) return `A light set has at most ${MOST_LIGHTS} lights.`;
  for (const [k, light] of lights.entries()) {
    const given = 'directionTo' in light ? light.directionTo : light.positionMm;
    if (!given.every(Number.isFinite) || given.every((v) => v === 0))
      return `Light ${k + 1} has no direction. Give x, y and z, not all 0.`;
    if (given[2] <= 0)
      return `Light ${k + 1} stands behind the sample: z must be above 0, towards the camera.`;
  }
  const gap = widestGapDeg(lights);
  if (gap > WIDEST_GAP_DEG)
    return `All lights stand on one side of the sample: there is a gap of ${Math.round(gap)}° without a light. Slopes that face it stay dark. Spread the lights around the sample.`;
  if (spreadOf(lights) < LEAST_SPREAD)
    return 'The lights stand nearly in one plane, so that slopes across it cannot be measured. Spread them around the sample, and at different heights.';
  return null;
}

/** The widest angle between lights that are next to each other, seen from above. */
function widestGapDeg(lights: readonly Light[]): number {
  const around = lights
    .map(anglesOf)
    .filter(({ elevationDeg }) => elevationDeg < 80)
    .map(({ azimuthDeg }) => azimuthDeg)
    .sort((a, b) => a - b);
  if (around.length < 2) return 0;
  return Math.max(...around.map((a, k) => (k > 0 ? a - around[k - 1]! : a + 360 - around.at(-1)!)));
}

/** Least singular value of the unit directions, over the square root of their number. */
function spreadOf(lights: readonly Light[]): number {
  let [xx, xy, xz, yy, yz, zz] = [0, 0, 0, 0, 0, 0];
  for (const light of lights) {
    const [x, y, z] = directionOf(light);
    xx += x * x;
    xy += x * y;
    xz += x * z;
    yy += y * y;
    yz += y * z;
    zz += z * z;
  }
  return Math.sqrt(Math.max(0, leastEigenvalue(xx, xy, xz, yy, yz, zz)) / lights.length);
}

/** Least eigenvalue of a symmetric 3 × 3 matrix (Smith, "Eigenvalues of a symmetric 3 × 3 matrix", 1961). */
function leastEigenvalue(a: number, b: number, c: number, d: number, e: number, f: number): number {
  const mean = (a + d + f) / 3;
  const [A, D, F] = [a - mean, d - mean, f - mean];
  const p = Math.sqrt((A * A + D * D + F * F + 2 * (b * b + c * c + e * e)) / 6);
  if (p < 1e-12) return mean;
  const det = A * (D * F - e * e) - b * (b * F - e * c) + c * (b * e - D * c);
  const angle = Math.acos(Math.min(1, Math.max(-1, det / (2 * p * p * p)))) / 3;
  return mean + 2 * p * Math.cos(angle + (2 * Math.PI) / 3);
}

/** Distance of a near light from the middle of the picture; null: it is far. */
export function distanceMmOf(light: Light): number | null {
  if ('directionTo' in light) return null;
  const [x, y, z] = light.positionMm;
  return Math.sqrt(x * x + y * y + z * z);
}

/**
 * Light that arrives at a place: the unit vector to the light times what a white facing it would read there. A near light
 * falls off with the square of its distance.
 * @param out three numbers from `at` on
 */
export function incident(
  light: Light,
  xMm: number,
  yMm: number,
  zMm: number,
  gain: number,
  out: Float64Array,
  at: number,
): void {
  const strength = gain * (light.strength ?? 1);
  if ('directionTo' in light) {
    const [x, y, z] = light.directionTo;
    const k = strength / Math.sqrt(x * x + y * y + z * z);
    out[at] = x * k;
    out[at + 1] = y * k;
    out[at + 2] = z * k;
    return;
  }
  const [px, py, pz] = light.positionMm;
  const [x, y, z] = [px - xMm, py - yMm, pz - zMm];
  const square = x * x + y * y + z * z;
  const k = (strength * (px * px + py * py + pz * pz)) / (square * Math.sqrt(square));
  out[at] = x * k;
  out[at + 1] = y * k;
  out[at + 2] = z * k;
}
