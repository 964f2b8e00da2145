import styled from 'styled-components';
import type { ColourFigure } from '@jossel/core/light';
import { BasisChoice } from '../../../controls/figure-field';
import { LabFields } from '../layout/LabFields';

const Colour = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 3px 6px;
  align-items: end;
  > span {
    grid-column: 1 / -1;
    color: ${({ theme }) => theme.quiet};
    font-size: 12px;
  }
`;

/** A colour with where it is known from. */
export function ColourField({
  label,
  value,
  onChange,
}: {
  label: string;
  value: ColourFigure;
  onChange: (value: ColourFigure) => void;
}) {
  return (
    <Colour>
      <span>{label}</span>
      <LabFields
        of={label}
        value={value.lab}
        // A colour that is typed is assumed until somebody says otherwise.
        onChange={(lab) =>
          onChange({ ...value, lab, basis: value.basis === 'measured' ? 'measured' : 'assumed' })
        }
      />
      <BasisChoice of={label} value={value.basis} onChange={(basis) => onChange({ ...value, basis })} />
    </Colour>
  );
}
