import { power } from '../../../exact';
import { hashUnit, seededRandom, smoothstep, type Random } from '../../../raster';
import type { SizeMm } from '../../family';
import { countOf, type Values } from './settings';

/** Logs, and how leaves are cut from them. */

/** Distance from the pith goes in steps of this. */
export const STEP_MM = 0.04;

/**
 * Rings of one log by distance from the pith: how far through its year each distance is, and the sum of its late wood up to
 * there, from which the mean over a pixel follows.
 */
function ringsOf(meanMm: number, outMm: number, seed: number) {
  const random = seededRandom(seed);
  const n = Math.ceil(outMm / STEP_MM) + 2;
  const share = new Float32Array(n);
  const lateTo = new Float64Array(n + 1);
  let at = 0;
  for (const { width, year } of yearsOf(meanMm, outMm, random)) {
    const to = Math.min(n, Math.ceil((at + width) / STEP_MM));
    for (let i = Math.ceil(at / STEP_MM); i < to; i++) {
      share[i] = (i * STEP_MM - at) / width;
      // Late wood: a slow rise, then a sharp step back at the end of the year.
      lateTo[i + 1] = power(smoothstep(0.2, 0.98, share[i]!), 1.5) * year;
    }
    at += width;
  }
  for (let i = 0; i < n; i++) lateTo[i + 1]! += lateTo[i]!;
  return { share, lateTo, outMm };
}

/** So many rings in a row have the mean width that was asked for. */
const RINGS_IN_RUN = 12;

/** Rings from the pith outwards: good and bad years follow each other in runs. */
function yearsOf(meanMm: number, outMm: number, random: Random): { width: number; year: number }[] {
  const out: { width: number; year: number }[] = [];
  let width = 1;
  for (let at = 0; at < outMm; at += RINGS_IN_RUN * meanMm) {
    const run = Array.from({ length: RINGS_IN_RUN }, () => {
      width = Math.min(2.4, Math.max(0.35, width + 0.22 * random.normal() + 0.15 * (1 - width)));
      return { width, year: 0.55 + 0.45 * random.next() };
    });
    const scale = (RINGS_IN_RUN * meanMm) / run.reduce((sum, ring) => sum + ring.width, 0);
    out.push(...run.map((ring) => ({ ...ring, width: scale * ring.width })));
  }
  return out;
}

export interface Leaf {
  seed: number;
  rings: ReturnType<typeof ringsOf>;
  /** Of the plane from the pith, and the pith across the leaf, mm. */
  offMm: number;
  pithMm: number;
  mirrored: boolean;
  tone: number;
  warm: number;
  shift: number;
  knots: readonly Knot[];
  /** Distance from the pith at which the sapwood begins, mm; Infinity: the leaf has none. */
  heartMm: number;
}
interface Knot {
  x: number;
  y: number;
  radiusMm: number;
  dark: number;
}

/** All leaves of a repeat, row by row. */
export function leavesOf(values: Values, { width, height }: SizeMm, seed: number): Leaf[] {
  const leafMm = values.leafMm.value;
  const end = values.cut === 'end';
  const count = countOf(height, leafMm) * (end ? countOf(width, leafMm) : 1);
  const random = seededRandom(seed * 31 + 5);
  const out: Leaf[] = [];
  for (let k = 0; k < count; k++) {
    const same = values.leaves !== 'random' && !end && k > 0;
    const own = same ? out[0]!.seed : Math.floor(random.next() * 1e8);
    const logMm = end ? 1.2 * leafMm : leafMm;
    const [offMm, pithMm] = same
      ? [out[0]!.offMm + 0.7 * k, out[0]!.pithMm]
      : placeInLog(values.cut, logMm, random);
    const expected = end ? 0 : (values.knotsPerM2.value * width * leafMm) / 1e6;
    const knots = same
      ? out[0]!.knots
      : Array.from({ length: Math.floor(expected + random.next()) }, () => ({
          x: random.next() * width,
          y: (0.15 + 0.7 * random.next()) * leafMm,
          radiusMm: 2.5 + 7 * random.next() * random.next() + 2 * random.next(),
          dark: 0.6 + 0.4 * random.next(),
        })).flatMap((knot, n) => clustered(knot, values.clusterPercent.value / 100, own + n));
    out.push({
      seed: own,
      rings: same
        ? out[0]!.rings
        : ringsOf(10 / values.ringsPerCm.value, Math.abs(pithMm) + Math.abs(offMm) + 2 * logMm + 60, own),
      offMm,
      pithMm,
      mirrored: values.leaves === 'book' && k % 2 === 1,
      tone: Math.exp(0.024 * values.spread.value * (same ? 0 : random.normal())),
      warm: same ? 0 : 0.02 * random.normal(),
      shift: same ? 0 : random.next(),
      knots,
      heartMm: heartOf(values, { offMm, pithMm }, same ? out[0]!.seed : own),
    });
  }
  return out;
}

/** A knot, or the group of small ones that stands in its place. */
function clustered(knot: Knot, share: number, seed: number): Knot[] {
  if (hashUnit(seed, 1, 0, 71) >= share) return [knot];
  const random = seededRandom(seed);
  return Array.from({ length: 3 + random.whole(7) }, () => {
    const [turn, away] = [2 * Math.PI * random.next(), 3.2 * knot.radiusMm * Math.sqrt(random.next())];
    return {
      x: knot.x + 1.6 * away * Math.cos(turn),
      y: knot.y + away * Math.sin(turn),
      radiusMm: 0.7 + 1.6 * random.next() * random.next(),
      dark: 0.5 + 0.5 * random.next(),
    };
  });
}

/** Heartwood ends at a ring somewhere within the leaf, so that its border follows the figure. */
function heartOf(
  { sapPercent, leafMm, cut }: Values,
  { offMm, pithMm }: Pick<Leaf, 'offMm' | 'pithMm'>,
  seed: number,
): number {
  if (hashUnit(seed, 2, 0, 73) >= sapPercent.value / 100) return Infinity;
  const part = 0.5 + 0.42 * hashUnit(seed, 3, 0, 73);
  if (cut === 'end') return leafMm.value * (0.4 + 0.8 * part);
  const [a, b] = [Math.abs(pithMm), Math.abs(leafMm.value - pithMm)];
  const least = pithMm >= 0 && pithMm <= leafMm.value ? Math.abs(offMm) : Math.hypot(Math.min(a, b), offMm);
  return least + part * (Math.hypot(Math.max(a, b), offMm) - least);
}

/** Where a leaf lies: distance of its plane from the pith, and the pith across it. */
function placeInLog(
  cut: Values['cut'],
  leafMm: number,
  random: ReturnType<typeof seededRandom>,
): [number, number] {
  if (cut === 'crown') return [random.between(14, 55), leafMm * random.between(0.25, 0.75)];
  if (cut === 'rift') return [random.between(70, 120), leafMm * random.between(-1.4, -0.7)];
  if (cut === 'quarter') return [random.between(0, 9), -random.between(70, 170)];
  return [0, 0];
}
