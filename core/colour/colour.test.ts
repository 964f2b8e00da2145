import fc from 'fast-check';
import {
  ciede2000,
  decodePixels,
  labToXyz,
  linearToLab,
  linearToSrgb,
  linearToSrgb8,
  linearToXyz,
  readMatrixProfile,
  srgbToLinear,
  SRGB_PROFILE,
  xyzToLab,
  xyzToLinear,
} from './index';

const unit = fc.double({ min: 0, max: 1, noNaN: true });

describe('sRGB transfer function', () => {
  test('goes there and back', () => {
    fc.assert(
      fc.property(fc.double({ min: -1, max: 2, noNaN: true }), (v) =>
        expect(linearToSrgb(srgbToLinear(v))).toBeCloseTo(v, 9),
      ),
    );
  });
  test('the table gives the same code as the formula', () => {
    fc.assert(
      fc.property(unit, (v) => expect(linearToSrgb8(v)).toBe(Math.round(linearToSrgb(v) * 255))),
      { numRuns: 2000 },
    );
    for (let code = 0; code < 256; code++) expect(linearToSrgb8(srgbToLinear(code / 255))).toBe(code);
  });
});

test('CIELAB goes there and back, and white is 100, 0, 0', () => {
  const [l, a, b] = linearToLab([1, 1, 1]);
  expect([l, a, b].map((v) => Math.abs(v - [100, 0, 0][[l, a, b].indexOf(v)]!) < 1e-6)).toEqual([
    true,
    true,
    true,
  ]);
  fc.assert(
    fc.property(unit, unit, unit, (r, g, bl) => {
      const back = xyzToLinear(labToXyz(xyzToLab(linearToXyz([r, g, bl]))));
      [r, g, bl].forEach((v, i) => expect(back[i]).toBeCloseTo(v, 6));
    }),
  );
});

/** Sharma, Wu, Dalal 2005, table 1: L1 a1 b1 L2 a2 b2 ΔE00. */
const PUBLISHED = `
50 2.6772 -79.7751 50 0 -82.7485 2.0425
50 3.1571 -77.2803 50 0 -82.7485 2.8615
50 2.8361 -74.0200 50 0 -82.7485 3.4412
50 -1.3802 -84.2814 50 0 -82.7485 1.0000
50 -1.1848 -84.8006 50 0 -82.7485 1.0000
50 -0.9009 -85.5211 50 0 -82.7485 1.0000
50 0 0 50 -1 2 2.3669
50 -1 2 50 0 0 2.3669
50 2.4900 -0.0010 50 -2.4900 0.0009 7.1792
50 2.4900 -0.0010 50 -2.4900 0.0010 7.1792
50 2.4900 -0.0010 50 -2.4900 0.0011 7.2195
50 2.4900 -0.0010 50 -2.4900 0.0012 7.2195
50 -0.0010 2.4900 50 0.0009 -2.4900 4.8045
50 -0.0010 2.4900 50 0.0010 -2.4900 4.8045
50 -0.0010 2.4900 50 0.0011 -2.4900 4.7461
50 2.5 0 50 0 -2.5 4.3065
50 2.5 0 73 25 -18 27.1492
50 2.5 0 61 -5 29 22.8977
50 2.5 0 56 -27 -3 31.9030
50 2.5 0 58 24 15 19.4535
50 2.5 0 50 3.1736 0.5854 1.0000
50 2.5 0 50 3.2972 0 1.0000
50 2.5 0 50 1.8634 0.5757 1.0000
50 2.5 0 50 3.2592 0.3350 1.0000
60.2574 -34.0099 36.2677 60.4626 -34.1751 39.4387 1.2644
63.0109 -31.0961 -5.8663 62.8187 -29.7946 -4.0864 1.2630
61.2901 3.7196 -5.3901 61.4292 2.2480 -4.9620 1.8731
35.0831 -44.1164 3.7933 35.0232 -40.0716 1.5901 1.8645
22.7233 20.0904 -46.6940 23.0331 14.9730 -42.5619 2.0373
36.4612 47.8580 18.3852 36.2715 50.5065 21.2231 1.4146
90.8027 -2.0831 1.4410 91.1528 -1.6435 0.0447 1.4441
90.9257 -0.5406 -0.9208 88.6381 -0.8985 -0.7239 1.5381
6.7747 -0.2908 -2.4247 5.8714 -0.0985 -2.2286 0.6377
2.0776 0.0795 -1.1350 0.9033 -0.0636 -0.5514 0.9082`
  .trim()
  .split('\n')
  .map((line) => line.trim().split(/\s+/).map(Number));

test('CIEDE2000 agrees with all 34 published pairs to 1e-4', () => {
  expect(PUBLISHED).toHaveLength(34);
  for (const [l1, a1, b1, l2, a2, b2, expected] of PUBLISHED as number[][]) {
    expect(Math.abs(ciede2000([l1!, a1!, b1!], [l2!, a2!, b2!]) - expected!)).toBeLessThan(1e-4);
  }
});

/** A profile with wide primaries, built byte by byte as ICC.1:2022 says. */
function makeProfile(columns: number[][], gamma: number): Uint8Array {
  const bytes = new Uint8Array(132 + 7 * 12 + 3 * 20 + 16 + 32);
  const view = new DataView(bytes.buffer);
  const put = (at: number, text: string) => [...text].forEach((c, i) => (bytes[at + i] = c.charCodeAt(0)));
  put(16, 'RGB ');
  put(36, 'acsp');
  view.setUint32(128, 6);
  let at = 132 + 7 * 12;
  ['rXYZ', 'gXYZ', 'bXYZ'].forEach((tag, i) => {
    put(132 + 12 * i, tag);
    view.setUint32(136 + 12 * i, at);
    view.setUint32(140 + 12 * i, 20);
    put(at, 'XYZ ');
    columns[i]!.forEach((v, k) => view.setInt32(at + 8 + 4 * k, Math.round(v * 65536)));
    at += 20;
  });
  put(at, 'curv');
  view.setUint32(at + 8, 1);
  view.setUint16(at + 12, gamma * 256);
  ['rTRC', 'gTRC', 'bTRC'].forEach((tag, i) => {
    put(132 + 12 * (3 + i), tag);
    view.setUint32(136 + 12 * (3 + i), at);
    view.setUint32(140 + 12 * (3 + i), 14);
  });
  return bytes;
}

test('an embedded matrix profile is honoured and colours outside sRGB are kept', () => {
  // The primaries of the opRGB space of IEC 61966-2-5, adapted to D50.
  const wide = readMatrixProfile(
    makeProfile(
      [
        [0.60974, 0.31111, 0.01947],
        [0.20528, 0.62567, 0.06087],
        [0.14919, 0.06322, 0.74457],
      ],
      2.19921875,
    ),
  )!;
  const white = decodePixels(Uint8Array.of(255, 255, 255), 1, 1, 3, wide);
  for (const c of [white.r, white.g, white.b]) expect(c[0]).toBeCloseTo(1, 2);
  const green = decodePixels(Uint8Array.of(0, 255, 0), 1, 1, 3, wide);
  expect(green.r[0]).toBeLessThan(-0.3); // far outside sRGB: a negative red is kept
  expect(green.g[0]).toBeCloseTo(1, 1);
  expect(readMatrixProfile(new Uint8Array(200))).toBeNull();
  expect(decodePixels(Uint16Array.of(65535), 1, 1, 1, SRGB_PROFILE).b[0]).toBe(1);
});
