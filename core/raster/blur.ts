import compiled from '../kernels/blur.wasm';
import { fours, readRows, writeRows } from '../kernels/rows';
import { KernelModule, MemoryLayout } from '../kernels/web-assembly';
import { atOnce, rowsPerSpan, type Steps } from '../steps';
import type { Plane } from './plane';

/** See core/kernels/assembly/blur.ts; addresses in bytes. */
type Boxes = [stride: number, radius: number, edge: number, norm: number, work: number];
interface Functions {
  blurRows(plane: number, widthPx: number, heightPx: number, ...boxes: Boxes): void;
  blurColumns(plane: number, firstPx: number, endPx: number, heightPx: number, ...boxes: Boxes): void;
}
const KERNEL = new KernelModule<Functions>(compiled);

/** Lines that the kernel works side by side: columns need the most. */
const WORK_LINES = 20;
/** Columns and rows that the kernel takes together. */
const COLUMNS = 16;
const ROWS = 4;

/**
 * Gaussian blur on the torus (both axes wrap), by four passes of an extended box filter whose fractional
 * radius gives the exact variance (after Gwosdek, Grewenig, Bruhn, Weickert 2011). Cost does not depend on sigma.
 *
 * @param plane the plane; not changed
 * @param sigmaXPx standard deviation across, in pixels; below 0.2 the axis is left alone
 * @param sigmaYPx standard deviation upwards, in pixels
 */
export const blurWrapped = (plane: Plane, sigmaXPx: number, sigmaYPx: number): Plane =>
  atOnce(blurSteps(plane, sigmaXPx, sigmaYPx));

/** As `blurWrapped`, left between rows and between columns. */
export function* blurSteps(plane: Plane, sigmaXPx: number, sigmaYPx: number): Steps<Plane> {
  const { widthPx: w, heightPx: h, data } = plane;
  const [across, down] = [sigmaXPx > LEAST_PX, sigmaYPx > LEAST_PX];
  if ((!across && !down) || data.length === 0) return { widthPx: w, heightPx: h, data: data.slice() };
  const stride = fours(w);
  const at = new MemoryLayout();
  const [start, work] = [at.of(stride * h), at.of(2 * WORK_LINES * Math.max(w, h))];
  const kernel = KERNEL.borrow(at.bytes);
  const floats = new Float32Array(kernel.memory.buffer, start, stride * h);
  writeRows(floats, 0, stride, data, w);
  if (across) {
    const { radius, edge, norm } = boxOf(sigmaXPx, w);
    const rows = ROWS * Math.ceil(rowsPerSpan(w) / ROWS);
    for (let y = 0; y < h; y += rows) {
      yield;
      const from = start + 4 * y * stride;
      kernel.blurRows(from, w, Math.min(rows, h - y), stride, radius, edge, norm, work);
    }
  }
  if (down) {
    const { radius, edge, norm } = boxOf(sigmaYPx, h);
    const columns = COLUMNS * Math.ceil(rowsPerSpan(h) / COLUMNS);
    for (let x = 0; x < w; x += columns) {
      yield;
      kernel.blurColumns(start, x, Math.min(w, x + columns), h, stride, radius, edge, norm, work);
    }
  }
  yield;
  const blurred = readRows(floats, 0, stride, w, h);
  KERNEL.giveBack(kernel);
  return { widthPx: w, heightPx: h, data: blurred };
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
