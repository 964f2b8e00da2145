import { Amount } from '../../../controls/amounts';

/** The hue of what has passed something, as a* and b*. */
export const HueAmounts = ({
  hue: [a, b],
  onChange,
}: {
  hue: readonly [number, number];
  onChange: (hue: [number, number]) => void;
}) => (
  <>
    <Amount
      label="Hue a*"
      labelPx={60}
      value={a}
      min={-40}
      max={40}
      step={0.5}
      digits={1}
      neutral={0}
      onChange={(next) => onChange([next, b])}
    />
    <Amount
      label="Hue b*"
      labelPx={60}
      value={b}
      min={-40}
      max={40}
      step={0.5}
      digits={1}
      neutral={0}
      onChange={(next) => onChange([a, next])}
    />
  </>
);
