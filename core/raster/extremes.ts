import compiled from '../kernels/extremes.wasm';
import { fours, readRows, writeRows, type Transposing } from '../kernels/rows';
import { KernelModule, MemoryLayout } from '../kernels/web-assembly';
import type { Plane } from './plane';

/** See core/kernels/assembly/extremes.ts; addresses in bytes. */
interface Functions extends Transposing {
  extremesBelow(
    rows: number,
    stride: number,
    count: number,
    box: number,
    greatest: boolean,
    out: number,
  ): void;
}
const KERNEL = new KernelModule<Functions>(compiled);

/**
 * The least or greatest value of every pixel's rectangular neighbourhood (erosion and dilation of a grey image by a box), over
 * edges that wrap or end. Cost does not depend on the reach.
 * @param reachPx the box reaches so many pixels to each side, a whole number from 0
 */
export function extremes(plane: Plane, reachPx: number, which: 'least' | 'greatest', wraps: boolean): Plane {
  const { widthPx: w, heightPx: h, data } = plane;
  const [across, down] = [fours(w), fours(h)];
  const room = Math.max(across * (down + 2 * reachPx), down * (across + 2 * reachPx));
  const at = new MemoryLayout();
  const [padded, out] = [at.of(room), at.of(room)];
  const kernel = KERNEL.borrow(at.bytes);
  const floats = new Float32Array(kernel.memory.buffer);
  const run = (stride: number, rows: number) => {
    pad(floats, padded / 4, stride, rows, reachPx, wraps, which === 'greatest' ? -Infinity : Infinity);
    kernel.extremesBelow(padded, stride, rows + 2 * reachPx, 2 * reachPx + 1, which === 'greatest', out);
  };
  writeRows(floats, padded / 4 + reachPx * across, across, data, w);
  run(across, h);
  kernel.transpose(out, across, w, h, padded + 4 * reachPx * down, down);
  run(down, w);
  kernel.transpose(out, down, h, w, padded, across);
  const found = readRows(floats, padded / 4, across, w, h);
  KERNEL.giveBack(kernel);
  return { widthPx: w, heightPx: h, data: found };
}

/** Fills the rows above and below those of a plane: as it goes on over its edges, or with a value that never counts. */
function pad(
  floats: Float32Array,
  start: number,
  stride: number,
  rows: number,
  by: number,
  wraps: boolean,
  nothing: number,
): void {
  for (let k = 0; k < 2 * by; k++) {
    const row = k < by ? k : rows + k;
    const to = start + row * stride;
    const from = start + (by + ((((row - by) % rows) + rows) % rows)) * stride;
    if (wraps) floats.copyWithin(to, from, from + stride);
    else floats.fill(nothing, to, to + stride);
  }
}
