import { useId, useState } from 'react';
import styled from 'styled-components';
import {
  MM_PER_UNIT,
  parseLength,
  printLength,
  printNumber,
  THOU_BELOW_MM,
  type FigureUnit,
  type LengthUnit,
} from '@jossel/core/units';
import { useAppSelector } from '../app/store';
import { steady } from './steady';

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
/** What is wrong with what was typed. */
export const FieldFault = styled.p`
  color: ${({ theme }) => theme.mark};
  font-size: 12px;
`;
const WithUnit = styled.div<{ $before: boolean; $unit: boolean }>`
  display: grid;
  grid-template-columns: ${({ $before, $unit }) => `${$before ? 'auto ' : ''}minmax(0, 1fr)${$unit ? ' auto' : ''}`};
  align-items: center;
  gap: 5px;
  min-width: 0;
  input {
    text-align: right;
  }
  span {
    color: ${({ theme }) => theme.quiet};
    font-size: 12px;
  }
  .unit {
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
  /** Stands before the number. */
  sign?: string;
  /** Only the number; its unit stands elsewhere. */
  hideUnit?: boolean;
  onChange: (value: number) => void;
  /** When given, an emptied field means "none". */
  onClear?: () => void;
}

/** How units are written behind a number. */
export const UNIT_SIGNS: Record<string, string> = {
  mm: 'mm',
  nm: 'nm',
  µm: 'µm',
  '1/cm': '/cm',
  '1/m²': '/m²',
  tex: 'tex',
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
  if (/[a-df-z"'′″]/i.test(text)) throw new Error(`"${text.trim()}" is not a number.`);
  return parseLength(text, 'mm');
}

/** How a value is shown in its field: the text, the unit behind it, and the unit of a bare number that is typed. */
interface Shown {
  text: string;
  sign: string;
  bare: LengthUnit;
}

const FEET_FROM_MM = 36 * MM_PER_UNIT.in;

function shownAs(
  value: number | null,
  unit: NumberFieldProps['unit'],
  imperial: boolean,
  digits: number,
): Shown {
  if (!imperial || unit !== 'mm')
    return { text: value === null ? '' : printNumber(value, digits), sign: UNIT_SIGNS[unit]!, bare: 'mm' };
  if (value === null) return { text: '', sign: 'in', bare: 'in' };
  const length = Math.abs(value);
  if (length > 0 && length < THOU_BELOW_MM)
    return { text: printNumber(value / MM_PER_UNIT.thou, 1), sign: 'thou', bare: 'thou' };
  if (length < FEET_FROM_MM) return { text: printNumber(value / MM_PER_UNIT.in, 3), sign: 'in', bare: 'in' };
  return { text: printLength(value, 'imperial'), sign: '', bare: 'in' };
}

/** What a field accepts, as a sentence says it. */
function rangeWords(min: number, max: number, print: (v: number) => string): string {
  if (min === -Infinity) return `at most ${print(max)}`;
  if (max === Infinity) return `at least ${print(min)}`;
  return `between ${print(min)} and ${print(max)}`;
}

function PlainNumberField({
  label,
  value,
  unit,
  min = -Infinity,
  max = Infinity,
  digits = 2,
  whole,
  hideLabel,
  sign: before,
  hideUnit,
  onChange,
  onClear,
}: NumberFieldProps) {
  const imperial = useAppSelector((s) => s.settings.units === 'imperial') && unit === 'mm';
  const { text: shown, sign, bare } = shownAs(value, unit, imperial, whole ? 0 : digits);
  const [typed, setTyped] = useState<string | null>(null);
  const [fault, setFault] = useState('');
  const id = useId();

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
      const next = unit === 'mm' ? parseLength(typed, bare) : parseNumber(typed);
      const print = (v: number) =>
        unit === 'mm'
          ? printLength(v, imperial ? 'imperial' : 'metric', 4)
          : `${printNumber(v, 2)} ${UNIT_SIGNS[unit]}`.trim();
      if (whole && !Number.isInteger(next))
        throw new Error(`${label} must be a whole number; ${printNumber(next, 2)} is not.`);
      if (next < min || next > max)
        throw new Error(`${label} must be ${rangeWords(min, max, print)}; ${print(next)} is not.`);
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
      <WithUnit $before={before !== undefined} $unit={!hideUnit && sign !== ''}>
        {before !== undefined && <span className="before">{before}</span>}
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
        {!hideUnit && sign !== '' && <span className="unit">{sign}</span>}
      </WithUnit>
      {fault && (
        <FieldFault id={`${id}-fault`} role="alert">
          {fault}
        </FieldFault>
      )}
    </Field>
  );
}

/** A number with its unit. */
export const NumberField = steady(PlainNumberField);

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
      data-typing={typed !== null && typed !== value ? 'yes' : 'no'}
      value={typed ?? value}
      onChange={(e) => setTyped(e.target.value)}
      onBlur={() => {
        if (typed !== null && typed !== value) onChange(typed);
        setTyped(null);
      }}
      onKeyDown={(e) => {
        if (e.key === 'Escape') setTyped(null);
        if (e.key !== 'Enter') return;
        if (typed !== null && typed !== value) onChange(typed);
        setTyped(null);
      }}
    />
  );
}
