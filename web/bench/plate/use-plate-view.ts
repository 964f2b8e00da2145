import { useCallback, useEffect, useLayoutEffect, useRef, useState } from 'react';
import { useAppDispatch, useAppSelector } from '../../app/store';
import { benchSlice } from '../bench-slice';
import {
  fittingScale,
  limitScale,
  movedBy,
  nextScale,
  placeField,
  zoomedAt,
  type FieldMm,
  type Placed,
} from './plate-view';

/** What was in the middle of each view when it was left, so that it is found there again. */
const left = new Map<string, FieldMm | null>();

/** How much a notch of the wheel and a pinch zoom. */
const PER_WHEEL_PX = 0.0016;
const PER_PINCH_PX = 0.01;
/** Lines and pages of a wheel, px. */
const WHEEL_UNIT_PX = [1, 30, 400];
/** A scale zoomed to is taken over when nothing moves for so long. */
const SETTLES_AFTER_MS = 160;
/** What an arrow key moves, px. */
const KEY_PX = 40;

export interface PlateView {
  placed: Placed;
  /** Scale that was chosen, as against the one at which all fits; null: none is. */
  chosen: number | null;
  /** The space bar is held or the view is being moved. */
  moving: 'ready' | 'moves' | null;
  zoom: (larger: boolean) => void;
  fit: () => void;
}

/**
 * Scale and place of a view: the wheel and two fingers zoom at the pointer, keys at the middle; dragging moves, with the
 * space bar or the middle button also while something else is drawn by dragging.
 * @param name of the view, under which its place is kept
 * @param pans dragging the ground moves the picture
 * @param tightly fits the view whatever scale that gives
 */
export function usePlateView(
  view: React.RefObject<HTMLDivElement | null>,
  name: string,
  fieldMm: { width: number; height: number },
  pans: boolean,
  tightly: boolean,
): PlateView {
  const dispatch = useAppDispatch();
  const chosen = useAppSelector((s) => s.bench.scale);
  const screenPxPerMm = useAppSelector((s) => s.settings.screenPxPerMm);
  const box = useBox(view);
  const [centre, setCentre] = useState<FieldMm | null>(() => left.get(name) ?? null);
  const [live, setLive] = useState<number | null>(null);
  const [moving, setMoving] = useState<PlateView['moving']>(null);
  const held = useRef(name);
  if (held.current !== name) {
    // Another picture in the same view has a place of its own.
    held.current = name;
    setCentre(left.get(name) ?? null);
  }
  useEffect(() => {
    left.set(name, centre);
  }, [name, centre]);

  const field = { fieldMm, box, screenPxPerMm };
  const scale = live ?? chosen ?? fittingScale(field, tightly);
  const placed = placeField(field, scale, centre);
  const now = useRef({ placed, pans });
  now.current = { placed, pans };

  const settling = useRef<ReturnType<typeof setTimeout>>(undefined);
  const zoomTo = useCallback(
    (wanted: number, at?: readonly [number, number]) => {
      const before = now.current.placed;
      const next = limitScale(wanted);
      const middle = [before.box.w / 2, before.box.h / 2] as const;
      setCentre(zoomedAt(before, next, at ?? middle));
      setLive(next);
      clearTimeout(settling.current);
      settling.current = setTimeout(() => {
        dispatch(benchSlice.actions.changed({ scale: next }));
        setLive(null);
      }, SETTLES_AFTER_MS);
    },
    [dispatch],
  );
  useEffect(() => {
    // A scale that was chosen otherwise meanwhile counts.
    clearTimeout(settling.current);
    setLive(null);
    return () => clearTimeout(settling.current);
  }, [chosen]);
  const fit = useCallback(() => {
    clearTimeout(settling.current);
    setLive(null);
    setCentre(null);
    dispatch(benchSlice.actions.changed({ scale: null }));
  }, [dispatch]);
  const zoom = useCallback(
    (larger: boolean) => zoomTo(nextScale(now.current.placed.scale, larger)),
    [zoomTo],
  );
  const move = useCallback((dx: number, dy: number) => setCentre(movedBy(now.current.placed, dx, dy)), []);

  useWheel(view, now, zoomTo);
  usePointers(view, now, { zoomTo, move, setMoving });
  useKeys(view, { zoom, fit, move });
  const moves = live !== null || moving === 'moves';
  return { placed: { ...placed, moves }, chosen: live ?? chosen, moving, zoom, fit };
}

type Now = React.RefObject<{ placed: Placed; pans: boolean }>;

/** Size of the view, px. */
function useBox(view: React.RefObject<HTMLDivElement | null>): { w: number; h: number } {
  const [box, setBox] = useState({ w: 0, h: 0 });
  useLayoutEffect(() => {
    const observer = new ResizeObserver(
      ([entry]) =>
        entry && setBox({ w: Math.floor(entry.contentRect.width), h: Math.floor(entry.contentRect.height) }),
    );
    observer.observe(view.current!);
    return () => observer.disconnect();
  }, [view]);
  return box;
}

const placeIn = (element: Element, e: { clientX: number; clientY: number }): [number, number] => {
  const { left: x, top: y } = element.getBoundingClientRect();
  return [e.clientX - x, e.clientY - y];
};

