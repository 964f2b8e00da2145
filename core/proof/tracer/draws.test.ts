import { Draws } from './draws';

/** The numbers of one dimension over the first samples of a pixel. */
function numbers(pixel: number, dimension: number, samples: number): number[] {
  const draws = new Draws();
  return Array.from({ length: samples }, (_, sample) => {
    draws.begin(pixel, sample);
    for (let d = 0; d < dimension; d++) draws.next();
    return draws.next();
  });
}
/** The widest gap between numbers on the way round from 0 to 1. */
function widestGap(of: number[]): number {
  const sorted = [...of].sort((a, b) => a - b);
  return Math.max(...sorted.map((v, k) => (k > 0 ? v - sorted[k - 1]! : v + 1 - sorted.at(-1)!)));
}

test('a path draws the same numbers whenever it is traced, all within 0 and 1', () => {
  for (const dimension of [0, 3, 15, 16, 40]) {
    const first = numbers(12, dimension, 50);
    expect(numbers(12, dimension, 50)).toEqual(first);
    for (const v of first) expect(v >= 0 && v < 1).toBe(true);
  }
});

test('the first numbers of a pixel are spread more evenly than chance spreads them', () => {
  const [n, pixels] = [64, 40];
  let [even, chance] = [0, 0];
  for (let pixel = 0; pixel < pixels; pixel++) {
    even += widestGap(numbers(pixel, 2, n)) / pixels;
    chance += widestGap(numbers(pixel, 30, n)) / pixels;
  }
  // Of chance the widest of 64 gaps is about ln 64 times the mean one.
  expect(even).toBeLessThan(3 / n);
  expect(chance).toBeGreaterThan(4 / n);
});

test('pixels that are next to each other begin elsewhere', () => {
  const first = Array.from({ length: 64 }, (_, pixel) => numbers(pixel, 0, 1)[0]!);
  const mean = first.reduce((a, b) => a + b, 0) / first.length;
  const together = first.reduce((sum, v, k) => sum + (k > 0 ? (v - mean) * (first[k - 1]! - mean) : 0), 0);
  expect(Math.abs(together / first.length)).toBeLessThan(0.03);
  expect(new Set(first).size).toBe(first.length);
});
