import { NotebookPen } from 'lucide-react';
import { useState } from 'react';
import styled from 'styled-components';
import { BASES, figure, type Basis, type Figure, type FigureUnit } from '@jossel/core/units';
import { Button } from './basics';
import { Choice } from './choice';
import { NumberField, TextLine } from './fields';
import { BasisMark } from './marks';
import { steady } from './steady';

/** A figure in one row: value ± tolerance, basis, and a note on a line of its own where there is one. */

const Box = styled.fieldset`
  border: 0;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 4px;
  min-width: 0;
  .row {
    display: grid;
    grid-template-columns: minmax(0, 1fr) 72px 42px 26px;
    gap: 4px;
    align-items: end;
  }
  .row > :first-child:last-child {
    grid-column: 1 / -1;
  }
`;
const Question = styled.p`
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 8px;
  font-size: 12px;
  color: ${({ theme }) => theme.quiet};
  kbd {
    font: inherit;
    text-decoration: underline;
    text-underline-offset: 2px;
  }
`;

const BASIS_OPTIONS = BASES.map((basis) => ({
  value: basis,
  name: basis,
  mark: <BasisMark basis={basis} />,
}));

/** What a figure rests on, as a glyph that opens a list. */
export const BasisChoice = ({
  of,
  value,
  onChange,
}: {
  /** What it is the basis of. */
  of: string;
  value: Basis;
  onChange: (basis: Basis) => void;
}) => (
  <Choice
    markOnly
    hideLabel
    label={`Basis of ${of.toLowerCase()}`}
    value={value}
    options={BASIS_OPTIONS}
    onChange={onChange}
  />
);

/** Keys that answer the question for the basis. */
const KEYS: Readonly<Record<string, Basis>> = { m: 'measured', p: 'published' };

/**
 * The question what a typed number rests on. A number does not become measured or published by being typed: it is
 * assumed until somebody says otherwise, with one key.
 */
export function BasisQuestion({ onAnswer }: { onAnswer: (basis: Basis) => void }) {
  return (
    <Question>
      Assumed, or
      <Button weight="quiet" onPress={() => onAnswer('measured')}>
        <span>
          <kbd>m</kbd>easured
        </span>
      </Button>
      <Button weight="quiet" onPress={() => onAnswer('published')}>
        <span>
          <kbd>p</kbd>ublished
        </span>
      </Button>
    </Question>
  );
}

/** Whether the basis of what was typed is asked for, and the handlers that answer or drop the question. */
export function useBasisQuestion(onAnswer: (basis: Basis) => void) {
  const [asking, setAsking] = useState(false);
  const answer = (basis: Basis) => {
    setAsking(false);
    onAnswer(basis);
  };
  return {
    question: asking ? <BasisQuestion onAnswer={answer} /> : null,
    ask: () => setAsking(true),
    drop: () => setAsking(false),
    /** For the element around the field. */
    handlers: {
      onKeyDown: (e: React.KeyboardEvent) => {
        if (!asking || e.ctrlKey || e.metaKey || e.altKey) return;
        if (e.key === 'Escape') return setAsking(false);
        const basis = KEYS[e.key.toLowerCase()];
        const field = e.target as HTMLElement;
        // In the middle of typing, letters belong to the field.
        if (!basis || field.dataset['typing'] !== 'no') return;
        e.preventDefault();
        answer(basis);
      },
      onBlur: (e: React.FocusEvent) => {
        if (e.currentTarget.contains(e.relatedTarget as Node | null) || !e.relatedTarget) return;
        // The question makes room for itself: taken away under a press, what is pressed would move from under the pointer.
        afterPress(() => setAsking(false));
      },
    },
  };
}

let pressed = false;
window.addEventListener('pointerdown', () => (pressed = true), true);
for (const end of ['pointerup', 'pointercancel']) window.addEventListener(end, () => (pressed = false), true);

/** Does something at once, or once the pointer that is down has done what it is about to do. */
function afterPress(act: () => void): void {
  if (!pressed) return act();
  const ended = new AbortController();
  for (const end of ['pointerup', 'pointercancel'])
    window.addEventListener(
      end,
      () => {
        ended.abort();
        setTimeout(act);
      },
      { signal: ended.signal },
    );
}

function PlainFigureField<U extends FigureUnit>({
  label,
  figure: value,
  unit,
  min,
  max,
  digits,
  onChange,
  onClear,
}: {
  label: string;
  figure: Figure<U> | null;
  unit: U;
  min?: number;
  max?: number;
  digits?: number;
  onChange: (value: Figure<U>) => void;
  onClear?: () => void;
}) {
  const [noting, setNoting] = useState(false);
  const set = (change: Partial<Figure<U>>) =>
    onChange({ ...(value ?? figure(0, unit, 'assumed')), ...change });
  const { question, ask, drop, handlers } = useBasisQuestion((basis) => set({ basis }));
  const lower = label.toLowerCase();
  const limits = {
    ...(min !== undefined ? { min } : {}),
    ...(max !== undefined ? { max } : {}),
    ...(digits !== undefined ? { digits } : {}),
  };
  return (
    <Box aria-label={label} {...handlers}>
      <div className="row">
        <NumberField
          label={label}
          value={value?.value ?? null}
          unit={unit}
          {...limits}
          onChange={(v) => {
            // A measured figure that is typed again was read again; any other one is open until it is said.
            if (value?.basis === 'measured') return set({ value: v });
            set({ value: v, basis: 'assumed' });
            ask();
          }}
          {...(onClear
            ? {
                onClear: () => {
                  drop();
                  onClear();
                },
              }
            : {})}
        />
        {value && (
          <>
            <NumberField
              hideLabel
              hideUnit
              sign="±"
              label={`± tolerance of ${lower}`}
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
            <BasisChoice
              of={label}
              value={value.basis}
              onChange={(basis) => {
                drop();
                set({ basis });
              }}
            />
            <Button
              weight="icon"
              aria-label={value.note ? `Note on ${lower}` : `Add a note on ${lower}`}
              aria-expanded={noting || Boolean(value.note)}
              onPress={() => setNoting(!noting)}
            >
              <NotebookPen aria-hidden />
            </Button>
          </>
        )}
      </div>
      {question}
      {value && (noting || value.note) && (
        <TextLine
          label={`Note on ${lower}`}
          placeholder="note: where it was read, by whom"
          value={value.note ?? ''}
          onChange={(note) => set({ note })}
        />
      )}
    </Box>
  );
}

/** A figure: its number, tolerance, basis and note. */
export const FigureField = steady(PlainFigureField) as typeof PlainFigureField;
