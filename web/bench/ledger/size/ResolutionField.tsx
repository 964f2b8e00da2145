import { useId, useState } from 'react';
import { BASES, figure, parseResolution, printNumber, type Figure } from '@jossel/core/units';
import { Choice } from '../../../controls/choice';
import { Field, TextBox } from '../../../controls/fields';
import { BasisMark } from '../../../controls/marks';

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
      onChange(
        value
          ? { ...value, value: perMm, basis: value.basis === 'assumed' ? 'measured' : value.basis }
          : figure(perMm, 'px/mm', 'measured'),
      );
      setTyped(null);
      setFault('');
    } catch (error) {
      setFault((error as Error).message);
    }
  }
  return (
    <>
      <div
        style={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) 118px', gap: 6, alignItems: 'end' }}
      >
        <Field>
          <label htmlFor={id}>Resolution of the picture</label>
          <TextBox
            id={id}
            placeholder="300 dpi"
            value={typed ?? shown}
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
          <Choice
            hideLabel
            label="Basis of the resolution"
            value={value.basis}
            options={BASES.map((basis) => ({ value: basis, name: basis, mark: <BasisMark basis={basis} /> }))}
            onChange={(basis) => onChange({ ...value, basis })}
          />
        )}
      </div>
      {fault && <p role="alert">{fault}</p>}
    </>
  );
}
