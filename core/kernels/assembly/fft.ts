// AssemblyScript, compiled by `npm run kernels` to ../fft.wasm.ts; core/raster/fft.ts fills its memory.

/** Bytes of a complex number in the field: real and imaginary part, 64 bits each. */
const COMPLEX: usize = 16;
/** Bytes of two complex numbers side by side, as lines are worked: both real parts, then both imaginary parts. */
const PAIR: usize = 32;
/** Columns that are read together: two lines of the processor's cache. */
const COLUMNS: i32 = 8;

/**
 * Fourier transform in place, rows then columns; the inverse one divides by the number of pixels. Two lines are worked at
 * once, one in each half of a vector, each with the operations of a scalar radix-4 transform in their order: no bit
 * depends on which lines meet.
 * @param tables for rows and columns each: pairs of cos and −sin of 2πi/n (f64)
 * @param orders for rows and columns each: where the numbers of each first step start, digits reversed (i32)
 * @param input COLUMNS/2 lines of pairs, of the longer side
 * @param output one line of pairs, of the longer side
 */
export function transform2d(
  field: usize,
  widthPx: i32,
  heightPx: i32,
  rowTable: usize,
  rowOrder: usize,
  columnTable: usize,
  columnOrder: usize,
  input: usize,
  output: usize,
  inverse: bool,
): void {
  const rowBytes = <usize>widthPx * COMPLEX;
  for (let y = 0; y < heightPx; y += 2) {
    const first = field + <usize>y * rowBytes;
    // Padding stays 0.
    if (isZero(first, 2 * rowBytes)) continue;
    const second = first + rowBytes;
    for (let x: usize = 0; x < <usize>widthPx; x++)
      interleave(first + x * COMPLEX, second + x * COMPLEX, input + x * PAIR);
    transformLines(input, output, widthPx, rowTable, rowOrder, inverse);
    for (let x: usize = 0; x < <usize>widthPx; x++)
      separate(output + x * PAIR, first + x * COMPLEX, second + x * COMPLEX);
  }
  const lineBytes = <usize>heightPx * PAIR;
  for (let x0 = 0; x0 < widthPx; x0 += COLUMNS) {
    const pairs: usize = <usize>min(COLUMNS, widthPx - x0) / 2;
    for (let y: usize = 0; y < <usize>heightPx; y++) {
      const at = field + y * rowBytes + <usize>x0 * COMPLEX;
      for (let p: usize = 0; p < pairs; p++)
        interleave(at + p * PAIR, at + p * PAIR + COMPLEX, input + p * lineBytes + y * PAIR);
    }
    for (let p: usize = 0; p < pairs; p++) {
      const line = input + p * lineBytes;
      transformLines(line, output, heightPx, columnTable, columnOrder, inverse);
      memory.copy(line, output, lineBytes);
    }
    for (let y: usize = 0; y < <usize>heightPx; y++) {
      const at = field + y * rowBytes + <usize>x0 * COMPLEX;
      for (let p: usize = 0; p < pairs; p++)
        separate(input + p * lineBytes + y * PAIR, at + p * PAIR, at + p * PAIR + COMPLEX);
    }
  }
}

function isZero(at: usize, bytes: usize): bool {
  for (let k: usize = 0; k < bytes; k += 16) {
    const some = f64x2.ne(v128.load(at + k), f64x2.splat(0));
    if (v128.any_true(some)) return false;
  }
  return true;
}

function interleave(first: usize, second: usize, to: usize): void {
  const a = v128.load(first);
  const b = v128.load(second);
  v128.store(to, v128.shuffle<f64>(a, b, 0, 2));
  v128.store(to, v128.shuffle<f64>(a, b, 1, 3), 16);
}

function separate(from: usize, first: usize, second: usize): void {
  const re = v128.load(from);
  const im = v128.load(from, 16);
  v128.store(first, v128.shuffle<f64>(re, im, 0, 2));
  v128.store(second, v128.shuffle<f64>(re, im, 1, 3));
}

/** Radix-4 transform of two lines of n pairs; n is a power of two from 2 on. */
function transformLines(
  input: usize,
  output: usize,
  n: i32,
  table: usize,
  order: usize,
  inverse: bool,
): void {
  const sign = f64x2.splat(inverse ? -1 : 1);
  const bytes = <usize>n * PAIR;
  let power = 0;
  while (1 << power < n) power++;
  // The first step joins two numbers if the power is odd, else four; the number of blocks falls to a quarter with each.
  let blocks = 0;
  if (power % 2 == 1) {
    blocks = n >> 1;
    for (let t = 0; t < blocks; t++)
      joinTwo(
        input + <usize>load<i32>(order + ((<usize>t) << 2)) * PAIR,
        bytes >> 1,
        output + <usize>t * 2 * PAIR,
      );
  } else {
    blocks = n >> 2;
    for (let t = 0; t < blocks; t++)
      joinFour(
        input + <usize>load<i32>(order + ((<usize>t) << 2)) * PAIR,
        bytes >> 2,
        output + <usize>t * 4 * PAIR,
        sign,
      );
  }
  for (blocks >>= 2; blocks >= 1; blocks >>= 2) {
    const quarter = bytes / <usize>(4 * blocks);
    const turn = <usize>blocks * COMPLEX;
    for (let block = output; block < output + bytes; block += 4 * quarter)
      for (let i: usize = 0, k: usize = 0; i < quarter; i += PAIR, k += turn)
        turnAndJoin(block + i, quarter, table, k, sign);
  }
  if (!inverse) return;
  const count = f64x2.splat(<f64>n);
  for (let at = output; at < output + bytes; at += 16) v128.store(at, f64x2.div(v128.load(at), count));
}

