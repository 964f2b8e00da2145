import { wholePower } from '../exact';
import { makeColourPicture, type ColourPicture } from '../raster';
import { bowFactor, hasBow } from './lens-bow';
import { stretchAt, type Frame } from './frame';

/** Cubic convolution weights (Keys 1981, a = −0.5) at 256 phases between two pixels, widened by `scale` when shrinking. */
const PHASES = 256;
interface Kernel {
  taps: number;
  weights: Float64Array;
}
const kernels = new Map<number, Kernel>();
function kernelFor(scale: number): Kernel {
  // In steps of a sixteenth, so that few tables are made; up to an eighth denser nothing aliases to speak of.
  const step = scale < 1.125 ? 16 : Math.round(scale * 16);
  let kernel = kernels.get(step);
  if (kernel) return kernel;
  const s = step / 16;
  const taps = 2 * Math.ceil(2 * s);
  const weights = new Float64Array((PHASES + 1) * taps);
  for (let p = 0; p <= PHASES; p++) {
    let sum = 0;
    for (let k = 0; k < taps; k++) {
      const t = Math.abs(k - (taps / 2 - 1) - p / PHASES) / s;
      const w = t < 1 ? (1.5 * t - 2.5) * t * t + 1 : t < 2 ? ((-0.5 * t + 2.5) * t - 4) * t + 2 : 0;
      weights[p * taps + k] = w;
      sum += w;
    }
    for (let k = 0; k < taps; k++) weights[p * taps + k]! /= sum;
  }
  kernel = { taps, weights };
  kernels.set(step, kernel);
  return kernel;
}

const TILE = 32;
/** Steps of the table by which bow is put in, over the square of the straight radius from 0 to BOW_REACH. */
const BOW_STEPS = 2048;
const BOW_REACH = 4;

/**
 * How often a picture is halved before a frame of it is brought to a size: so that the densest place needs no more
 * than a kernel of moderate width.
 * @param draft takes the halving that is nearest, so that the smallest kernel serves; a little softer, several times faster
 */
export function warpLevel(frame: Frame, widthPx: number, heightPx: number, draft = false): number {
  let least = Infinity;
  for (const u of [0.02, 0.5, 0.98])
    for (const v of [0.02, 0.5, 0.98]) {
      const { du, dv } = stretchAt(frame, [u, v]);
      least = Math.min(least, Math.hypot(...du) / widthPx, Math.hypot(...dv) / heightPx);
    }
  return Math.max(0, Math.min(12, Math.floor(Math.log2(least) + (draft ? 0.75 : 1e-9))));
}

/**
 * Straightens: every pixel of the frame is fetched from where it lies in the picture, with a kernel that follows the
 * local scale, so that nothing aliases where the picture shrinks. Beyond the picture its edge is repeated.
 *
 * @param picture the sample, halved `level` times
 * @param level how often it was halved
 * @param frame which rectangle
 * @param widthPx of the result: the frame's whole width
 * @param heightPx of the result
 * @param rows only these rows are made (for parts on several threads); default all
 * @param draft the smallest kernel everywhere: may alias a little where the picture shrinks, and is quick
 */
export function warp(
  picture: ColourPicture,
  level: number,
  frame: Frame,
  widthPx: number,
  heightPx: number,
  rows: { from: number; to: number } = { from: 0, to: heightPx },
  draft = false,
): ColourPicture {
  const out = makeColourPicture(widthPx, rows.to - rows.from);
  const { widthPx: sw, heightPx: sh } = picture;
  const shrink = 1 / wholePower(2, level);
  const half = (Math.hypot(frame.picture.widthPx, frame.picture.heightPx) / 2) * shrink;
  // A level is rounded up to whole pixels; its middle is that of the full size.
  const [mx, my] = [(frame.picture.widthPx * shrink) / 2 - 0.5, (frame.picture.heightPx * shrink) / 2 - 0.5];
  const h = frame.plane;
  const bowed = hasBow(frame.bow);
  const bow = bowed
    ? Float64Array.from({ length: BOW_STEPS + 2 }, (_, i) =>
        bowFactor(frame.bow, (i * BOW_REACH) / BOW_STEPS),
      )
    : null;
  const du = 1 / widthPx;
  const xs = new Float64Array(TILE);
  const ys = new Float64Array(TILE);
  for (let ty = rows.from; ty < rows.to; ty += TILE)
    for (let tx = 0; tx < widthPx; tx += TILE) {
      const xEnd = Math.min(widthPx, tx + TILE);
      const yEnd = Math.min(rows.to, ty + TILE);
      const stretch = stretchAt(frame, [(tx + xEnd) / 2 / widthPx, (ty + yEnd) / 2 / heightPx]);
      const kx = kernelFor(
        draft ? 1 : Math.hypot(stretch.du[0] / widthPx, stretch.dv[0] / heightPx) * shrink,
      );
      const ky = kernelFor(
        draft ? 1 : Math.hypot(stretch.du[1] / widthPx, stretch.dv[1] / heightPx) * shrink,
      );
      for (let y = ty; y < yEnd; y++) {
        const v = (y + 0.5) / heightPx;
        let inside = true;
        for (let x = tx; x < xEnd; x++) {
          const u = (x + 0.5) * du;
          const w = 1 / (h[6] * u + h[7] * v + h[8]);
          let px = (h[0] * u + h[1] * v + h[2]) * w;
          let py = (h[3] * u + h[4] * v + h[5]) * w;
          if (bow) {
            const at = Math.min(BOW_STEPS, ((px * px + py * py) * BOW_STEPS) / BOW_REACH);
            const k = Math.floor(at);
            const s = bow[k]! + (bow[k + 1]! - bow[k]!) * (at - k);
            px *= s;
            py *= s;
          }
          px = px * half + mx;
          py = py * half + my;
          xs[x - tx] = px;
          ys[x - tx] = py;
          inside =
            inside &&
            px >= kx.taps / 2 - 1 &&
            py >= ky.taps / 2 - 1 &&
            px < sw - kx.taps / 2 - 1 &&
            py < sh - ky.taps / 2 - 1;
        }
        const to = (y - rows.from) * widthPx + tx;
        if (kx.taps === 4 && ky.taps === 4 && inside) fetchFour(picture, xs, ys, xEnd - tx, kx, ky, out, to);
        else fetchAny(picture, xs, ys, xEnd - tx, kx, ky, out, to);
      }
    }
  return out;
}

