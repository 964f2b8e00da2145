import type { Recipe } from '@jossel/core/finish';
import { usedContributions } from '@jossel/core/relief';
import type { Figure } from '@jossel/core/units';

/** What a depth that is known is put down to: a contribution by its id, or the joint of the layout. */
export const LAYOUT_JOINT = 'layout-joint';
const MOST_MM = 1000;

/** What a depth drawn across something may be due to, the likeliest first. */
export function causesOfDepth(recipe: Recipe): { value: string; name: string }[] {
  const rank = { joints: 0, part: 1, measured: 2, map: 3, picture: 4, profile: 5, generated: 6 } as const;
  const own = usedContributions(recipe.relief)
    .map((c) => ({ value: c.id, name: c.name, rank: rank[c.kind] }))
    .sort((a, b) => a.rank - b.rank);
  const joint = recipe.layout ? [{ value: LAYOUT_JOINT, name: 'Joint of the layout' }] : [];
  return [...joint, ...own.map(({ value, name }) => ({ value, name }))];
}

/**
 * A recipe in which a depth that was drawn across the section is what it is known to be. Joints and parts are as deep as they
 * are drawn, so theirs changes by the difference; all else is scaled.
 * @param shownMm depth that the relief has there
 * @param knownMm depth that it has in reality
 */
export function withKnownDepth(recipe: Recipe, cause: string, shownMm: number, knownMm: number): Recipe {
  const known = (figure: Figure<'mm'>, byDifference: boolean): Figure<'mm'> => {
    const mm = byDifference
      ? figure.value + knownMm - Math.abs(shownMm)
      : (figure.value * knownMm) / Math.max(1e-6, Math.abs(shownMm));
    return {
      ...figure,
      value: Math.round(Math.min(MOST_MM, Math.max(0, mm)) * 1000) / 1000,
      basis: 'measured',
      note: 'From a known depth in the section',
    };
  };
  if (cause === LAYOUT_JOINT && recipe.layout) {
    const { joint } = recipe.layout;
    return {
      ...recipe,
      layout: { ...recipe.layout, joint: { ...joint, depthMm: known(joint.depthMm, true) } },
    };
  }
  return {
    ...recipe,
    relief: {
      ...recipe.relief,
      contributions: recipe.relief.contributions.map((c) =>
        c.id === cause ? { ...c, depthMm: known(c.depthMm, c.kind === 'joints' || c.kind === 'part') } : c,
      ),
    },
  };
}
