import type { Pieces } from './pieces-between';
import { labelledPieces } from './labelled-for-tests';
import { rectangularPieces } from './rectangles';

const [W, H] = [300, 200];

const labelled = (at: (x: number, y: number) => number) => labelledPieces(W, H, at);

/** Bricks of 60 × 20 px with joints of 5 px in half bond, turned by an angle about the middle. */
function bricks(turnedDeg: number): Pieces {
  const [c, s] = [Math.cos((turnedDeg * Math.PI) / 180), Math.sin((turnedDeg * Math.PI) / 180)];
  const numbers = new Map<string, number>();
  return labelled((x, y) => {
    const [dx, dy] = [x - W / 2, y - H / 2];
    const [u, v] = [c * dx + s * dy + 500, c * dy - s * dx + 500];
    const course = Math.floor(v / 25);
    const shifted = u + (course % 2 ? 32.5 : 0);
    const column = Math.floor(shifted / 65);
    if (v - 25 * course < 5 || shifted - 65 * column < 5) return -1;
    const name = `${course} ${column}`;
    if (!numbers.has(name)) numbers.set(name, numbers.size);
    return numbers.get(name)!;
  });
}

test('bricks in a bond are as large as they are, and their joints as wide', () => {
  const found = rectangularPieces(bricks(0))!;
  expect(found.sizePx).toEqual({ width: 60, height: 20 });
  expect(found.jointPx).toEqual({ across: 5, up: 5 });
});

test('the corners of bricks that lie askew are their own, each side fitted by itself', () => {
  const found = rectangularPieces(bricks(2.5))!;
  expect(found.corners.length).toBeGreaterThan(15);
  for (const [a, b, c, d] of found.corners) {
    const lean = (Math.atan2(b[1] - a[1], b[0] - a[0]) * 180) / Math.PI;
    expect(Math.abs(lean - 2.5)).toBeLessThan(1);
    expect(Math.hypot(b[0] - a[0], b[1] - a[1])).toBeGreaterThan(56);
    expect(Math.hypot(b[0] - a[0], b[1] - a[1])).toBeLessThan(60.5);
    expect(Math.hypot(c[0] - b[0], c[1] - b[1])).toBeLessThan(20.5);
    expect(Math.hypot(d[0] - a[0], d[1] - a[1])).toBeGreaterThan(16.5);
  }
});

test('round stones are no rectangles', () => {
  const stones = labelled((x, y) => {
    const [column, row] = [Math.floor(x / 40), Math.floor(y / 40)];
    return Math.hypot(x - 40 * column - 20, y - 40 * row - 20) < 17 ? row * 8 + column : -1;
  });
  expect(rectangularPieces(stones)).toBeNull();
});
