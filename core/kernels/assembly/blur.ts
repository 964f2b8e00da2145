// AssemblyScript, compiled by `npm run kernels` to ../blur.wasm.ts; core/raster/blur.ts fills its memory.

const PASSES: i32 = 4;
/** Lines that are blurred side by side, and bytes of one sample of all of them (f64). */
const LINES: i32 = 4;
const SAMPLE: usize = 32;
/** Columns that are read together: a line of the processor's cache. */
const COLUMNS: i32 = 16;

/**
 * Blurs all rows of a plane of f32 in place.
 * @param stride floats from one row to the next
 * @param radius of the box, pixels
 * @param edge weight of the two outer taps
 * @param norm one over the sum of all weights
 * @param work room for two times LINES lines (f64)
 */
export function blurRows(
  plane: usize,
  widthPx: i32,
  heightPx: i32,
  stride: i32,
  radius: i32,
  edge: f64,
  norm: f64,
  work: usize,
): void {
  const other = work + <usize>widthPx * SAMPLE;
  for (let y = 0; y < heightPx; y += LINES) {
    const row0 = plane + ((<usize>(y * stride)) << 2);
    // The last rows may be fewer than four: the last one is then worked more than once.
    const row1 = plane + ((<usize>(min(y + 1, heightPx - 1) * stride)) << 2);
    const row2 = plane + ((<usize>(min(y + 2, heightPx - 1) * stride)) << 2);
    const row3 = plane + ((<usize>(min(y + 3, heightPx - 1) * stride)) << 2);
    for (let x: usize = 0, to = work; x < (<usize>widthPx) << 2; x += 4, to += SAMPLE) {
      store<f64>(to, load<f32>(row0 + x));
      store<f64>(to, load<f32>(row1 + x), 8);
      store<f64>(to, load<f32>(row2 + x), 16);
      store<f64>(to, load<f32>(row3 + x), 24);
    }
    blurLines(work, other, widthPx, radius, edge, norm);
    for (let x: usize = 0, from = work; x < (<usize>widthPx) << 2; x += 4, from += SAMPLE) {
      store<f32>(row0 + x, <f32>load<f64>(from));
      store<f32>(row1 + x, <f32>load<f64>(from, 8));
      store<f32>(row2 + x, <f32>load<f64>(from, 16));
      store<f32>(row3 + x, <f32>load<f64>(from, 24));
    }
  }
}

/**
 * Blurs columns of a plane of f32 in place; parameters as those of blurRows.
 * @param firstPx the first column, a multiple of COLUMNS; those from `endPx` on are left
 * @param stride floats from one row to the next, a multiple of four
 * @param work room for COLUMNS + LINES lines (f64)
 */
export function blurColumns(
  plane: usize,
  firstPx: i32,
  endPx: i32,
  heightPx: i32,
  stride: i32,
  radius: i32,
  edge: f64,
  norm: f64,
  work: usize,
): void {
  const rowBytes = (<usize>stride) << 2;
  const groupBytes = <usize>heightPx * SAMPLE;
  const other = work + groupBytes * <usize>(COLUMNS / LINES);
  for (let x = firstPx; x < endPx; x += COLUMNS) {
    const groups = (min(COLUMNS, stride - x) + LINES - 1) / LINES;
    const top = plane + ((<usize>x) << 2);
    for (let y: usize = 0; y < <usize>heightPx; y++)
      for (let g = 0; g < groups; g++) {
        const four = v128.load(top + y * rowBytes + <usize>g * 16);
        const to = work + <usize>g * groupBytes + y * SAMPLE;
        v128.store(to, f64x2.promote_low_f32x4(four));
        v128.store(to, f64x2.promote_low_f32x4(v128.shuffle<f64>(four, four, 1, 1)), 16);
      }
    for (let g = 0; g < groups; g++)
      blurLines(work + <usize>g * groupBytes, other, heightPx, radius, edge, norm);
    for (let y: usize = 0; y < <usize>heightPx; y++)
      for (let g = 0; g < groups; g++) {
        const from = work + <usize>g * groupBytes + y * SAMPLE;
        const low = f32x4.demote_f64x2_zero(v128.load(from));
        const high = f32x4.demote_f64x2_zero(v128.load(from, 16));
        v128.store(top + y * rowBytes + <usize>g * 16, v128.shuffle<f64>(low, high, 0, 2));
      }
  }
}

/** An even number of passes over four lines side by side, from `line` to `other` and back. */
function blurLines(line: usize, other: usize, length: i32, radius: i32, edge: f64, norm: f64): void {
  let from = line;
  let to = other;
  for (let pass = 0; pass < PASSES; pass++) {
    boxFilter(from, to, length, radius, edge, norm);
    const swap = from;
    from = to;
    to = swap;
  }
}

/** One pass of the extended box filter, with a running sum. */
function boxFilter(from: usize, to: usize, length: i32, radius: i32, edge: f64, norm: f64): void {
  const edges = f64x2.splat(edge);
  const norms = f64x2.splat(norm);
  const end = from + <usize>length * SAMPLE;
  let sum0 = f64x2.splat(0);
  let sum1 = sum0;
  for (let k = -radius; k <= radius; k++) {
    const at = from + <usize>wrapped(k, length) * SAMPLE;
    sum0 = f64x2.add(sum0, v128.load(at));
    sum1 = f64x2.add(sum1, v128.load(at, 16));
  }
  let right = from + <usize>wrapped(radius + 1, length) * SAMPLE;
  let left = from + <usize>wrapped(-radius - 1, length) * SAMPLE;
  let drop = from + <usize>wrapped(-radius, length) * SAMPLE;
  const last = to + <usize>length * SAMPLE;
  for (let out = to; out < last; out += SAMPLE) {
    const right0 = v128.load(right);
    const right1 = v128.load(right, 16);
    const outer0 = f64x2.mul(edges, f64x2.add(right0, v128.load(left)));
    const outer1 = f64x2.mul(edges, f64x2.add(right1, v128.load(left, 16)));
    v128.store(out, f64x2.mul(f64x2.add(sum0, outer0), norms));
    v128.store(out, f64x2.mul(f64x2.add(sum1, outer1), norms), 16);
    sum0 = f64x2.add(sum0, f64x2.sub(right0, v128.load(drop)));
    sum1 = f64x2.add(sum1, f64x2.sub(right1, v128.load(drop, 16)));
    right += SAMPLE;
    if (right == end) right = from;
    left += SAMPLE;
    if (left == end) left = from;
    drop += SAMPLE;
    if (drop == end) drop = from;
  }
}

function wrapped(i: i32, length: i32): i32 {
  return ((i % length) + length) % length;
}
