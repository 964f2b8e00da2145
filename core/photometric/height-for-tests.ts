import { makePlane, type Plane } from '../raster';

/** A height by pixel. */
export function heightBy(widthPx: number, heightPx: number, at: (x: number, y: number) => number): Plane {
  const plane = makePlane(widthPx, heightPx);
  plane.data.forEach((_, i) => (plane.data[i] = at(i % widthPx, Math.floor(i / widthPx))));
  return plane;
}
