import { squared, wholePower } from '../exact';

/** Reflection at a smooth surface of a dielectric. */

/** Reflectance at normal incidence: ((n − 1)/(n + 1))². */
export const f0OfIndex = (n: number): number => squared((n - 1) / (n + 1));

/** Refractive index from reflectance at normal incidence. */
export const indexOfF0 = (f0: number): number => (1 + Math.sqrt(f0)) / (1 - Math.sqrt(f0));

/**
 * Fresnel reflectance of a dielectric in air for light polarised across and in the plane of incidence.
 * @param cosIn cosine of the angle of incidence, 0–1
 * @param n refractive index
 */
export function fresnelPolarised(cosIn: number, n: number): { s: number; p: number } {
  const sin2 = (1 - cosIn * cosIn) / (n * n);
  const cosT = Math.sqrt(Math.max(0, 1 - sin2));
  const s = (cosIn - n * cosT) / (cosIn + n * cosT);
  const p = (cosT - n * cosIn) / (cosT + n * cosIn);
  return { s: s * s, p: p * p };
}

/** Unpolarised Fresnel reflectance of a dielectric in air. */
export function fresnelDielectric(cosIn: number, n: number): number {
  const { s, p } = fresnelPolarised(cosIn, n);
  return (s + p) / 2;
}

/** Reflectance of a metal over angle by Schlick's approximation from its reflectance at normal incidence. */
export const fresnelMetal = (cosIn: number, f0: number): number => f0 + (1 - f0) * wholePower(1 - cosIn, 5);
