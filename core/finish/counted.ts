import { withCounted, type CountedPeriods } from '../repeat';
import { NO_STRUCTURE, type FoundStructure } from '../size';
import type { PictureSource, SampleGeometry } from '../sources';
import type { PictureShape } from '../straighten';
import { leadGeometry } from './geometry';
import { leadingPicture, type Recipe } from './recipe';

/** Counted modules: what somebody counted is better known than what was detected, so the repeat keeps to it. */

const AXES = ['across', 'up'] as const;

/** Periods of the counted modules of a picture, in shares of its frame; one module alone is no period. */
export function countedPeriods(
  { size }: Pick<PictureSource, 'size'>,
  geometry: Pick<SampleGeometry, 'size'>,
): CountedPeriods {
  const period = (axis: 'across' | 'up') => {
    const count = size?.count[axis];
    const { mm } = geometry.size[axis === 'across' ? 'width' : 'height'];
    return count && count.modules > 1 ? (count.moduleMm.value + count.jointMm) / mm : null;
  };
  return { across: period('across'), up: period('up') };
}

/** The structure of a repeat as if it had just been found. */
function asFound({ repeat: { structure } }: Recipe): FoundStructure {
  const found = (axis: 'across' | 'up') =>
    structure[axis] && { ...structure[axis], count: 1 / structure[axis].period, confidence: 1 };
  return {
    ...NO_STRUCTURE,
    across: found('across'),
    up: found('up'),
    stagger: structure.stagger,
  };
}

/**
 * A recipe after its count was changed: where its repeat keeps to a structure, it keeps to the counted modules on that
 * axis from now on.
 * @param before the recipe as it was
 * @param after the same with another count
 * @param sample the leading picture
 */
export function keptToCount(before: Recipe, after: Recipe, sample: PictureShape): Recipe {
  const [was, is] = [leadingPicture(before), leadingPicture(after)];
  if (!was || !is) return after;
  const typed = countedPeriods(is, leadGeometry(after, sample));
  const changed = AXES.filter(
    (axis) =>
      typed[axis] &&
      after.repeat.structure[axis] &&
      JSON.stringify(was.size?.count[axis]) !== JSON.stringify(is.size?.count[axis]),
  );
  if (changed.length === 0) return after;
  const only = (axis: 'across' | 'up') => (changed.includes(axis) ? typed[axis] : null);
  const { structure } = withCounted(asFound(after), { across: only('across'), up: only('up') });
  const kept = (axis: 'across' | 'up') =>
    structure[axis] && { period: Math.min(1, structure[axis].period), first: structure[axis].first };
  return {
    ...after,
    repeat: {
      ...after.repeat,
      structure: { across: kept('across'), up: kept('up'), stagger: structure.stagger ?? 0 },
    },
  };
}
