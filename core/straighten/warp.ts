import { wholePower } from '../exact';
import { makeColourPicture, type ColourPicture } from '../raster';
import { atOnce, type Steps } from '../steps';
import { bowFactor, hasBow } from './lens-bow';
import { FourTaps, type Part, type Projection } from './four-taps';
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

/** A kernel serves a square of so many pixels. */
const TILE = 32;
/** Where all kernels are of four pixels, so large a square is fetched at once. */
const BLOCK = 2 * TILE;
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
export const warp = (
  picture: ColourPicture,
  level: number,
  frame: Frame,
  widthPx: number,
  heightPx: number,
  rows?: { from: number; to: number },
  draft?: boolean,
): ColourPicture => atOnce(warpSteps(picture, level, frame, widthPx, heightPx, rows, draft));

/** As `warp`, left between squares of pixels. */
export function* warpSteps(
  picture: ColourPicture,
  level: number,
  frame: Frame,
  widthPx: number,
  heightPx: number,
  rows: { from: number; to: number } = { from: 0, to: heightPx },
  draft = false,
): Steps<ColourPicture> {
  const out = makeColourPicture(widthPx, rows.to - rows.from);
  const shrink = 1 / wholePower(2, level);
  const projection = projectionOf(frame, shrink, widthPx, heightPx);
  const fourTaps = new FourTaps(picture, projection, kernelFor(1).weights, BLOCK * BLOCK);
  const kernelsOf = ({ left, top, right, bottom }: Part): [Kernel, Kernel] => {
    if (draft) return [kernelFor(1), kernelFor(1)];
    const { du, dv } = stretchAt(frame, [(left + right) / 2 / widthPx, (top + bottom) / 2 / heightPx]);
    const along = (axis: 0 | 1) => kernelFor(Math.hypot(du[axis] / widthPx, dv[axis] / heightPx) * shrink);
    return [along(0), along(1)];
  };
  const indexOf = ({ left, top }: Part) => (top - rows.from) * widthPx + left;
  const fetched = (part: Part): boolean => {
    fourTaps.place(part);
    return fourTaps.fetch(part, out, indexOf(part));
  };
  const whole = { left: 0, top: rows.from, right: widthPx, bottom: rows.to };
  for (const block of partsOf(whole, BLOCK)) {
    yield;
    const tiles = partsOf(block, TILE).map((tile) => ({ tile, kernels: kernelsOf(tile) }));
    const fits = (of: readonly Kernel[]) => of.every(({ taps }) => taps === 4);
    if (tiles.every(({ kernels }) => fits(kernels)) && fetched(block)) continue;
    for (const { tile, kernels } of tiles) {
      if (fits(kernels) && fetched(tile)) continue;
      fourTaps.place(tile);
      fetchAny(picture, fourTaps.places, tile, ...kernels, out, indexOf(tile));
    }
  }
  fourTaps.end();
  return out;
}

/** The squares of a part, row by row. @param side of the squares; the last ones are what is left */
function partsOf({ left, top, right, bottom }: Part, side: number): Part[] {
  const parts: Part[] = [];
  for (let y = top; y < bottom; y += side)
    for (let x = left; x < right; x += side)
      parts.push({ left: x, top: y, right: Math.min(right, x + side), bottom: Math.min(bottom, y + side) });
  return parts;
}

/** Where pixels of a frame lie in a picture of it. @param shrink size of the picture over that of the frame's */
export function projectionOf(frame: Frame, shrink: number, widthPx: number, heightPx: number): Projection {
  const { picture, plane, bow } = frame;
  return {
    ...{ plane, widthPx, heightPx },
    halfPx: (Math.hypot(picture.widthPx, picture.heightPx) / 2) * shrink,
    // A level is rounded up to whole pixels; its middle is that of the full size.
    middle: { xPx: (picture.widthPx * shrink) / 2 - 0.5, yPx: (picture.heightPx * shrink) / 2 - 0.5 },
    bow: hasBow(bow)
      ? {
          factors: Float64Array.from({ length: BOW_STEPS + 2 }, (_, i) =>
            bowFactor(bow, (i * BOW_REACH) / BOW_STEPS),
          ),
          perSquare: BOW_STEPS / BOW_REACH,
          steps: BOW_STEPS,
        }
      : null,
  };
}

/** Fetches a tile with any kernel, and at the picture's edges. */
function fetchAny(
  picture: ColourPicture,
  places: Float64Array,
  { left: first, top: firstRow, right, bottom }: Part,
  kx: Kernel,
  ky: Kernel,
  out: ColourPicture,
  to: number,
): void {
  const { widthPx: w, heightPx: h } = picture;
  const sums = new Float64Array(3);
  for (let y = firstRow, n = 0, row = to; y < bottom; y++, row += out.widthPx)
    for (let x = first, i = row; x < right; x++, i++, n += 2) {
      const px = Math.min(w + 2, Math.max(-3, places[n]!));
      const py = Math.min(h + 2, Math.max(-3, places[n + 1]!));
      const x0 = Math.floor(px);
      const y0 = Math.floor(py);
      const ax = Math.round((px - x0) * PHASES) * kx.taps;
      const ay = Math.round((py - y0) * PHASES) * ky.taps;
      const left = x0 - kx.taps / 2 + 1;
      const top = y0 - ky.taps / 2 + 1;
      const inside = left >= 0 && top >= 0 && left + kx.taps <= w && top + ky.taps <= h;
      (inside ? sumInside : sumAtEdge)(picture, left, top, kx, ax, ky, ay, sums);
      out.r[i] = sums[0]!;
      out.g[i] = sums[1]!;
      out.b[i] = sums[2]!;
    }
}

/** Sums red, green and blue of the pixels below a kernel. @param ax, ay index of its first weights */
function sumInside(
  { widthPx: w, r, g, b }: ColourPicture,
  left: number,
  top: number,
  kx: Kernel,
  ax: number,
  ky: Kernel,
  ay: number,
  sums: Float64Array,
): void {
  let sr = 0;
  let sg = 0;
  let sb = 0;
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
  sums[0] = sr;
  sums[1] = sg;
  sums[2] = sb;
}

/** The same where the kernel reaches beyond the picture, whose edge is repeated. */
function sumAtEdge(
  { widthPx: w, heightPx: h, r, g, b }: ColourPicture,
  left: number,
  top: number,
  kx: Kernel,
  ax: number,
  ky: Kernel,
  ay: number,
  sums: Float64Array,
): void {
  sums.fill(0);
  for (let j = 0; j < ky.taps; j++) {
    const wy = ky.weights[ay + j]!;
    const row = Math.min(h - 1, Math.max(0, top + j)) * w;
    for (let i = 0; i < kx.taps; i++) {
      const k = row + Math.min(w - 1, Math.max(0, left + i));
      const weight = wy * kx.weights[ax + i]!;
      sums[0]! += weight * r[k]!;
      sums[1]! += weight * g[k]!;
      sums[2]! += weight * b[k]!;
    }
  }
}
