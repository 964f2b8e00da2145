import { arrangementOf, type BrokenPiece, type RepeatSettings } from '../repeat';
import { makeColourPicture } from '../raster';
import { defaultRecipe } from './default-recipe';
import { recipeSchema } from './recipe';
import { relaidUntilWhole, withoutRelaidPieces, type JudgedRepeat } from './relaid-pieces';

const RECIPE = defaultRecipe(['s'], 'stone', { widthPx: 400, heightPx: 300 });
const REPEAT: RepeatSettings = { ...RECIPE.repeat, method: 'composed' };
const piece = (left: number): BrokenPiece => ({ kind: 'cut', left, top: 0.4, width: 0.1, height: 0.05 });
const judgedWith = (broken: readonly BrokenPiece[] | null): JudgedRepeat => ({
  colour: makeColourPicture(1, 1),
  judged: broken && { pieces: 50, whereCopiesMeet: 10, jointEnds: 0, broken },
});

/** Judges by a list of what comes out, one after the other. */
function judging(outcomes: readonly (readonly BrokenPiece[] | null)[]) {
  const asked: RepeatSettings[] = [];
  const judge = async (repeat: RepeatSettings) => {
    asked.push(repeat);
    return judgedWith(outcomes[asked.length - 1] ?? null);
  };
  return { asked, judge };
}
const areasOf = (repeat: RepeatSettings) => arrangementOf(repeat).redone;

test('a time by which fewer are broken is kept, others are not; it ends when all are whole', async () => {
  const [a, b, c] = [piece(0.1), piece(0.5), piece(0.8)];
  const { asked, judge } = judging([[a, b, c], null, [b], [], [a]]);
  const relaid = (await relaidUntilWhole(REPEAT, judgedWith([a, b, c]), judge))!;
  expect(relaid.now.judged!.broken).toEqual([]);
  expect(asked).toHaveLength(4);
  // The first two came to nothing; after the third only one is laid anew.
  expect(asked.map((repeat) => areasOf(repeat).map(({ areas }) => areas.length))).toEqual([
    [3],
    [3],
    [3],
    [3, 1],
  ]);
  expect(relaid.repeat).toBe(asked[3]);
  expect(recipeSchema.safeParse({ ...RECIPE, repeat: relaid.repeat }).success).toBe(true);
});

test('where re-laying all of them does not help, only some are re-laid; fewer ends of joints are better too', async () => {
  const broken = [piece(0.1), piece(0.5), { ...piece(0.8), kind: 'fused' as const }];
  const { asked, judge } = judging([broken, broken, broken, broken, broken]);
  const ends = [2, 2, 2, 1, 2];
  const now = { ...judgedWith(broken), judged: { ...judgedWith(broken).judged!, jointEnds: 2 } };
  const relaid = await relaidUntilWhole(REPEAT, now, async (repeat) => {
    const { judged, ...one } = await judge(repeat);
    return { ...one, judged: { ...judged!, jointEnds: ends[asked.length - 1]! } };
  });
  const laidAnew = asked.map((repeat) => areasOf(repeat).at(-1)!.areas.length);
  expect(laidAnew).toEqual([3, 3, 2, 1, 3]);
  expect(relaid!.repeat).toBe(asked[3]);
});

test('each time lies farther about the pieces, by another chance, and may reach over the edges', async () => {
  const { asked, judge } = judging([[piece(0.93)], [piece(0.93)], [piece(0.93)]]);
  const attempts = [{ around: 0.3 }, { around: 0.6 }, { around: 1 }];
  expect(await relaidUntilWhole(REPEAT, judgedWith([piece(0.93)]), judge, attempts)).toBeNull();
  const items = asked.map((repeat) => areasOf(repeat)[0]!);
  const widths = items.map(({ areas: [box] }) => box![1]![0] - box![0]![0]);
  // Its own width, and on both sides a share of its shorter side.
  expect(widths).toEqual([0.13, 0.16, 0.2].map((width) => expect.closeTo(width, 9)));
  expect(items[2]!.areas[0]![1]![0]).toBeCloseTo(1.08, 9);
  expect(new Set(items.map(({ seed }) => seed)).size).toBe(3);
});

test('what was laid anew by hand stays; re-laid pieces are taken out for another suggestion, and go on by other seeds', async () => {
  const byHand = {
    id: 'mine',
    seed: 4,
    areas: [
      [
        [0, 0],
        [0.1, 0],
        [0.1, 0.1],
      ],
    ] as [number, number][][],
    taken: [],
  };
  const before = {
    ...REPEAT,
    arrangements: REPEAT.arrangements.map((arrangement) => ({ ...arrangement, redone: [byHand] })),
  };
  const first = (await relaidUntilWhole(
    before,
    judgedWith([piece(0.2), piece(0.6)]),
    judging([[piece(0.6)]]).judge,
  ))!;
  const second = (await relaidUntilWhole(first.repeat, first.now, judging([[]]).judge))!;
  const items = areasOf(second.repeat);
  expect(items).toHaveLength(3);
  expect(new Set(items.map(({ id }) => id)).size).toBe(3);
  expect(new Set(items.map(({ seed }) => seed)).size).toBe(3);
  expect(areasOf(withoutRelaidPieces(second.repeat))).toEqual([byHand]);
  expect(withoutRelaidPieces(before)).toBe(before);
});
