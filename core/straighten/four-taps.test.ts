import { makeColourPicture } from '../raster';
import { FourTaps } from './four-taps';
import { frameOfQuad, toPicture, type Quad } from './index';
import { projectionOf } from './warp';

const SHAPE = { widthPx: 400, heightPx: 300 };
const QUAD: Quad = [
  [0.12, 0.1],
  [0.88, 0.16],
  [0.9, 0.9],
  [0.1, 0.84],
];
/** Weights of four pixels at two phases and at the next pixel: the nearest one alone counts. */
const NEAREST = Float64Array.from([0, 1, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0]);

test.each([
  ['without bow', { k1: 0, k2: 0 }],
  ['with the bow of a lens', { k1: 0.06, k2: -0.01 }],
])('places of a part are those of the frame, rows of odd and even width, %s', (_, bow) => {
  const [w, h] = [211, 157];
  const frame = frameOfQuad(SHAPE, bow, QUAD);
  const taps = new FourTaps(makeColourPicture(400, 300), projectionOf(frame, 1, w, h), NEAREST, 64 * 64);
  for (const part of [
    { left: 0, top: 0, right: 33, bottom: 20 },
    { left: 170, top: 120, right: w, bottom: h },
    { left: 64, top: 64, right: 128, bottom: 128 },
  ]) {
    taps.place(part);
    let [n, worst] = [0, 0];
    for (let y = part.top; y < part.bottom; y++)
      for (let x = part.left; x < part.right; x++, n += 2) {
        const [u, v] = toPicture(frame, [(x + 0.5) / w, (y + 0.5) / h]);
        worst = Math.max(worst, Math.abs(taps.places[n]! - (u * 400 - 0.5)));
        worst = Math.max(worst, Math.abs(taps.places[n + 1]! - (v * 300 - 0.5)));
      }
    expect(worst).toBeLessThan(1e-3);
  }
});

test('a part beyond the edge of the picture is left to others, and nothing is written', () => {
  const picture = makeColourPicture(400, 300);
  picture.r.fill(1);
  const frame = frameOfQuad(SHAPE, { k1: 0, k2: 0 }, [
    [-0.2, 0],
    [0.9, 0],
    [0.9, 1],
    [-0.2, 1],
  ]);
  const taps = new FourTaps(picture, projectionOf(frame, 1, 200, 150), NEAREST, 64 * 64);
  const out = makeColourPicture(200, 150);
  const [outside, inside] = [0, 100].map((left) => ({ left, top: 40, right: left + 32, bottom: 72 }));
  taps.place(outside!);
  expect(taps.fetch(outside!, out, 40 * 200)).toBe(false);
  expect(Math.max(...out.r)).toBe(0);
  taps.place(inside!);
  expect(taps.fetch(inside!, out, 40 * 200 + 100)).toBe(true);
  expect(out.r[50 * 200 + 110]).toBe(1);
  expect(out.r.filter((v) => v === 1)).toHaveLength(32 * 32);
});