/** First step over two numbers that lie `apart`. */
function joinTwo(from: usize, apart: usize, to: usize): void {
  const evenR = v128.load(from);
  const evenI = v128.load(from, 16);
  const oddR = v128.load(from + apart);
  const oddI = v128.load(from + apart, 16);
  v128.store(to, f64x2.add(evenR, oddR));
  v128.store(to, f64x2.add(evenI, oddI), 16);
  v128.store(to, f64x2.sub(evenR, oddR), 32);
  v128.store(to, f64x2.sub(evenI, oddI), 48);
}

/** First step over four numbers that lie `apart`. */
function joinFour(from: usize, apart: usize, to: usize, sign: v128): void {
  const b = from + apart;
  const c = b + apart;
  const d = c + apart;
  join(
    to,
    PAIR,
    sign,
    v128.load(from),
    v128.load(from, 16),
    v128.load(b),
    v128.load(b, 16),
    v128.load(c),
    v128.load(c, 16),
    v128.load(d),
    v128.load(d, 16),
  );
}

/** A later step: three of four numbers that lie a quarter apart are turned, then all are joined in place. */
function turnAndJoin(at: usize, quarter: usize, table: usize, k: usize, sign: v128): void {
  const b = at + quarter;
  const c = b + quarter;
  const d = c + quarter;
  const tbr = v128.load_splat<f64>(table + k);
  const tbi = f64x2.mul(sign, v128.load_splat<f64>(table + k, 8));
  const tcr = v128.load_splat<f64>(table + 2 * k);
  const tci = f64x2.mul(sign, v128.load_splat<f64>(table + 2 * k, 8));
  const tdr = v128.load_splat<f64>(table + 3 * k);
  const tdi = f64x2.mul(sign, v128.load_splat<f64>(table + 3 * k, 8));
  const br = v128.load(b);
  const bi = v128.load(b, 16);
  const cr = v128.load(c);
  const ci = v128.load(c, 16);
  const dr = v128.load(d);
  const di = v128.load(d, 16);
  join(
    at,
    quarter,
    sign,
    v128.load(at),
    v128.load(at, 16),
    f64x2.sub(f64x2.mul(br, tbr), f64x2.mul(bi, tbi)),
    f64x2.add(f64x2.mul(br, tbi), f64x2.mul(bi, tbr)),
    f64x2.sub(f64x2.mul(cr, tcr), f64x2.mul(ci, tci)),
    f64x2.add(f64x2.mul(cr, tci), f64x2.mul(ci, tcr)),
    f64x2.sub(f64x2.mul(dr, tdr), f64x2.mul(di, tdi)),
    f64x2.add(f64x2.mul(dr, tdi), f64x2.mul(di, tdr)),
  );
}

/** The butterfly of four numbers, stored `quarter` apart. */
function join(
  at: usize,
  quarter: usize,
  sign: v128,
  ar: v128,
  ai: v128,
  br: v128,
  bi: v128,
  cr: v128,
  ci: v128,
  dr: v128,
  di: v128,
): void {
  const t0r = f64x2.add(ar, cr);
  const t0i = f64x2.add(ai, ci);
  const t1r = f64x2.sub(ar, cr);
  const t1i = f64x2.sub(ai, ci);
  const t2r = f64x2.add(br, dr);
  const t2i = f64x2.add(bi, di);
  const t3r = f64x2.mul(sign, f64x2.sub(br, dr));
  const t3i = f64x2.mul(sign, f64x2.sub(bi, di));
  v128.store(at, f64x2.add(t0r, t2r));
  v128.store(at, f64x2.add(t0i, t2i), 16);
  v128.store(at + quarter, f64x2.add(t1r, t3i));
  v128.store(at + quarter, f64x2.sub(t1i, t3r), 16);
  v128.store(at + 2 * quarter, f64x2.sub(t0r, t2r));
  v128.store(at + 2 * quarter, f64x2.sub(t0i, t2i), 16);
  v128.store(at + 3 * quarter, f64x2.sub(t1r, t3i));
  v128.store(at + 3 * quarter, f64x2.add(t1i, t3r), 16);
}
