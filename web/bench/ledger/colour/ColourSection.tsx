import { lazy, Suspense, useMemo } from 'react';
import styled from 'styled-components';
import { ciede2000, labToXyz, type Triple } from '@jossel/core/colour';
import type { PictureSource } from '@jossel/core/sources';
import type { Recipe } from '@jossel/core/finish';
import { printNumber } from '@jossel/core/units';
import type { Finish, Sample } from '../../../app/api';
import { useAppDispatch, useAppSelector } from '../../../app/store';
import { OneOf, Quiet, VisuallyHidden } from '../../../controls/basics';
import { benchSlice, type ColourTool } from '../../bench-slice';
import { useDebounced } from '../../../controls/use-debounced';
import type { Drawn } from '../../../workers/render.worker';
import type { Drawing } from '../../use-drawn';
import type { GlareSearch } from '../../use-glare';
import { HandPanel } from './HandPanel';
import { MatchPanel } from './MatchPanel';
import { WaysPanel } from './WaysPanel';

// Charts are large; they come when the section is opened.
const LightPanel = lazy(async () => ({ default: (await import('./LightPanel')).LightPanel }));
const BalancePanel = lazy(async () => ({ default: (await import('./BalancePanel')).BalancePanel }));
const ReflectanceChart = lazy(async () => ({ default: (await import('../charts')).ReflectanceChart }));
const ScatterOfColours = lazy(async () => ({ default: (await import('../charts')).ScatterOfColours }));

const TOOLS: readonly { value: ColourTool; name: string }[] = [
  { value: 'light', name: 'light' },
  { value: 'balance', name: 'balance' },
  { value: 'match', name: 'match' },
  { value: 'hand', name: 'hand' },
  { value: 'ways', name: 'colourways' },
];

const Readings = styled.table`
  width: 100%;
  th {
    text-align: right;
    font-weight: 400;
    color: ${({ theme }) => theme.quiet};
    padding: 2px 0 2px 8px;
  }
  th[scope='row'] {
    text-align: left;
    padding-left: 0;
  }
  td {
    text-align: right;
    padding: 2px 0 2px 8px;
  }
`;

/** Light and colour: from the light of the photograph to a colour that can be defended. */
export function ColourSection({
  finish,
  recipe,
  drawing,
  source,
  sample,
  sizeMm,
  glare,
}: {
  finish: Finish;
  recipe: Recipe;
  drawing: Drawing;
  /** The picture in hand: its light is taken out, and its balance found. */
  source: PictureSource | undefined;
  sample: Sample | undefined;
  sizeMm: { width: number; height: number } | null;
  glare: GlareSearch;
}) {
  const dispatch = useAppDispatch();
  const { colourTool, way } = useAppSelector((s) => s.bench);
  // What is generated was never in front of a lamp.
  const tools = recipe.generated
    ? TOOLS.filter(({ value }) => value !== 'light' && value !== 'balance')
    : TOOLS;
  const tool = tools.some(({ value }) => value === colourTool) ? colourTool : 'match';
  const { drawn } = drawing;
  const report = drawn?.report ?? null;
  const shownWay = recipe.colour.ways.find((w) => w.id === way);
  const target = shownWay?.target.lab ?? recipe.colour.colour?.lab ?? null;
  const targetLrv = shownWay
    ? 100 * labToXyz(shownWay.target.lab)[1]
    : (recipe.colour.lrv?.value ?? (target ? 100 * labToXyz(target)[1] : null));
  return (
    <>
      <OneOf
        label="What is done to light and colour"
        value={tool}
        options={tools}
        onChange={(value) => dispatch(benchSlice.actions.changed({ colourTool: value }))}
      />
      <Suspense fallback={<Quiet>Opening …</Quiet>}>
        {tool === 'light' && source && (
          <LightPanel recipe={recipe} source={source} report={report} glare={glare} />
        )}
        {tool === 'balance' && source && sample && (
          <BalancePanel recipe={recipe} source={source} sample={sample} report={report} />
        )}
      </Suspense>
      {tool === 'match' && (
        <MatchPanel finishId={finish.id} recipe={recipe} report={report} sample={sample} sizeMm={sizeMm} />
      )}
      {tool === 'hand' && <HandPanel recipe={recipe} report={report} />}
      {tool === 'ways' && <WaysPanel recipe={recipe} finishId={finish.id} />}
      {report && drawn && (
        <>
          <Readings aria-label="Readings">
            <thead>
              <tr>
                <th>
                  <VisuallyHidden>Reading of</VisuallyHidden>
                </th>
                <th>LRV</th>
                <th>L*</th>
                <th>a*</th>
                <th>b*</th>
                {target && <th>ΔE00</th>}
              </tr>
            </thead>
            <tbody>
              {(
                [
                  ['before the match', report.before],
                  [shownWay ? shownWay.name : 'the repeat', report],
                ] as const
              ).map(([name, r]) => (
                <tr key={name}>
                  <th scope="row">{name}</th>
                  <td>{printNumber(r.lrv, 1)}</td>
                  {r.meanLab.map((v, i) => (
                    <td key={i}>{printNumber(v, 1)}</td>
                  ))}
                  {target && <td>{printNumber(ciede2000(r.meanLab, target), 2)}</td>}
                </tr>
              ))}
            </tbody>
          </Readings>
          <Quiet>
            Reflectance: 1st percentile {printNumber(100 * report.luminance.p1, 1)} %, median{' '}
            {printNumber(100 * report.luminance.p50, 1)} %, 99th {printNumber(100 * report.luminance.p99, 1)}{' '}
            %{report.clipped.low > 0.0005 && `; ${printNumber(100 * report.clipped.low, 1)} % out of gamut`}.
          </Quiet>
          <Quiet style={{ fontSize: 12 }}>
            CIELAB for D65 and the 2° observer; LRV is the luminous reflectance Y of the same, mean of the
            diffuse reflectance over the repeat. Published values are often for the 10° observer with the
            gloss included (d/8): on saturated or glossy finishes they differ by some tenths to a few units.
          </Quiet>
          <Charts
            drawn={drawn}
            metal={recipe.response.base.kind === 'metal'}
            target={target}
            targetLrv={targetLrv}
          />
        </>
      )}
    </>
  );
}

/** Charts of the repeat's colours; they follow when nothing moves any more. */
function Charts({
  drawn,
  metal,
  target,
  targetLrv,
}: {
  drawn: Drawn;
  metal: boolean;
  target: Triple | null;
  targetLrv: number | null;
}) {
  const { histogram, scatter, report } = useDebounced(drawn);
  return useMemo(
    () => (
      <Suspense fallback={null}>
        <ReflectanceChart histogram={histogram} metal={metal} target={targetLrv} />
        <ScatterOfColours
          points={scatter}
          mean={[report.meanLab[1], report.meanLab[2]]}
          target={target ? [target[1], target[2]] : null}
        />
      </Suspense>
    ),
    [histogram, scatter, report, metal, target, targetLrv],
  );
}
