/** Rows of a plane in a kernel's memory: each begins at a whole four floats, as vector instructions need it. */

/** The next multiple of four. */
export const fours = (n: number): number => (n + 3) & ~3;

/** Rows that are narrower are copied number by number: a view of each takes longer. */
const NARROW = 64;

/** Writes rows of `w` floats into memory. @param start index of the first, floats @param stride from one row to the next */
export function writeRows(
  memory: Float32Array,
  start: number,
  stride: number,
  data: Float32Array,
  w: number,
) {
  if (stride === w) memory.set(data, start);
  else if (w < NARROW)
    for (let from = 0, row = start; from < data.length; row += stride)
      for (let to = row; to < row + w; to++, from++) memory[to] = data[from]!;
  else
    for (let from = 0, to = start; from < data.length; from += w, to += stride)
      memory.set(data.subarray(from, from + w), to);
}

/** Reads them back. */
export function readRows(
  memory: Float32Array,
  start: number,
  stride: number,
  w: number,
  h: number,
): Float32Array {
  if (stride === w) return memory.slice(start, start + w * h);
  const data = new Float32Array(w * h);
  if (w < NARROW)
    for (let to = 0, row = start; to < data.length; row += stride)
      for (let from = row; from < row + w; from++, to++) data[to] = memory[from]!;
  else
    for (let to = 0, from = start; to < data.length; to += w, from += stride)
      data.set(memory.subarray(from, from + w), to);
  return data;
}

/** Of kernels that turn rows into columns, see assembly/shared/transpose.ts; addresses in bytes, strides in floats. */
export interface Transposing {
  transpose(
    from: number,
    fromStride: number,
    columns: number,
    rows: number,
    to: number,
    toStride: number,
  ): void;
}
