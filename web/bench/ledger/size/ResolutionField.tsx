import { useId, useState } from 'react';
import { figure, parseResolution, printNumber, type Figure } from '@jossel/core/units';
import { Field, TextBox } from '../../../controls/fields';
import { BasisChoice, useBasisQuestion } from '../../../controls/figure-field';

/** A resolution typed with its unit; kept in pixels per mm, shown in dots per inch and pixels per mm. */
export function ResolutionField({
  value,
  onChange,
  onClear,
}: {
  value: Figure<'px/mm'> | null;
  onChange: (value: Figure<'px/mm'>) => void;
  onClear: () => void;
}) {
  const id = useId();
  const [typed, setTyped] = useState<string | null>(null);
  const [fault, setFault] = useState('');
  const { question, ask, handlers } = useBasisQuestion((basis) => value && onChange({ ...value, basis }));
  const shown = value ? `${printNumber(value.value * 25.4, 1)} dpi` : '';
  function commit() {
    if (typed === null || typed === shown) return setTyped(null);
    if (typed.trim() === '') {
      onClear();
      setTyped(null);
      return setFault('');
    }
    try {
      const perMm = parseResolution(typed);
      const measured = value?.basis === 'measured';
      onChange({
        ...(value ?? figure(perMm, 'px/mm', 'assumed')),
        value: perMm,
        basis: measured ? 'measured' : 'assumed',
      });
      if (!measured) ask();
      setTyped(null);
      setFault('');
    } catch (error) {
      setFault((error as Error).message);
    }
  }
  return (
    <div {...handlers} style={{ display: 'grid', gap: 4 }}>
      <div style={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) 42px', gap: 4, alignItems: 'end' }}>
        <Field>
          <label htmlFor={id}>Resolution of the picture</label>
          <TextBox
            id={id}
            placeholder="300 dpi"
            value={typed ?? shown}
            data-typing={typed !== null && typed !== shown ? 'yes' : 'no'}
            aria-invalid={fault ? true : undefined}
            onChange={(e) => setTyped(e.target.value)}
            onBlur={commit}
            onKeyDown={(e) => {
              if (e.key === 'Enter') commit();
              if (e.key === 'Escape') {
                setTyped(null);
                setFault('');
              }
            }}
          />
        </Field>
        {value && (
          <BasisChoice
            of="the resolution"
            value={value.basis}
            onChange={(basis) => onChange({ ...value, basis })}
          />
        )}
      </div>
      {fault && <p role="alert">{fault}</p>}
      {question}
    </div>
  );
}
