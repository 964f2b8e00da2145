import fc from 'fast-check';
import { figure } from '../units';
import { countedLength, resolveSize } from './index';

test('17 boards of 145 mm with 3 mm joints are 2513 mm flush and 2516 mm from joint to joint', () => {
  expect(countedLength(17, 145, 3, 'flush')).toBe(2513);
  expect(countedLength(17, 145, 3, 'joint')).toBe(2516);
});

test.each([[0], [-3], [2.5], [1e6], [NaN]])('a count of %s is refused', (n) => {
  expect(() => countedLength(n, 145, 3, 'flush')).toThrow(/whole number from 1 to 100 000/);
});

const count = {
  by: 'count',
  modules: 17,
  moduleMm: figure(145, 'mm', 'published', 0.5),
  jointMm: 3,
  ends: 'flush',
} as const;

test('the axis that follows has square pixels and is inferred; the counted one keeps basis and tolerance', () => {
  const size = resolveSize({ across: { by: 'follows' }, up: count }, 1600, 1256);
  expect(size.height).toMatchObject({
    mm: 2513,
    basis: 'published',
    toleranceMm: 8.5,
    module: { pitchMm: 148, count: 17 },
  });
  expect(size.width.basis).toBe('inferred');
  expect(size.width.mm).toBeCloseTo((2513 * 1600) / 1256, 6);
  expect(size.axesDiffer).toBeCloseTo(0, 9);
});

test('two axes of their own: the difference of their scales is told', () => {
  const overall = (mm: number) => ({ by: 'overall', overallMm: figure(mm, 'mm', 'measured') }) as const;
  expect(resolveSize({ across: overall(1000), up: overall(515) }, 2000, 1000).axesDiffer).toBeCloseTo(
    0.03,
    9,
  );
});

test('with nothing known the size is assumed and says so', () => {
  const size = resolveSize({ across: { by: 'follows' }, up: { by: 'follows' } }, 400, 300);
  expect(size.width).toMatchObject({ mm: 1000, basis: 'assumed' });
  expect(size.height.basis).toBe('assumed');
});

test('pixels per mm times mm are the pixels again', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 20000 }),
      fc.integer({ min: 1, max: 20000 }),
      fc.double({ min: 0.1, max: 1e5, noNaN: true }),
      (w, h, mm) => {
        const size = resolveSize(
          { across: { by: 'overall', overallMm: figure(mm, 'mm', 'measured') }, up: { by: 'follows' } },
          w,
          h,
        );
        expect(size.pxPerMm.x * size.width.mm).toBeCloseTo(w, 4);
        expect(size.pxPerMm.y * size.height.mm).toBeCloseTo(h, 4);
      },
    ),
  );
});
