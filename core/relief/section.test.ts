import { rowThatShowsMost } from './index';

/** A relief by its height at every pixel. */
const relief = (widthPx: number, heightPx: number, at: (x: number, y: number) => number) => ({
  widthPx,
  heightPx,
  data: Float32Array.from({ length: widthPx * heightPx }, (_, i) => at(i % widthPx, Math.floor(i / widthPx))),
});

test('boards with butt joints in one course only are cut across that course', () => {
  const boards = relief(300, 200, (x, y) => (y % 50 < 3 ? -2 : y > 150 && x % 100 < 12 ? -2 : 0));
  const share = rowThatShowsMost(boards);
  expect(share * 200).toBeGreaterThan(153);
});

test('of rows that are alike the middle one is taken', () => {
  const ribs = relief(300, 200, (x) => Math.sin(x / 7));
  expect(rowThatShowsMost(ribs)).toBeCloseTo(0.5, 2);
  expect(rowThatShowsMost(relief(40, 30, () => 1))).toBeCloseTo(0.5, 1);
});

test('a bed joint that runs the whole way shows nothing along itself', () => {
  const wall = relief(240, 160, (x, y) => {
    const course = Math.floor(y / 40);
    const bed = y % 40 < 6;
    return bed || (x + course * 30) % 60 < 5 ? -3 : 0;
  });
  const row = Math.floor(rowThatShowsMost(wall) * 160);
  expect(row % 40).toBeGreaterThanOrEqual(6);
});

test('it is the same for any number of pixels', () => {
  const of = (scale: number) =>
    rowThatShowsMost(
      relief(200 * scale, 100 * scale, (x, y) =>
        y / scale > 60 && y / scale < 80 ? Math.sin(x / scale / 3) : 0,
      ),
    );
  expect(of(4)).toBeCloseTo(of(1), 1);
});
