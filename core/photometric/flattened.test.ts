import fc from 'fast-check';
import { fractalNoise, makePlane, type Plane } from '../raster';
import { flattened } from './flattened';
import { heightBy } from './height-for-tests';

const [W, H] = [90, 60];
/** A height by place, −1 to 1 across and down, and by column. */
const heightOf = (at: (u: number, v: number, x: number) => number): Plane =>
  heightBy(W, H, (x, y) => at((2 * x + 1) / W - 1, (2 * y + 1) / H - 1, x));
const largest = ({ data }: Plane) => data.reduce((most, v) => Math.max(most, Math.abs(v)), 0);

test('whatever tilt and bow a sample has, nothing of it is left', () => {
  const term = fc.double({ min: -5, max: 5, noNaN: true });
  fc.assert(
    fc.property(fc.array(term, { minLength: 6, maxLength: 6 }), ([a, b, c, d, e, f]) => {
      const bowed = heightOf((u, v) => a! + b! * u + c! * v + d! * u * u + e! * u * v + f! * v * v);
      expect(largest(flattened(bowed))).toBeLessThan(1e-4);
    }),
    { numRuns: 40 },
  );
});

test('relief on a bowed sample is what it is on a flat one', () => {
  const relief = (u: number, v: number) => fractalNoise((u + 1) / 2, (v + 1) / 2, 9, 6, 3, 0.5, 4);
  const flat = flattened(heightOf(relief));
  const bowed = flattened(heightOf((u, v) => relief(u, v) + 3 + 2 * u - v + 1.5 * u * u - 0.7 * u * v));
  expect(largest({ ...bowed, data: bowed.data.map((v, i) => v - flat.data[i]!) })).toBeLessThan(5e-5);
  // What is taken off is the mean too.
  expect(flat.data.reduce((sum, v) => sum + v, 0) / (W * H)).toBeCloseTo(0, 4);
});

test('joints between flat faces stay as deep as they are', () => {
  const { data } = flattened(heightOf((_, __, x) => (x % 18 < 3 ? -2 : 0)));
  const at = (x: number) => data[30 * W + x]!;
  expect(at(45 + 6) - at(54 + 1)).toBeCloseTo(2, 1);
});

test('a picture of one row or column tells no bow, and is left as it is', () => {
  for (const [w, h] of [
    [7, 1],
    [1, 9],
    [2, 2],
  ] as const) {
    const small = makePlane(w, h);
    small.data.forEach((_, i) => (small.data[i] = i * i));
    expect(flattened(small).data).toEqual(small.data);
  }
});
