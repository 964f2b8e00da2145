import { useRef } from 'react';
import styled from 'styled-components';
import type { Point } from '@jossel/core/straighten';
import type { PlaceView } from './place-view';
import { usePointerDrag } from '../../../controls/use-pointer-drag';

const Knob = styled.g`
  cursor: move;
  pointer-events: all;
  outline: none;
  circle.hit {
    fill: transparent;
  }
  circle.ring {
    fill: rgba(255, 255, 255, 0.75);
    stroke: ${({ theme }) => theme.mark};
    stroke-width: 1.5;
  }
  &:focus-visible circle.ring {
    stroke-width: 3.5;
  }
  &[data-held='true'] circle.ring {
    fill: none;
  }
`;

/** A point on the sample that is dragged, or moved by single pixels of the picture with the arrow keys (Shift: ten). */
export function Handle({
  name,
  place,
  view,
  small,
  onMove,
  onDone,
  onHold,
}: {
  name: string;
  place: Point;
  view: PlaceView;
  small?: boolean;
  /** While it is dragged. */
  onMove: (place: Point) => void;
  /** When it is let go, or moved by a key. */
  onDone: (place: Point) => void;
  /** The place under the pointer while it is held, for the loupe; null when let go. */
  onHold?: (place: Point | null) => void;
}) {
  const [x, y] = view.toScreen(place);
  const last = useRef<Point>(place);
  const drag = usePointerDrag({
    begin: ({ target }) => {
      (target as SVGElement).focus({ preventScroll: true });
      last.current = place;
      onHold?.(place);
      return [x, y] as const;
    },
    move: (from, [dx, dy]) => {
      last.current = view.toPlace(from[0] + dx, from[1] + dy);
      onMove(last.current);
      onHold?.(last.current);
    },
    end: (_from, moved) => {
      onHold?.(null);
      if (moved) onDone(last.current);
    },
  });
  return (
    <Knob
      role="slider"
      tabIndex={0}
      aria-label={name}
      aria-valuenow={Math.round(place[0] / view.step.x)}
      aria-valuetext={`${Math.round(place[0] / view.step.x)}, ${Math.round(place[1] / view.step.y)} px`}
      transform={`translate(${x.toFixed(2)} ${y.toFixed(2)})`}
      {...drag()}
      onKeyDown={(e) => {
        const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key];
        if (!by) return;
        e.preventDefault();
        e.stopPropagation();
        const k = e.shiftKey ? 10 : 1;
        onHold?.([place[0] + k * by[0]! * view.step.x, place[1] + k * by[1]! * view.step.y]);
        onDone([place[0] + k * by[0]! * view.step.x, place[1] + k * by[1]! * view.step.y]);
      }}
      onBlur={() => onHold?.(null)}
    >
      <circle className="hit" r={12} />
      <circle className="ring" r={small ? 4 : 6} />
      <path d="M-1.5 0H1.5M0 -1.5V1.5" stroke="#1B1B1B" strokeWidth="0.8" />
    </Knob>
  );
}
