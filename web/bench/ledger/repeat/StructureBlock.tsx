import { countedPeriods, leadingPicture, type Recipe } from '@jossel/core/finish';
import {
  structureToKeep,
  wholeBonds,
  withCounted,
  type RepeatPlan,
  type RepeatSettings,
} from '@jossel/core/repeat';
import type { ResolvedSize } from '@jossel/core/size';
import { printLength } from '@jossel/core/units';
import { useAppSelector } from '../../../app/store';
import { Button, Quiet, Row } from '../../../controls/basics';
import { notFoundWords } from '../../not-found-words';
import type { StructureSearch } from '../../use-structure';

type Structure = RepeatSettings['structure'];
const AXES = ['across', 'up'] as const;
const NONE: Structure = { across: null, up: null, stagger: 0 };

/** The regular structure the repeat keeps to: counted or detected, with its periods halved or doubled at a press. */
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
  const lead = leadingPicture(recipe);
  const { found } = search;
  const counted = lead && size ? countedPeriods(lead, { size }) : { across: null, up: null };
  const known = found && withCounted(found, counted);
  const kept = known && structureToKeep(known.structure);
  // Edges do not go along with a bond as copies do.
  const offered = kept && (recipe.repeat.method === 'edges' ? wholeBonds(kept) : kept);
  const held = structure.across !== null || structure.up !== null;
  const lengths = size && { across: size.width.mm, up: size.height.mm };
  const offer =
    lengths && offered
      ? AXES.flatMap((axis) => {
          const p = offered[axis];
          return p ? `${printLength(p.period * lengths[axis], units, 1)} ${axis}` : [];
        }).join(', ')
      : '';
  return (
    <>
      <Quiet role="status">{words(plan, held, search, offer, (mm) => printLength(mm, units, 1))}</Quiet>
      {known?.differs.map((sentence) => (
        <p key={sentence} role="note">
          {sentence}
        </p>
      ))}
      {held &&
        plan &&
        AXES.map(
          (axis) =>
            structure[axis] && (
              <Period
                key={axis}
                axis={axis}
                structure={structure}
                periods={plan[axis].modules}
                mm={plan.pitchMm[axis] ?? 0}
                change={change}
              />
            ),
        )}
      {(held || offer) && (
        <Row>
          {offered && offer && !held && (
            <Button onPress={() => change('structure', { structure: offered })}>Keep to the structure</Button>
          )}
          {held && (
            <Button weight="quiet" onPress={() => change('structure', { structure: NONE })}>
              Ignore the structure
            </Button>
          )}
        </Row>
      )}
    </>
  );
}

function words(
  plan: RepeatPlan | null,
  held: boolean,
  { found, busy }: StructureSearch,
  offer: string,
  mm: (v: number) => string,
): string {
  const kept = AXES.flatMap((axis) => {
    const pitch = plan?.pitchMm[axis];
    return pitch ? `${mm(pitch)} ${axis}` : [];
  }).join(', ');
  if (kept) return held ? `Keeps to a structure of ${kept}.` : `Keeps to the counted modules of ${kept}.`;
  if (busy) return 'Looking for a structure …';
  if (offer) return `A structure of ${offer} was found; the repeat does not keep to it yet.`;
  return found ? notFoundWords(found.refused) : '';
}

/** One period of the structure, which a press halves or doubles. */
function Period({
  axis,
  structure,
  periods,
  mm,
  change,
}: {
  axis: 'across' | 'up';
  structure: Structure;
  periods: number | undefined;
  mm: number;
  change: (what: string, part: Partial<RepeatSettings>) => void;
}) {
  const units = useAppSelector((s) => s.settings.units);
  const now = structure[axis]!;
  function scaled(times: number) {
    const period = Math.min(1, now.period * times);
    // A shift is one in periods across, so that it goes along with them.
    const stagger = axis === 'across' ? (structure.stagger / times) % 1 : (structure.stagger * times) % 1;
    const next = { ...structure, stagger, [axis]: { period, first: now.first % period } };
    change(`period ${axis}`, { structure: next });
  }
  return (
    <Row $gap={6} aria-label={`Period ${axis}`} role="group">
      <span style={{ flex: 1 }}>
        Period {axis} {printLength(mm, units, 1)} <Quiet>{periods ? `× ${periods}` : ''}</Quiet>
      </span>
      <Button aria-label={`Halve the period ${axis}`} onPress={() => scaled(0.5)}>
        ÷ 2
      </Button>
      <Button
        aria-label={`Double the period ${axis}`}
        isDisabled={now.period * 2 > 1.0001}
        onPress={() => scaled(2)}
      >
        × 2
      </Button>
    </Row>
  );
}
