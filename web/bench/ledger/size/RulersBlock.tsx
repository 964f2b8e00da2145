import { sizeOfLines, type RulerLine } from '@jossel/core/size';
import type { Frame } from '@jossel/core/straighten';
import { printNumber } from '@jossel/core/units';
import { useAppDispatch, useAppSelector } from '../../../app/store';
import { Button, Quiet } from '../../../controls/basics';
import { FigureField } from '../../../controls/figure-field';
import { benchSlice } from '../../bench-slice';
import { Block } from './Block';

/** Ruler lines drawn on the plate: their lengths, and how well they agree. */
export function RulersBlock({
  lines,
  frame,
  onLines,
}: {
  lines: readonly RulerLine[];
  frame: Frame | null;
  onLines: (what: string, lines: RulerLine[]) => void;
}) {
  const dispatch = useAppDispatch();
  const { drawing, selected } = useAppSelector((s) => s.bench);
  const residuals = frame && lines.length > 1 ? sizeOfLines(lines, frame).residuals : [];
  return (
    <Block aria-label="Ruler lines">
      <h3>Ruler lines</h3>
      {lines.map((line, n) => (
        <div
          key={line.id}
          style={{ display: 'grid', gap: 4 }}
          onFocus={() => selected !== line.id && dispatch(benchSlice.actions.changed({ selected: line.id }))}
        >
          <FigureField
            label={`Length of line ${n + 1}`}
            figure={line.lengthMm}
            unit="mm"
            min={0.001}
            max={1e6}
            onChange={(lengthMm) =>
              onLines(
                `ruler length ${line.id}`,
                lines.map((l) => (l.id === line.id ? { ...l, lengthMm } : l)),
              )
            }
          />
          <div className="ends">
            <Quiet>
              {residuals[n] !== undefined &&
                `off the best fit by ${printNumber(100 * Math.abs(residuals[n]), 2)} %`}
            </Quiet>
            <Button
              weight="quiet"
              onPress={() =>
                onLines(
                  'ruler line taken out',
                  lines.filter((l) => l.id !== line.id),
                )
              }
            >
              Remove line {n + 1}
            </Button>
          </div>
        </div>
      ))}
      <Button
        onPress={() =>
          dispatch(benchSlice.actions.changed({ drawing: drawing === 'ruler' ? null : 'ruler' }))
        }
        aria-pressed={drawing === 'ruler'}
      >
        {drawing === 'ruler' ? 'Draw it on the plate now' : 'Draw a ruler line'}
      </Button>
    </Block>
  );
}
