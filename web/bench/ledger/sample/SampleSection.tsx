import { Link } from 'react-router';
import type { Recipe, SampleGeometry } from '@jossel/core/finish';
import type { Finish, Sample } from '../../../app/api';
import { useAppDispatch, useAppSelector } from '../../../app/store';
import { OneOf } from '../../../controls/basics';
import { benchSlice, type SampleTool } from '../../bench-slice';
import { AreasPanel } from './AreasPanel';
import { HoldLinesPanel, KeepOutsPanel } from './MarksPanels';
import { PartsPanel } from './PartsPanel';
import { ReportPanel } from './ReportPanel';
import { SetPanel } from './SetPanel';
import { StraightenPanel } from './StraightenPanel';

const TOOLS: readonly { value: SampleTool; name: string }[] = [
  { value: 'report', name: 'report' },
  { value: 'frame', name: 'straighten' },
  { value: 'areas', name: 'pick' },
  { value: 'keep-outs', name: 'keep-outs' },
  { value: 'hold-lines', name: 'hold lines' },
  { value: 'parts', name: 'parts' },
  { value: 'set', name: 'maps' },
];

/** The sample: what it is good for, how it is straightened, picked apart and marked, and where it came from. */
export function SampleSection({
  finish,
  recipe,
  sample,
  geometry,
}: {
  finish: Finish;
  recipe: Recipe;
  sample: Sample | undefined;
  geometry: SampleGeometry | null;
}) {
  const tool = useAppSelector((s) => s.bench.tool);
  const dispatch = useAppDispatch();
  if (!sample)
    return (
      <p>
        No picture yet. <Link to="/receiving">Bring one in</Link>.
      </p>
    );
  const shared = { recipe, sample, geometry };
  return (
    <>
      <OneOf
        label="What is done to the sample"
        value={tool}
        options={TOOLS}
        onChange={(value) => dispatch(benchSlice.actions.changed({ tool: value }))}
      />
      {tool === 'report' && <ReportPanel {...shared} />}
      {tool === 'frame' && <StraightenPanel {...shared} />}
      {tool === 'areas' && <AreasPanel {...shared} />}
      {tool === 'keep-outs' && <KeepOutsPanel {...shared} />}
      {tool === 'hold-lines' && <HoldLinesPanel {...shared} />}
      {tool === 'parts' && <PartsPanel {...shared} />}
      {tool === 'set' && <SetPanel finish={finish} recipe={recipe} />}
    </>
  );
}

export interface PanelProps {
  recipe: Recipe;
  sample: Sample;
  geometry: SampleGeometry | null;
}
