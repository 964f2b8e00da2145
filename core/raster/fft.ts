import { squared, wholePower } from '../exact';
import FFT from 'fft.js';
import { makePlane, type Plane } from './plane';
import { halve } from './resample';

/** The next power of two at or above n. */
export const powerAbove = (n: number) => wholePower(2, Math.max(1, Math.ceil(Math.log2(n))));

/** A complex field, row by row, real and imaginary part interleaved; both sides powers of two. */
export interface Spectrum {
  widthPx: number;
  heightPx: number;
  data: Float64Array;
}

/** Fourier transform in two dimensions, rows then columns; the inverse one divides by the number of pixels. */
export function transform({ widthPx: w, heightPx: h, data }: Spectrum, inverse = false): Spectrum {
  const out = new Float64Array(data.length);
  const rows = new FFT(w);
  const line = new Float64Array(2 * w);
  const result = new Float64Array(2 * w);
  for (let y = 0; y < h; y++) {
    line.set(data.subarray(2 * y * w, 2 * (y + 1) * w));
    // Padding stays 0.
    if (line.every((v) => v === 0)) continue;
    if (inverse) rows.inverseTransform(result, line);
    else rows.transform(result, line);
    out.set(result, 2 * y * w);
  }
  const columns = new FFT(h);
  const column = Array.from({ length: COLUMNS }, () => new Float64Array(2 * h));
  const changed = new Float64Array(2 * h);
  for (let x0 = 0; x0 < w; x0 += COLUMNS) {
    const n = Math.min(COLUMNS, w - x0);
    for (let y = 0; y < h; y++)
      for (let k = 0, from = 2 * (y * w + x0); k < n; k++, from += 2) {
        column[k]![2 * y] = out[from]!;
        column[k]![2 * y + 1] = out[from + 1]!;
      }
    for (let k = 0; k < n; k++) {
      if (inverse) columns.inverseTransform(changed, column[k]!);
      else columns.transform(changed, column[k]!);
      column[k]!.set(changed);
    }
    for (let y = 0; y < h; y++)
      for (let k = 0, to = 2 * (y * w + x0); k < n; k++, to += 2) {
        out[to] = column[k]![2 * y]!;
        out[to + 1] = column[k]![2 * y + 1]!;
      }
  }
  return { widthPx: w, heightPx: h, data: out };
}

/** Columns that are read together: a line of the processor's cache holds four complex numbers. */
const COLUMNS = 8;

/** Spectrum of one or two real planes of the same size (the second as imaginary part), padded with zeros. */
export function spectrumOf(real: Plane, widthPx: number, heightPx: number, imaginary?: Plane): Spectrum {
  const data = new Float64Array(2 * widthPx * heightPx);
  for (let y = 0; y < real.heightPx; y++)
    for (let x = 0; x < real.widthPx; x++) {
      const to = 2 * (y * widthPx + x);
      data[to] = real.data[y * real.widthPx + x]!;
      if (imaginary) data[to + 1] = imaginary.data[y * real.widthPx + x]!;
    }
  return transform({ widthPx, heightPx, data });
}

/** How many pairs of usable pixels meet at a shift: it changes slowly with it, so half the scale is enough. */
function pairsOf(usable: Plane, pw: number, ph: number): (dx: number, dy: number) => number {
  const [w, h] = [pw >> 1, ph >> 1];
  const m = spectrumOf(halve(usable), w, h);
  for (let i = 0; i < m.data.length; i += 2) {
    m.data[i] = squared(m.data[i]!) + squared(m.data[i + 1]!);
    m.data[i + 1] = 0;
  }
  const pairs = transform(m, true).data;
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
  const [pw, ph] = [powerAbove(w + reachX), powerAbove(h + reachY)];
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
  const sums = transform({ widthPx: pw, heightPx: ph, data: powers }, true).data;
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
