import { Checkbox, Label, Slider, SliderThumb, SliderTrack } from 'react-aria-components';
import styled from 'styled-components';
import { NumberField } from './fields';
import { steady } from './steady';

const Line = styled(Slider)`
  display: grid;
  grid-template-columns: var(--label, 52px) minmax(40px, 1fr);
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
    left: var(--neutral, 50%);
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
`;
const WithNumber = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) 62px;
  .unit {
    min-width: 0;
  }
  gap: 10px;
  align-items: center;
`;
const TickBox = styled(Checkbox)`
  /* Holds the hidden input, which would else stretch the page. */
  position: relative;
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

function PlainAmount({
  label,
  value,
  min,
  max,
  step,
  digits = 2,
  labelPx = 52,
  neutral = (min + max) / 2,
  unit = '',
  onChange,
}: {
  label: string;
  value: number;
  min: number;
  max: number;
  step: number;
  digits?: number;
  labelPx?: number;
  /** The value that changes nothing; a tick marks it. */
  neutral?: number;
  unit?: '°' | '';
  onChange: (value: number) => void;
}) {
  return (
    <WithNumber>
      <Line
        value={value}
        minValue={min}
        maxValue={max}
        step={step}
        onChange={(v) => onChange(v as number)}
        style={
          {
            '--label': `${labelPx}px`,
            '--neutral': `${(100 * (neutral - min)) / (max - min)}%`,
          } as React.CSSProperties
        }
      >
        <Label>{label}</Label>
        <SliderTrack>
          <SliderThumb />
        </SliderTrack>
      </Line>
      <NumberField
        hideLabel
        hideUnit={unit !== '°'}
        label={`${label}, number`}
        value={value}
        unit={unit === '°' ? 'deg' : '×'}
        min={min}
        max={max}
        digits={digits}
        onChange={onChange}
      />
    </WithNumber>
  );
}

/** An amount that is dragged between two ends or typed beside the slider; the tick is its neutral value. */
export const Amount = steady(PlainAmount);

const PlainTick = ({
  name,
  value,
  onChange,
}: {
  name: string;
  value: boolean;
  onChange: (value: boolean) => void;
}) => (
  <TickBox isSelected={value} onChange={onChange}>
    <i />
    {name}
  </TickBox>
);

/** Something that holds or does not. */
export const Tick = steady(PlainTick);
