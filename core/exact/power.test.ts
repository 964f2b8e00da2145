import fc from 'fast-check';
import { power, squared, wholePower } from '.';

const value = fc.double({ min: 1e-6, max: 1e6, noNaN: true });

test('a whole power is the product of its factors; below zero it is one over it', () => {
  expect(wholePower(3, 0)).toBe(1);
  expect(wholePower(-2, 5)).toBe(-32);
  expect(wholePower(2, -3)).toBe(0.125);
  for (let n = -40; n <= 40; n++) expect(Math.log2(wholePower(2, n))).toBe(n);
  fc.assert(
    fc.property(value, (x) => {
      expect(wholePower(x, 2)).toBe(squared(x));
      expect(wholePower(x, 5) / (x * x * x * x * x)).toBeCloseTo(1, 14);
    }),
  );
});

test('a power is undone by its inverse, and powers of one base add up', () => {
  expect(power(0, 2.4)).toBe(0);
  expect(power(-1, 0.5)).toBeNaN();
  expect(power(1, 7.3)).toBe(1);
  fc.assert(
    fc.property(value, fc.double({ min: 0.1, max: 4, noNaN: true }), (x, y) => {
      expect(power(power(x, y), 1 / y) / x).toBeCloseTo(1, 12);
      expect((power(x, y) * power(x, 1 - y)) / x).toBeCloseTo(1, 12);
      expect(power(x, y) / Math.pow(x, y)).toBeCloseTo(1, 12);
    }),
  );
});
