// AssemblyScript, compiled by `npm run kernels` to ../resample.wasm.ts; core/raster/resample.ts fills its memory.

export { transpose } from './shared/transpose';

/**
 * Filters the columns of a plane of f32: each row of the outcome is a weighted sum of rows of the plane.
 * @param from first row of the plane
 * @param stride floats from one row to the next, of both planes, a multiple of four
 * @param firsts i32 for each row of the outcome: the row of the plane at its first weight, which may lie outside
 * @param weights f32, `count` for each row of the outcome
 * @param lowest number of the row that `from` is; lower and higher ones than `highest` are taken to be the outermost
 * @param rounds the sum is rounded to 32 bits after every weight, instead of once
 */
export function filterColumns(
  from: usize,
  stride: i32,
  firsts: usize,
  weights: usize,
  count: i32,
  lowest: i32,
  highest: i32,
  rounds: bool,
  to: usize,
  rows: i32,
): void {
  const bytes = (<usize>stride) << 2;
  for (let y = 0; y < rows; y++) {
    const first = load<i32>(firsts + ((<usize>y) << 2));
    const taps = weights + ((<usize>(y * count)) << 2);
    const out = to + <usize>y * bytes;
    if (rounds) sumRounded(from, bytes, first, taps, count, lowest, highest, out);
    else sum(from, bytes, first, taps, count, lowest, highest, out);
  }
}

function rowAt(from: usize, bytes: usize, row: i32, lowest: i32, highest: i32): usize {
  return from + <usize>(min(highest, max(lowest, row)) - lowest) * bytes;
}

/** One row, each value rounded after every weight. */
function sumRounded(
  from: usize,
  bytes: usize,
  first: i32,
  taps: usize,
  count: i32,
  lowest: i32,
  highest: i32,
  out: usize,
): void {
  memory.fill(out, 0, bytes);
  for (let k = 0; k < count; k++) {
    const weight = <f64>load<f32>(taps + ((<usize>k) << 2));
    if (weight == 0) continue;
    const row = rowAt(from, bytes, first + k, lowest, highest);
    const weights = f64x2.splat(weight);
    for (let x: usize = 0; x < bytes; x += 16) {
      const value = v128.load(row + x);
      const before = v128.load(out + x);
      const low = f64x2.add(
        f64x2.promote_low_f32x4(before),
        f64x2.mul(weights, f64x2.promote_low_f32x4(value)),
      );
      const high = f64x2.add(
        f64x2.promote_low_f32x4(v128.shuffle<f64>(before, before, 1, 1)),
        f64x2.mul(weights, f64x2.promote_low_f32x4(v128.shuffle<f64>(value, value, 1, 1))),
      );
      v128.store(
        out + x,
        v128.shuffle<f64>(f32x4.demote_f64x2_zero(low), f32x4.demote_f64x2_zero(high), 0, 2),
      );
    }
  }
}

/** One row, rounded once. */
function sum(
  from: usize,
  bytes: usize,
  first: i32,
  taps: usize,
  count: i32,
  lowest: i32,
  highest: i32,
  out: usize,
): void {
  for (let x: usize = 0; x < bytes; x += 16) {
    let low = f64x2.splat(0);
    let high = low;
    for (let k = 0; k < count; k++) {
      const weight = f64x2.splat(<f64>load<f32>(taps + ((<usize>k) << 2)));
      const value = v128.load(rowAt(from, bytes, first + k, lowest, highest) + x);
      low = f64x2.add(low, f64x2.mul(weight, f64x2.promote_low_f32x4(value)));
      high = f64x2.add(
        high,
        f64x2.mul(weight, f64x2.promote_low_f32x4(v128.shuffle<f64>(value, value, 1, 1))),
      );
    }
    v128.store(out + x, v128.shuffle<f64>(f32x4.demote_f64x2_zero(low), f32x4.demote_f64x2_zero(high), 0, 2));
  }
}
