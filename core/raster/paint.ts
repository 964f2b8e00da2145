import { squared } from '../exact';
import type { Plane } from './plane';

/** A polygon or polyline in pixels of the plane. */
export type Track = readonly (readonly [number, number])[];

/** Fills a polygon: every pixel whose centre lies inside (even–odd). */
export function fillPolygon(plane: Plane, track: Track, value: number): void {
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
export function paintTrack(
  plane: Plane,
  track: Track,
  radiusX: number,
  radiusY: number,
  value: number,
): void {
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
        if (squared(px - t * dx) + squared(py - t * dy) <= 1) data[y * w + x] = value;
      }
  }
}
