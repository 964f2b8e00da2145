import { glossOfRoughness, METER_ANGLES, type MeterAngle, type ReflectingSurface } from './glossmeter';
import type { ResponseSettings } from './settings';

/**
 * What readings at 20° and 85° add to the one at 60°: a reflection with a core and a haze about it, as two lobes. Each lobe
 * has the shape of the simulated meter's surface (GGX); a reading is the sum of what each lobe reads, by its share.
 */

export type Readings = Partial<Record<MeterAngle, number>>;

/** A core and a haze about it. */
export interface TwoLobes {
  /** glTF roughness of the narrow lobe and of the wide one. */
  roughness: readonly [narrow: number, wide: number];
  /** Share of the light in the wide lobe, 0–1. */
  wideShare: number;
  reads: Record<MeterAngle, number>;
}

export interface HazeReport {
  /** What was read, GU by angle. */
  read: Readings;
  /** The one lobe that reads the gloss at 60°, as the roughness map has it. */
  one: Record<MeterAngle, number>;
  /** The two lobes that come nearest to all three readings; null: fewer than three were read. */
  two: TwoLobes | null;
  /** Largest difference of the two lobes, else of the one, to what was read, GU. */
  restGu: number;
  /** Whether no surface of this material reads so. */
  contradicts: boolean;
}

/** What a meter may be off, and with it what readings may disagree by: 2 GU, or 4 % of what is read. */
const allowedGu = (read: number) => Math.max(2, 0.04 * read);

/** What was read at each angle. */
export const readingsOf = ({ glossGu, gloss20Gu, gloss85Gu }: ResponseSettings): Readings => ({
  60: glossGu.value,
  ...(gloss20Gu ? { 20: gloss20Gu.value } : {}),
  ...(gloss85Gu ? { 85: gloss85Gu.value } : {}),
});

/**
 * What the readings say beyond the one at 60°; null: there is no other.
 * @param roughness that reads the gloss at 60°
 */
export function hazeOf(read: Readings, roughness: number, of: ReflectingSurface): HazeReport | null {
  const angles = METER_ANGLES.filter((angle) => read[angle] !== undefined);
  if (angles.length < 2) return null;
  const one = readsOf(roughness, of);
  const two = angles.length === METER_ANGLES.length ? nearestTwoLobes(read, of) : null;
  const off = (reads: Record<MeterAngle, number>, angle: MeterAngle) => Math.abs(reads[angle] - read[angle]!);
  // Two readings alone are tried against any two lobes, whatever the third reading would be.
  const reads = (two ?? nearestTwoLobes(read, of)).reads;
  return {
    read,
    one,
    two,
    restGu: Math.max(...angles.map((angle) => off(two?.reads ?? one, angle))),
    contradicts: angles.some((angle) => off(reads, angle) > allowedGu(read[angle]!)),
  };
}

const readsOf = (roughness: number, of: ReflectingSurface) =>
  Object.fromEntries(
    METER_ANGLES.map((angle) => [angle, glossOfRoughness(roughness, of, angle)] as const),
  ) as Record<MeterAngle, number>;

const COARSE = 48;
const REFINEMENTS = 4;

/** The two lobes whose readings differ least from those given, each difference against what it may be off. */
export function nearestTwoLobes(read: Readings, of: ReflectingSurface): TwoLobes {
  const angles = METER_ANGLES.filter((angle) => read[angle] !== undefined);
  let step = 1 / COARSE;
  const all = Array.from({ length: COARSE + 1 }, (_, k) => lobeOf(k * step, of));
  let best = nearestOf(all, all, read, angles);
  for (let k = 0; k < REFINEMENTS; k++) {
    step /= 4;
    const about = (roughness: number) =>
      [-3, -2, -1, 0, 1, 2, 3]
        .map((j) => Math.min(1, Math.max(0, roughness + j * step)))
        .map((r) => lobeOf(r, of));
    const finer = nearestOf(about(best.narrow.roughness), about(best.wide.roughness), read, angles);
    if (finer.error <= best.error) best = finer;
  }
  const { narrow, wide, share } = best;
  const reads = Object.fromEntries(
    METER_ANGLES.map(
      (angle) => [angle, (1 - share) * narrow.reads[angle] + share * wide.reads[angle]] as const,
    ),
  ) as Record<MeterAngle, number>;
  return { roughness: [narrow.roughness, wide.roughness], wideShare: share, reads };
}

interface Lobe {
  roughness: number;
  reads: Record<MeterAngle, number>;
}
const lobeOf = (roughness: number, of: ReflectingSurface): Lobe => ({
  roughness,
  reads: readsOf(roughness, of),
});

/** The best pair of a narrow and a wide lobe; the share of the wide one is the least-squares one. */
function nearestOf(
  narrows: readonly Lobe[],
  wides: readonly Lobe[],
  read: Readings,
  angles: readonly MeterAngle[],
) {
  let best = { narrow: narrows[0]!, wide: wides[0]!, share: 0, error: Infinity };
  for (const narrow of narrows)
    for (const wide of wides) {
      if (wide.roughness < narrow.roughness) continue;
      let [up, down] = [0, 0];
      for (const angle of angles) {
        const allowed = allowedGu(read[angle]!);
        const apart = (wide.reads[angle] - narrow.reads[angle]) / allowed;
        up += (apart * (read[angle]! - narrow.reads[angle])) / allowed;
        down += apart * apart;
      }
      const share = down > 0 ? Math.min(1, Math.max(0, up / down)) : 0;
      let error = 0;
      for (const angle of angles) {
        const made = narrow.reads[angle] + share * (wide.reads[angle] - narrow.reads[angle]);
        const off = (made - read[angle]!) / allowedGu(read[angle]!);
        error += off * off;
      }
      if (error < best.error) best = { narrow, wide, share, error };
    }
  return best;
}
