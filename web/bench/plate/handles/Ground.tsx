import { useRef, useState } from 'react';
import styled from 'styled-components';
import type { Point } from '@jossel/core/straighten';
import type { PlaceView } from './place-view';
import { usePointerDrag } from '../../../controls/use-pointer-drag';

const Cross = styled.g`
  pointer-events: none;
  outline: none;
`;

/** What is told of a drawn track: its places so far; null when it is given up. */
export interface GroundProps {
  name: string;
  view: PlaceView;
  box: { w: number; h: number };
  onTrack: (places: Point[]) => void;
  onDone: (places: Point[]) => void;
}

/**
 * The ground of the plate to draw on, with the pointer or with the keyboard: the arrow keys move a cross (Shift: far),
 * Space puts the pen down and lifts it again, Escape gives up.
 */
export function Ground({ name, view, box, onTrack, onDone }: GroundProps) {
  const track = useRef<Point[] | null>(null);
  const [cross, setCross] = useState<readonly [number, number] | null>(null);
  const [down, setDown] = useState(false);
  const placeAt = ([x, y]: readonly [number, number], ground: Element): Point => {
    const r = ground.getBoundingClientRect();
    return view.toPlace(x - r.left, y - r.top);
  };
  const add = (place: Point) => {
    track.current!.push(place);
    onTrack([...track.current!]);
  };
  const end = () => {
    const places = track.current;
    track.current = null;
    setDown(false);
    if (places) onDone(places);
  };
  const drag = usePointerDrag({
    begin: ({ at, target }) => {
      setCross(null);
      track.current = [];
      add(placeAt(at, target));
      return target;
    },
    move: (ground, _by, at) => {
      if (track.current) add(placeAt(at, ground));
    },
    end,
  });
  return (
    <>
      <rect
        role="application"
        aria-label={`${name}. Arrow keys move the cross, Space puts the pen down and lifts it, Escape gives up.`}
        tabIndex={0}
        width={box.w}
        height={box.h}
        fill="transparent"
        style={{ pointerEvents: 'all', cursor: 'crosshair', outline: 'none' }}
        {...drag()}
        onFocus={(e) => {
          if (e.currentTarget.matches(':focus-visible')) setCross((c) => c ?? [box.w / 2, box.h / 2]);
        }}
        onBlur={() => setCross(null)}
        onKeyDown={(e) => {
          const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key];
          if (by) {
            e.preventDefault();
            e.stopPropagation();
            const [x, y] = cross ?? [box.w / 2, box.h / 2];
            const k = e.shiftKey ? 20 : 2;
            const next = [
              Math.min(box.w, Math.max(0, x + k * by[0]!)),
              Math.min(box.h, Math.max(0, y + k * by[1]!)),
            ] as const;
            setCross(next);
            if (track.current) add(view.toPlace(...next));
          } else if (e.key === ' ' || e.key === 'Enter') {
            e.preventDefault();
            const here = cross ?? ([box.w / 2, box.h / 2] as const);
            if (track.current) end();
            else {
              track.current = [];
              setDown(true);
              add(view.toPlace(...here));
            }
          } else if (e.key === 'Escape') {
            track.current = null;
            setDown(false);
            onTrack([]);
          }
        }}
      />
      {cross && (
        <Cross transform={`translate(${cross[0]} ${cross[1]})`} aria-hidden="true">
          <path d="M-12 0H12M0 -12V12" stroke="#FFFFFF" strokeWidth="3" />
          <path d="M-12 0H12M0 -12V12" stroke={down ? '#A6281C' : '#1B1B1B'} strokeWidth="1.2" />
        </Cross>
      )}
    </>
  );
}
