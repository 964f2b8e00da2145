import { kindNames, type LaidReport, type LayoutSettings } from '@jossel/core/layout';
import { printNumber } from '@jossel/core/units';
import { Quiet, Row } from '../../../controls/basics';
import { Block } from '../size/Block';
import { FieldCount } from './FieldCount';

/** Quantities for estimates, and the line hatch as files. */
export function TakeOffBlock({
  finishId,
  layout,
  report,
}: {
  finishId: string;
  layout: LayoutSettings;
  report: LaidReport;
}) {
  const { piecesPerM2, jointMmPerM2, jointShare, shares, waste } = report.takeOff;
  const rows: [string, string][] = [
    ['Pieces', `${printNumber(piecesPerM2, 1)} per m²`],
    [
      'Joints',
      `${printNumber(jointMmPerM2 / 1000, 2)} m per m², ${printNumber(100 * jointShare, 1)} % of the area`,
    ],
    ['Waste of the pattern', `${printNumber(100 * Math.max(0, waste), 1)} %`],
    ...(shares.length > 1
      ? kindNames(layout).map((name, k): [string, string] => [
          k === 0 ? 'As the finish is' : name,
          `${printNumber(100 * shares[k]!, 1)} % of the pieces`,
        ])
      : []),
    ['Reflectance over all', `LRV ${printNumber(report.overall.lrv, 1)}`],
  ];
  const file = (format: 'svg' | 'dxf', detail: 'full' | 'simple') =>
    `/api/finishes/${finishId}/hatch.${format}?detail=${detail}`;
  return (
    <Block>
      <h3>Take-off and hatch</h3>
      <table aria-label="Take-off">
        <tbody>
          {rows.map(([name, value]) => (
            <tr key={name}>
              <td>{name}</td>
              <td>{value}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <FieldCount layout={layout} />
      <Row>
        <Quiet>Hatch of the saved draft</Quiet>
        <a href={file('svg', 'full')} download="hatch.svg">
          SVG
        </a>
        <a href={file('dxf', 'full')} download="hatch.dxf">
          DXF
        </a>
        <a href={file('svg', 'simple')} download="hatch-simple.svg">
          SVG, simple
        </a>
        <a href={file('dxf', 'simple')} download="hatch-simple.dxf">
          DXF, simple
        </a>
      </Row>
    </Block>
  );
}
