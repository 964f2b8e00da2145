import { bondOf, type LaidReport, type LayoutSettings } from '@jossel/core/layout';
import { printNumber } from '@jossel/core/units';
import { Button, Quiet, Row } from '../../../controls/basics';
import { FigureField } from '../../../controls/figure-field';
import { Block } from '../size/Block';
import type { PanelProps } from './panel-props';

/** Size of a piece, and the sizes by which the bond closes. */
export function PieceBlock({ layout, change, report }: PanelProps & { report: LaidReport | null }) {
  const { piece, bond } = layout;
  const { sized } = bondOf(bond.kind);
  const put = (what: string, part: Partial<LayoutSettings['piece']>) =>
    change(what, { piece: { ...piece, ...part } });
  const closes =
    report &&
    Math.abs(report.laid.lengthMm - piece.lengthMm.value) +
      Math.abs(report.laid.widthMm - piece.widthMm.value) <
      0.005;
  const others = closes ? [] : (report?.closing.slice(1) ?? []);
  return (
    <Block>
      <h3>Piece</h3>
      {sized === 'both' && (
        <FigureField
          label="Length of a piece"
          figure={piece.lengthMm}
          unit="mm"
          min={1}
          max={100000}
          onChange={(lengthMm) => put('length', { lengthMm })}
        />
      )}
      <FigureField
        label="Width of a piece"
        figure={piece.widthMm}
        unit="mm"
        min={1}
        max={100000}
        onChange={(widthMm) => put('width', { widthMm })}
      />
      {report && others.length > 0 && (
        <Row $gap={4}>
          <Quiet>
            Laid {printNumber(report.laid.lengthMm, 1)} × {printNumber(report.laid.widthMm, 1)}; also closes
            with
          </Quiet>
          {others.map(({ lengthMm, widthMm }) => (
            <Button
              key={`${lengthMm} ${widthMm}`}
              onPress={() =>
                put('closing', {
                  lengthMm: { ...piece.lengthMm, value: Number(lengthMm.toFixed(3)) },
                  widthMm: { ...piece.widthMm, value: Number(widthMm.toFixed(3)) },
                })
              }
            >
              {printNumber(lengthMm, 1)} × {printNumber(widthMm, 1)}
            </Button>
          ))}
        </Row>
      )}
    </Block>
  );
}
