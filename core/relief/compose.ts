import { blurSteps, makePlane, percentileSteps, type Plane } from '../raster';
import { atOnce, spans, type Steps } from '../steps';
import { mmPerPxOf, withTurns, type ContextOptions, type Surface } from '../surface';
import type { Combining, ReliefContribution, ReliefMask } from './settings';

/** How contributions come together, each over what the ones before it came to. */

/**
 * Adds a contribution to what the ones before it came to.
 * @param sum mm; changed
 * @param height of the contribution, mm
 * @param weight 0–1 where it counts; null: everywhere
 */
export function* combineSteps(
  { data: sum }: Plane,
  { data: height }: Plane,
  weight: Plane | null,
  how: Combining,
): Steps<void> {
  const shares = weight?.data;
  for (const { from, to } of spans(sum.length)) {
    yield;
    for (let i = from; i < to; i++) {
      const w = shares ? shares[i]! : 1;
      const was = sum[i]!;
      const is = height[i]!;
      if (how === 'add') sum[i] = was + w * is;
      else if (how === 'replace') sum[i] = was + w * (is - was);
      else if (how === 'highest' ? is > was : is < was) sum[i] = was + w * (is - was);
    }
  }
}

/** Heights that stand out of their surroundings by this percentile of all wholly count as hollows or arrises. */
const WHOLLY = 0.97;

/**
 * Where a contribution counts, 0–1. A part that it is kept to must be one of the surface.
 * @param before what the contributions before it came to, mm
 */
export async function weightOf(
  options: ContextOptions,
  mask: ReliefMask,
  before: Plane,
  surface: Surface,
): Promise<Plane> {
  const part = mask.place === 'part' ? await surface.parts.get(mask.part!)!.get() : null;
  return withTurns(options, weightSteps(mask, part, before, mmPerPxOf(surface)));
}

function* weightSteps(
  { place, reachMm, softenMm, except }: ReliefMask,
  part: Plane | null,
  before: Plane,
  mm: { x: number; y: number },
): Steps<Plane> {
  const weight = place === 'part' ? part! : yield* standingOutSteps(before, mm, { place, reachMm });
  const soft = softenMm > 0 ? yield* blurSteps(weight, softenMm / 4 / mm.x, softenMm / 4 / mm.y) : weight;
  yield;
  return except ? { ...soft, data: soft.data.map((v) => 1 - v) } : soft;
}

/** Parts that a contribution is made of or kept to, and that a surface does not have. */
export function missingParts(c: ReliefContribution, { parts }: Pick<Surface, 'parts'>): string[] {
  const named = [...(c.kind === 'part' ? [c.part] : []), ...(c.mask?.place === 'part' ? [c.mask.part!] : [])];
  return named.filter((part) => !parts.has(part));
}

/**
 * Hollows, arrises or faces by how far a height lies below or above the mean of its surroundings.
 * @returns 0–1; 1 where it stands out the most, but for the last few percent
 */
export const standingOut = (...of: Parameters<typeof standingOutSteps>): Plane =>
  atOnce(standingOutSteps(...of));

/** As `standingOut`, left in between. */
export function* standingOutSteps(
  height: Plane,
  mm: { x: number; y: number },
  { place, reachMm }: { place: Exclude<ReliefMask['place'], 'part'>; reachMm: number },
): Steps<Plane> {
  const { data: around } = yield* blurSteps(height, reachMm / 2 / mm.x, reachMm / 2 / mm.y);
  const out = makePlane(height.widthPx, height.heightPx);
  const [own, off] = [height.data, out.data];
  const faces = place === 'faces';
  const sign = place === 'hollows' ? -1 : 1;
  for (const { from, to } of spans(off.length)) {
    yield;
    for (let i = from; i < to; i++) {
      const above = own[i]! - around[i]!;
      off[i] = faces ? Math.abs(above) : Math.max(0, sign * above);
    }
  }
  const [most] = (yield* percentileSteps(off, [WHOLLY])) as [number];
  if (!(most > 1e-7)) off.fill(faces ? 1 : 0);
  else
    for (const { from, to } of spans(off.length)) {
      yield;
      for (let i = from; i < to; i++) {
        const t = Math.min(1, off[i]! / most);
        off[i] = faces ? 1 - t : t;
      }
    }
  return out;
}
