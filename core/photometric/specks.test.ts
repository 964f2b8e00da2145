import { fractalNoise, seededRandom, type Plane } from '../raster';
import { atOnce } from '../steps';
import { withoutSpecks } from './specks';
import { heightBy } from './height-for-tests';

const SIDE = 120;
const MM = { x: 0.5, y: 0.5 };

const heightOf = (at: (x: number, y: number) => number) => heightBy(SIDE, SIDE, at);
/** Bricks with recessed joints 3 px wide, whose arrises are eased, and grain. */
const wall = (x: number, y: number) => {
  const off = Math.min(x % 40, y % 18) - 1;
  return (off <= 1 ? -5 : off === 2 ? -1 : 0) + 0.15 * fractalNoise(x / SIDE, y / SIDE, 30, 30, 4, 0.5, 2);
};
const cleaned = (height: Plane) => atOnce(withoutSpecks({ ...height, data: height.data.slice() }, MM)).data;
const worstOff = (a: Float32Array, b: Float32Array) =>
  a.reduce((most, v, i) => Math.max(most, Math.abs(v - b[i]!)), 0);

/** A wall with needles and pinholes of a few pixels. */
function specked(count: number, depthMm: number) {
  const height = heightOf(wall);
  const random = seededRandom(9);
  const where: number[] = [];
  for (let k = 0; k < count; k++) {
    const [x, y] = [3 + Math.floor(random.next() * (SIDE - 6)), 3 + Math.floor(random.next() * (SIDE - 6))];
    const sign = random.next() < 0.5 ? 1 : -1;
    for (const [u, v, share] of [
      [0, 0, 1],
      [1, 0, 0.8],
      [0, 1, 0.6],
    ] as const)
      height.data[(y + v) * SIDE + x + u]! += sign * share * depthMm;
    where.push(y * SIDE + x);
  }
  return { height, where };
}

test('joints, arrises and grain are no specks', () => {
  const height = heightOf(wall);
  expect(cleaned(height)).toEqual(height.data);
});

test('needles and pinholes are cut to what they stand on', () => {
  const { height, where } = specked(40, 7);
  const found = cleaned(height);
  const truth = heightOf(wall).data;
  // In a joint or over an arris what they stand on is a step away.
  let off = 0;
  for (const i of where) off += Math.abs(found[i]! - truth[i]!) / where.length;
  expect(off).toBeLessThan(1.2);
  const range = (data: Float32Array) => Math.max(...data) - Math.min(...data);
  expect(range(height.data)).toBeGreaterThan(14);
  // One at an arris may pass for a part of the joint or the face beside it.
  expect(range(found)).toBeLessThan(range(truth) + 4);
});

test('what is away from specks stays as it is, to the bit', () => {
  const { height, where } = specked(12, 7);
  const found = cleaned(height);
  const near = new Set(where.flatMap((i) => [0, 1, SIDE, SIDE + 1, -1, -SIDE].map((d) => i + d)));
  let changed = 0;
  found.forEach((v, i) => {
    if (v === height.data[i]) return;
    changed++;
    expect(near.has(i)).toBe(true);
  });
  expect(changed).toBeGreaterThan(12);
});

test('grains of sand and pits that light could tell stay, however many', () => {
  const pebbles = heightOf((x, y) => {
    const [u, v] = [(x % 9) - 4, (y % 9) - 4];
    return (Math.floor(x / 9) % 2 ? 1 : -1) * Math.sqrt(Math.max(0, 9 - u * u - v * v)) * 0.25;
  });
  expect(cleaned(pebbles)).toEqual(pebbles.data);
});

test('a high wall and its edges stay, and a speck on it is cut to its top', () => {
  const height = heightOf((x) => (x >= 60 ? 20 : 0));
  height.data[50 * SIDE + 80] = 30;
  height.data[70 * SIDE + 60] = 26;
  const found = cleaned(height);
  expect(worstOff(found, heightOf((x) => (x >= 60 ? 20 : 0)).data)).toBe(0);
});

test('specks at the very border, and on each other, are cut as well', () => {
  const height = heightOf(() => 1);
  for (const [i, v] of [
    [0, 9],
    [SIDE - 1, -8],
    [SIDE * SIDE - 1, 9],
    [SIDE * 40 + 40, 6],
    [SIDE * 40 + 41, 12],
  ] as const)
    height.data[i] = v;
  expect(worstOff(cleaned(height), heightOf(() => 1).data)).toBe(0);
});
