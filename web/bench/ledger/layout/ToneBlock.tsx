import { SHADE_GRADES, type LayoutSettings, type ShadeGrade } from '@jossel/core/layout';
import { OnOff, Quiet, Row } from '../../../controls/basics';
import { NumberField } from '../../../controls/fields';
import { Block } from '../size/Block';
import type { PanelProps } from './panel-props';

const GRADES = Object.keys(SHADE_GRADES) as ShadeGrade[];

/** Shade variation between pieces, and how exactly they are laid. */
export function ToneBlock({ layout, change }: PanelProps) {
  const { shade, tolerance } = layout;
  const number = <K extends 'shade' | 'tolerance'>(
    of: K,
    key: keyof LayoutSettings[K] & string,
    label: string,
    unit: 'mm' | 'deg' | '×',
    max: number,
  ) => (
    <NumberField
      key={key}
      label={label}
      unit={unit}
      value={layout[of][key] as number}
      min={0}
      max={max}
      onChange={(v) => change(key, { [of]: { ...layout[of], [key]: v } })}
    />
  );
  const grade = GRADES.find((g) => SHADE_GRADES[g] === shade.lightness);
  return (
    <Block>
      <h3>Shade variation</h3>
      <Row $gap={4}>
        {['none', ...GRADES].map((name) => (
          <OnOff
            key={name}
            name={name}
            value={name === 'none' ? shade.lightness === 0 : name === grade}
            onChange={() =>
              change('grade', {
                shade: { ...shade, lightness: name === 'none' ? 0 : SHADE_GRADES[name as ShadeGrade] },
              })
            }
          />
        ))}
      </Row>
      <div className="three">
        {number('shade', 'lightness', 'Spread of L*', '×', 30)}
        {number('shade', 'chroma', 'Spread of C*', '×', 30)}
        {number('shade', 'hueDeg', 'Spread of hue', 'deg', 60)}
        {number('shade', 'drift', 'Drift of L*', '×', 30)}
      </div>
      <h3>Tolerances of laying</h3>
      <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 8 }}>
        {number('tolerance', 'lippageMm', 'Lippage', 'mm', 20)}
        {number('tolerance', 'tiltMm', 'Tilt, across a piece', 'mm', 20)}
        {number('tolerance', 'turnDeg', 'Rotation, at most', 'deg', 10)}
        {number('tolerance', 'sizeMm', 'Size, at most', 'mm', 20)}
      </div>
      {tolerance.turnDeg > 0 && (
        <Quiet>Rotation and size are limited to the room that the joints leave.</Quiet>
      )}
    </Block>
  );
}
