import type { Triple } from '../colour';
import { labOfSpectrum, linearOfSpectrum, lrvOfSpectrum, spectrumOf, whiteOf, xyzOfSpectrum } from '.';
import { valueAt } from './interpolate';

const near = (got: Triple, wanted: Triple, digits: number) =>
  got.forEach((v, i) => expect(v).toBeCloseTo(wanted[i]!, digits));

describe('spectra', () => {
  it('has the whites of CIE 015:2018 under D65 and A', () => {
    near(whiteOf('D65'), [0.9504, 1, 1.0888], 3);
    near(whiteOf('A'), [1.0985, 1, 0.35585], 3);
  });

  it('has a light near the black body of 2 900 K for the LED', () => {
    const [x, y, z] = whiteOf('LED');
    const chromaticity = [x / (x + y + z), y / (x + y + z)];
    expect(chromaticity[0]).toBeGreaterThan(0.42);
    expect(chromaticity[0]).toBeLessThan(0.46);
    expect(Math.abs(chromaticity[1]! - 0.404)).toBeLessThan(0.02);
  });

  it('leaves an even grey grey under every light', () => {
    for (const light of ['D65', 'A', 'LED'] as const) {
      near(
        labOfSpectrum(() => 0.18, light),
        [49.4961, 0, 0],
        3,
      );
      expect(lrvOfSpectrum(() => 0.18, light)).toBeCloseTo(18, 6);
    }
    near(
      linearOfSpectrum(() => 0.5),
      [0.5, 0.5, 0.5],
      6,
    );
  });

  it('adds up: the sum of two spectra has the sum of their XYZ', () => {
    const red = (nm: number) => (nm > 590 ? 0.8 : 0.1);
    const rest = (nm: number) => 1 - red(nm);
    const [a, b] = [xyzOfSpectrum(red), xyzOfSpectrum(rest)];
    near([a[0] + b[0], a[1] + b[1], a[2] + b[2]], whiteOf('D65'), 9);
    expect(linearOfSpectrum(red)[0]).toBeGreaterThan(3 * linearOfSpectrum(red)[1]);
  });

  it('interpolates cubics exactly and holds the ends', () => {
    const values = [0, 1, 8, 27, 64, 125];
    expect(valueAt(values, 400, 10, 423)).toBeCloseTo(2.3 * 2.3 * 2.3, 9);
    expect(valueAt(values, 400, 10, 300)).toBe(0);
    expect(valueAt(values, 400, 10, 900)).toBe(125);
    expect(spectrumOf({ fromNm: 400, stepNm: 20, values: [0.2, 0.4] })(410)).toBeCloseTo(0.3, 9);
  });
});