/** One row of a tile that lies inside the picture, at about its own scale: four by four pixels. */
function fetchFour(
  { widthPx: w, r, g, b }: ColourPicture,
  xs: Float64Array,
  ys: Float64Array,
  count: number,
  kx: Kernel,
  ky: Kernel,
  out: ColourPicture,
  to: number,
): void {
  const wx = kx.weights;
  const wy = ky.weights;
  for (let n = 0; n < count; n++) {
    const px = xs[n]!;
    const py = ys[n]!;
    const x0 = px | 0;
    const y0 = py | 0;
    const ax = ((px - x0) * PHASES + 0.5) << 2;
    const ay = ((py - y0) * PHASES + 0.5) << 2;
    const a0 = wx[ax]!;
    const a1 = wx[ax + 1]!;
    const a2 = wx[ax + 2]!;
    const a3 = wx[ax + 3]!;
    let row = (y0 - 1) * w + x0 - 1;
    let sr = 0;
    let sg = 0;
    let sb = 0;
    for (let j = 0; j < 4; j++, row += w) {
      const c = wy[ay + j]!;
      sr += c * (a0 * r[row]! + a1 * r[row + 1]! + a2 * r[row + 2]! + a3 * r[row + 3]!);
      sg += c * (a0 * g[row]! + a1 * g[row + 1]! + a2 * g[row + 2]! + a3 * g[row + 3]!);
      sb += c * (a0 * b[row]! + a1 * b[row + 1]! + a2 * b[row + 2]! + a3 * b[row + 3]!);
    }
    out.r[to + n] = sr;
    out.g[to + n] = sg;
    out.b[to + n] = sb;
  }
}

/** The same for any kernel, and at the picture's edges. */
function fetchAny(
  { widthPx: w, heightPx: h, r, g, b }: ColourPicture,
  xs: Float64Array,
  ys: Float64Array,
  count: number,
  kx: Kernel,
  ky: Kernel,
  out: ColourPicture,
  to: number,
): void {
  for (let n = 0; n < count; n++) {
    const px = Math.min(w + 2, Math.max(-3, xs[n]!));
    const py = Math.min(h + 2, Math.max(-3, ys[n]!));
    const x0 = Math.floor(px);
    const y0 = Math.floor(py);
    const ax = Math.round((px - x0) * PHASES) * kx.taps;
    const ay = Math.round((py - y0) * PHASES) * ky.taps;
    const left = x0 - kx.taps / 2 + 1;
    const top = y0 - ky.taps / 2 + 1;
    let sr = 0;
    let sg = 0;
    let sb = 0;
    if (left >= 0 && top >= 0 && left + kx.taps <= w && top + ky.taps <= h) {
      for (let j = 0; j < ky.taps; j++) {
        let k = (top + j) * w + left;
        let rr = 0;
        let rg = 0;
        let rb = 0;
        for (let i = ax; i < ax + kx.taps; i++, k++) {
          const weight = kx.weights[i]!;
          rr += weight * r[k]!;
          rg += weight * g[k]!;
          rb += weight * b[k]!;
        }
        const wy = ky.weights[ay + j]!;
        sr += wy * rr;
        sg += wy * rg;
        sb += wy * rb;
      }
      out.r[to + n] = sr;
      out.g[to + n] = sg;
      out.b[to + n] = sb;
      continue;
    }
    for (let j = 0; j < ky.taps; j++) {
      const wy = ky.weights[ay + j]!;
      const yy = top + j;
      const row = (yy < 0 ? 0 : yy >= h ? h - 1 : yy) * w;
      for (let i = 0; i < kx.taps; i++) {
        const xx = left + i;
        const k = row + (xx < 0 ? 0 : xx >= w ? w - 1 : xx);
        const weight = wy * kx.weights[ax + i]!;
        sr += weight * r[k]!;
        sg += weight * g[k]!;
        sb += weight * b[k]!;
      }
    }
    out.r[to + n] = sr;
    out.g[to + n] = sg;
    out.b[to + n] = sb;
  }
}
