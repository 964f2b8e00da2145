import { glossOfBrushed, type ReflectingSurface } from './glossmeter';

/** A surface that is brushed one way, from what a meter reads along and across the scratches. */
export interface BrushedReport {
  /** α of the facets' tilts along and across the scratches. */
  alphaAlong: number;
  alphaAcross: number;
  /** glTF roughness, and strength of anisotropy: α along t is mix(α, 1, strength²). */
  roughness: number;
  strength: number;
  /** What the two then read, GU. */
  readsAlongGu: number;
  readsAcrossGu: number;
  /** Whether both readings are met, within 1 GU or 2 %. */
  reached: boolean;
}

const ROUNDS = 8;
const HALVINGS = 18;
const LEAST_ALPHA = 1e-4;

/** The α in a range at which a falling reading comes nearest to one. */
function nearestAlpha(readAt: (alpha: number) => number, gu: number, from: number): number {
  // Halved over the square root of α, as roughness is.
  let [low, high] = [Math.sqrt(from), 1];
  for (let k = 0; k < HALVINGS; k++) {
    const middle = (low + high) / 2;
    if (readAt(middle * middle) > gu) low = middle;
    else high = middle;
  }
  return ((low + high) / 2) * ((low + high) / 2);
}

/**
 * Finds how far facets are tilted along and across the scratches, so that a meter reads both figures: in turns the one that
 * the reading across rests on, and the other.
 * @param alongGu read with the plane of incidence along the scratches
 * @param acrossGu read across them; at most as much
 */
export function brushedOf(alongGu: number, acrossGu: number, of: ReflectingSurface): BrushedReport {
  let [along, across] = [LEAST_ALPHA, LEAST_ALPHA];
  for (let round = 0; round < ROUNDS; round++) {
    across = nearestAlpha((a) => glossOfBrushed({ along, across: a }, of, false), acrossGu, LEAST_ALPHA);
    along = nearestAlpha((a) => glossOfBrushed({ along: a, across }, of, true), alongGu, LEAST_ALPHA);
  }
  const readsAlongGu = glossOfBrushed({ along, across }, of, true);
  const readsAcrossGu = glossOfBrushed({ along, across }, of, false);
  const met = (reads: number, asked: number) => Math.abs(reads - asked) <= Math.max(1, 0.02 * asked);
  return {
    alphaAlong: along,
    alphaAcross: across,
    roughness: Math.sqrt(along),
    strength: Math.sqrt(Math.max(0, (across - along) / (1 - along))),
    readsAlongGu,
    readsAcrossGu,
    reached: across >= along && met(readsAlongGu, alongGu) && met(readsAcrossGu, acrossGu),
  };
}
