import { useEffect, useRef } from 'react';
import styled from 'styled-components';
import { hexOfLab, parseColour, COLOUR_FORMS, type ColourFigure } from '@jossel/core/light';
import type { Triple } from '@jossel/core/colour';
import { printNumber } from '@jossel/core/units';
import { useId, useState } from 'react';
import { Button, Quiet, Row } from '../../../controls/basics';
import { Field, NumberField, TextBox } from '../../../controls/fields';
import { BasisChoice, useBasisQuestion } from '../../../controls/figure-field';

/** Pieces that the panels of light and colour share. */

export const Chip = styled.span<{ $lab: Triple }>`
  display: inline-block;
  width: 18px;
  height: 18px;
  flex: none;
  background: ${({ $lab }) => hexOfLab($lab)};
  border: 1px solid ${({ theme }) => theme.ink};
`;

export const printLab = (lab: Triple): string => lab.map((v) => printNumber(v, 1)).join(' ');

const Line = styled.div`
  display: grid;
  grid-template-columns: 18px minmax(0, 1fr) 62px 42px;
  gap: 4px;
  > :first-child:last-child {
    grid-column: 1 / -1;
  }
  align-items: end;
  > span {
    margin-bottom: 4px;
  }
`;
const Fault = styled.p.attrs({ role: 'alert' })`
  color: ${({ theme }) => theme.mark};
  font-size: 12px;
`;

/** A colour with its basis: typed as Lab, hex, XYZ or linear values. */
export function ColourField({
  label,
  value,
  onChange,
  onClear,
}: {
  label: string;
  value: ColourFigure | null;
  onChange: (value: ColourFigure) => void;
  onClear?: () => void;
}) {
  const id = useId();
  const [typed, setTyped] = useState<string | null>(null);
  const [fault, setFault] = useState('');
  const { question, ask, handlers } = useBasisQuestion((basis) => value && onChange({ ...value, basis }));
  const shown = value ? `Lab ${printLab(value.lab)}` : '';
  function commit() {
    if (typed === null || typed === shown) return done();
    if (typed.trim() === '' && onClear) {
      onClear();
      return done();
    }
    try {
      const { lab } = parseColour(typed);
      const round = (v: number) => Number(v.toFixed(2));
      onChange({
        ...value,
        basis: value?.basis === 'measured' ? 'measured' : 'assumed',
        lab: lab.map(round) as [number, number, number],
      });
      if (value?.basis !== 'measured') ask();
      done();
    } catch (error) {
      setFault((error as Error).message);
    }
  }
  function done() {
    setTyped(null);
    setFault('');
  }
  return (
    <div style={{ display: 'grid', gap: 5 }} {...handlers}>
      <Line>
        {value && <Chip $lab={value.lab} aria-hidden />}
        <Field>
          <label htmlFor={id}>{label}</label>
          <TextBox
            id={id}
            value={typed ?? shown}
            placeholder={COLOUR_FORMS.split(',')[0]!}
            aria-invalid={fault ? true : undefined}
            aria-describedby={fault ? `${id}-fault` : undefined}
            autoComplete="off"
            data-typing={typed !== null && typed !== shown ? 'yes' : 'no'}
            onChange={(e) => setTyped(e.target.value)}
            onBlur={commit}
            onKeyDown={(e) => {
              if (e.key === 'Enter') commit();
              if (e.key === 'Escape') done();
            }}
          />
        </Field>
        {value && (
          <>
            <NumberField
              hideLabel
              hideUnit
              sign="±"
              label={`± ΔE00 of ${label.toLowerCase()}`}
              value={value.tolerance ?? null}
              unit="ΔE"
              min={0}
              max={100}
              onChange={(tolerance) => onChange({ ...value, tolerance })}
              onClear={() => {
                const { tolerance: _, ...rest } = value;
                onChange(rest);
              }}
            />
            <BasisChoice of={label} value={value.basis} onChange={(basis) => onChange({ ...value, basis })} />
          </>
        )}
      </Line>
      {fault && <Fault id={`${id}-fault`}>{fault}</Fault>}
      {question}
      {value?.note && <Quiet style={{ fontSize: 12 }}>{value.note}</Quiet>}
    </div>
  );
}

/** Pixels as a picture that fills the width it is given. */
export function Picture({
  about,
  widthPx,
  heightPx,
  rgba,
  style,
}: {
  about: string;
  widthPx: number;
  heightPx: number;
  rgba: Uint8ClampedArray<ArrayBuffer>;
  style?: React.CSSProperties;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const target = canvas.current!;
    target.width = widthPx;
    target.height = heightPx;
    target.getContext('2d')!.putImageData(new ImageData(rgba, widthPx, heightPx), 0, 0);
  }, [rgba, widthPx, heightPx]);
  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label={about}
      style={{ width: '100%', display: 'block', ...style }}
    />
  );
}

/** A button that opens a file from the disc as text. */
export function OpenText({
  name,
  accept,
  onText,
}: {
  name: string;
  accept: string;
  onText: (text: string, fileName: string) => void;
}) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <Row $gap={4}>
      <Button onPress={() => input.current!.click()}>{name}</Button>
      <input
        ref={input}
        type="file"
        accept={accept}
        hidden
        aria-label={name}
        onChange={(e) => {
          const file = e.target.files?.[0];
          e.target.value = '';
          if (file) void file.text().then((text) => onText(text, file.name));
        }}
      />
    </Row>
  );
}

/** Names on the left, figures on the right. */
export const FigureTable = styled.table`
  width: 100%;
  th,
  td {
    padding: 2px 0 2px 8px;
    text-align: right;
    font-weight: 400;
    white-space: nowrap;
  }
  thead th {
    color: ${({ theme }) => theme.quiet};
  }
  th:first-child {
    text-align: left;
    padding-left: 0;
    white-space: normal;
  }
  tr[data-rules] th,
  tr[data-rules] td {
    font-weight: 650;
  }
`;
