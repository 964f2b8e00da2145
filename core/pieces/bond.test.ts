import { seededRandom } from '../raster';
import { bondOfPieces, type FoundBond } from './bond';
import type { PieceBox } from './boards';

/** Pieces of 100 × 30 px with joints of 6 px, a little astray, some missing, cut off at the edges of a picture. */

const [LENGTH, WIDTH, JOINT] = [100, 30, 6];
const MODULE = LENGTH + JOINT;
const HALF = MODULE / 2 - JOINT;
const [PICTURE_W, PICTURE_H] = [900, 560];

/** Courses by the start of their first piece and the lengths that follow each other. */
function laid(courses: readonly { from: number; lengths: readonly number[] }[], seed: number): PieceBox[] {
  const random = seededRandom(seed);
  const out: PieceBox[] = [];
  for (let k = 0, top = -10; top < PICTURE_H; k++, top += WIDTH + JOINT) {
    const { from, lengths } = courses[k % courses.length]!;
    for (let x = from - 4 * MODULE, n = 0; x < PICTURE_W; x += lengths[n++ % lengths.length]! + JOINT) {
      const stray = () => random.between(-1.5, 1.5);
      const length = lengths[n % lengths.length]!;
      const box = {
        left: x + stray(),
        right: x + length + stray(),
        top: top + stray(),
        bottom: top + WIDTH + stray(),
      };
      const isWhole = box.left > 0 && box.right < PICTURE_W && box.top > 0 && box.bottom < PICTURE_H;
      // A tenth of the pieces was not recognised.
      if (isWhole && random.between(0, 1) > 0.1) out.push(box);
    }
  }
  return out;
}

const found = (boxes: readonly PieceBox[]) => bondOfPieces(boxes, LENGTH, { across: JOINT, up: JOINT });
const shifted = (shares: readonly number[]) =>
  shares.map((share) => ({ from: share * MODULE, lengths: [LENGTH] }));
const HEADERS = { from: MODULE / 4, lengths: [HALF] };

const BONDS: [string, FoundBond, Parameters<typeof laid>[0]][] = [
  ['stack bond', { kind: 'stack' }, shifted([0])],
  ['English bond', { kind: 'english', stretcherCourses: 1 }, [...shifted([0]), HEADERS]],
  [
    'English garden wall bond of five courses',
    { kind: 'english', stretcherCourses: 5 },
    [...shifted([0, 0.5, 0, 0.5, 0]), HEADERS],
  ],
  [
    'Flemish bond',
    { kind: 'flemish' },
    [0, 0.75].map((s) => ({ from: s * MODULE, lengths: [LENGTH, HALF] })),
  ],
  [
    'monk bond',
    { kind: 'monk' },
    [0, 1.25].map((s) => ({ from: s * MODULE, lengths: [LENGTH, LENGTH, HALF] })),
  ],
];
test.each(BONDS)('%s is recognised, pieces astray and some missing', (_, bond, courses) => {
  for (let seed = 1; seed <= 8; seed++) expect(found(laid(courses, seed))).toEqual(bond);
});

test.each([
  ['half bond', [0, 0.5], 0.5, false],
  ['third bond, there and back', [0, 1 / 3], 1 / 3, false],
  // Courses are counted downwards: what goes to the left there goes to the right upwards.
  ['third bond, rising to the right', [0, 2 / 3, 1 / 3], 1 / 3, true],
  ['quarter bond, rising to the left', [0, 0.25, 0.5, 0.75], 0.75, true],
] as const)('%s: how far courses are shifted, and which way', (_, shares, shift, rising) => {
  for (let seed = 1; seed <= 8; seed++) {
    const bond = found(laid(shifted(shares), seed));
    expect(bond).toMatchObject({ kind: 'running', rising });
    expect(Math.abs((bond as { shift: number }).shift - shift)).toBeLessThan(0.02);
  }
});

test('pieces at right angles are a herringbone, or a basket weave where they lie in blocks', () => {
  const [l, w] = [90, 30];
  const herringbone: PieceBox[] = [];
  for (let k = -20; k < 20; k++)
    for (let n = -8; n < 8; n++) {
      // Each pair: one lies, the next stands at its end; the pattern moves by one width along both axes.
      const [x, y] = [k * w + 2 * n * l, k * w];
      herringbone.push(
        { left: x, right: x + l - 4, top: y, bottom: y + w - 4 },
        { left: x + l, right: x + l + w - 4, top: y, bottom: y + l - 4 },
      );
    }
  const seen = herringbone.filter((b) => b.left > 0 && b.right < 600 && b.top > 0 && b.bottom < 400);
  expect(bondOfPieces(seen, l - 4, { across: 4, up: 4 })).toEqual({ kind: 'herringbone' });
  const basket: PieceBox[] = [];
  for (let i = 0; i < 6; i++)
    for (let j = 0; j < 4; j++)
      for (let k = 0; k < 3; k++) {
        const [x, y] = [i * l, j * l];
        basket.push(
          (i + j) % 2
            ? { left: x + k * w, right: x + (k + 1) * w - 4, top: y, bottom: y + l - 4 }
            : { left: x, right: x + l - 4, top: y + k * w, bottom: y + (k + 1) * w - 4 },
        );
      }
  expect(bondOfPieces(basket, l - 4, { across: 4, up: 4 })).toEqual({ kind: 'basket' });
});

test('a single course says nothing of its bond', () => {
  const course = laid(shifted([0]), 1).filter(({ top }) => Math.abs(top - 26) < 5);
  expect(course.length).toBeGreaterThan(4);
  expect(found(course)).toBeNull();
});
