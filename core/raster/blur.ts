import compiled from '../kernels/blur.wasm';
import { fours, readRows, writeRows } from '../kernels/rows';
import { KernelModule, MemoryLayout } from '../kernels/web-assembly';
import type { Plane } from './plane';

/** See core/kernels/assembly/blur.ts; addresses in bytes. */
type BlurLines = (
  plane: number,
  widthPx: number,
  heightPx: number,
  stride: number,
  radius: number,
  edge: number,
  norm: number,
  work: number,
) => void;
const KERNEL = new KernelModule<{ blurRows: BlurLines; blurColumns: BlurLines }>(compiled);

/** Lines that the kernel works side by side: columns need the most. */
const WORK_LINES = 20;

/**
 * Gaussian blur on the torus (both axes wrap), by four passes of an extended box filter whose fractional
 * radius gives the exact variance (after Gwosdek, Grewenig, Bruhn, Weickert 2011). Cost does not depend on sigma.
 *
 * @param plane the plane; not changed
 * @param sigmaXPx standard deviation across, in pixels; below 0.2 the axis is left alone
 * @param sigmaYPx standard deviation upwards, in pixels
 */
export function blurWrapped(plane: Plane, sigmaXPx: number, sigmaYPx: number): Plane {
  const { widthPx: w, heightPx: h, data } = plane;
  const [across, down] = [sigmaXPx > LEAST_PX, sigmaYPx > LEAST_PX];
  if ((!across && !down) || data.length === 0) return { widthPx: w, heightPx: h, data: data.slice() };
  const stride = fours(w);
  const at = new MemoryLayout();
  const [start, work] = [at.of(stride * h), at.of(2 * WORK_LINES * Math.max(w, h))];
  const kernel = KERNEL.instance(at.bytes);
  const floats = new Float32Array(kernel.memory.buffer, start, stride * h);
  writeRows(floats, 0, stride, data, w);
  if (across) {
    const { radius, edge, norm } = boxOf(sigmaXPx, w);
    kernel.blurRows(start, w, h, stride, radius, edge, norm, work);
  }
  if (down) {
    const { radius, edge, norm } = boxOf(sigmaYPx, h);
    kernel.blurColumns(start, w, h, stride, radius, edge, norm, work);
  }
  return { widthPx: w, heightPx: h, data: readRows(floats, 0, stride, w, h) };
}

const LEAST_PX = 0.2;
const PASSES = 4;

/** Box filter of which so many passes have a deviation: its radius, the weight of the two outer taps, one over the sum of weights. */
function boxOf(sigmaPx: number, lengthPx: number): { radius: number; edge: number; norm: number } {
  // Beyond half the line the blur is the line's mean for all practical purposes.
  const sigma = Math.min(sigmaPx, lengthPx * 0.6);
  const idealWidth = Math.sqrt((12 * sigma * sigma) / PASSES + 1);
  const radius = Math.floor((idealWidth - 1) / 2);
  // Weight of the two outer taps so that the variance of one pass is sigma²/PASSES.
  const variance = (sigma * sigma) / PASSES;
  const inner = (radius * (radius + 1) * (2 * radius + 1)) / 3;
  const edge = (variance * (2 * radius + 1) - inner) / (2 * ((radius + 1) * (radius + 1) - variance));
  return { radius, edge, norm: 1 / (2 * radius + 1 + 2 * edge) };
}
