import { wholePower } from '../../exact';
import type { Cost } from '../../surface';
import { printNumber } from '../../units';
import type { Laying } from '../lay-pictures';
import type { RepeatPlan } from '../plan';
import { arrangementOf, type RepeatSettings } from '../settings';
import type { RepeatSource } from './places';
import { turnsOf, workingOf } from './solve-placement';
import { WORKING_PX } from './solved-repeat';

/**
 * What making a repeat costs. The factors are fitted to random recipes (`npm run bench random`) so that hardly any takes three
 * times as long as is estimated; one whose structure is plain may take a fifth.
 */

/**
 * @param inferred how many times finer detail than they have is made of the pictures
 * @param isSolved whether copies are laid and cut, or keep-outs filled
 */
export function costsOfRepeat(
  { plan, px, from }: Pick<Laying, 'plan' | 'px' | 'from'>,
  repeat: RepeatSettings,
  inferred: number,
  isSolved: boolean,
): Cost[] {
  return [
    costOfPlacing(px, from.length),
    ...(inferred > 1 ? [costOfEnlarging(from, inferred)] : []),
    ...(isSolved ? [costOfSolving(plan, repeat, from)] : []),
  ];
}

/** Laying pictures over the pixels of a repeat. */
const costOfPlacing = (px: { width: number; height: number }, pictures: number): Cost => ({
  what: `laying the picture over ${px.width} × ${px.height} px`,
  less: 'Make the repeat smaller',
  where: 'repeat',
  seconds: 0.2 + (pictures * px.width * px.height) / 1e6,
  bytes: 24 * px.width * px.height,
});

/** Making finer detail than the pictures have: they are doubled until it is reached. @param times how much finer */
function costOfEnlarging(from: readonly RepeatSource[], times: number): Cost {
  const doubled = wholePower(4, Math.ceil(Math.log2(times)));
  const pixels = from.reduce((sum, { usedMm, source: { size } }) => {
    return sum + usedMm.width * size.pxPerMm.x * usedMm.height * size.pxPerMm.y * doubled;
  }, 0);
  return {
    what: `making ${printNumber(times, 1)} times finer detail than the pictures have`,
    less: 'Enlarge their detail less',
    where: 'repeat.enlarged',
    seconds: (4 * pixels) / 1e6,
    bytes: 60 * pixels,
  };
}

const SOLVING_BYTES = 3e8;

/** Solving where copies lie and how they are cut, or filling what is kept out. */
function costOfSolving(plan: RepeatPlan, repeat: RepeatSettings, from: readonly RepeatSource[]): Cost {
  const { widthPx, heightPx, density } = workingSize(plan, repeat, from[0]!);
  const sourceMpx =
    from.reduce((sum, { laidMm: { width, height } }) => sum + width * height, 0) * density * 1e-6;
  // Joints of the sources are looked for, and copies that meet are evened out.
  const repeatMpx = (widthPx * heightPx) / 1e6;
  const cutting = 35 * sourceMpx + 8 * repeatMpx;
  if (plan.kind !== 'composed')
    return {
      what: 'cutting the sample where it shows least',
      less: 'Close the edges in another way',
      where: 'repeat',
      seconds: 0.5 + cutting,
      bytes: SOLVING_BYTES,
    };
  const turns = turnsOf(repeat.composed).length;
  const redone = arrangementOf(repeat).redone.length;
  const perSearch = 0.02 + 0.1 * turns * sourceMpx + 0.01 * repeatMpx;
  const again = redone * (cutting + 20 * perSearch);
  const searching = searchesOf(plan, repeat, from[0]!) * perSearch;
  return {
    what: 'composing the repeat',
    ...(again > cutting + searching
      ? { less: 'Lay fewer areas anew', where: 'repeat.arrangements' }
      : { less: 'Compose it of larger copies, or turn them less', where: 'repeat.composed.copyMm' }),
    seconds: 0.5 + cutting + searching + again,
    bytes: SOLVING_BYTES,
  };
}

/** Pixels at which it is solved, and pixels of its sources to a square millimetre. */
function workingSize(plan: RepeatPlan, repeat: RepeatSettings, lead: RepeatSource) {
  if (plan.kind === 'layered') {
    const { width, height } = lead.laidMm;
    const perMm = WORKING_PX / Math.max(width, height);
    return { widthPx: width * perMm, heightPx: height * perMm, density: perMm * perMm };
  }
  const { widthPx, heightPx, pxPerMm } = workingOf(lead, repeat.composed, plan);
  return { widthPx, heightPx, density: pxPerMm.x * pxPerMm.y };
}

/** How often the samples are searched for a place that fits: for every copy that is laid, and every one that is laid again. */
function searchesOf(
  plan: Extract<RepeatPlan, { kind: 'composed' }>,
  repeat: RepeatSettings,
  lead: RepeatSource,
): number {
  const { widthPx, heightPx, patchPx, pxPerMm } = workingOf(lead, repeat.composed, plan);
  // No copy is larger than the sample that it is cut from.
  const w = Math.max(2, Math.min(patchPx.w, lead.laidMm.width * pxPerMm.x));
  const h = Math.max(2, Math.min(patchPx.h, lead.laidMm.height * pxPerMm.y));
  const along = (px: number, patch: number) => Math.ceil(px / (0.62 * patch));
  return along(widthPx, w) * along(heightPx, h) + Math.min(160, 24 + (6 * widthPx * heightPx) / (w * h));
}
