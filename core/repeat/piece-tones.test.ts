import fc from 'fast-check';
import { hashUnit, makeColourPicture, type ColourPicture } from '../raster';
import { piecesIn, pieceTones } from './piece-tones';
import type { Cells, Placement } from './placement';

/** Square pieces of 9 cells, parted by joints of one cell. */
const [W, H, PITCH] = [40, 30, 10];
const REPEAT_MM = { width: 400, height: 300 };
const inPiece = Uint8Array.from({ length: W * H }, (_, p) =>
  (p % W) % PITCH > 0 && Math.floor(p / W) % PITCH > 0 ? 1 : 0,
);
/** Cells at least two away from the joints, by which the tone of a part is told. */
const isInner = (p: number) => [(p % W) % PITCH, Math.floor(p / W) % PITCH].every((at) => at > 2 && at < 8);
const pieceOf = (p: number) => Math.floor((p % W) / PITCH) + 10 * Math.floor(p / W / PITCH);
const placement = (offsetXMm: number): Placement => ({
  sourceIndex: 0,
  signX: 1,
  signY: 1,
  offsetXMm,
  offsetYMm: 0,
});

/** Copies that lie beside each other. @param copyAt number of the copy at a column */
const cellsOf = (copyAt: (x: number) => number, placements: readonly Placement[]) => ({
  widthPx: W,
  heightPx: H,
  copy: Uint16Array.from({ length: W * H }, (_, p) => copyAt(p % W)),
  placements,
  closed: { across: true, up: true },
  parted: { rows: new Uint8Array(H), columns: new Uint8Array(W) },
  inPiece,
});

const shown = (seed: number): ColourPicture => {
  const out = makeColourPicture(W, H);
  for (const [c, channel] of (['r', 'g', 'b'] as const).entries())
    out[channel].forEach((_, p) => (out[channel][p] = 0.3 + 0.4 * hashUnit(p, c, seed, 1)));
  return out;
};

function meanOf(values: (p: number) => number, isIn: (p: number) => boolean): number {
  const cells = [...Array(W * H).keys()].filter((p) => isInner(p) && isIn(p));
  return cells.reduce((sum, p) => sum + values(p), 0) / cells.length;
}

test('parts of a piece get the mean of its largest part; all else stays as it is', () => {
  fc.assert(
    fc.property(fc.integer({ min: 15, max: 16 }), fc.integer({ min: 0, max: 99 }), (at, seed) => {
      // The second copy lies from `at` to 35: pieces of the second column, and of the fourth, have parts of both.
      const cells = cellsOf((x) => (x >= at && x < 35 ? 1 : 0), [placement(0), placement(70)]);
      const before = shown(seed);
      const added = pieceTones(cells, piecesIn(cells), REPEAT_MM, before);
      const stays = (p: number) => inPiece[p] === 0 || [0, 2].includes(Math.floor((p % W) / PITCH));
      expect(added.g.every((v, p) => v === 0 || !stays(p))).toBe(true);
      for (const piece of [1, 11, 21]) {
        const side = (copy: number) => (p: number) => pieceOf(p) === piece && cells.copy[p] === copy;
        const larger = at === 16 ? 0 : 1;
        const now = (p: number) => before.g[p]! + added.g[p]!;
        const kept = meanOf((p) => before.g[p]!, side(larger));
        expect(meanOf(now, side(0))).toBeCloseTo(kept, 5);
        expect(meanOf(now, side(1))).toBeCloseTo(kept, 5);
      }
    }),
    { numRuns: 20 },
  );
});

test('a part too narrow to have an inside is told by the cells beside its edge', () => {
  // Pieces of the second column have three columns of cells from the first copy: the last lies two from the joint, five cells of it.
  const cells = cellsOf((x) => (x >= 14 && x < 20 ? 1 : 0), [placement(0), placement(70)]);
  const before = shown(5);
  const added = pieceTones(cells, piecesIn(cells), REPEAT_MM, before);
  const now = (p: number) => before.g[p]! + added.g[p]!;
  const beside = [...Array(W * H).keys()].filter((p) => {
    const [x, y] = [p % W, Math.floor(p / W)];
    return (x === 12 || x === 13) && y > 1 && y < 9;
  });
  const narrow = beside.reduce((sum, p) => sum + now(p), 0) / beside.length;
  expect(narrow).toBeCloseTo(
    meanOf(
      (p) => before.g[p]!,
      (p) => pieceOf(p) === 1 && cells.copy[p] === 1,
    ),
    5,
  );
});

test('a copy that runs on over the edge of the repeat is one part', () => {
  // Pieces reach over the edge: joints lie in the middle of the columns before.
  const over = Uint8Array.from({ length: W * H }, (_, p) => ((p % W) % PITCH === 5 ? 0 : 1));
  const isOver = (p: number) => over[p] === 1 && (p % W < 5 || p % W > 35);
  const cells = (offsetMm: number): Cells & { inPiece: Uint8Array } => ({
    ...cellsOf((x) => (x < 20 ? 1 : 0), [placement(0), placement(offsetMm)]),
    inPiece: over,
  });
  const before = shown(4);
  const change = (offsetMm: number) => {
    const laid = cells(offsetMm);
    const added = pieceTones(laid, piecesIn(laid), REPEAT_MM, before);
    return [...added.r.keys()].filter((p) => isOver(p) && added.r[p] !== 0).length;
  };
  // The same place of the sample one repeat further, and another.
  expect(change(REPEAT_MM.width)).toBe(0);
  expect(change(REPEAT_MM.width + 30)).toBeGreaterThan(0);
});

test('joints that are not closed part nothing: what hangs together over much of the repeat is no piece', () => {
  const all = new Uint8Array(W * H).fill(1);
  const cells = { ...cellsOf((x) => (x < 20 ? 0 : 1), [placement(0), placement(70)]), inPiece: all };
  expect(pieceTones(cells, piecesIn(cells), REPEAT_MM, shown(2)).b.every((v) => v === 0)).toBe(true);
});

test('where an area is laid anew, what stays leads, however small it is', () => {
  const cells = cellsOf((x) => (x >= 15 ? 1 : 0), [placement(0), placement(70)]);
  const before = shown(7);
  const evened = makeColourPicture(W, H);
  evened.g.fill(0.05);
  // All but the first columns is free: of the pieces in the second column the smaller part stays.
  const free = Uint8Array.from({ length: W * H }, (_, p) => (p % W >= 15 ? 1 : 0));
  const added = pieceTones(cells, piecesIn(cells), REPEAT_MM, before, { free, evened });
  const inSecond = (isFree: number) => (p: number) => pieceOf(p) === 1 && free[p] === isFree;
  const stays = meanOf((p) => before.g[p]! + evened.g[p]!, inSecond(0));
  expect(meanOf((p) => before.g[p]! + added.g[p]!, inSecond(1))).toBeCloseTo(stays, 5);
  // What was added to what stays is told as it was.
  expect(meanOf((p) => added.g[p]!, inSecond(0))).toBeCloseTo(0.05, 6);
});
