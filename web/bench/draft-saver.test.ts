import { defaultRecipe, type Recipe } from '@jossel/core/finish';
import { DraftSaver, type SaveOutcome } from './draft-saver';

const gloss = (gu: number): Recipe => {
  const recipe = structuredClone(defaultRecipe(['s'], 'stone'));
  recipe.response.glossGu.value = gu;
  return recipe;
};
const glossOf = (recipe: Recipe) => recipe.response.glossGu.value;

/** A server that answers when it is told to. */
function setUp() {
  const sent: { finishId: string; gu: number; etag: string; answer: (outcome: SaveOutcome) => void }[] = [];
  const outcomes: [string, SaveOutcome['kind']][] = [];
  const saver = new DraftSaver(
    (finishId, recipe, etag) =>
      new Promise((answer) => sent.push({ finishId, gu: glossOf(recipe), etag, answer })),
    () => undefined,
    (finishId, { kind }) => outcomes.push([finishId, kind]),
  );
  const answered = async (k: number, outcome: SaveOutcome) => {
    sent[k]!.answer(outcome);
    await jest.advanceTimersByTimeAsync(0);
  };
  const saved = (k: number, etag: string) => answered(k, { kind: 'saved', etag, recipe: gloss(sent[k]!.gu) });
  return { saver, sent, outcomes, answered, saved };
}
const seen = (sent: { finishId: string; gu: number; etag: string }[]) =>
  sent.map(({ finishId, gu, etag }) => [finishId, gu, etag]);

beforeEach(() => void jest.useFakeTimers());
afterEach(() => void jest.useRealTimers());

test('only the last of several quick changes is sent', async () => {
  const { saver, sent } = setUp();
  for (const gu of [11, 12, 13]) saver.changed('a', gloss(gu), '"1"');
  await jest.advanceTimersByTimeAsync(1000);
  expect(seen(sent)).toEqual([['a', 13, '"1"']]);
});

test('opening another finish does not cancel what is still to be saved of the first', async () => {
  const { saver, sent, saved } = setUp();
  saver.changed('a', gloss(20), '"1"');
  saver.changed('b', gloss(30), '"7"');
  await jest.advanceTimersByTimeAsync(1000);
  expect(seen(sent)).toEqual([
    ['a', 20, '"1"'],
    ['b', 30, '"7"'],
  ]);
  await saved(0, '"2"');
  await saved(1, '"8"');
  expect(saver.anyUnsaved).toBe(false);
});

test('a finish that is edited while another is being saved is saved as well', async () => {
  const { saver, sent, saved } = setUp();
  saver.changed('a', gloss(20), '"1"');
  await jest.advanceTimersByTimeAsync(1000);
  saver.changed('b', gloss(30), '"7"');
  await jest.advanceTimersByTimeAsync(1000);
  expect(seen(sent)).toEqual([
    ['a', 20, '"1"'],
    ['b', 30, '"7"'],
  ]);
  await saved(1, '"8"');
  expect([saver.unsaved('b'), saver.unsaved('a') === null]).toEqual([null, false]);
});

test('what is changed while it is being sent follows with the ETag it was given', async () => {
  const { saver, sent, saved } = setUp();
  saver.changed('a', gloss(20), '"1"');
  await jest.advanceTimersByTimeAsync(1000);
  saver.changed('a', gloss(21), '"1"');
  saver.changed('a', gloss(22), '"1"');
  await jest.advanceTimersByTimeAsync(1000);
  expect(sent).toHaveLength(1);
  await saved(0, '"2"');
  await jest.advanceTimersByTimeAsync(1000);
  expect(seen(sent)).toEqual([
    ['a', 20, '"1"'],
    ['a', 22, '"2"'],
  ]);
});

test('a failed save is tried again, also after another finish was opened', async () => {
  const { saver, sent, answered, saved, outcomes } = setUp();
  saver.changed('a', gloss(20), '"1"');
  await jest.advanceTimersByTimeAsync(1000);
  await answered(0, { kind: 'failed', sentence: 'The server does not answer.' });
  saver.changed('b', gloss(30), '"7"');
  await jest.advanceTimersByTimeAsync(4000);
  expect(seen(sent)).toEqual([
    ['a', 20, '"1"'],
    ['b', 30, '"7"'],
    ['a', 20, '"1"'],
  ]);
  await saved(2, '"2"');
  expect(outcomes).toEqual([
    ['a', 'failed'],
    ['a', 'saved'],
  ]);
  expect(saver.unsaved('a')).toBeNull();
});

test('after a conflict nothing is sent until it is decided; both versions are kept', async () => {
  const { saver, sent, answered } = setUp();
  saver.changed('a', gloss(20), '"1"');
  await jest.advanceTimersByTimeAsync(1000);
  await answered(0, { kind: 'conflict', theirs: { recipe: gloss(77), etag: '"9"' } });
  saver.changedInConflict('a', gloss(25));
  await jest.advanceTimersByTimeAsync(10000);
  expect(sent).toHaveLength(1);
  const { recipe, theirs } = saver.unsaved('a')!;
  expect([glossOf(recipe), glossOf(theirs!.recipe)]).toEqual([25, 77]);
  saver.changed('a', gloss(25), '"9"');
  await jest.advanceTimersByTimeAsync(1000);
  expect(seen(sent)[1]).toEqual(['a', 25, '"9"']);
});

test('when the other version is taken, nothing is left to save', async () => {
  const { saver, sent, answered } = setUp();
  saver.changed('a', gloss(20), '"1"');
  await jest.advanceTimersByTimeAsync(1000);
  await answered(0, { kind: 'conflict', theirs: { recipe: gloss(77), etag: '"9"' } });
  saver.dropped('a');
  await jest.advanceTimersByTimeAsync(10000);
  expect([sent.length, saver.anyUnsaved]).toEqual([1, false]);
});
