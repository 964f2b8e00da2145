import { makeFrame } from '../../straighten';
import type { UsedSource } from '../../sources';
import { clearStretches } from './clear-stretches';

const PLACE = { source: 's', area: 'a' };
type Points = [number, number][];
const box = (left: number, top: number, right: number, bottom: number): Points => [
  [left, top],
  [right, top],
  [right, bottom],
  [left, bottom],
];

/** A board of which parts are kept out, as shares of it. */
function board(keptOut: Points[], { lying = true, longMm = 1200, wideMm = 120 } = {}): UsedSource {
  const usedMm = lying ? { width: longMm, height: wideMm } : { width: wideMm, height: longMm };
  const used = makeFrame({ widthPx: usedMm.width, heightPx: usedMm.height }, { bowLines: [], frame: null });
  const keepOuts = keptOut.map((points, k) => ({ id: String(k), kind: 'outline', points, erase: false }));
  return { settings: { preparation: { keepOuts } }, used, usedMm } as unknown as UsedSource;
}
const stretches = (of: UsedSource) => clearStretches(PLACE, of).map(({ stretch }) => stretch);

test('a board that nothing is kept out of is used whole, and so is one whose keep-outs lie beside it', () => {
  expect(clearStretches(PLACE, board([]))).toEqual([PLACE]);
  expect(clearStretches(PLACE, board([box(1.2, 0, 1.4, 1)]))).toEqual([PLACE]);
});

test('a knot that is kept out parts a board into the stretches before and behind it', () => {
  const found = stretches(board([box(0.4, 0.3, 0.5, 0.7)]));
  expect(found).toHaveLength(2);
  const [[a, b], [c, d]] = found as [[number, number], [number, number]];
  expect([a, d]).toEqual([0, 1]);
  expect(b).toBeCloseTo(0.4, 2);
  expect(c).toBeCloseTo(0.5, 2);
  // Nothing of them is kept out.
  expect(b).toBeLessThanOrEqual(0.4 + 1e-9);
  expect(c).toBeGreaterThanOrEqual(0.5 - 1e-9);
});

test('stretches run along the longer side, however the board lies', () => {
  const standing = stretches(board([box(0.3, 0.4, 0.7, 0.5)], { lying: false }));
  expect(standing).toEqual(stretches(board([box(0.4, 0.3, 0.5, 0.7)])));
});

test('a stretch that is too short for a piece is not used', () => {
  // What is left between them is a twentieth of the board, and at its end a tenth.
  const found = stretches(board([box(0.45, 0, 0.5, 1), box(0.55, 0, 0.9, 1)]));
  expect(found).toHaveLength(1);
  expect(found[0]![1]).toBeCloseTo(0.45, 2);
  // Of a nearly square piece a stretch has to be nearly as long as wide.
  const square = stretches(board([box(0.45, 0, 0.55, 1)], { longMm: 400, wideMm: 300 }));
  expect(square).toEqual([]);
});

test('keep-outs that leave nothing leave no stretch, and each keeps the name of its area', () => {
  expect(stretches(board([box(0, 0, 1, 1)]))).toEqual([]);
  for (const face of clearStretches(PLACE, board([box(0.4, 0, 0.5, 1)]))) expect(face).toMatchObject(PLACE);
});
