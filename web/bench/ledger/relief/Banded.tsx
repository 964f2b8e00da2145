import type { BandedContribution, Levels } from '@jossel/core/relief';
import { Amount, Tick } from '../../../controls/amounts';
import { NumberField } from '../../../controls/fields';
import type { Change } from './change';
import { Three, Two } from '../columns';

const BANDS = [
  ['broad', 'Broad'],
  ['middle', 'Middle'],
  ['fine', 'Fine'],
] as const;
const ALL_LEVELS: Levels = { low: 0, high: 1, middle: 0.5 };

/** Three bands of detail, each with a signed amount, where they part, how steep detail may be, and levels. */
export function Banded({
  contribution: c,
  onChange,
}: {
  contribution: BandedContribution;
  onChange: Change;
}) {
  const put = (what: string, part: Partial<BandedContribution>, dragged?: boolean) =>
    onChange(what, { ...c, ...part } as BandedContribution, dragged);
  const levels = c.levels ?? ALL_LEVELS;
  return (
    <>
      <div role="group" aria-label="Amount of each band of detail">
        {BANDS.map(([key, name]) => (
          <Amount
            key={key}
            label={name}
            value={c[key]}
            min={-2}
            max={2}
            step={0.05}
            onChange={(v) => put(key, { [key]: v }, true)}
          />
        ))}
      </div>
      <Two>
        <NumberField
          label="Broad from"
          unit="mm"
          value={c.broadFromMm}
          min={Math.max(0.02, c.fineBelowMm * 1.01)}
          max={100000}
          onChange={(broadFromMm) => put('broad from', { broadFromMm })}
        />
        <NumberField
          label="Fine below"
          unit="mm"
          value={c.fineBelowMm}
          min={0.01}
          max={c.broadFromMm / 1.01}
          onChange={(fineBelowMm) => put('fine below', { fineBelowMm })}
        />
        <NumberField
          label="Smooth"
          unit="mm"
          value={c.smoothMm}
          min={0}
          max={1000}
          onChange={(smoothMm) => put('smooth', { smoothMm })}
        />
        <NumberField
          label="Steepest detail"
          unit="deg"
          value={c.steepestDeg ?? 90}
          min={0.1}
          max={90}
          onChange={(steepestDeg) => put('steepest', { steepestDeg })}
        />
      </Two>
      <Tick
        name={c.kind === 'picture' ? 'Dark areas are raised' : 'Turned over'}
        value={c.invert}
        onChange={(invert) => put('invert', { invert })}
      />
      <Tick
        name="Levels"
        value={c.levels !== undefined}
        onChange={(on) => {
          const { levels: _, ...rest } = c;
          onChange('levels', on ? { ...c, levels: ALL_LEVELS } : (rest as BandedContribution));
        }}
      />
      {c.levels && (
        <Three>
          {(
            [
              ['low', 'Clip below', 0, levels.high - 0.02],
              ['middle', 'Middle at', 0.05, 0.95],
              ['high', 'Clip above', levels.low + 0.02, 1],
            ] as const
          ).map(([key, label, min, max]) => (
            <NumberField
              key={key}
              label={label}
              unit="%"
              value={100 * levels[key]}
              min={100 * min}
              max={100 * max}
              digits={0}
              onChange={(v) => put(`levels ${key}`, { levels: { ...levels, [key]: v / 100 } })}
            />
          ))}
        </Three>
      )}
    </>
  );
}
