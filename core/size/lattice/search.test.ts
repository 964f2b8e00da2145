import fc from 'fast-check';
import { makePlane, seededRandom } from '../../raster';
import { coursesOf, scaledCourses, snappedShift } from './courses';
import { comparison, folded } from './fold';
import { areaOf, correlationOf, fitted, reduced, searchLattices, type Lattice, type Vector } from './search';

const angleBetween = ([a, b]: Vector, [c, d]: Vector) =>
  Math.abs((a * c + b * d) / Math.hypot(a, b) / Math.hypot(c, d));

test('reduced vectors span the same lattice, and no shorter ones do', () => {
  const whole = fc.integer({ min: -6, max: 6 });
  const vector = fc.tuple(fc.integer({ min: 5, max: 60 }), fc.integer({ min: -60, max: 60 }));
  fc.assert(
    fc.property(vector, vector, whole, whole, (first, second, m, n) => {
      fc.pre(areaOf({ first, second }) > 20);
      const plus = (a: Vector, b: Vector, times: number): Vector => [
        a[0] + times * b[0],
        a[1] + times * b[1],
      ];
      const other = plus(second, first, m);
      const { first: a, second: b } = reduced({ first: plus(first, other, n), second: other });
      expect(areaOf({ first: a, second: b })).toBeCloseTo(areaOf({ first, second }), 6);
      // Two vectors are the shortest when they stand between 60° and 120°.
      expect(angleBetween(a, b)).toBeLessThanOrEqual(0.5 * Math.max(1, Math.hypot(...b) / Math.hypot(...a)));
      for (const k of [-1, 1])
        expect(Math.hypot(...plus(b, a, k))).toBeGreaterThanOrEqual(Math.hypot(...b) - 1e-9);
    }),
  );
});

test.each([
  ['half bond', 0.5],
  ['third bond', 1 / 3],
  ['stack bond', 0],
  ['quarter bond', 0.25],
])('courses of a %s are read from any two vectors of its lattice', (_, stagger) => {
  const [along, up] = [92, 31];
  const lattice: Lattice = { first: [along, 0], second: [stagger * along, up] };
  for (const m of [-2, 0, 1]) {
    const second: Vector = [lattice.second[0] + m * along, up];
    const { courses, falls } = coursesOf(reduced({ first: lattice.first, second }))!;
    expect(courses.acrossPx).toBeCloseTo(along, 6);
    expect(courses.upPx).toBeCloseTo(up, 6);
    expect(Math.min(courses.stagger, 1 - courses.stagger)).toBeCloseTo(Math.min(stagger, 1 - stagger), 6);
    expect(falls).toBeCloseTo(0, 9);
  }
  expect(scaledCourses({ acrossPx: along, upPx: null, stagger }, 0.5)).toEqual({
    acrossPx: along / 2,
    upPx: null,
    stagger,
  });
});

test('a shift within its error of a usual one is that one, and stays what it is elsewhere', () => {
  expect(snappedShift(0.4936, 0.02)).toBe(0.5);
  expect(snappedShift(0.341, 0.02)).toBeCloseTo(1 / 3, 12);
  expect(snappedShift(0.993, 0.02)).toBe(0);
  expect(snappedShift(0.44, 0.02)).toBe(0.44);
});

test('a lattice of peaks stands out of noise, and is fitted to parts of a pixel', () => {
  const [reachX, reachY] = [160, 120];
  const acf = makePlane(2 * reachX + 1, reachY + 1);
  const random = seededRandom(4);
  const lattice: Lattice = { first: [41.3, 0.4], second: [20.7, 18.6] };
  for (let i = 0; i < acf.data.length; i++) acf.data[i] = 0.02 * random.normal();
  for (let m = -12; m <= 12; m++)
    for (let n = 0; n <= 7; n++) {
      const x = m * lattice.first[0] + n * lattice.second[0];
      const y = m * lattice.first[1] + n * lattice.second[1];
      for (let j = -5; j <= 5; j++)
        for (let i = -5; i <= 5; i++) {
          const [px, py] = [Math.round(x) + i, Math.round(y) + j];
          if (py < 0 || py > reachY || Math.abs(px) > reachX) continue;
          const far = (px - x) ** 2 + (py - y) ** 2;
          acf.data[py * acf.widthPx + reachX + px]! += 0.4 * Math.exp(-far / 6);
        }
    }
  const c = correlationOf([acf], reachX, reachY);
  const [best] = searchLattices(c);
  const found = reduced(fitted(c, best!.lattice));
  expect(areaOf(found) / areaOf(lattice)).toBeCloseTo(1, 2);
  const { courses } = coursesOf(found)!;
  expect(courses.acrossPx).toBeCloseTo(41.3, 0);
  expect(courses.stagger).toBeCloseTo(0.5, 2);
});

describe('the mean cell of a structure', () => {
  const [W, H, ALONG, UP] = [240, 180, 24, 15];
  const plane = makePlane(W, H);
  const random = seededRandom(9);
  const cell = Array.from({ length: ALONG * UP }, () => random.normal());
  for (let y = 0, i = 0; y < H; y++)
    for (let x = 0; x < W; x++, i++) {
      const course = Math.floor(y / UP);
      plane.data[i] = cell[(y % UP) * ALONG + ((x + ALONG - (course % 2) * (ALONG / 2)) % ALONG)]!;
    }
  const usable = makePlane(W, H, 1);
  const right = { acrossPx: ALONG, upPx: UP, stagger: 0.5 };
  const mean = (likes: [number[], number[]]) => likes[0].reduce((a, b) => a + b, 0) / likes[0].length;

  test('is like every window where the structure is right, and less so where its shift or period is not', () => {
    const like = comparison([plane, plane], usable, right);
    expect(mean(like(right))).toBeGreaterThan(0.45);
    for (const wrong of [
      { ...right, acrossPx: 22.7 },
      { ...right, upPx: 16.1 },
    ])
      expect(mean(like(wrong))).toBeLessThan(0.3 * mean(like(right)));
    // Of two shifts laid over each other each is seen a little.
    expect(mean(like({ ...right, stagger: 0 }))).toBeLessThan(0.75 * mean(like(right)));
  });

  test('leaves a window out, with what lies in line with it', () => {
    const marked = { ...plane, data: plane.data.slice() };
    for (let y = 60; y < 75; y++) for (let x = 0; x < W; x++) marked.data[y * W + x] = 50;
    const { meansWithout } = folded([marked, marked], usable, right);
    const without = meansWithout({ x0: 96, y0: 60, w: 24, h: 15 }).slice();
    expect(Math.max(...without)).toBeLessThan(10);
    expect(Math.max(...meansWithout({ x0: 96, y0: 0, w: 24, h: 15 }))).toBeGreaterThan(3);
  });
});
