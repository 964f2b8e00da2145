import { fresnelPolarised } from '../../optics';

/** What a thin pane does with a ray that meets it: how much it mirrors and lets through of each channel. */
export class PaneShares {
  mirrored = 0;
  r = 0;
  g = 0;
  b = 0;

  /**
   * @param cosIn of the angle at which the ray meets it
   * @param attenuation share of each channel left after the thickness met at normal incidence
   */
  meet(cosIn: number, index: number, attenuation: readonly [number, number, number]): void {
    const { s, p } = fresnelPolarised(cosIn, index);
    const cosWithin = Math.sqrt(1 - (1 - cosIn * cosIn) / (index * index));
    this.mirrored = 0;
    this.r = through(s, p, attenuation[0], cosWithin);
    this.g = through(s, p, attenuation[1], cosWithin);
    this.b = through(s, p, attenuation[2], cosWithin);
    for (const r of [s, p]) {
      const tau = Math.exp(Math.log(Math.max(1e-9, attenuation[1])) / cosWithin);
      this.mirrored += (r + (r * (1 - r) * (1 - r) * tau * tau) / (1 - r * r * tau * tau)) / 2;
    }
  }
}

function through(s: number, p: number, attenuation: number, cosWithin: number): number {
  const tau = Math.exp(Math.log(Math.max(1e-9, attenuation)) / cosWithin);
  const of = (r: number) => ((1 - r) * (1 - r) * tau) / (1 - r * r * tau * tau);
  return (of(s) + of(p)) / 2;
}

/**
 * A ray that goes in at one facet of glass and out at another: both bend it.
 * @param d direction, @param first, second normals of the two facets, towards where the ray comes from
 * @param into takes the new direction
 * @returns false: it is held within the glass
 */
export function bendThrough(
  d: readonly number[],
  first: readonly number[],
  second: readonly number[],
  index: number,
  into: number[],
): boolean {
  const within = [0, 0, 0];
  return refract(d, first, 1 / index, within) && refract(within, second, index, into);
}

/** Snell's law for a ray against a normal that points to where it comes from. @param ratio of the indices, before over behind */
function refract(d: readonly number[], n: readonly number[], ratio: number, into: number[]): boolean {
  const cos = -(d[0]! * n[0]! + d[1]! * n[1]! + d[2]! * n[2]!);
  const sin2 = ratio * ratio * (1 - cos * cos);
  if (cos <= 0 || sin2 > 1) return false;
  const k = ratio * cos - Math.sqrt(1 - sin2);
  for (let a = 0; a < 3; a++) into[a] = ratio * d[a]! + k * n[a]!;
  return true;
}
