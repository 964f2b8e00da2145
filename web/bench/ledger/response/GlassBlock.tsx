import { lazy, Suspense } from 'react';
import styled from 'styled-components';
import { labToXyz, xyzToLinear } from '@jossel/core/colour';
import {
  laminateOf,
  type GlassReport,
  type GlassSettings,
  type Laminate,
  type ResponseSettings,
} from '@jossel/core/response';
import { figure, printNumber } from '@jossel/core/units';
import { Button, Quiet } from '../../../controls/basics';
import { FigureField } from '../../../controls/figure-field';
import { Block } from '../size/Block';
import type { ChangeResponse } from './change';
import { cssOf } from './FilmBlock';
import { HueAmounts } from './HueAmounts';

const GlassChart = lazy(async () => ({ default: (await import('../charts')).GlassChart }));

const Panes = styled.table`
  width: 100%;
  td,
  th {
    padding: 3px 8px 3px 0;
    text-align: right;
    font-weight: 400;
  }
  th:first-child,
  td:first-child {
    text-align: left;
  }
  thead th {
    color: ${({ theme }) => theme.quiet};
    border-bottom: 1px solid ${({ theme }) => theme.line};
  }
  i {
    display: inline-block;
    width: 34px;
    height: 14px;
    vertical-align: -2px;
    border: 1px solid ${({ theme }) => theme.strong};
  }
`;

const percent = (share: number, digits = 1) => printNumber(100 * share, digits);

/** Glass in panes: what is known of it, and what light passes, comes back and is missing in its shadow. */
export function GlassBlock({
  glass,
  report,
  change,
}: {
  glass: GlassSettings;
  report: GlassReport | null;
  change: ChangeResponse;
}) {
  const put = (what: string, next: Partial<GlassSettings>) =>
    change(`glass ${what}`, { base: { ...glass, ...next } } satisfies Partial<ResponseSettings>);
  return (
    <Block>
      <GlassFields thickness="Thickness of the pane" glass={glass} put={put} />
      <LaminateFields glass={glass} put={put} />
      <Haze glass={glass} put={put} roughness={report?.roughness ?? 0} />
      {report && <Through report={report} />}
    </Block>
  );
}

type Layer = Laminate['second'];

/** Figures of one glass. */
function GlassFields({
  thickness,
  glass,
  put,
}: {
  /** Label of the thickness. */
  thickness: string;
  glass: Layer;
  put: (what: string, next: Partial<Layer>) => void;
}) {
  return (
    <>
      <FigureField
        label={thickness}
        figure={glass.thicknessMm}
        unit="mm"
        min={0.1}
        max={200}
        digits={1}
        onChange={(thicknessMm) => put('thickness', { thicknessMm })}
      />
      <FigureField
        label="Light transmittance"
        figure={glass.lightPercent}
        unit="%"
        min={0.1}
        max={100}
        digits={1}
        onChange={(lightPercent) => put('transmittance', { lightPercent })}
      />
      <FigureField
        label="given for a thickness of"
        figure={glass.ofThicknessMm}
        unit="mm"
        min={0.1}
        max={200}
        digits={1}
        onChange={(ofThicknessMm) => put('given thickness', { ofThicknessMm })}
      />
      <HueAmounts hue={glass.tint} onChange={(tint) => put('hue', { tint })} />
    </>
  );
}

/** A second glass behind an interlayer. */
function LaminateFields({
  glass,
  put,
}: {
  glass: GlassSettings;
  put: (what: string, next: Partial<GlassSettings>) => void;
}) {
  const { laminate } = glass;
  if (!laminate)
    return (
      <div>
        <Button onPress={() => put('laminate', { laminate: laminateOf(glass) })}>
          Laminate a second glass
        </Button>
      </div>
    );
  const set = (what: string, next: Partial<Laminate>) =>
    put(`laminate ${what}`, { laminate: { ...laminate, ...next } });
  return (
    <section aria-label="Second glass" style={{ display: 'grid', gap: 8 }}>
      <h3>Second glass</h3>
      <GlassFields
        thickness="Thickness"
        glass={laminate.second}
        put={(what, next) => set(what, { second: { ...laminate.second, ...next } })}
      />
      <FigureField
        label="Thickness of the interlayer"
        figure={laminate.interlayerMm}
        unit="mm"
        min={0.01}
        max={20}
        digits={2}
        onChange={(interlayerMm) => set('interlayer', { interlayerMm })}
      />
      <FigureField
        label="Its transmittance"
        figure={laminate.interlayerPercent}
        unit="%"
        min={0.1}
        max={100}
        digits={1}
        onChange={(interlayerPercent) => set('interlayer transmittance', { interlayerPercent })}
      />
      <div>
        <Button onPress={() => put('without laminate', { laminate: undefined })}>
          Remove the second glass
        </Button>
      </div>
    </section>
  );
}

function Haze({
  glass,
  put,
  roughness,
}: {
  glass: GlassSettings;
  put: (what: string, next: Partial<GlassSettings>) => void;
  roughness: number;
}) {
  if (!glass.hazePercent)
    return (
      <div>
        <Button onPress={() => put('satin', { hazePercent: figure(80, '%', 'assumed') })}>
          One side is satin
        </Button>
      </div>
    );
  return (
    <>
      <FigureField
        label="Haze"
        figure={glass.hazePercent}
        unit="%"
        min={0}
        max={100}
        digits={0}
        onChange={(hazePercent) => put('haze', { hazePercent })}
      />
      <Quiet>
        The share of the light that leaves more than 2.5° off its way, as ASTM D1003 counts it: roughness{' '}
        {printNumber(roughness, 3)} of the satin side.
      </Quiet>
      <div>
        <Button onPress={() => put('clear', { hazePercent: undefined })}>Both sides are clear</Button>
      </div>
    </>
  );
}

/** What passes, what comes back, the same glass in other panes, and its shadow. */
function Through({ report }: { report: GlassReport }) {
  const { shadow } = report;
  return (
    <>
      <Panes>
        <thead>
          <tr>
            <th>Pane</th>
            <th>transmitted</th>
            <th>reflected</th>
            <th>seen through</th>
          </tr>
        </thead>
        <tbody>
          {report.panes.map(({ name, transmitted, reflected, lab }) => (
            <tr key={name}>
              <td>{name}</td>
              <td>{percent(transmitted)} %</td>
              <td>{percent(reflected)} %</td>
              <td>
                <i style={{ background: cssOf(xyzToLinear(labToXyz(lab))) }} />
              </td>
            </tr>
          ))}
        </tbody>
      </Panes>
      <Suspense fallback={null}>
        <GlassChart angles={report.angles} />
      </Suspense>
      <Quiet>
        Its shadow is dark by {shadow.at.map(([deg, dark]) => `${percent(dark, 0)} % at ${deg}°`).join(', ')}.
        A curve through these three, for receivers that do not trace it, is off by at most{' '}
        {percent(shadow.offAtMost)} %.
      </Quiet>
    </>
  );
}
