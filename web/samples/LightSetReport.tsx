import styled from 'styled-components';
import { anglesOf } from '@jossel/core/photometric';
import { printNumber } from '@jossel/core/units';
import { Fault } from '../app/Fault';
import { Quiet } from '../controls/basics';
import { lightSetApi } from './light-set-api';
import { LightPlan } from './LightPlan';

const Table = styled.table`
  width: 100%;
  border-collapse: collapse;
  font-size: 12px;
  font-variant-numeric: tabular-nums;
  th {
    text-align: right;
    font-weight: 400;
    color: ${({ theme }) => theme.quiet};
  }
  td {
    text-align: right;
    padding: 1px 0;
    border-top: 1px solid ${({ theme }) => theme.line};
  }
  th:first-child,
  td:first-child {
    text-align: left;
  }
`;
const Pictures = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: end;
  figure {
    margin: 0;
  }
  img {
    display: block;
    max-width: 110px;
    max-height: 130px;
    border: 1px solid ${({ theme }) => theme.line};
  }
  figcaption {
    font-size: 12px;
    color: ${({ theme }) => theme.quiet};
  }
`;

/** How well the pictures of a light set agree with what was measured from them: light by light, and over the picture. */
export function LightSetReport({ id }: { id: string }) {
  const { data, error } = lightSetApi.useLightSetQuery(id);
  if (!data) return error ? <Fault error={error} /> : <Quiet>Opening the light set …</Quiet>;
  const { lights, measured } = data;
  const doubted = (measured?.doubts ?? []).flatMap((text) => {
    const number = /^(?:Light|Picture) (\d+)/.exec(text)?.[1];
    return number ? [Number(number) - 1] : [];
  });
  return (
    <section aria-label="Light set" style={{ display: 'grid', gap: 8 }}>
      {measured?.doubts.map((text) => (
        <span key={text}>{text}</span>
      ))}
      <Pictures>
        <LightPlan lights={lights.map(({ light }) => light)} doubted={doubted} />
        {measured && (
          <figure>
            <img src={`/api/samples/${measured.confidenceId}/preview.jpg`} alt="Map of confidence" />
            <figcaption>confidence, white is sure</figcaption>
          </figure>
        )}
      </Pictures>
      <Table aria-label="Lights of the set">
        <thead>
          <tr>
            <th>light</th>
            <th>azimuth</th>
            <th>elevation</th>
            <th>gain</th>
            <th>residual</th>
            <th>used</th>
          </tr>
        </thead>
        <tbody>
          {lights.map(({ light, sampleId }, k) => {
            const { azimuthDeg, elevationDeg } = anglesOf(light);
            const found = measured?.lights[k];
            return (
              <tr key={sampleId}>
                <td>{k + 1}</td>
                <td>{printNumber(azimuthDeg, 0)}°</td>
                <td>{printNumber(elevationDeg, 0)}°</td>
                <td>{found ? `× ${found.gain.toFixed(2)}` : ''}</td>
                <td>{found ? `${(100 * found.residual).toFixed(1)} %` : ''}</td>
                <td>{found ? `${printNumber(100 * found.used, 0)} %` : ''}</td>
              </tr>
            );
          })}
        </tbody>
      </Table>
    </section>
  );
}
