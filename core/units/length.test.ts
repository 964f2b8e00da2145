import fc from 'fast-check';
import {
  figureSchema,
  LengthError,
  parseLength,
  printArea,
  printLength,
  printMm,
  printNumber,
  printSurface,
  weakestBasis,
} from './index';

describe('parseLength', () => {
  test.each([
    ['1200', 1200],
    ['1 200'.replace(' ', ''), 1200],
    ['120 cm', 1200],
    ['1.2m', 1200],
    ['1,2 m', 1200],
    ['17*145+48', 2513],
    ['17 × 145 mm + 16 * 3 mm', 2513],
    ['(17*145)+(16*3)', 2513],
    ['4\' 2 1/2"', 1282.7],
    ['4 ft 2.5 in', 1282.7],
    ["4'", 1219.2],
    ['2 1/2"', 63.5],
    ['1/2"', 12.7],
    ['1/2', 0.5],
    ["4' 2", 1270],
    ['2 m 5 cm', 2050],
    ['-3 mm', -3],
    ['10 mm / 4', 2.5],
    ['3 × (1 cm + 2 mm)', 36],
    ["4'2½", 1282.7],
    ['2¾"', 69.85],
    ['½ in', 12.7],
    ['1e3', 1000],
    ['1.5E-1 m', 150],
    ['12 thou', 0.3048],
    ['12,5', 12.5],
    ['0,250 m', 250],
  ])('%s is %f mm', (text, mm) => {
    expect(parseLength(text)).toBeCloseTo(mm, 6);
  });

  test('bare numbers take the default unit', () => {
    expect(parseLength('10', 'in')).toBeCloseTo(254);
    expect(parseLength('2*3', 'cm')).toBeCloseTo(60);
    expect(parseLength('10 + 1 mm', 'cm')).toBeCloseTo(101);
  });

  test.each([
    ['', /No length/],
    ['abc', /not a unit/],
    ['12 parsec', /"parsec" is not a unit/],
    ['3 mm * 2 mm', /area/],
    ['5 / 0', /zero/],
    ['5 mm / 2 mm', /plain number/],
    ['(3 + 4', /bracket/],
    ['3 +', /breaks off/],
    ['3 mm 4 m', /does not follow/],
    ['12 $', /not a length/],
    ['3) ', /too many/],
    ['1e400', /too large/],
    ['1,200', /1200 or as 1\.200/],
    ['1,200,000 mm', /1200000\. Write it without the comma/],
  ])('%s is refused with a sentence', (text, message) => {
    expect(() => parseLength(text)).toThrow(LengthError);
    expect(() => parseLength(text)).toThrow(message);
  });

  test('what is printed in feet and inches reads back to the nearest sixteenth', () => {
    fc.assert(
      fc.property(fc.double({ min: 0, max: 50000, noNaN: true }), (mm) => {
        const unit = mm < 3.175 ? 25.4 / 1000 : mm < 101.6 ? 25.4 / 64 : 25.4 / 16;
        expect(Math.abs(parseLength(printLength(mm, 'imperial'), 'in') - mm)).toBeLessThanOrEqual(
          unit / 2 + 1e-9,
        );
      }),
    );
  });
});

test('numbers are printed without trailing zeros and with a true minus', () => {
  expect(printNumber(2513)).toBe('2513');
  expect(printNumber(-0.04)).toBe('0');
  expect(printNumber(-1.25, 2)).toBe('−1.25');
  expect(printLength(2513)).toBe('2513\u2009mm');
  expect(printLength(1282.7, 'imperial')).toBe('4\' 2 1/2"');
  expect(printLength(0.3, 'imperial')).toBe('12\u2009thou');
  expect(printLength(0.1, 'imperial')).toBe('3.9\u2009thou');
  expect(printLength(10, 'imperial')).toBe('25/64"');
  expect(printLength(0, 'imperial')).toBe('0"');
  expect(printSurface(10)).toBe('10\u2009m²');
  expect(printSurface(10, 'imperial')).toBe('107.6\u2009ft²');
});

test('an area says its unit once, and decimals only when small', () => {
  expect(printArea({ width: 2513.4, height: 1184 })).toBe('2513 × 1184\u2009mm');
  expect(printArea({ width: 100, height: 79.96 })).toBe('100 × 80\u2009mm');
  expect(printArea({ width: 13230, height: 8630 })).toBe('13.23 × 8.63\u2009m');
});

test('a figure refuses values outside the reach of its unit and says what is accepted', () => {
  const size = figureSchema('mm', 'Width');
  for (const value of [0, -5, 1e12, Number.NaN])
    expect(size.safeParse({ value, unit: 'mm', basis: 'measured' }).success).toBe(false);
  expect(
    figureSchema('LRV', 'Reflectance').safeParse({ value: 130, unit: 'LRV', basis: 'measured' }).error!
      .issues[0]!.message,
  ).toMatch(/up to 100/);
  expect(
    figureSchema('mm', 'Depth', true).safeParse({ value: 0, unit: 'mm', basis: 'measured' }).success,
  ).toBe(true);
  expect(size.safeParse({ value: 145, unit: 'mm', basis: 'guessed' }).success).toBe(false);
});

test('a result is as good as its weakest figure', () => {
  expect(weakestBasis('measured', 'inferred', 'published')).toBe('inferred');
  expect(weakestBasis('measured')).toBe('measured');
});

test.each([
  [70, '70'],
  [8.38308, '8.38'],
  [0.505548, '0.5055'],
  [0.00317214, '0.0032'],
  [14482.5, '14482.5'],
])('%d mm is printed for a sentence as %s', (mm, said) => expect(printMm(mm)).toBe(said));
