import styled from 'styled-components';
import { usePointerDrag } from '../controls/use-pointer-drag';

const Line = styled.div`
  cursor: col-resize;
  touch-action: none;
  display: grid;
  place-items: center;
  &::after {
    content: '';
    width: 2px;
    height: 28px;
    background: ${({ theme }) => theme.line};
  }
  &:hover::after,
  &:focus-visible::after {
    background: ${({ theme }) => theme.ink};
  }
`;
/** A line between two columns that can be dragged or moved with the arrow keys. */
export function ColumnDivider({
  label,
  value,
  min,
  max,
  sign,
  onChange,
}: {
  label: string;
  value: number;
  min: number;
  max: number;
  sign: 1 | -1;
  onChange: (value: number) => void;
}) {
  const limit = (v: number) => Math.min(max, Math.max(min, v));
  const drag = usePointerDrag({
    begin: () => value,
    move: (before, [dx]) => onChange(limit(before + sign * dx)),
  });
  return (
    <Line
      role="separator"
      aria-orientation="vertical"
      aria-label={label}
      aria-valuenow={value}
      aria-valuemin={min}
      aria-valuemax={max}
      tabIndex={0}
      {...drag()}
      onKeyDown={(e) => {
        if (e.key === 'ArrowLeft') onChange(limit(value - sign * 16));
        if (e.key === 'ArrowRight') onChange(limit(value + sign * 16));
      }}
    />
  );
}
