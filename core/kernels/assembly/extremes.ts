// AssemblyScript, compiled by `npm run kernels` to ../extremes.wasm.ts; core/raster/extremes.ts fills its memory.

export { transpose } from './shared/transpose';

/**
 * The greatest or least of so many values one below the other, for all columns of a plane of f32 at once.
 *
 * Source: van Herk, "A fast algorithm for local minimum and maximum filters on rectangular and octagonal kernels", 1992:
 * the rows are split into blocks as high as the box; each box is the end of one block and the beginning of the next.
 * @param rows the plane; changed
 * @param stride floats from one row to the next, a multiple of four
 * @param count number of rows
 * @param box rows that are compared
 * @param out as many rows again; row y becomes the extreme of rows y to y + box - 1
 */
export function extremesBelow(
  rows: usize,
  stride: i32,
  count: i32,
  box: i32,
  greatest: bool,
  out: usize,
): void {
  const bytes = (<usize>stride) << 2;
  memory.copy(out, rows, <usize>count * bytes);
  for (let k = 1; k < count; k++)
    if (k % box != 0) merge(rows + <usize>k * bytes, rows + <usize>(k - 1) * bytes, bytes, greatest);
  for (let k = count - 2; k >= 0; k--)
    if ((k + 1) % box != 0) merge(out + <usize>k * bytes, out + <usize>(k + 1) * bytes, bytes, greatest);
  for (let k = 0; k + box <= count; k++)
    merge(out + <usize>k * bytes, rows + <usize>(k + box - 1) * bytes, bytes, greatest);
}

/** Replaces a row by the greater or lesser of it and another one, value by value. */
function merge(row: usize, other: usize, bytes: usize, greatest: bool): void {
  if (greatest)
    for (let x: usize = 0; x < bytes; x += 16)
      v128.store(row + x, f32x4.max(v128.load(row + x), v128.load(other + x)));
  else
    for (let x: usize = 0; x < bytes; x += 16)
      v128.store(row + x, f32x4.min(v128.load(row + x), v128.load(other + x)));
}
