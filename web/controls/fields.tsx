import { useId, useState } from 'react';
import styled from 'styled-components';
import {
  BASES,
  figure,
  parseLength,
  printNumber,
  type Basis,
  type Figure,
  type FigureUnit,
} from '@jossel/core/units';
import { useAppSelector } from '../app/store';
import { Choice } from './choice';
import { BasisMark } from './marks';

/** Fields in which numbers are typed, with units and simple arithmetic. A fault is said below; the last good value stays. */

export const Field = styled.div`
  display: grid;
  gap: 3px;
  min-width: 0;
  > label {
    color: ${({ theme }) => theme.quiet};
    font-size: 12px;
  }
`;
export const TextBox = styled.input`
  min-height: 26px;
  padding: 0 7px;
  border: 1px solid ${({ theme }) => theme.line};
  background: ${({ theme }) => theme.field};
  border-radius: ${({ theme }) => theme.radius};
  width: 100%;
  min-width: 0;
  &[aria-invalid='true'] {
    border-color: ${({ theme }) => theme.mark};
  }
`;
const Fault = styled.p`
  color: ${({ theme }) => theme.mark};
  font-size: 12px;
`;
const WithUnit = styled.div`
  display: grid;
  grid-template-columns: 1fr auto;
  align-items: center;
  gap: 5px;
  min-width: 0;
  input {
    text-align: right;
  }
  span {
    color: ${({ theme }) => theme.quiet};
    font-size: 12px;
    min-width: 24px;
  }
`;

export interface NumberFieldProps {
  label: string;
  value: number | null;
  /** mm are typed as lengths; other units as plain numbers with arithmetic. */
  unit: FigureUnit | '×' | '%' | 'ΔE';
  min?: number;
  max?: number;
  /** Digits behind the point when shown. */
  digits?: number;
  whole?: boolean;
  hideLabel?: boolean;
  onChange: (value: number) => void;
  /** When given, an emptied field means "none". */
  onClear?: () => void;
}

const SIGNS: Record<string, string> = {
  mm: 'mm',
  LRV: 'LRV',
  GU: 'GU',
  deg: '°',
  '1': '',
  '×': '',
  '%': '%',
  ΔE: 'ΔE',
};

