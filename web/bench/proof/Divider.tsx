import { useRef } from 'react';
import { Slider, SliderThumb, SliderTrack } from 'react-aria-components';
import styled from 'styled-components';

const Over = styled(Slider)`
  position: absolute;
  inset: 0;
  pointer-events: none;
  .react-aria-SliderTrack {
    height: 100%;
  }
  .react-aria-SliderThumb {
    pointer-events: auto;
    top: 50%;
    width: 11px;
    height: 100%;
    cursor: col-resize;
  }
  .react-aria-SliderThumb::before {
    content: '';
    position: absolute;
    left: 5px;
    top: 0;
    bottom: 0;
    width: 1px;
    background: ${({ theme }) => theme.ink};
    box-shadow: 1px 0 0 ${({ theme }) => theme.sheet};
  }
  .react-aria-SliderThumb::after {
    content: '';
    position: absolute;
    left: 1px;
    top: calc(50% - 14px);
    width: 9px;
    height: 28px;
    background: ${({ theme }) => theme.sheet};
    border: 1px solid ${({ theme }) => theme.ink};
  }
  .react-aria-SliderThumb[data-focus-visible]::after {
    outline: 2px solid ${({ theme }) => theme.mark};
  }
`;

/** The line between the two finishes that are compared; it is dragged, or moved by arrow keys. */
export function Divider({ share, onMove }: { share: number; onMove: (share: number) => void }) {
  const box = useRef<HTMLDivElement>(null);
  return (
    <Over
      ref={box}
      aria-label="Divider"
      value={share}
      minValue={0.02}
      maxValue={0.98}
      step={0.01}
      onChange={(v) => onMove(v as number)}
    >
      <SliderTrack>
        <SliderThumb />
      </SliderTrack>
    </Over>
  );
}
