import { useDrag } from '@use-gesture/react';

type Px = readonly [x: number, y: number];

/** What a drag does from press to release. Places are px of the window. */
export interface PointerDrag<Start, Args extends unknown[] = []> {
  /** At the press of the main button. @returns what the drag begins with */
  begin: (press: { at: Px; target: Element }, ...args: Args) => Start;
  /** Whenever the pointer moves. @param by from the press on */
  move: (start: Start, by: Px, at: Px) => void;
  /** When it is let go, or the system takes the pointer away. */
  end?: (start: Start, moved: boolean) => void;
}

/**
 * Drags something with mouse, pen or finger; the pointer is held by what was pressed, and whatever lies below does not see the press.
 * @returns properties of the element that is dragged; what is given to them is given to `begin`
 */
export function usePointerDrag<Start, Args extends unknown[] = []>({
  begin,
  move,
  end,
}: PointerDrag<Start, Args>) {
  const bind = useDrag<PointerEvent>(
    ({ first, last, movement: [x, y], xy, event, args, memo }) => {
      const held = memo as { start: Start; moved: boolean } | undefined;
      if (first || !held) {
        event.stopPropagation();
        return {
          start: begin({ at: xy, target: event.currentTarget as Element }, ...(args as Args)),
          moved: false,
        };
      }
      const moved = held.moved || x !== 0 || y !== 0;
      if (last) end?.(held.start, moved);
      else if (moved) move(held.start, [x, y], xy);
      return { ...held, moved };
    },
    // Arrow keys are each handle's own.
    { pointer: { keys: false }, triggerAllEvents: false },
  );
  return (...args: Args) => bind(...args);
}
