import type { Recipe } from '@jossel/core/finish';
import type { RepeatPlan, RepeatSettings } from '@jossel/core/repeat';
import type { ResolvedSize } from '@jossel/core/size';
import { printLength, printNumber } from '@jossel/core/units';
import { useAppSelector } from '../../../app/store';
import { Button, Quiet, Row } from '../../../controls/basics';
import type { StructureSearch } from '../../use-structure';

/** The regular structure copies stay in step with, and what was found of it. */
export function StructureBlock({
  recipe,
  plan,
  size,
  search,
  change,
}: {
  recipe: Recipe;
  plan: RepeatPlan | null;
  size: ResolvedSize | null;
  search: StructureSearch;
  change: (what: string, part: Partial<RepeatSettings>) => void;
}) {
  const units = useAppSelector((s) => s.settings.units);
  const { structure } = recipe.repeat;
  const { found, busy } = search;
  const lengths = size && { across: size.width.mm, up: size.height.mm };
  const words = (periods: RepeatSettings['structure'] | null) => {
    if (!lengths || !periods) return '';
    return (['across', 'up'] as const)
      .flatMap((axis) => {
        const p = periods[axis];
        return p ? `${printLength(p.period * lengths[axis], units, 1)} ${axis}` : [];
      })
      .join(', ');
  };
  // Lengths as the copies keep to them: those of a counted module are known better than a found period.
  const pitch = plan?.pitchMm;
  const kept = (['across', 'up'] as const)
    .flatMap((axis) => (pitch?.[axis] ? `${printLength(pitch[axis], units, 1)} ${axis}` : []))
    .join(', ');
  const held = structure.across !== null || structure.up !== null;
  const offered = found && {
    across: found.across && { period: found.across.period, first: found.across.first },
    up: found.up && { period: found.up.period, first: found.up.first },
    stagger: found.stagger ?? 0,
  };
  const offer = words(offered);
  return (
    <>
      <Quiet role="status">
        {kept && held
          ? `Keeps to a structure of ${kept}.`
          : kept
            ? `Keeps to the counted modules of ${kept}.`
            : busy
              ? 'Looking for a structure …'
              : offer
                ? `A structure of ${offer} was found; the repeat does not keep to it yet.`
                : found
                  ? `No regular structure was found: confidence ${printNumber(100 * found.confidence.across, 0)} % across, ${printNumber(100 * found.confidence.up, 0)} % up.`
                  : ''}
      </Quiet>
      {(held || offer) && (
        <Row>
          {offered && offer && !held && (
            <Button onPress={() => change('structure', { structure: offered })}>Keep to the structure</Button>
          )}
          {held && (
            <Button
              weight="quiet"
              onPress={() => change('structure', { structure: { across: null, up: null, stagger: 0 } })}
            >
              Let go of the structure
            </Button>
          )}
        </Row>
      )}
    </>
  );
}
