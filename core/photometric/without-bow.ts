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
export function withoutBow({ widthPx: w, heightPx: h, data }: Plane): Plane {
  const n = TERMS.length;
  const [a, b] = [new Float64Array(n * n), new Float64Array(n)];
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
        for (let q = 0; q < n; q++) a[p * n + q]! += values[p]! * values[q]!;
      }
    }
  const k = solveLinear(a, b, n);
  const out = makePlane(w, h);
  for (let y = 0, i = 0; y < h; y++)
    for (let x = 0; x < w; x++, i++) {
      at(x, y);
      let bow = 0;
      for (let p = 0; p < n; p++) bow += k[p]! * values[p]!;
      out.data[i] = data[i]! - bow;
    }
  return out;
}

const MOST_PLACES = 60_000;

/**
 * Solves a linear system by Gaussian elimination with pivots.
 * @param a n × n, row by row; changed
 * @param b right side; changed
 * @returns zeros where the system is singular
 */
export function solveLinear(a: Float64Array, b: Float64Array, n: number): Float64Array {
  for (let k = 0; k < n; k++) {
    let pivot = k;
    for (let r = k + 1; r < n; r++) if (Math.abs(a[r * n + k]!) > Math.abs(a[pivot * n + k]!)) pivot = r;
    if (Math.abs(a[pivot * n + k]!) < 1e-12) return new Float64Array(n);
    for (let c = 0; c < n; c++) [a[k * n + c], a[pivot * n + c]] = [a[pivot * n + c]!, a[k * n + c]!];
    [b[k], b[pivot]] = [b[pivot]!, b[k]!];
    for (let r = k + 1; r < n; r++) {
      const f = a[r * n + k]! / a[k * n + k]!;
      for (let c = k; c < n; c++) a[r * n + c]! -= f * a[k * n + c]!;
      b[r]! -= f * b[k]!;
    }
  }
  const x = new Float64Array(n);
  for (let k = n - 1; k >= 0; k--) {
    let sum = b[k]!;
    for (let c = k + 1; c < n; c++) sum -= a[k * n + c]! * x[c]!;
    x[k] = sum / a[k * n + k]!;
  }
  return x;
}
