import type { Recipe, RenderReport } from '@jossel/core/finish';
import type { ReliefContribution } from '@jossel/core/relief';
import { printLength, printNumber } from '@jossel/core/units';
import { useAppSelector } from '../../app/store';
import { OneOf, Quiet } from '../../controls/basics';
import { Amount, Tick } from '../../controls/amounts';
import { NumberField } from '../../controls/fields';
import { FigureField } from '../../controls/figure-field';
import { useChange } from './use-change';

const BANDS = [
  ['broad', 'Broad'],
  ['middle', 'Middle'],
  ['fine', 'Fine'],
] as const;

/** Relief of its contributions, each with its depth in mm, and which level stays in place. */
export function ReliefSection({ recipe, report }: { recipe: Recipe; report: RenderReport | null }) {
  const change = useChange(recipe, 'relief');
  const units = useAppSelector((s) => s.settings.units);
  const { relief } = recipe;
  return (
    <>
      {relief.contributions.map((contribution, k) => (
        <Contribution
          key={contribution.id}
          contribution={contribution}
          onChange={(what, part, dragged) =>
            change(
              `${contribution.id} ${what}`,
              { contributions: relief.contributions.map((c, n) => (n === k ? { ...c, ...part } : c)) },
              dragged,
            )
          }
        />
      ))}
      <div style={{ display: 'flex', justifyContent: 'space-between', alignItems: 'center', gap: 8 }}>
        <Quiet>Stays in place</Quiet>
        <OneOf
          label="Which level stays in place"
          value={relief.zero}
          options={[
            { value: 'top', name: 'top' },
            { value: 'mean', name: 'mean' },
            { value: 'bottom', name: 'foot' },
          ]}
          onChange={(zero) => change('zero', { zero })}
        />
      </div>
      {report && (
        <Quiet>
          From {printLength(report.heightMm.min, units, 3)} to {printLength(report.heightMm.max, units, 3)};
          slopes {printNumber(report.slopeDeg.mean, 1)}° on average, 99 % below{' '}
          {printNumber(report.slopeDeg.p99, 0)}°
        </Quiet>
      )}
    </>
  );
}

/** Three bands of detail of a picture or map, each with a signed amount, and their depth in mm. */
function Contribution({
  contribution: c,
  onChange,
}: {
  contribution: ReliefContribution;
  onChange: (what: string, part: Partial<ReliefContribution>, dragged?: boolean) => void;
}) {
  return (
    <>
      <FigureField
        label="Depth"
        figure={c.depthMm}
        unit="mm"
        min={0}
        max={1000}
        digits={3}
        onChange={(depthMm) => onChange('depth', { depthMm })}
      />
      <div role="group" aria-label="Amount of each band of detail">
        {BANDS.map(([key, name]) => (
          <Amount
            key={key}
            label={name}
            value={c[key]}
            min={-2}
            max={2}
            step={0.05}
            onChange={(v) => onChange(key, { [key]: v }, true)}
          />
        ))}
      </div>
      <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr 1fr', gap: 8 }}>
        <NumberField
          label="Broad from"
          unit="mm"
          value={c.broadFromMm}
          min={Math.max(0.02, c.fineBelowMm * 1.01)}
          max={100000}
          onChange={(broadFromMm) => onChange('broad from', { broadFromMm })}
        />
        <NumberField
          label="Fine below"
          unit="mm"
          value={c.fineBelowMm}
          min={0.01}
          max={c.broadFromMm / 1.01}
          onChange={(fineBelowMm) => onChange('fine below', { fineBelowMm })}
        />
        <NumberField
          label="Smooth"
          unit="mm"
          value={c.smoothMm}
          min={0}
          max={1000}
          onChange={(smoothMm) => onChange('smooth', { smoothMm })}
        />
      </div>
      <Tick
        name="Dark areas are raised"
        value={c.invert}
        onChange={(invert) => onChange('invert', { invert })}
      />
    </>
  );
}
