import { makeColourPicture } from '../raster';
import { atOnce } from '../steps';
import { reflectedLight, withoutLight } from './reflected-light';
import { studentAt95 } from './tolerance';
import { heightBy } from './height-for-tests';

const SIDE = 120;
const MM = { x: 0.5, y: 0.5 };

const heightOf = (at: (x: number, y: number) => number) => heightBy(SIDE, SIDE, at);

/** Pictures under so many lights, in which all from a column on reads `readings`, and the rest reads nothing. */
const glowing = (from: number, readings: readonly number[]) =>
  readings.map((reading) => {
    const picture = makeColourPicture(SIDE, SIDE);
    picture.r.forEach((_, i) => {
      if (i % SIDE >= from) [picture.r[i], picture.g[i], picture.b[i]] = [reading, reading / 2, reading / 4];
    });
    return { picture, light: { directionTo: [0, 0, 1] as const } };
  });

const FIRST = 60;
const middle = (distancePx: number) => (SIDE / 2) * SIDE + FIRST - 1 - distancePx;

test.each([2, 4, 8])(
  'a wall %d mm high takes up as much of a floor’s half-sphere as its form factor says',
  (wallMm) => {
    const height = heightOf((x) => (x >= FIRST ? wallMm : 0));
    const { enclosed, light } = atOnce(reflectedLight(glowing(FIRST - 2, [0.8, 0.4]), height, MM));
    for (const distancePx of [3, 5, 8, 12, 20]) {
      const i = middle(distancePx);
      // The wall stands at the border of two pixels.
      const mm = (distancePx + 0.5) * MM.x;
      const truth = (1 - mm / Math.hypot(mm, wallMm)) / 2;
      expect(Math.abs(enclosed.data[i]! - truth)).toBeLessThan(0.025 + 0.1 * truth);
      // All that is seen is the wall, up to the two pixels beside it: each light's share of it, in each channel.
      const shares = [...light.subarray(6 * i, 6 * i + 6)].map((v) => v / enclosed.data[i]!);
      [0.8, 0.4, 0.2, 0.4, 0.2, 0.1].forEach((share, c) => expect(shares[c]).toBeCloseTo(share, 5));
    }
  },
);

test('without one of the lights is as if it had never been', () => {
  const height = heightOf((x) => (x >= FIRST ? 4 : 0));
  const of = (readings: readonly number[]) => atOnce(reflectedLight(glowing(FIRST, readings), height, MM));
  const all = of([0.8, 0.4, 0.6]);
  expect(withoutLight(all, 0)).toEqual(of([0.4, 0.6]));
  expect(withoutLight(all, 1)).toEqual(of([0.8, 0.6]));
  expect(withoutLight(all, 2)).toEqual(of([0.8, 0.4]));
});

test('nothing reflects into a dome or a level face, and a face that is turned away does not see the wall', () => {
  const dome = heightOf((x, y) => 8 - 0.004 * ((x - 60) * (x - 60) + (y - 60) * (y - 60)));
  const ofDome = atOnce(reflectedLight(glowing(0, [1]), dome, MM));
  // Normals wrap at the border.
  const inside = ofDome.enclosed.data.filter((_, i) => i % SIDE > 1 && i % SIDE < SIDE - 2);
  expect(Math.max(...inside.subarray(2 * SIDE, -2 * SIDE))).toBeLessThan(0.002);
  // A roof that falls to the left at 45°, and far to its right a wall no higher than its ridge.
  const roof = heightOf((x) => (x < 40 ? 0.5 * x : x < 80 ? 0 : 10));
  const ofRoof = atOnce(reflectedLight(glowing(0, [1]), roof, MM));
  expect(ofRoof.enclosed.data[(SIDE / 2) * SIDE + 20]).toBeLessThan(0.002);
  expect(ofRoof.enclosed.data[(SIDE / 2) * SIDE + 76]).toBeGreaterThan(0.2);
});

// Table of Student's t, two-sided 95 %.
test.each([
  [4, 2.776],
  [5, 2.571],
  [7, 2.365],
  [11, 2.201],
  [30, 2.042],
])('of %d degrees of freedom 95 %% lie within ±%p', (freedom, t) => {
  expect(Math.abs(studentAt95(freedom) / t - 1)).toBeLessThan(0.02);
});
