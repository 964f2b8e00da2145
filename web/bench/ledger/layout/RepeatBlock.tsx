import type { LaidReport, LayoutSettings } from '@jossel/core/layout';
import { printArea } from '@jossel/core/units';
import { useAppDispatch, useAppSelector } from '../../../app/store';
import { Button, OneOf, OnOff, Quiet, Row } from '../../../controls/basics';
import { NumberField } from '../../../controls/fields';
import { benchSlice } from '../../bench-slice';
import { Block } from '../size/Block';
import type { PanelProps } from './panel-props';

/** Size of the repeat that is wanted, what it closes at, and which way it is laid. */
export function RepeatBlock({ layout, change, report }: PanelProps & { report: LaidReport | null }) {
  const units = useAppSelector((s) => s.settings.units);
  const hatch = useAppSelector((s) => s.bench.hatch);
  const dispatch = useAppDispatch();
  const { repeatMm, turnedDeg, seed } = layout;
  return (
    <Block>
      <h3>Repeat of the layout</h3>
      <div className="three">
        <NumberField
          label="Width, about"
          unit="mm"
          value={repeatMm.width}
          min={1}
          max={1000000}
          digits={0}
          onChange={(width) => change('repeat', { repeatMm: { ...repeatMm, width } })}
        />
        <NumberField
          label="Height, about"
          unit="mm"
          value={repeatMm.height}
          min={1}
          max={1000000}
          digits={0}
          onChange={(height) => change('repeat', { repeatMm: { ...repeatMm, height } })}
        />
      </div>
      {report && (
        <Quiet>
          Closes at {printArea(report.repeatMm, units)}: {report.pieces} pieces
          {report.courses > 1 && ` in ${report.courses} courses`}
        </Quiet>
      )}
      <Row>
        <OneOf
          label="Direction of laying"
          value={turnedDeg}
          options={[
            { value: 0, name: 'level' },
            { value: 90, name: 'upright' },
            { value: 45, name: '45°' },
            { value: 135, name: '135°' },
          ]}
          onChange={(deg) => change('turn', { turnedDeg: deg as LayoutSettings['turnedDeg'] })}
        />
        <OnOff
          name="lines on the plate"
          value={hatch}
          onChange={(on) => dispatch(benchSlice.actions.changed({ hatch: on }))}
        />
        <Button onPress={() => change('arrangement', { seed: (seed % 9999) + 1 })}>Rearrange</Button>
      </Row>
    </Block>
  );
}
