import { lazy, Suspense } from 'react';
import styled from 'styled-components';
import type { Recipe } from '@jossel/core/finish';
import { printNumber, type Figure } from '@jossel/core/units';
import type { Sample } from '../../app/api';
import { Quiet, Unseen } from '../../controls/basics';
import { FigureField } from '../../controls/fields';
import type { Drawn } from '../../workers/render.worker';
import { MeterButton } from './MeterButton';
import { useChange } from './use-change';

const ReflectanceChart = lazy(async () => ({
  default: (await import('./ReflectanceChart')).ReflectanceChart,
}));

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

/** Reflectance: what is asked, what the sample and the repeat measure, and whether it is plausible. */
export function ColourSection({
  recipe,
  drawn,
  sample,
  sizeMm,
}: {
  recipe: Recipe;
  drawn: Drawn | null;
  sample: Sample | undefined;
  sizeMm: { width: number; height: number } | null;
}) {
  const change = useChange(recipe, 'colour');
  const report = drawn?.report;
  return (
    <>
      <FigureField
        label="Light reflectance value"
        figure={recipe.colour.lrv}
        unit="LRV"
        min={0.1}
        max={100}
        digits={1}
        ifNew="published"
        onChange={(lrv) => change('lrv', { lrv })}
        onClear={() => change('lrv', { lrv: null })}
      />
      <MeterButton
        kind="reflectance"
        sample={sample}
        sizeMm={sizeMm}
        onFigure={(f) => change('lrv', { lrv: f as Figure<'LRV'> })}
      />
      {!recipe.colour.lrv && <Quiet>Empty: the picture’s own reflectance is used.</Quiet>}
      {report && (
        <>
          <Readings>
            <thead>
              <tr>
                <th>
                  <Unseen>Reading of</Unseen>
                </th>
                <th>LRV</th>
                <th>L*</th>
                <th>a*</th>
                <th>b*</th>
              </tr>
            </thead>
            <tbody>
              {(
                [
                  ['sample', report.before],
                  ['repeat', report],
                ] as const
              ).map(([name, r]) => (
                <tr key={name}>
                  <th scope="row">{name}</th>
                  <td>{printNumber(r.lrv, 1)}</td>
                  {r.meanLab.map((v, i) => (
                    <td key={i}>{printNumber(v, 1)}</td>
                  ))}
                </tr>
              ))}
            </tbody>
          </Readings>
          <Quiet>
            Factor {printNumber(report.factor, 3)} in linear light.{' '}
            {report.clipped.high > 0.0005
              ? `${printNumber(report.clipped.high * 100, 1)} % is clipped at white.`
              : 'Nothing is clipped at white.'}
          </Quiet>
          <Suspense fallback={null}>
            <ReflectanceChart histogram={drawn.histogram} metal={recipe.response.metal} />
          </Suspense>
        </>
      )}
    </>
  );
}