function useWheel(
  view: React.RefObject<HTMLDivElement | null>,
  now: Now,
  zoomTo: (scale: number, at: readonly [number, number]) => void,
): void {
  useEffect(() => {
    const target = view.current!;
    const onWheel = (e: WheelEvent) => {
      e.preventDefault();
      // Two fingers on a trackpad come as a wheel with the control key.
      const perPx = e.ctrlKey ? PER_PINCH_PX : PER_WHEEL_PX;
      const times = Math.exp(e.deltaY * WHEEL_UNIT_PX[e.deltaMode]! * perPx);
      zoomTo(now.current.placed.scale * times, placeIn(target, e));
    };
    target.addEventListener('wheel', onWheel, { passive: false });
    return () => target.removeEventListener('wheel', onWheel);
  }, [view, now, zoomTo]);
}

/** Whether the space bar belongs to what has the focus: to a field, a button, or a pen that is moved by keys. */
function takesSpace(element: Element | null): boolean {
  return (
    element !== null &&
    (element.matches('input, textarea') ||
      // What has the focus by a press of the pointer is not meant by the space bar, what was reached by keys is.
      (element.matches(':focus-visible') &&
        element.matches(
          'button, select, [role="option"], [role="menuitem"], [role="radio"], [role="application"], [role="slider"]',
        )))
  );
}

function usePointers(
  view: React.RefObject<HTMLDivElement | null>,
  now: Now,
  {
    zoomTo,
    move,
    setMoving,
  }: {
    zoomTo: (scale: number, at: readonly [number, number]) => void;
    move: (dx: number, dy: number) => void;
    setMoving: (moving: PlateView['moving']) => void;
  },
): void {
  useEffect(() => {
    const target = view.current!;
    const fingers = new Map<number, [number, number]>();
    let space = false;
    let inside = false;
    let moves: number | null = null;

    const onDown = (e: PointerEvent) => {
      const at = placeIn(target, e);
      if (e.pointerType === 'touch') fingers.set(e.pointerId, at);
      const byHand = e.button === 1 || space || fingers.size === 2;
      const onGround = e.target === target || (e.target as Element).tagName === 'CANVAS';
      if (!byHand && !(now.current.pans && onGround && e.button === 0)) return;
      if (byHand) {
        e.preventDefault();
        e.stopPropagation();
      }
      moves = e.pointerId;
      fingers.set(e.pointerId, at);
      target.setPointerCapture(e.pointerId);
      setMoving('moves');
    };
    const onMove = (e: PointerEvent) => {
      const before = fingers.get(e.pointerId);
      if (!before) return;
      const at = placeIn(target, e);
      fingers.set(e.pointerId, at);
      const other = [...fingers].find(([id]) => id !== e.pointerId)?.[1];
      if (other) {
        const span = (p: readonly [number, number]) =>
          Math.max(1, Math.hypot(p[0] - other[0], p[1] - other[1]));
        const middle = [(at[0] + other[0]) / 2, (at[1] + other[1]) / 2] as const;
        zoomTo((now.current.placed.scale * span(before)) / span(at), middle);
      } else if (moves === e.pointerId) move(at[0] - before[0], at[1] - before[1]);
    };
    const onUp = (e: PointerEvent) => {
      fingers.delete(e.pointerId);
      if (moves === e.pointerId) {
        moves = null;
        setMoving(space ? 'ready' : null);
      }
    };
    const onSpace = (e: KeyboardEvent) => {
      if (e.key !== ' ') return;
      if (e.type === 'keyup') {
        if (space) setMoving(moves === null ? null : 'moves');
        space = false;
      } else if (inside && !takesSpace(document.activeElement)) {
        e.preventDefault();
        e.stopPropagation();
        if (!space) setMoving('ready');
        space = true;
      }
    };
    const onEnter = () => (inside = true);
    const onLeave = () => (inside = false);
    const ends = new AbortController();
    const { signal } = ends;
    target.addEventListener('pointerdown', onDown, { capture: true, signal });
    target.addEventListener('pointermove', onMove, { signal });
    target.addEventListener('pointerup', onUp, { signal });
    target.addEventListener('pointercancel', onUp, { signal });
    target.addEventListener('pointerenter', onEnter, { signal });
    target.addEventListener('pointerleave', onLeave, { signal });
    window.addEventListener('keydown', onSpace, { capture: true, signal });
    window.addEventListener('keyup', onSpace, { capture: true, signal });
    return () => ends.abort();
  }, [view, now, zoomTo, move, setMoving]);
}

function useKeys(
  view: React.RefObject<HTMLDivElement | null>,
  {
    zoom,
    fit,
    move,
  }: { zoom: (larger: boolean) => void; fit: () => void; move: (dx: number, dy: number) => void },
): void {
  useEffect(() => {
    const target = view.current!;
    const onKey = (e: KeyboardEvent) => {
      // Handles on the plate have arrow keys of their own.
      if (e.target !== target || e.ctrlKey || e.metaKey || e.altKey) return;
      const by = {
        ArrowLeft: [KEY_PX, 0],
        ArrowRight: [-KEY_PX, 0],
        ArrowUp: [0, KEY_PX],
        ArrowDown: [0, -KEY_PX],
      }[e.key];
      if (!by) return;
      e.preventDefault();
      move(by[0]!, by[1]!);
    };
    const onDouble = (e: MouseEvent) => {
      const onGround = e.target === target || (e.target as Element).tagName === 'CANVAS';
      if (onGround) fit();
    };
    target.addEventListener('keydown', onKey);
    target.addEventListener('dblclick', onDouble);
    return () => {
      target.removeEventListener('keydown', onKey);
      target.removeEventListener('dblclick', onDouble);
    };
  }, [view, zoom, fit, move]);
}
