import { linearSolution } from '../exact';
import { makePlane, type Plane } from '../raster';

/** Terms of a surface of the second degree: its tilt and its bow. */
const TERMS: readonly ((x: number, y: number) => number)[] = [
  () => 1,
  (x) => x,
  (_, y) => y,
  (x) => x * x,
  (x, y) => x * y,
  (_, y) => y * y,
];

/**
 * A height less the surface of the second degree that fits it best. The sample need not lie square to the camera, and a bow over
 * the whole picture is what small errors of the lights add up to: photometric stereo tells it less well than anything else.
 */
export function flattened({ widthPx: w, heightPx: h, data }: Plane): Plane {
  const n = TERMS.length;
  const a = TERMS.map(() => new Array<number>(n).fill(0));
  const b = new Array<number>(n).fill(0);
  const values = new Float64Array(n);
  const at = (x: number, y: number) => {
    const [u, v] = [(2 * x + 1) / w - 1, (2 * y + 1) / h - 1];
    for (let k = 0; k < n; k++) values[k] = TERMS[k]!(u, v);
  };
  const step = Math.max(1, Math.floor(Math.sqrt((w * h) / MOST_PLACES)));
  for (let y = 0; y < h; y += step)
    for (let x = 0; x < w; x += step) {
      at(x, y);
      for (let p = 0; p < n; p++) {
        b[p]! += values[p]! * data[y * w + x]!;
        for (let q = 0; q < n; q++) a[p]![q]! += values[p]! * values[q]!;
      }
    }
  // A picture too small to tell a bow has none.
  const k = linearSolution(a, b, LEAST_PIVOT);
  if (!k) return { widthPx: w, heightPx: h, data };
  const [k0, k1, k2, k3, k4, k5] = k as [number, number, number, number, number, number];
  const out = makePlane(w, h);
  for (let y = 0, i = 0; y < h; y++) {
    const v = (2 * y + 1) / h - 1;
    for (let x = 0; x < w; x++, i++) {
      const u = (2 * x + 1) / w - 1;
      out.data[i] = data[i]! - (k0 + k1 * u + k2 * v + k3 * (u * u) + k4 * (u * v) + k5 * (v * v));
    }
  }
  return out;
}

const MOST_PLACES = 60_000;
const LEAST_PIVOT = 1e-9;
