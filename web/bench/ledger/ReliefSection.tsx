import type { Recipe, RenderReport } from '@jossel/core/finish';
import { printLength, printNumber } from '@jossel/core/units';
import { useAppSelector } from '../../app/store';
import { OneOf, Quiet } from '../../controls/basics';
import { Amount, Tick } from '../../controls/amounts';
import { FigureField, NumberField } from '../../controls/fields';
import { useChange } from './use-change';

const BANDS = [
  ['broad', 'Broad'],
  ['middle', 'Middle'],
  ['fine', 'Fine'],
] as const;

/** Relief read from the picture: three bands of detail, each with a signed amount, and the depth in mm. */
export function ReliefSection({ recipe, report }: { recipe: Recipe; report: RenderReport | null }) {
  const change = useChange(recipe, 'relief');
  const units = useAppSelector((s) => s.settings.units);
  const { relief } = recipe;
  return (
    <>
      <FigureField
        label="Depth"
        figure={relief.depthMm}
        unit="mm"
        min={0.0001}
        max={1000}
        digits={3}
        onChange={(depthMm) => change('depth', { depthMm })}
      />
      <div role="group" aria-label="Amount of each band of detail">
        {BANDS.map(([key, name]) => (
          <Amount
            key={key}
            label={name}
            value={relief[key]}
            min={-2}
            max={2}
            step={0.05}
            onChange={(v) => change(key, { [key]: v }, true)}
          />
        ))}
      </div>
      <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr 1fr', gap: 8 }}>
        <NumberField
          label="Broad from"
          unit="mm"
          value={relief.broadFromMm}
          min={Math.max(0.02, relief.fineBelowMm * 1.01)}
          max={100000}
          onChange={(broadFromMm) => change('broad from', { broadFromMm })}
        />
        <NumberField
          label="Fine below"
          unit="mm"
          value={relief.fineBelowMm}
          min={0.01}
          max={relief.broadFromMm / 1.01}
          onChange={(fineBelowMm) => change('fine below', { fineBelowMm })}
        />
        <NumberField
          label="Smooth"
          unit="mm"
          value={relief.smoothMm}
          min={0}
          max={1000}
          onChange={(smoothMm) => change('smooth', { smoothMm })}
        />
      </div>
      <Tick
        name="Dark stands out instead of going in"
        value={relief.invert}
        onChange={(invert) => change('invert', { invert })}
      />
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
