import fc from 'fast-check';
import { makeFrame } from '../../straighten';
import { areasOver, takenOf } from './areas';
import type { RepeatSource } from './places';

const [W, H] = [40, 30];
const CLOSED = { across: true, up: true };
type Points = readonly (readonly [number, number])[];
const box = (left: number, top: number, right: number, bottom: number): [number, number][] => [
  [left, top],
  [right, top],
  [right, bottom],
  [left, bottom],
];
const over = (areas: Points[], closed = CLOSED) => areasOver(areas as never, W, H, closed);
const count = (cells: Uint8Array) => cells.reduce((sum, v) => sum + v, 0);
const at = (cells: Uint8Array, x: number, y: number) => cells[y * W + x];

test('cells lie in an area with all their neighbours: its outermost ring of cells does not', () => {
  const cells = over([box(0.25, 0.2, 0.75, 0.8)]);
  // 20 × 18 cells are covered.
  expect(count(cells)).toBe(18 * 16);
  expect([at(cells, 10, 6), at(cells, 11, 7), at(cells, 28, 22), at(cells, 29, 23)]).toEqual([0, 1, 1, 0]);
});

test('what reaches over a closed edge comes in at the other side, and over an open one is left out', () => {
  const reaching = [box(0.8, 0.3, 1.2, 0.7)];
  const closed = over(reaching);
  expect([at(closed, 38, 15), at(closed, 1, 15), at(closed, 20, 15)]).toEqual([1, 1, 0]);
  const open = over(reaching, { across: false, up: true });
  expect(at(open, 1, 15)).toBe(0);
  expect(count(open)).toBeLessThan(count(closed));
});

test('an area that is moved by a whole repeat covers the same cells', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 0, max: W - 1 }),
      fc.integer({ min: 0, max: H - 1 }),
      fc.constantFrom(-1, 0, 1),
      fc.constantFrom(-1, 0, 1),
      (x, y, across, up) => {
        const moved = (dx: number, dy: number) =>
          box(x / W + dx, y / H + dy, (x + 9) / W + dx, (y + 7) / H + dy);
        const inside = x + 9 + across * W <= 2 * W && y + 7 + up * H <= 2 * H;
        fc.pre(inside);
        expect(over([moved(across, up)])).toEqual(over([moved(0, 0)]));
      },
    ),
  );
});

test('areas that overlap count once, and one that is narrower than three cells has none inside', () => {
  const one = box(0.1, 0.1, 0.5, 0.5);
  const two = box(0.3, 0.3, 0.7, 0.7);
  const both = over([one, two]);
  for (const area of [one, two]) expect(over([area]).every((v, i) => both[i]! >= v)).toBe(true);
  expect(count(over([box(0.5, 0, 0.5 + 2 / W, 1)]))).toBe(0);
  expect(count(over([]))).toBe(0);
});

test('only what was taken out of a picture itself is drawn on it', () => {
  const frame = makeFrame({ widthPx: 200, heightPx: 150 }, { bowLines: [], frame: null });
  const source = { source: { settings: { id: 'a' } }, picture: { frame } } as unknown as RepeatSource;
  const taken = [
    { source: 'a', points: box(0.5, 0, 1, 1) },
    { source: 'b', points: box(0, 0, 0.5, 1) },
  ];
  const drawn = takenOf({ taken } as never, source, W, H)!;
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++)
      if (Math.abs(x - W / 2 + 0.5) > 1) expect(drawn.data[y * W + x]! > 0.5).toBe(x >= W / 2);
  expect(takenOf({ taken: taken.slice(1) } as never, source, W, H)).toBeNull();
});
