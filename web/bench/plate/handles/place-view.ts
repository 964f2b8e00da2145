import { toFrame, toPicture, type Frame, type Point } from '@jossel/core/straighten';
import type { Placed } from '../RuledView';

/** Where a field lies on the screen. */
type Lies = Pick<Placed, 'left' | 'top' | 'pxPerMm'>;

/** How places of the sample (shares of the picture as received) lie on the screen, whichever way it is looked at. */
export interface PlaceView {
  toScreen: (place: Point) => readonly [number, number];
  toPlace: (xPx: number, yPx: number) => Point;
  /** One pixel of the picture as received. */
  step: { x: number; y: number };
  /** Shares of the picture's longer side per screen pixel, about. */
  longSharePerPx: number;
}

/** The view of the picture as received: it fills a field of the given size. */
export function receivedView(
  frame: Frame,
  { left, top, pxPerMm }: Lies,
  fieldMm: { width: number; height: number },
): PlaceView {
  const [w, h] = [fieldMm.width * pxPerMm, fieldMm.height * pxPerMm];
  const { picture } = frame;
  return {
    toScreen: ([x, y]) => [left + x * w, top + y * h],
    toPlace: (x, y) => [(x - left) / w, (y - top) / h],
    step: { x: 1 / picture.widthPx, y: 1 / picture.heightPx },
    longSharePerPx: 1 / Math.max(w, h),
  };
}

/** The view of the straightened frame. */
export function straightView(
  frame: Frame,
  { left, top, pxPerMm }: Lies,
  fieldMm: { width: number; height: number },
  longSideMm: number,
): PlaceView {
  const [w, h] = [fieldMm.width * pxPerMm, fieldMm.height * pxPerMm];
  const { picture } = frame;
  return {
    toScreen: (place) => {
      const [u, v] = toFrame(frame, place);
      return [left + u * w, top + v * h];
    },
    toPlace: (x, y) => toPicture(frame, [(x - left) / w, (y - top) / h]),
    step: { x: 1 / picture.widthPx, y: 1 / picture.heightPx },
    longSharePerPx: 1 / (longSideMm * pxPerMm),
  };
}

/** A path through places, curved as the view curves straight lines. */
export function pathOf(view: PlaceView, places: readonly Point[], closed = false): string {
  const d = places
    .map((p, i) => {
      const [x, y] = view.toScreen(p);
      return `${i === 0 ? 'M' : 'L'}${x.toFixed(1)} ${y.toFixed(1)}`;
    })
    .join('');
  return closed ? `${d}Z` : d;
}
