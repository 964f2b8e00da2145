import fc from 'fast-check';
import { countBySheet } from './index';

const BRICK = { widthMm: 215, heightMm: 65, jointMm: 10 };

test('bricks of which both numbers were detected', () => {
  expect(countBySheet(BRICK, 900 / 750, { across: 4.02, up: 9.97 })).toMatchObject({
    across: 4,
    up: 10,
    turned: false,
    sizeMm: { width: 900, height: 750 },
  });
});

test('one number is enough; the other follows from the proportions', () => {
  expect(countBySheet(BRICK, 900 / 750, { across: null, up: 10 })).toMatchObject({ across: 4, up: 10 });
  expect(countBySheet(BRICK, 900 / 750, { across: 4, up: null })).toMatchObject({ across: 4, up: 10 });
  expect(countBySheet(BRICK, 1.2, { across: null, up: null })).toBeNull();
});

test('boards may lie either way', () => {
  const board = { widthMm: 1800, heightMm: 145, jointMm: 3 };
  expect(countBySheet(board, 1184 / 1803, { across: 8, up: 1 })).toMatchObject({
    across: 8,
    up: 1,
    turned: true,
    sizeMm: { width: 1184, height: 1803 },
  });
});

test('proportions that do not fit are not taken', () => {
  expect(countBySheet(BRICK, 2, { across: 4, up: 10 })).toBeNull();
});

test('whole pieces in any number are found again', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 3, max: 40 }),
      fc.integer({ min: 3, max: 40 }),
      fc.double({ min: -0.2, max: 0.2, noNaN: true }),
      (n, m, error) => {
        const aspect = (n * 225) / (m * 75);
        const found = countBySheet(BRICK, aspect, { across: n + error, up: m - error });
        expect(found).toMatchObject({ across: n, up: m, turned: false });
      },
    ),
  );
});
