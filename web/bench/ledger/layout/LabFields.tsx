import styled from 'styled-components';
import { labToXyz, linearToSrgbBytes, xyzToLinear } from '@jossel/core/colour';
import { NumberField } from '../../../controls/fields';

const Row = styled.div`
  display: grid;
  grid-template-columns: 22px 1fr 1fr 1fr;
  gap: 6px;
  align-items: end;
  i {
    height: 26px;
    border: 1px solid ${({ theme }) => theme.strong};
  }
`;

export type Lab = [number, number, number];

function css(lab: Lab): string {
  const [r, g, b] = xyzToLinear(labToXyz(lab));
  const one = (v: number) => new Float32Array([v]);
  const bytes = linearToSrgbBytes({ r: one(r), g: one(g), b: one(b) });
  return `rgb(${bytes[0]} ${bytes[1]} ${bytes[2]})`;
}

/** A colour as L*, a*, b*, with a patch of it. */
export function LabFields({
  of,
  value,
  onChange,
}: {
  of: string;
  value: Lab;
  onChange: (value: Lab) => void;
}) {
  return (
    <Row role="group" aria-label={`Colour of ${of}`}>
      <i style={{ background: css(value) }} aria-hidden />
      {(['L*', 'a*', 'b*'] as const).map((name, k) => (
        <NumberField
          key={name}
          label={name}
          unit="×"
          value={value[k]!}
          min={k === 0 ? 0 : -128}
          max={k === 0 ? 100 : 128}
          digits={1}
          onChange={(v) => onChange(value.map((old, n) => (n === k ? v : old)) as Lab)}
        />
      ))}
    </Row>
  );
}
