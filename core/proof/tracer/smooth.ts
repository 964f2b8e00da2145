import { luminanceOf } from '../../raster';
import { atOnce, type Steps } from '../../steps';
import type { Gathered } from './tracer';

/** Steps of 1, 2, 4 … pixels. */
const PASSES = 5;
const KERNEL = [0.25, 0.5, 0.25] as const;
const ROWS_AT_ONCE = 16;

/**
 * The picture so far with its noise smoothed along what is seen (edge-avoiding à-trous wavelets, Dammertz et al. 2010): light
 * without the colour it falls on is averaged over neighbours that face the same way at the same distance and whose light
 * differs by no more than noise does. The more samples there are, the less is smoothed.
 * @returns shown light, linear; three numbers to a pixel
 */
export function* smoothingSteps(
  { samples, light, squares, colour, normal, distance }: Gathered,
  widthPx: number,
  heightPx: number,
): Steps<Float32Array> {
  const pixels = widthPx * heightPx;
  const k = 1 / Math.max(1, samples);
  let now = new Float32Array(3 * pixels);
  let variance = new Float32Array(pixels);
  const seen = new Float32Array(3 * pixels);
  for (let i = 0; i < pixels; i++) {
    let luminance = 0;
    for (let c = 0; c < 3; c++) {
      seen[3 * i + c] = Math.max(0.02, colour[3 * i + c]! * k);
      now[3 * i + c] = (light[3 * i + c]! * k) / seen[3 * i + c]!;
      luminance += LUMINANCE[c]! * light[3 * i + c]! * k;
    }
    const grey = (seen[3 * i]! + seen[3 * i + 1]! + seen[3 * i + 2]!) / 3;
    const of = Math.max(0, squares[i]! * k - luminance * luminance) / Math.max(1, samples - 1 || 1);
    variance[i] = (samples < 2 ? luminance * luminance : of) / (grey * grey);
  }
  yield;
  variance = spread(variance, widthPx, heightPx);
  yield;
  for (let pass = 0; pass < PASSES; pass++) {
    const next = new Float32Array(3 * pixels);
    const nextVariance = new Float32Array(pixels);
    const from = { now, variance, normal, distance, k };
    for (let y = 0; y < heightPx; y += ROWS_AT_ONCE) {
      const rows = { widthPx, heightPx, from: y, to: Math.min(heightPx, y + ROWS_AT_ONCE) };
      smoothRows(from, rows, 1 << pass, next, nextVariance);
      yield;
    }
    now = next;
    variance = nextVariance;
  }
  for (let i = 0; i < 3 * pixels; i++) now[i]! *= seen[i]!;
  return now;
}

/** The picture so far with its noise smoothed, at once. */
export const smoothed = (...of: Parameters<typeof smoothingSteps>): Float32Array =>
  atOnce(smoothingSteps(...of));

const LUMINANCE = [0.2126, 0.7152, 0.0722] as const;

/** Variance of single pixels is noise itself: the mean over 3 × 3 of them. */
function spread(of: Float32Array, w: number, h: number): Float32Array<ArrayBuffer> {
  const out = new Float32Array(of.length);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      let [sum, n] = [0, 0];
      for (let j = Math.max(0, y - 1); j <= Math.min(h - 1, y + 1); j++)
        for (let i = Math.max(0, x - 1); i <= Math.min(w - 1, x + 1); i++, n++) sum += of[j * w + i]!;
      out[y * w + x] = sum / n;
    }
  return out;
}

/** What a pass reads: light without colour and its variance, and sums of what was seen, to be multiplied by k. */
interface Seen {
  now: Float32Array;
  variance: Float32Array;
  normal: Float32Array;
  distance: Float32Array;
  k: number;
}

/** One pass over some of the rows. @param step to the neighbours, px */
function smoothRows(
  { now, variance, normal, distance, k }: Seen,
  { widthPx: w, heightPx: h, from, to }: { widthPx: number; heightPx: number; from: number; to: number },
  step: number,
  out: Float32Array,
  outVariance: Float32Array,
): void {
  for (let y = from; y < to; y++)
    for (let x = 0; x < w; x++) {
      const i = y * w + x;
      const own = luminanceOf(now[3 * i]!, now[3 * i + 1]!, now[3 * i + 2]!);
      const noise = 3 * Math.sqrt(variance[i]!) + 1e-4;
      const far = distance[i]! * k;
      let [r, g, b, v, all] = [0, 0, 0, 0, 0];
      for (let dj = -1; dj <= 1; dj++) {
        const yy = y + dj * step;
        if (yy < 0 || yy >= h) continue;
        for (let di = -1; di <= 1; di++) {
          const xx = x + di * step;
          if (xx < 0 || xx >= w) continue;
          const j = yy * w + xx;
          let weight = KERNEL[di + 1]! * KERNEL[dj + 1]!;
          if (j !== i) {
            const off = luminanceOf(now[3 * j]!, now[3 * j + 1]!, now[3 * j + 2]!) - own;
            const turn =
              (normal[3 * i]! * normal[3 * j]! +
                normal[3 * i + 1]! * normal[3 * j + 1]! +
                normal[3 * i + 2]! * normal[3 * j + 2]!) *
              k *
              k;
            const deep = Math.abs(distance[j]! * k - far) / (0.02 * step * (far + 0.01));
            const facing = Math.max(0, turn);
            const f4 = facing * facing * facing * facing;
            weight *= f4 * f4 * f4 * Math.exp(-(Math.abs(off) / noise) - deep);
          }
          r += weight * now[3 * j]!;
          g += weight * now[3 * j + 1]!;
          b += weight * now[3 * j + 2]!;
          v += weight * weight * variance[j]!;
          all += weight;
        }
      }
      out[3 * i] = r / all;
      out[3 * i + 1] = g / all;
      out[3 * i + 2] = b / all;
      outVariance[i] = v / (all * all);
    }
}
