import { fractalNoise, hashUnit, makePlane } from '../../raster';
import { linesStanding } from './lines-stand';

const [W, H] = [400, 300];
const USABLE = makePlane(W, H, 1);

/** Boards whose beds stand at given rows: each with a tone and a grain of its own. */
function boards(beds: readonly number[]) {
  const plane = makePlane(W, H);
  for (let y = 0; y < H; y++) {
    const board = beds.filter((at) => at <= y).length;
    for (let x = 0; x < W; x++)
      plane.data[y * W + x] =
        0.4 * (hashUnit(board, 3, 1, 7) - 0.5) +
        0.5 * (fractalNoise(x / 2000, y / 60, 8, 90, 2, 0.6, board) - 0.5) +
        (beds.some((at) => Math.abs(y - at) < 1.2) ? -1 : 0);
  }
  return plane;
}
const even = (period: number, first = 11) =>
  Array.from({ length: Math.floor((H - first) / period) + 1 }, (_, k) => first + k * period);

test.each([23.4, 37, 61.7])(
  'lines stand at every multiple of a period of %s px, and of twice as long ones',
  (period) => {
    const plane = boards(even(period));
    expect(linesStanding(plane, USABLE, 'rows', period)).toBeGreaterThan(0.95);
    if (2.5 * 2 * period < H) expect(linesStanding(plane, USABLE, 'rows', 2 * period)).toBeGreaterThan(0.95);
  },
);

test('they do not stand at parts of it, at other periods, or where boards differ in width', () => {
  const plane = boards(even(37));
  for (const other of [37 / 2, 37 / 3, 37 * 1.31, 37 * 0.83])
    expect(linesStanding(plane, USABLE, 'rows', other)).toBeLessThan(0.85);
  const uneven = boards([9, 40, 92, 117, 171, 209, 262]);
  // Of fewer than four lines some period always fits; those are not taken.
  for (let period = 20; period < H / 3.8; period += 3.5)
    expect(linesStanding(uneven, USABLE, 'rows', period)).toBeLessThan(0.9);
});

test('standing lines are found as lying ones are', () => {
  const lying = boards(even(31));
  const standing = makePlane(H, W);
  for (let y = 0; y < H; y++) for (let x = 0; x < W; x++) standing.data[x * H + y] = lying.data[y * W + x]!;
  expect(linesStanding(standing, makePlane(H, W, 1), 'columns', 31)).toBeCloseTo(
    linesStanding(lying, USABLE, 'rows', 31),
    1,
  );
});
