import { squared, wholePower } from '../exact';
import compiled from '../kernels/fft.wasm';
import { KernelModule, MemoryLayout } from '../kernels/web-assembly';
import { makePlane, type Plane } from './plane';
import { halve } from './resample';

/** The next power of two at or above n. */
export const nextPowerOfTwo = (n: number) => wholePower(2, Math.max(1, Math.ceil(Math.log2(n))));

/** A complex field, row by row, real and imaginary part interleaved; both sides powers of two. */
export interface Spectrum {
  widthPx: number;
  heightPx: number;
  data: Float64Array;
}

interface FftKernel {
  /** Addresses in bytes. See core/kernels/assembly/fft.ts. */
  transform2d(
    field: number,
    widthPx: number,
    heightPx: number,
    rowTable: number,
    rowOrder: number,
    columnTable: number,
    columnOrder: number,
    input: number,
    output: number,
    inverse: boolean,
  ): void;
}
const KERNEL = new KernelModule<FftKernel>(compiled);

/**
 * Fourier transform in two dimensions, rows then columns; the inverse one divides by the number of pixels.
 * @param spectrum both sides powers of two, from 2 on
 */
export function fft2d({ widthPx: w, heightPx: h, data }: Spectrum, inverse = false): Spectrum {
  const longer = Math.max(w, h);
  const at = new MemoryLayout();
  const field = at.of(4 * w * h);
  const [rowTable, columnTable] = [at.of(4 * w), at.of(4 * h)];
  const [rowOrder, columnOrder] = [at.of(w), at.of(h)];
  const [input, output] = [at.of(4 * 8 * longer), at.of(8 * longer)];
  const kernel = KERNEL.borrow(at.bytes);
  const { buffer } = kernel.memory;
  const numbers = new Float64Array(buffer, field, 2 * w * h);
  numbers.set(data);
  for (const [n, table, order] of [
    [w, rowTable, rowOrder],
    [h, columnTable, columnOrder],
  ] as const) {
    new Float64Array(buffer, table, 2 * n).set(turnsOf(n));
    new Int32Array(buffer, order, n).set(startsOf(n));
  }
  kernel.transform2d(field, w, h, rowTable, rowOrder, columnTable, columnOrder, input, output, inverse);
  const transformed = numbers.slice();
  KERNEL.giveBack(kernel);
  return { widthPx: w, heightPx: h, data: transformed };
}

/** Pairs of cos and −sin of 2πi/n. */
const turnsOf = keptPerSize((n) => {
  const turns = new Float64Array(2 * n);
  for (let i = 0; i < n; i++) {
    const angle = (Math.PI * 2 * i) / n;
    turns[2 * i] = Math.cos(angle);
    turns[2 * i + 1] = -Math.sin(angle);
  }
  return turns;
});

/** Where the two or four numbers of each first step start: digits to the base of four reversed. */
const startsOf = keptPerSize((n) => {
  let digits = 0;
  while (4 * wholePower(4, digits) < n) digits++;
  return Int32Array.from({ length: n >> (wholePower(4, digits + 1) === n ? 2 : 1) }, (_, t) => {
    let reversed = 0;
    for (let k = 0; k < digits; k++) reversed |= ((t >> (2 * k)) & 3) << (2 * (digits - 1 - k));
    return reversed;
  });
});

/** Keeps what is made for a size; there are few sizes. */
function keptPerSize<T>(make: (n: number) => T): (n: number) => T {
  const kept = new Map<number, T>();
  return (n) => {
    const known = kept.get(n) ?? make(n);
    kept.set(n, known);
    return known;
  };
}

/** Spectrum of one or two real planes of the same size (the second as imaginary part), padded with zeros. */
export function spectrumOf(real: Plane, widthPx: number, heightPx: number, imaginary?: Plane): Spectrum {
  const data = new Float64Array(2 * widthPx * heightPx);
  for (let y = 0; y < real.heightPx; y++)
    for (let x = 0; x < real.widthPx; x++) {
      const to = 2 * (y * widthPx + x);
      data[to] = real.data[y * real.widthPx + x]!;
      if (imaginary) data[to + 1] = imaginary.data[y * real.widthPx + x]!;
    }
  return fft2d({ widthPx, heightPx, data });
}

