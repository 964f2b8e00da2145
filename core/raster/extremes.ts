import { makePlane, type Plane } from './plane';

/**
 * The least or greatest value of every pixel's rectangular neighbourhood (erosion and dilation of a grey image by a box), over
 * edges that wrap or end. Cost does not depend on the reach: a monotonic queue runs along rows, then along columns.
 * @param reachPx the box reaches so many pixels to each side, a whole number from 0
 */
export function extremes(plane: Plane, reachPx: number, which: 'least' | 'greatest', wraps: boolean): Plane {
  const { widthPx: w, heightPx: h } = plane;
  const sign = which === 'greatest' ? 1 : -1;
  const rows = makePlane(w, h);
  const line = lineOf(Math.max(w, h), reachPx, wraps);
  for (let y = 0; y < h; y++) line(plane.data, rows.data, y * w, 1, w, sign);
  const out = makePlane(w, h);
  for (let x = 0; x < w; x++) line(rows.data, out.data, x, w, h, sign);
  return out;
}

/** One line at a time: its values with what lies beyond its ends, and a queue of those that may still be the greatest. */
function lineOf(longest: number, reach: number, wraps: boolean) {
  const values = new Float32Array(longest + 2 * reach);
  const queue = new Int32Array(longest + 2 * reach);
  return (from: Float32Array, to: Float32Array, start: number, step: number, n: number, sign: number) => {
    for (let k = 0; k < n; k++) values[k + reach] = sign * from[start + k * step]!;
    for (let k = 0; k < reach; k++) {
      values[k] = wraps ? values[reach + ((((k - reach) % n) + n) % n)]! : -Infinity;
      values[n + reach + k] = wraps ? values[reach + (k % n)]! : -Infinity;
    }
    let [head, tail] = [0, 0];
    for (let k = 0, next = 0; k < n; k++) {
      for (; next <= k + 2 * reach; next++) {
        while (tail > head && values[queue[tail - 1]!]! <= values[next]!) tail--;
        queue[tail++] = next;
      }
      while (queue[head]! < k) head++;
      to[start + k * step] = sign * values[queue[head]!]!;
    }
  };
}
