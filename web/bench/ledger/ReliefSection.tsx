import { Checkbox, Label, Slider, SliderOutput, SliderThumb, SliderTrack } from 'react-aria-components';
import styled from 'styled-components';
import type { Recipe, RenderReport } from '@jossel/core/finish';
import { printLength, printNumber } from '@jossel/core/units';
import { useAppSelector } from '../../app/store';
import { OneOf, Quiet } from '../../controls/basics';
import { FigureField, NumberField } from '../../controls/fields';
import { useChange } from './use-change';

const Amount = styled(Slider)`
  display: grid;
  grid-template-columns: 52px 1fr 44px;
  align-items: center;
  gap: 8px;
  .react-aria-SliderTrack {
    height: 22px;
    position: relative;
  }
  .react-aria-SliderTrack::before {
    content: '';
    position: absolute;
    left: 0;
    right: 0;
    top: 10.5px;
    height: 1px;
    background: ${({ theme }) => theme.strong};
  }
  .react-aria-SliderTrack::after {
    content: '';
    position: absolute;
    left: 50%;
    top: 7px;
    height: 8px;
    width: 1px;
    background: ${({ theme }) => theme.strong};
  }
  .react-aria-SliderThumb {
    width: 9px;
    height: 17px;
    top: 50%;
    background: ${({ theme }) => theme.ink};
    z-index: 1;
  }
  .react-aria-SliderThumb[data-focus-visible] {
    outline: 2px solid ${({ theme }) => theme.mark};
    outline-offset: 2px;
  }
  output {
    text-align: right;
  }
`;
const Tick = styled(Checkbox)`
  display: flex;
  align-items: center;
  gap: 8px;
  cursor: pointer;
  i {
    width: 14px;
    height: 14px;
    border: 1px solid ${({ theme }) => theme.strong};
    background: ${({ theme }) => theme.field};
  }
  &[data-selected] i {
    background: ${({ theme }) => theme.ink};
    box-shadow: inset 0 0 0 2.5px ${({ theme }) => theme.field};
  }
  &[data-focus-visible] {
    outline: 2px solid ${({ theme }) => theme.mark};
    outline-offset: 2px;
  }
`;

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
            value={relief[key]}
            minValue={-2}
            maxValue={2}
            step={0.05}
            onChange={(v) => change(key, { [key]: v }, true)}
          >
            <Label>{name}</Label>
            <SliderTrack>
              <SliderThumb />
            </SliderTrack>
            <SliderOutput>{printNumber(relief[key], 2)}</SliderOutput>
          </Amount>
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
      <Tick isSelected={relief.invert} onChange={(invert) => change('invert', { invert })}>
        <i />
        Dark stands out instead of going in
      </Tick>
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
