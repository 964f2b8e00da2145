import type { Recipe } from '@jossel/core/finish';
import type { PiecesJudged, RepeatPlan } from '@jossel/core/repeat';
import type { ResolvedSize } from '@jossel/core/size';
import type { Sample } from '../../../app/api';
import { useAppDispatch, useAppSelector } from '../../../app/store';
import { OneOf } from '../../../controls/basics';
import type { DrawnOf } from '../../use-drawn';
import { benchSlice, type RepeatTool } from '../../bench-slice';
import type { RepetitionSearch } from '../../use-repetition';
import type { StructureSearch } from '../../use-structure';
import { AnewPanel } from './AnewPanel';
import { RepetitionPanel } from './RepetitionPanel';
import { SourcesPanel } from './SourcesPanel';
import { WayPanel } from './WayPanel';

const TOOLS: readonly { value: RepeatTool; name: string }[] = [
  { value: 'way', name: 'method' },
  { value: 'sources', name: 'made from' },
  { value: 'repetition', name: 'telltales' },
  { value: 'anew', name: 're-lay' },
];

/** How the sample becomes a repeat: the way, what it is made from, what gives the repetition away, what is laid anew. */
export function RepeatSection({
  recipe,
  samples,
  plan,
  size,
  drawn,
  search,
  repetition,
  pieces,
}: {
  recipe: Recipe;
  samples: readonly Sample[];
  plan: RepeatPlan | null;
  /** Size of the picture that leads the repeat. */
  size: ResolvedSize | null;
  drawn: DrawnOf | null;
  search: StructureSearch;
  repetition: RepetitionSearch;
  pieces: PiecesJudged | null;
}) {
  const tool = useAppSelector((s) => s.bench.repeatTool);
  const dispatch = useAppDispatch();
  return (
    <>
      <OneOf
        label="What is done to the repeat"
        value={tool}
        options={TOOLS}
        onChange={(value) => dispatch(benchSlice.actions.changed({ repeatTool: value }))}
      />
      {tool === 'way' && (
        <WayPanel
          recipe={recipe}
          plan={plan}
          size={size}
          samples={samples}
          drawn={drawn}
          search={search}
          pieces={pieces}
        />
      )}
      {tool === 'sources' && <SourcesPanel recipe={recipe} samples={samples} drawn={drawn} />}
      {tool === 'repetition' && <RepetitionPanel recipe={recipe} drawn={drawn} repetition={repetition} />}
      {tool === 'anew' && <AnewPanel recipe={recipe} />}
    </>
  );
}
