import { Link } from 'react-router';
import type { Recipe } from '@jossel/core/finish';
import type { PictureSource, SampleGeometry } from '@jossel/core/sources';
import type { Finish, Sample } from '../../../app/api';
import { useAppDispatch, useAppSelector } from '../../../app/store';
import { OneOf } from '../../../controls/basics';
import { benchSlice, type SampleTool } from '../../bench-slice';
import { PictureChoice } from './PictureChoice';
import { AreasPanel } from './AreasPanel';
import { ContinuityLinesPanel, KeepOutsPanel } from './MarksPanels';
import { PartsPanel } from './PartsPanel';
import { ReportPanel } from './ReportPanel';
import { SetPanel } from './SetPanel';
import { StraightenPanel } from './StraightenPanel';

const TOOLS: readonly { value: SampleTool; name: string }[] = [
  { value: 'report', name: 'report' },
  { value: 'frame', name: 'straighten' },
  { value: 'areas', name: 'pick' },
  { value: 'keep-outs', name: 'keep-outs' },
  { value: 'continuity-lines', name: 'continuity lines' },
  { value: 'parts', name: 'parts' },
  { value: 'set', name: 'maps' },
];

/** The sample: what it is good for, how it is straightened, picked apart and marked, and where it came from. */
export function SampleSection({
  finish,
  recipe,
  source,
  samples,
  sample,
  geometry,
}: {
  finish: Finish;
  recipe: Recipe;
  /** The picture in hand. */
  source: PictureSource | undefined;
  samples: readonly Sample[];
  sample: Sample | undefined;
  geometry: SampleGeometry | null;
}) {
  const tool = useAppSelector((s) => s.bench.tool);
  const dispatch = useAppDispatch();
  if (!sample || !source)
    return (
      <p>
        No picture yet. <Link to="/receiving">Bring one in</Link>.
      </p>
    );
  const shared = { recipe, source, sample, geometry };
  return (
    <>
      <PictureChoice recipe={recipe} samples={samples} value={source.id} />
      <OneOf
        label="What is done to the sample"
        value={tool}
        options={TOOLS}
        onChange={(value) => dispatch(benchSlice.actions.changed({ tool: value }))}
      />
      {tool === 'report' && <ReportPanel {...shared} />}
      {tool === 'frame' && <StraightenPanel {...shared} />}
      {tool === 'areas' && <AreasPanel {...shared} samples={samples} />}
      {tool === 'keep-outs' && <KeepOutsPanel {...shared} />}
      {tool === 'continuity-lines' && <ContinuityLinesPanel {...shared} />}
      {tool === 'parts' && <PartsPanel {...shared} />}
      {tool === 'set' && <SetPanel finish={finish} recipe={recipe} source={source} />}
    </>
  );
}
