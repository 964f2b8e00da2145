/**
 * Wet porous surfaces, after Lekner and Dorf, "Why some things are darker when wet", Applied Optics 27 (1988): light that a
 * wet surface scatters is reflected back at the inside of the water and gets another chance to be absorbed, and solid in water
 * bends light less than in air, so that it goes deeper.
 */

/** Refractive index of water, and of most minerals and fibres. */
const WATER = 1.333;
const SOLID = 1.5;

/** Share of diffuse light that is reflected from outside at a surface of an index: polynomial of Egan, Hilgeman 1973. */
const diffuseReflectance = (n: number): number => -1.4399 / (n * n) + 0.7099 / n + 0.6681 + 0.0636 * n;

/** From outside; light from inside comes back more often by what cannot leave at flat angles. */
const outside = (n: number): number => 1 - n * n * (1 - diffuseReflectance(n));

const FROM_AIR = outside(WATER);
const FROM_INSIDE = diffuseReflectance(WATER);
/** Solid in water absorbs a little more of what meets it than in air. */
const DEEPER = (1 - outside(SOLID / WATER)) / (1 - outside(SOLID));

/**
 * Diffuse reflectance of a wet porous surface, without what the water reflects by itself.
 * @param dry its reflectance when dry, 0–1
 */
export function wetReflectance(dry: number): number {
  const absorbed = Math.min(1, Math.max(0, 1 - dry));
  // The less is absorbed, the more the lower contrast of indices counts.
  const inWater = absorbed * ((1 - absorbed) * DEEPER + absorbed);
  const kept = ((1 - FROM_AIR) * inWater) / (1 - FROM_INSIDE * (1 - inWater));
  return Math.min(dry, Math.max(0, 1 - FROM_AIR - kept));
}

/** Gloss of a film of water that lies still, GU at 60°: that of a smooth surface of its index. */
export const WATER_GU = 60;
