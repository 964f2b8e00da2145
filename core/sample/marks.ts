import { makePlane, type Plane } from '../raster';
import { toFrame, toPicture, type Frame, type Point } from '../straighten';
import type { HoldLine, Mark } from './settings';

/** A polygon or polyline in pixels of the plane. */
type Track = readonly (readonly [number, number])[];

/** Fills a polygon: every pixel whose centre lies inside (even–odd). */
function fillPolygon(plane: Plane, track: Track, value: number): void {
  const { widthPx: w, heightPx: h, data } = plane;
  const n = track.length;
  let [top, bottom] = [Infinity, -Infinity];
  for (const [, y] of track) {
    top = Math.min(top, y);
    bottom = Math.max(bottom, y);
  }
  const crossings: number[] = [];
  for (let y = Math.max(0, Math.ceil(top - 0.5)); y < Math.min(h, bottom); y++) {
    const at = y + 0.5;
    crossings.length = 0;
    for (let i = 0; i < n; i++) {
      const [x0, y0] = track[i]!;
      const [x1, y1] = track[(i + 1) % n]!;
      if (y0 <= at === y1 <= at) continue;
      crossings.push(x0 + ((at - y0) / (y1 - y0)) * (x1 - x0));
    }
    crossings.sort((a, b) => a - b);
    for (let k = 0; k + 1 < crossings.length; k += 2)
      for (
        let x = Math.max(0, Math.ceil(crossings[k]! - 0.5));
        x < Math.min(w, crossings[k + 1]! - 0.5 + 1e-9);
        x++
      )
        data[y * w + x] = value;
  }
}

/** Paints along a track with round ends: every pixel whose centre is within the radii (an ellipse when they differ). */
function paintTrack(plane: Plane, track: Track, radiusX: number, radiusY: number, value: number): void {
  const { widthPx: w, heightPx: h, data } = plane;
  const [rx, ry] = [Math.max(0.5, radiusX), Math.max(0.5, radiusY)];
  for (let i = 0; i < Math.max(1, track.length - 1); i++) {
    const [x0, y0] = track[i]!;
    const [x1, y1] = track[Math.min(i + 1, track.length - 1)]!;
    const [dx, dy] = [(x1 - x0) / rx, (y1 - y0) / ry];
    const length2 = dx * dx + dy * dy;
    for (
      let y = Math.max(0, Math.floor(Math.min(y0, y1) - ry));
      y <= Math.min(h - 1, Math.max(y0, y1) + ry);
      y++
    )
      for (
        let x = Math.max(0, Math.floor(Math.min(x0, x1) - rx));
        x <= Math.min(w - 1, Math.max(x0, x1) + rx);
        x++
      ) {
        const [px, py] = [(x + 0.5 - x0) / rx, (y + 0.5 - y0) / ry];
        const t = length2 > 0 ? Math.min(1, Math.max(0, (px * dx + py * dy) / length2)) : 0;
        if ((px - t * dx) ** 2 + (py - t * dy) ** 2 <= 1) data[y * w + x] = value;
      }
  }
}

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

/** Draws hold lines over a straightened frame: 1 on them, 0 elsewhere. */
export function drawHoldLines(
  frame: Frame,
  lines: readonly HoldLine[],
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
