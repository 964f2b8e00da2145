import { fillPolygon, makePlane, paintTrack, type Plane, type Track } from '../raster';
import { toFrame, toPicture, type Frame, type Point } from '../straighten';
import type { ContinuityLine, Mark } from './settings';

/** Pixels of a frame's raster per share of the picture's longer side, about a place of the frame. */
function scaleAt(frame: Frame, place: Point, widthPx: number, heightPx: number): { x: number; y: number } {
  const e = 1e-3;
  const { picture } = frame;
  const long = Math.max(picture.widthPx, picture.heightPx);
  const [ex, ey] = [(e * long) / picture.widthPx, (e * long) / picture.heightPx];
  const at = toFrame(frame, place);
  const right = toFrame(frame, [place[0] + ex, place[1]]);
  const down = toFrame(frame, [place[0], place[1] + ey]);
  return {
    x: (Math.hypot(right[0] - at[0], down[0] - at[0]) * widthPx) / e,
    y: (Math.hypot(right[1] - at[1], down[1] - at[1]) * heightPx) / e,
  };
}

const trackOf = (frame: Frame, points: readonly Point[], w: number, h: number): Track =>
  points.map((p) => {
    const [u, v] = toFrame(frame, p);
    return [u * w, v * h] as const;
  });

/**
 * Draws keep-outs over a straightened frame.
 * @param frame the frame that is drawn over
 * @param marks in order; a later one lies over earlier ones, and may take away from them
 * @param widthPx of the raster that covers the frame
 * @param heightPx of the raster
 * @returns 1 where the sample must not be used, 0 elsewhere
 */
export function drawKeepOuts(frame: Frame, marks: readonly Mark[], widthPx: number, heightPx: number): Plane {
  const plane = makePlane(widthPx, heightPx);
  for (const mark of marks) {
    const value = mark.erase ? 0 : 1;
    const track = trackOf(frame, mark.points, widthPx, heightPx);
    if (mark.kind === 'outline') fillPolygon(plane, track, value);
    else {
      const scale = scaleAt(frame, mark.points[mark.points.length >> 1]!, widthPx, heightPx);
      paintTrack(plane, track, (mark.width / 2) * scale.x, (mark.width / 2) * scale.y, value);
    }
  }
  return plane;
}

/** Draws continuity lines over a straightened frame: 1 on them, 0 elsewhere. */
export function drawContinuityLines(
  frame: Frame,
  lines: readonly ContinuityLine[],
  widthPx: number,
  heightPx: number,
): Plane {
  const plane = makePlane(widthPx, heightPx);
  for (const line of lines) {
    const scale = scaleAt(frame, line.points[line.points.length >> 1]!, widthPx, heightPx);
    paintTrack(
      plane,
      trackOf(frame, line.points, widthPx, heightPx),
      (line.width / 2) * scale.x,
      (line.width / 2) * scale.y,
      1,
    );
  }
  return plane;
}

/** Millimetres of the finish in the whole longer side of the picture, as seen in the middle of a frame of known size. */
export function mmOfLongSide(frame: Frame, frameMm: { width: number; height: number }): number {
  const scale = scaleAt(frame, toPicture(frame, [0.5, 0.5]), frameMm.width, frameMm.height);
  return Math.sqrt(scale.x * scale.y);
}
