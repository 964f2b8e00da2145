import fc from 'fast-check';
import { linearSolution, solveLinear } from './linear';

const NUMBER = fc.double({ min: -10, max: 10, noNaN: true });
const copy = (a: readonly number[][]) => a.map((row) => [...row]);
const times = (a: readonly number[][], x: readonly number[]) =>
  a.map((row) => row.reduce((sum, v, c) => sum + v * x[c]!, 0));

test('what is solved gives the right side back, whatever the order of the rows', () => {
  const system = fc.integer({ min: 1, max: 6 }).chain((n) =>
    fc.record({
      a: fc.array(fc.array(NUMBER, { minLength: n, maxLength: n }), { minLength: n, maxLength: n }),
      x: fc.array(NUMBER, { minLength: n, maxLength: n }),
    }),
  );
  fc.assert(
    fc.property(system, ({ a, x }) => {
      // Well away from singular: the diagonal rules.
      a.forEach((row, k) => (row[k] = 60 + Math.abs(row[k]!)));
      const right = times(a, x);
      const there = solveLinear(copy(a), [...right]);
      x.forEach((v, k) => expect(there[k]).toBeCloseTo(v, 8));
      const back = solveLinear(copy(a).reverse(), [...right].reverse());
      x.forEach((v, k) => expect(back[k]).toBeCloseTo(v, 8));
    }),
  );
});

test('zeros on the diagonal are no hindrance', () => {
  const a = [
    [0, 2, 0],
    [0, 0, 4],
    [3, 0, 0],
  ];
  expect(solveLinear(a, [2, 8, 9])).toEqual([3, 1, 2]);
});

test('a singular system has no solution, or is refused with a sentence', () => {
  const a = [
    [1, 2],
    [2, 4],
  ];
  expect(linearSolution(copy(a), [1, 3])).toBeNull();
  expect(() => solveLinear(copy(a), [1, 3])).toThrow(/no single solution/);
  expect(linearSolution([[1e-13]], [1], 1e-12)).toBeNull();
  expect(linearSolution([[1e-13]], [1e-13])).toEqual([1]);
  expect(linearSolution([], [])).toEqual([]);
});
