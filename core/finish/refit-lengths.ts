import { isBanded, type JointsContribution } from '../relief';
import { JOINT_WIDTHS } from '../pieces';
import { jointLengths, lengthsFor } from './default-recipe';
import type { Recipe } from './recipe';

/**
 * A recipe whose size has become known, or another: lengths that nobody has touched since it began are set anew for the
 * new size; all others stay as they were typed.
 * @param recipe with its new size
 * @param before size of the used part that the lengths were made for
 * @param after its size now
 */
export function refitLengths(
  recipe: Recipe,
  before: { width: number; height: number },
  after: { width: number; height: number },
): Recipe {
  const [was, now] = [lengthsFor(before), lengthsFor(after)];
  const fit = (value: number, key: keyof typeof was) => (value === was[key] ? now[key] : value);
  const { repeat, relief } = recipe;
  return {
    ...recipe,
    repeat: {
      ...repeat,
      across: { ...repeat.across, overlapMm: fit(repeat.across.overlapMm, 'overlapAcrossMm') },
      up: { ...repeat.up, overlapMm: fit(repeat.up.overlapMm, 'overlapUpMm') },
    },
    relief: {
      ...relief,
      contributions: relief.contributions.map((c) =>
        c.kind === 'joints'
          ? { ...c, ...refitJoints(c, before, after) }
          : isBanded(c)
            ? {
                ...c,
                broadFromMm: fit(c.broadFromMm, 'broadFromMm'),
                fineBelowMm: fit(c.fineBelowMm, 'fineBelowMm'),
              }
            : c,
      ),
    },
  };
}

function refitJoints(
  { widestMm, edgeMm }: JointsContribution,
  before: { width: number; height: number },
  after: { width: number; height: number },
): { widestMm: number; edgeMm: number } {
  const [was, now] = [before, after].map(({ width, height }) => Math.min(width, height)) as [number, number];
  for (const share of JOINT_WIDTHS) {
    const old = jointLengths(share, was);
    if (old.widestMm === widestMm && old.edgeMm === edgeMm) return jointLengths(share, now);
  }
  return { widestMm, edgeMm };
}
