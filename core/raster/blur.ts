import type { Plane } from './plane';

/**
 * Gaussian blur on the torus (both axes wrap), by four passes of an extended box filter whose fractional
 * radius gives the exact variance (after Gwosdek, Grewenig, Bruhn, Weickert 2011). Cost does not depend on sigma.
 *
 * @param plane the plane; not changed
 * @param sigmaXPx standard deviation across, in pixels; below 0.2 the axis is left alone
 * @param sigmaYPx standard deviation upwards, in pixels
 */
export function blurWrapped(plane: Plane, sigmaXPx: number, sigmaYPx: number): Plane {
  const { widthPx, heightPx } = plane;
  let data = plane.data;
  if (sigmaXPx > 0.2) data = passes(data, widthPx, heightPx, sigmaXPx);
  if (sigmaYPx > 0.2)
    data = transpose(
      passes(transpose(data, widthPx, heightPx), heightPx, widthPx, sigmaYPx),
      heightPx,
      widthPx,
    );
  return { widthPx, heightPx, data: data === plane.data ? data.slice() : data };
}

const PASSES = 4;

function passes(source: Float32Array, lengthPx: number, lines: number, sigmaPx: number): Float32Array {
  // Beyond half the line the blur is the line's mean for all practical purposes.
  const sigma = Math.min(sigmaPx, lengthPx * 0.6);
  const idealWidth = Math.sqrt((12 * sigma * sigma) / PASSES + 1);
  const radius = Math.floor((idealWidth - 1) / 2);
  // Weight of the two outer taps so that the variance of one pass is sigma²/PASSES.
  const variance = (sigma * sigma) / PASSES;
  const l = radius;
  const inner = (l * (l + 1) * (2 * l + 1)) / 3;
  const edge = (variance * (2 * l + 1) - inner) / (2 * ((l + 1) * (l + 1) - variance));
  const norm = 1 / (2 * l + 1 + 2 * edge);
  const out = new Float32Array(source.length);
  let from = new Float64Array(lengthPx);
  let to = new Float64Array(lengthPx);
  for (let line = 0; line < lines; line++) {
    const base = line * lengthPx;
    for (let i = 0; i < lengthPx; i++) from[i] = source[base + i]!;
    for (let p = 0; p < PASSES; p++) {
      let sum = 0;
      for (let k = -l; k <= l; k++) sum += from[mod(k, lengthPx)]!;
      let right = mod(l + 1, lengthPx);
      let left = mod(-l - 1, lengthPx);
      let drop = mod(-l, lengthPx);
      for (let i = 0; i < lengthPx; i++) {
        to[i] = (sum + edge * (from[right]! + from[left]!)) * norm;
        sum += from[right]! - from[drop]!;
        if (++right === lengthPx) right = 0;
        if (++left === lengthPx) left = 0;
        if (++drop === lengthPx) drop = 0;
      }
      const swap = from;
      from = to;
      to = swap;
    }
    for (let i = 0; i < lengthPx; i++) out[base + i] = from[i]!;
  }
  return out;
}

const mod = (i: number, n: number) => ((i % n) + n) % n;

/** Rows become columns, in blocks that fit the cache. */
function transpose(data: Float32Array, widthPx: number, heightPx: number): Float32Array {
  const out = new Float32Array(data.length);
  const block = 32;
  for (let y0 = 0; y0 < heightPx; y0 += block)
    for (let x0 = 0; x0 < widthPx; x0 += block) {
      const y1 = Math.min(heightPx, y0 + block);
      const x1 = Math.min(widthPx, x0 + block);
      for (let y = y0; y < y1; y++)
        for (let x = x0; x < x1; x++) out[x * heightPx + y] = data[y * widthPx + x]!;
    }
  return out;
}