/** A plain number with arithmetic: lengths of no unit. */
function parseNumber(text: string): number {
  if (/[a-z"'′″]/i.test(text)) throw new Error(`"${text.trim()}" is not a number.`);
  return parseLength(text, 'mm');
}

export function NumberField({
  label,
  value,
  unit,
  min = -Infinity,
  max = Infinity,
  digits = 2,
  whole,
  hideLabel,
  onChange,
  onClear,
}: NumberFieldProps) {
  const imperial = useAppSelector((s) => s.settings.units === 'imperial') && unit === 'mm';
  const shown =
    value === null ? '' : imperial ? printNumber(value / 25.4, 3) : printNumber(value, whole ? 0 : digits);
  const [typed, setTyped] = useState<string | null>(null);
  const [fault, setFault] = useState('');
  const id = useId();
  const sign = imperial ? 'in' : SIGNS[unit];

  function commit() {
    if (typed === null || typed === shown) {
      setTyped(null);
      setFault('');
      return;
    }
    if (typed.trim() === '' && onClear) {
      onClear();
      setTyped(null);
      setFault('');
      return;
    }
    try {
      const next = unit === 'mm' ? parseLength(typed, imperial ? 'in' : 'mm') : parseNumber(typed);
      const reach =
        `${min === -Infinity ? '' : `from ${printNumber(min, 2)} `}${max === Infinity ? '' : `to ${printNumber(max, 2)}`} ${sign}`.trim();
      if (whole && !Number.isInteger(next)) throw new Error(`${label}: give a whole number.`);
      if (next < min || next > max)
        throw new Error(`${label}: ${printNumber(next, 2)} is out of reach. Give a value ${reach}.`);
      onChange(next);
      setTyped(null);
      setFault('');
    } catch (error) {
      setFault((error as Error).message);
    }
  }

  return (
    <Field>
      {!hideLabel && <label htmlFor={id}>{label}</label>}
      <WithUnit>
        <TextBox
          id={id}
          {...(hideLabel ? { 'aria-label': label } : {})}
          inputMode="text"
          autoComplete="off"
          value={typed ?? shown}
          data-typing={typed !== null && typed !== shown ? 'yes' : 'no'}
          aria-invalid={fault ? true : undefined}
          aria-describedby={fault ? `${id}-fault` : undefined}
          onChange={(e) => setTyped(e.target.value)}
          onFocus={(e) => e.target.select()}
          onBlur={commit}
          onKeyDown={(e) => {
            if (e.key === 'Enter') commit();
            if (e.key === 'Escape') {
              setTyped(null);
              setFault('');
            }
            if (
              (e.key === 'ArrowUp' || e.key === 'ArrowDown') &&
              value !== null &&
              typed === null &&
              !imperial
            ) {
              e.preventDefault();
              const step =
                (whole ? 1 : 10 ** Math.floor(Math.log10(Math.max(Math.abs(value), 0.01)) - 1)) *
                (e.shiftKey ? 10 : 1) *
                (e.key === 'ArrowUp' ? 1 : -1);
              onChange(Math.min(max, Math.max(min, Number((value + step).toPrecision(12)))));
            }
          }}
        />
        {sign !== '' && <span>{sign}</span>}
      </WithUnit>
      {fault && (
        <Fault id={`${id}-fault`} role="alert">
          {fault}
        </Fault>
      )}
    </Field>
  );
}

const FigureBox = styled.fieldset`
  border: 0;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 5px;
  min-width: 0;
  .row {
    display: grid;
    grid-template-columns: minmax(0, 1fr) 118px;
    gap: 6px;
    align-items: end;
  }
  .more {
    display: grid;
    grid-template-columns: 92px minmax(0, 1fr);
    gap: 6px;
    align-items: end;
  }
`;

const BASIS_OPTIONS = BASES.map((basis) => ({
  value: basis,
  name: basis,
  mark: <BasisMark basis={basis} />,
}));

/** A figure: its number, its basis, and behind them tolerance and note. */
export function FigureField<U extends FigureUnit>({
  label,
  figure: value,
  unit,
  min,
  max,
  digits,
  onChange,
  onClear,
  ifNew = 'measured',
}: {
  label: string;
  figure: Figure<U> | null;
  unit: U;
  min?: number;
  max?: number;
  digits?: number;
  onChange: (value: Figure<U>) => void;
  onClear?: () => void;
  /** Basis of a figure that is typed for the first time. */
  ifNew?: Basis;
}) {
  const noteId = useId();
  const set = (change: Partial<Figure<U>>) => {
    const next = { ...(value ?? figure(0, unit, ifNew)), ...change };
    onChange(next);
  };
  return (
    <FigureBox aria-label={label}>
      <div className="row">
        <NumberField
          label={label}
          value={value?.value ?? null}
          unit={unit}
          {...(min !== undefined ? { min } : {})}
          {...(max !== undefined ? { max } : {})}
          {...(digits !== undefined ? { digits } : {})}
          onChange={(v) =>
            set(value ? { value: v, ...(value.basis === 'assumed' ? { basis: ifNew } : {}) } : { value: v })
          }
          {...(onClear ? { onClear } : {})}
        />
        {value && (
          <Choice
            label={`Basis of ${label.toLowerCase()}`}
            hideLabel
            value={value.basis}
            options={BASIS_OPTIONS}
            onChange={(basis) => set({ basis })}
          />
        )}
      </div>
      {value && (
        <div className="more">
          <NumberField
            label="± tolerance"
            value={value.tolerance ?? null}
            unit={unit}
            min={0}
            {...(digits !== undefined ? { digits } : {})}
            onChange={(tolerance) => set({ tolerance })}
            onClear={() => {
              const { tolerance: _, ...rest } = value;
              onChange(rest as Figure<U>);
            }}
          />
          <Field>
            <label htmlFor={noteId}>Note</label>
            <TextLine id={noteId} value={value.note ?? ''} onChange={(note) => set({ note })} />
          </Field>
        </div>
      )}
    </FigureBox>
  );
}

/** A line of text that is taken over when it is left. */
export function TextLine({
  id,
  value,
  onChange,
  label,
  placeholder,
}: {
  id?: string;
  value: string;
  onChange: (value: string) => void;
  label?: string;
  placeholder?: string;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  return (
    <TextBox
      id={id}
      aria-label={label}
      placeholder={placeholder}
      value={typed ?? value}
      onChange={(e) => setTyped(e.target.value)}
      onBlur={() => {
        if (typed !== null && typed !== value) onChange(typed);
        setTyped(null);
      }}
      onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
    />
  );
}
