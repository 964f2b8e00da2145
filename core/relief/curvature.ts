import { makePlane, type Plane } from '../raster';
import { rowSpans, type Steps } from '../steps';

/**
 * Mean curvature of a height that repeats, 1/mm: above 0 where it bulges (a sphere of radius r: 1/r), below where it is
 * hollow. H = −((1 + q²)·hxx − 2pq·hxy + (1 + p²)·hyy) / (2·(1 + p² + q²)^1.5), with p and q the slopes (do Carmo,
 * "Differential Geometry of Curves and Surfaces", 1976, 3-3), by central differences that wrap.
 * @param height mm
 * @param mmPerPx size of a pixel
 */
export function* curvatureSteps(height: Plane, mmPerPx: { x: number; y: number }): Steps<Plane> {
  const { widthPx: w, heightPx: h } = height;
  const out = makePlane(w, h);
  for (const { from, to } of rowSpans(h, w)) {
    yield;
    curvatureOfRows(out, height, mmPerPx, from, to);
  }
  return out;
}

function curvatureOfRows(
  out: Plane,
  { widthPx: w, heightPx: h, data }: Plane,
  { x: mx, y: my }: { x: number; y: number },
  from: number,
  to: number,
): void {
  for (let y = from; y < to; y++) {
    const [up, row, down] = [((y + h - 1) % h) * w, y * w, ((y + 1) % h) * w];
    for (let x = 0; x < w; x++) {
      const [left, right] = [x === 0 ? w - 1 : x - 1, x === w - 1 ? 0 : x + 1];
      const v = data[row + x]!;
      const [l, r, u, d] = [data[row + left]!, data[row + right]!, data[up + x]!, data[down + x]!];
      const p = (r - l) / (2 * mx);
      const q = (u - d) / (2 * my);
      const hxx = (r - 2 * v + l) / (mx * mx);
      const hyy = (u - 2 * v + d) / (my * my);
      const hxy =
        (data[up + right]! - data[up + left]! - data[down + right]! + data[down + left]!) / (4 * mx * my);
      const g = 1 + p * p + q * q;
      out.data[row + x] = -((1 + q * q) * hxx - 2 * p * q * hxy + (1 + p * p) * hyy) / (2 * g * Math.sqrt(g));
    }
  }
}
