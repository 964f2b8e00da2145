import type { LayoutSettings } from '@jossel/core/layout';
import { Tick } from '../../../controls/amounts';
import { NumberField } from '../../../controls/fields';

/** The numbers of a bond, by the names they have in its settings. */
const FIELDS: Readonly<
  Record<string, { label: string; unit: 'mm' | 'deg' | '×'; min: number; max: number; whole?: boolean }>
> = {
  shift: { label: 'Shift, share of a piece', unit: '×', min: 0, max: 1 },
  scatterMm: { label: 'Scatter of courses', unit: 'mm', min: 0, max: 10000 },
  shortestMm: { label: 'Shortest piece', unit: 'mm', min: 1, max: 100000 },
  staggerMm: { label: 'Least stagger', unit: 'mm', min: 0, max: 100000 },
  strips: { label: 'Strips side by side', unit: '×', min: 1, max: 4, whole: true },
  cutDeg: { label: 'Mitre angle', unit: 'deg', min: 20, max: 80 },
  stretcherCourses: { label: 'Stretcher courses', unit: '×', min: 1, max: 9, whole: true },
  dotMm: { label: 'Side of the dot', unit: 'mm', min: 1, max: 10000 },
  bayMm: { label: 'Width of a bay', unit: 'mm', min: 50, max: 20000 },
  fanMm: { label: 'Width of a fan', unit: 'mm', min: 50, max: 20000 },
  rough: { label: 'Roughness, 0 to 1', unit: '×', min: 0, max: 1 },
  variety: { label: 'Variety, 0 to 1', unit: '×', min: 0, max: 1 },
  lapMm: { label: 'Lap', unit: 'mm', min: 0, max: 200 },
  battenMm: { label: 'Width of battens', unit: 'mm', min: 5, max: 1000 },
  seamMm: { label: 'Width of seams', unit: 'mm', min: 2, max: 100 },
  raisedMm: { label: 'Height above the faces', unit: 'mm', min: 0, max: 200 },
};
const TICKS: Readonly<Record<string, string>> = {
  rising: 'Every course is shifted on',
  diagonal: 'Pieces at 45° to the room',
};

/** What of a bond can be set beside pieces and joints. */
export function BondSettings({
  bond,
  onChange,
}: {
  bond: LayoutSettings['bond'];
  onChange: (what: string, change: Record<string, unknown>) => void;
}) {
  const numbers = Object.entries(bond).filter(([name]) => FIELDS[name]);
  const ticks = Object.entries(bond).filter(([name]) => TICKS[name]);
  return (
    <>
      {numbers.length > 0 && (
        <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 8 }}>
          {numbers.map(([name, value]) => {
            const { label, unit, min, max, whole } = FIELDS[name]!;
            return (
              <NumberField
                key={name}
                label={label}
                unit={unit}
                value={value as number}
                min={min}
                max={max}
                {...(whole ? { whole } : {})}
                onChange={(v) => onChange(name, { [name]: v })}
              />
            );
          })}
        </div>
      )}
      {ticks.map(([name, value]) => (
        <Tick
          key={name}
          name={TICKS[name]!}
          value={value as boolean}
          onChange={(v) => onChange(name, { [name]: v })}
        />
      ))}
    </>
  );
}
