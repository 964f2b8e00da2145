import FFT from 'fft.js';
import { seededRandom } from './random';
import { fft2d, type Spectrum } from './fft';

/** The same transform, line by line with the package fft.js. */
function reference({ widthPx: w, heightPx: h, data }: Spectrum, inverse: boolean): Float64Array {
  const out = Float64Array.from(data);
  const line = (n: number, start: number, step: number) => {
    const [from, to] = [new Float64Array(2 * n), new Float64Array(2 * n)];
    for (let i = 0; i < n; i++) from.set(out.subarray(start + i * step, start + i * step + 2), 2 * i);
    new FFT(n)[inverse ? 'inverseTransform' : 'transform'](to, from);
    for (let i = 0; i < n; i++) out.set(to.subarray(2 * i, 2 * i + 2), start + i * step);
  };
  for (let y = 0; y < h; y++) line(w, 2 * y * w, 2);
  for (let x = 0; x < w; x++) line(h, 2 * x, 2 * w);
  return out;
}

describe('the Fourier transform', () => {
  test.each([
    [2, 2],
    [4, 2],
    [2, 8],
    [8, 32],
    [64, 16],
    [256, 128],
    [32, 512],
  ])('of %d × %d numbers has the bits of fft.js, there and back', (widthPx, heightPx) => {
    const random = seededRandom(widthPx * 31 + heightPx);
    const data = Float64Array.from({ length: 2 * widthPx * heightPx }, () => 10 * random.next() - 5);
    // Padding: the last quarter of the rows, and of every row of the second half.
    data.fill(0, Math.ceil(1.5 * widthPx * heightPx));
    for (const inverse of [false, true]) {
      const made = fft2d({ widthPx, heightPx, data }, inverse).data;
      expect(Array.from(made)).toEqual(Array.from(reference({ widthPx, heightPx, data }, inverse)));
    }
    const back = fft2d(fft2d({ widthPx, heightPx, data }), true).data;
    expect(Math.max(...back.map((v, i) => Math.abs(v - data[i]!)))).toBeLessThan(1e-12);
  });
});
