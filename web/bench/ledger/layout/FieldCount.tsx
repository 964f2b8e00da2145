import { useState } from 'react';
import type { FieldTakeOff, LayoutSettings } from '@jossel/core/layout';
import { printNumber } from '@jossel/core/units';
import { OneOf, Quiet, Row } from '../../../controls/basics';
import { FieldFault, NumberField } from '../../../controls/fields';
import { SurfaceChoice } from '../SurfaceChoice';
import { useFieldCount, type Field } from '../../layout-worker';

/** A floor or a wall of usual size. */
const FIELD: Field = { width: 4000, height: 3000, settingOutPoint: 'corner' };

/** Whole and cut pieces of a field that is typed in. */
export function FieldCount({ layout }: { layout: LayoutSettings }) {
  const [field, setField] = useState(FIELD);
  const counted = useFieldCount(layout, field);
  const side = (key: 'width' | 'height', label: string) => (
    <NumberField
      label={label}
      unit="mm"
      value={field[key]}
      min={1}
      max={1_000_000}
      onChange={(mm) => setField({ ...field, [key]: mm })}
    />
  );
  return (
    <>
      <SurfaceChoice sizeMm={field} onChange={(sizeMm) => setField({ ...field, ...sizeMm })} />
      <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 8 }}>
        {side('width', 'Field, width')}
        {side('height', 'Field, height')}
      </div>
      <Row>
        <Quiet>Setting-out point</Quiet>
        <OneOf
          label="Setting-out point"
          value={field.settingOutPoint}
          options={[
            { value: 'corner', name: 'corner' },
            { value: 'middle', name: 'middle' },
          ]}
          onChange={(settingOutPoint) => setField({ ...field, settingOutPoint })}
        />
      </Row>
      {counted?.is === 'refused' ? (
        <FieldFault role="alert">{counted.why}</FieldFault>
      ) : (
        <table aria-label="Pieces of the field" aria-busy={counted === null}>
          <tbody>
            {rowsOf(counted?.takeOff ?? null).map(([name, value]) => (
              <tr key={name}>
                <td>{name}</td>
                <td>{value}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </>
  );
}

function rowsOf(takeOff: FieldTakeOff | null): [string, string][] {
  if (!takeOff) return [['Pieces', 'counting …']];
  const { whole, cut, narrowestCutMm, cutOff } = takeOff;
  return [
    ['Whole pieces', printNumber(whole, 0)],
    [
      'Cut pieces',
      cut === 0
        ? 'none'
        : `${printNumber(cut, 0)}${narrowestCutMm === null ? '' : `, the narrowest ${printNumber(narrowestCutMm, 0)} mm`}`,
    ],
    ['Cut off at the edges', `${printNumber(100 * cutOff, 1)} %`],
  ];
}