/** How many pairs of usable pixels meet at a shift: it changes slowly with it, so half the scale is enough. */
function pairsOf(usable: Plane, pw: number, ph: number): (dx: number, dy: number) => number {
  const [w, h] = [pw >> 1, ph >> 1];
  const m = spectrumOf(halve(usable), w, h);
  for (let i = 0; i < m.data.length; i += 2) {
    m.data[i] = squared(m.data[i]!) + squared(m.data[i + 1]!);
    m.data[i + 1] = 0;
  }
  const pairs = fft2d(m, true).data;
  const at = (x: number, y: number) => 4 * pairs[2 * ((y % h) * w + ((x + w) % w))]!;
  return (dx, dy) => {
    const [x, y] = [Math.floor(dx / 2), Math.floor(dy / 2)];
    const [fx, fy] = [dx / 2 - x, dy / 2 - y];
    return (
      (at(x, y) * (1 - fx) + at(x + 1, y) * fx) * (1 - fy) +
      (at(x, y + 1) * (1 - fx) + at(x + 1, y + 1) * fx) * fy
    );
  };
}

/**
 * Autocorrelation of two planes at once, with a mask of what counts: for each shift the mean product over pairs of usable
 * pixels, over the mean square. Not wrapped. The two share one transform: their spectra are told apart by symmetry, and
 * their powers, being real and even, come back as real and imaginary part of one inverse.
 *
 * @param first of mean zero over the usable pixels, and zero elsewhere
 * @param second the same, of the same size
 * @param usable 1 where the planes count, 0 elsewhere; null: everywhere
 * @param reachX largest shift across, px
 * @param reachY largest shift down, px
 * @returns planes of (2·reachX + 1) × (reachY + 1); shift (dx, dy) at [dy, dx + reachX]; 1 at no shift, 0 where too few pairs meet
 */
export function autocorrelations(
  first: Plane,
  second: Plane,
  usable: Plane | null,
  reachX: number,
  reachY: number,
): [Plane, Plane] {
  const { widthPx: w, heightPx: h } = first;
  const [pw, ph] = [nextPowerOfTwo(w + reachX), nextPowerOfTwo(h + reachY)];
  const s = spectrumOf(first, pw, ph, second);
  const powers = new Float64Array(s.data.length);
  for (let y = 0; y < ph; y++)
    for (let x = 0; x < pw; x++) {
      const i = 2 * (y * pw + x);
      const j = 2 * (((ph - y) % ph) * pw + ((pw - x) % pw));
      const [a, b, c, d] = [s.data[i]!, s.data[i + 1]!, s.data[j]!, s.data[j + 1]!];
      powers[i] = (squared(a + c) + squared(b - d)) / 4;
      powers[i + 1] = (squared(b + d) + squared(c - a)) / 4;
    }
  const sums = fft2d({ widthPx: pw, heightPx: ph, data: powers }, true).data;
  const pairsAt = usable
    ? pairsOf(usable, pw, ph)
    : (dx: number, dy: number) => (w - Math.abs(dx)) * (h - dy);
  const all = pairsAt(0, 0);
  const out: [Plane, Plane] = [makePlane(2 * reachX + 1, reachY + 1), makePlane(2 * reachX + 1, reachY + 1)];
  const norms = [sums[0]! / all, sums[1]! / all];
  for (let dy = 0; dy <= reachY; dy++)
    for (let dx = -reachX; dx <= reachX; dx++) {
      const i = 2 * (dy * pw + ((dx + pw) % pw));
      const n = pairsAt(dx, dy);
      if (n <= 0.02 * all) continue;
      for (const k of [0, 1] as const)
        if (norms[k]! > 0) out[k].data[dy * out[k].widthPx + dx + reachX] = sums[i + k]! / n / norms[k]!;
    }
  return out;
}
