import { makePlane, type Plane } from './plane';

/** Halves a plane by averaging 2×2 pixels; an odd last row or column is averaged with itself. */
export function halve(source: Plane): Plane {
  const widthPx = Math.max(1, (source.widthPx + 1) >> 1);
  const heightPx = Math.max(1, (source.heightPx + 1) >> 1);
  const out = makePlane(widthPx, heightPx);
  for (let y = 0; y < heightPx; y++) {
    const row0 = Math.min(2 * y, source.heightPx - 1) * source.widthPx;
    const row1 = Math.min(2 * y + 1, source.heightPx - 1) * source.widthPx;
    for (let x = 0; x < widthPx; x++) {
      const x0 = Math.min(2 * x, source.widthPx - 1);
      const x1 = Math.min(2 * x + 1, source.widthPx - 1);
      out.data[y * widthPx + x] =
        0.25 *
        (source.data[row0 + x0]! +
          source.data[row0 + x1]! +
          source.data[row1 + x0]! +
          source.data[row1 + x1]!);
    }
  }
  return out;
}

interface Taps {
  first: Int32Array;
  weights: Float32Array;
  count: number;
}

/** Cubic kernel after Keys 1981 (a = −0.5): exact for quadratics, sharp, little ringing. */
function keys(t: number): number {
  const a = Math.abs(t);
  if (a < 1) return (1.5 * a - 2.5) * a * a + 1;
  if (a < 2) return ((-0.5 * a + 2.5) * a - 4) * a + 2;
  return 0;
}

/** For each target pixel: its first source pixel and kernel weights. The kernel widens when shrinking, so nothing aliases. */
function makeTaps(targetPx: number, originPx: number, stepPx: number): Taps {
  const scale = Math.max(1, stepPx);
  const count = Math.ceil(4 * scale) + 1;
  const first = new Int32Array(targetPx);
  const weights = new Float32Array(targetPx * count);
  for (let i = 0; i < targetPx; i++) {
    const centre = originPx + (i + 0.5) * stepPx - 0.5;
    const start = Math.ceil(centre - 2 * scale);
    first[i] = start;
    let sum = 0;
    for (let k = 0; k < count; k++) sum += keys((start + k - centre) / scale);
    for (let k = 0; k < count; k++) weights[i * count + k] = keys((start + k - centre) / scale) / sum;
  }
  return { first, weights, count };
}

/**
 * Resamples a window of a plane to another pixel grid with a separable cubic filter that follows the scale.
 *
 * @param source the plane
 * @param window left, top (may be fractional or outside; edges are repeated) and step: source pixels per target pixel
 * @param widthPx target width
 * @param heightPx target height
 */
export function resample(
  source: Plane,
  window: { leftPx: number; topPx: number; stepX: number; stepY: number },
  widthPx: number,
  heightPx: number,
): Plane {
  if (isWhole(source, window, widthPx, heightPx)) return { ...source, data: source.data.slice() };
  const tx = makeTaps(widthPx, window.leftPx, window.stepX);
  const ty = makeTaps(heightPx, window.topPx, window.stepY);
  const rowFirst = Math.max(0, Math.min(source.heightPx - 1, ty.first[0] ?? 0));
  const rowLast = Math.max(0, Math.min(source.heightPx - 1, (ty.first[heightPx - 1] ?? 0) + ty.count - 1));
  const rows = rowLast - rowFirst + 1;
  const across = filterAcross(source, tx, rowFirst, rows, widthPx);
  const out = makePlane(widthPx, heightPx);
  const { data } = out;
  const { first, weights, count } = ty;
  for (let y = 0, to = 0; y < heightPx; y++, to += widthPx) {
    for (let k = 0; k < count; k++) {
      const weight = weights[y * count + k]!;
      if (weight === 0) continue;
      const row = (Math.min(source.heightPx - 1, Math.max(0, first[y]! + k)) - rowFirst) * widthPx;
      for (let x = 0; x < widthPx; x++) data[to + x]! += weight * across[row + x]!;
    }
  }
  return out;
}

/** Rows of a plane, each filtered along itself; beyond its ends a row goes on as it ends. */
function filterAcross(
  { widthPx: sourceWidthPx, data }: Plane,
  { first, weights, count }: Taps,
  rowFirst: number,
  rows: number,
  widthPx: number,
): Float32Array {
  const across = new Float32Array(rows * widthPx);
  const lastX = sourceWidthPx - 1;
  for (let y = 0; y < rows; y++) {
    const row = (y + rowFirst) * sourceWidthPx;
    for (let x = 0, w = 0; x < widthPx; x++, w += count) {
      let sum = 0;
      const start = first[x]!;
      if (start >= 0 && start + count - 1 <= lastX) {
        const from = row + start;
        for (let k = 0; k < count; k++) sum += weights[w + k]! * data[from + k]!;
      } else {
        for (let k = 0; k < count; k++)
          sum += weights[w + k]! * data[row + Math.min(lastX, Math.max(0, start + k))]!;
      }
      across[y * widthPx + x] = sum;
    }
  }
  return across;
}

/** Whether a window is the plane itself, pixel for pixel. */
const isWhole = (
  source: Plane,
  { leftPx, topPx, stepX, stepY }: { leftPx: number; topPx: number; stepX: number; stepY: number },
  widthPx: number,
  heightPx: number,
) =>
  leftPx === 0 &&
  topPx === 0 &&
  stepX === 1 &&
  stepY === 1 &&
  source.widthPx === widthPx &&
  source.heightPx === heightPx;

/** Bilinear value at pixel coordinates (pixel centres at whole numbers), wrapping round on both axes. */
export function sampleWrapped(plane: Plane, xPx: number, yPx: number): number {
  const { widthPx: w, heightPx: h, data } = plane;
  const x0 = Math.floor(xPx);
  const y0 = Math.floor(yPx);
  const fx = xPx - x0;
  const fy = yPx - y0;
  const xa = ((x0 % w) + w) % w;
  const xb = (xa + 1) % w;
  const ya = (((y0 % h) + h) % h) * w;
  const yb = ((((y0 + 1) % h) + h) % h) * w;
  return (
    (data[ya + xa]! * (1 - fx) + data[ya + xb]! * fx) * (1 - fy) +
    (data[yb + xa]! * (1 - fx) + data[yb + xb]! * fx) * fy
  );
}
