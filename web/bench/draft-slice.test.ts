import { defaultRecipe, type Recipe } from '@jossel/core/finish';
import { draftSlice, type DraftState } from './draft-slice';

const { opened, changed, undone, redone, saved, savingStarted, conflicted, theirsTaken, mineKept, failed } =
  draftSlice.actions;
const gloss = (gu: number): Recipe => {
  const recipe = defaultRecipe(['s'], 'stone');
  recipe.response.glossGu.value = gu;
  return recipe;
};
const run = (...actions: Parameters<typeof draftSlice.reducer>[1][]): DraftState =>
  actions.reduce(
    (state, action) => draftSlice.reducer(state, action),
    draftSlice.reducer(undefined, opened({ finishId: 'f', recipe: gloss(10), etag: '"1"' })),
  );
let gestures = 0;
/** Each in a gesture of its own, if not said otherwise. */
const change = (gu: number, what = 'gloss', at = 0, dragged = false, gesture = ++gestures) =>
  changed({ what, recipe: gloss(gu), at, dragged, gesture });
const value = (state: DraftState) => state.recipe!.response.glossGu.value;

test('every typed change is a step; undo and redo walk over them', () => {
  const state = run(change(20), change(30));
  expect(value(state)).toBe(30);
  const back = draftSlice.reducer(draftSlice.reducer(state, undone()), undone());
  expect(value(back)).toBe(10);
  expect(value(draftSlice.reducer(back, undone()))).toBe(10);
  expect(value(draftSlice.reducer(back, redone()))).toBe(20);
});

test('a drag is one step, however many changes it makes', () => {
  const state = run(
    change(11, 'broad', 0, true),
    change(12, 'broad', 100, true),
    change(13, 'broad', 300, true),
    change(14, 'fine', 400, true),
  );
  expect(state.past).toHaveLength(2);
  expect(value(draftSlice.reducer(state, undone()))).toBe(13);
});

test('a slow drag is one step too, and so is a key that is held', () => {
  const slow = run(change(11, 'broad', 0, true, 7), change(12, 'broad', 5000, true, 7));
  expect(slow.past).toHaveLength(1);
  const held = run(change(11, 'depth', 0, false, 8), change(12, 'depth', 30, false, 8));
  expect(held.past).toHaveLength(1);
});

test('steps of before a reload can be undone and redone', () => {
  const history = { past: [gloss(1), gloss(5)], future: [gloss(20)] };
  const state = draftSlice.reducer(
    undefined,
    opened({ finishId: 'f', recipe: gloss(10), etag: '"1"', history }),
  );
  expect(value(draftSlice.reducer(state, undone()))).toBe(5);
  expect(value(draftSlice.reducer(state, redone()))).toBe(20);
  expect(state.saving).toBe('saved');
});

test('a drag taken up again later is another step', () => {
  expect(run(change(11, 'broad', 0, true), change(12, 'broad', 5000, true)).past).toHaveLength(2);
});

test('a change after undo leaves nothing to redo', () => {
  expect(run(change(20), undone(), change(40)).future).toEqual([]);
});

test('saved is what was sent; what was changed meanwhile is saved next', () => {
  const sent = run(change(20), savingStarted());
  expect(sent.saving).toBe('saving');
  expect(draftSlice.reducer(sent, saved({ etag: '"2"', recipe: sent.recipe! }))).toMatchObject({
    saving: 'saved',
    etag: '"2"',
  });
  const meanwhile = draftSlice.reducer(sent, change(30));
  expect(draftSlice.reducer(meanwhile, saved({ etag: '"2"', recipe: sent.recipe! }))).toMatchObject({
    saving: 'changed',
    etag: '"2"',
  });
});

test('when another window saved, taking theirs keeps mine one undo away', () => {
  const state = run(change(20), conflicted({ recipe: gloss(77), etag: '"9"' }), theirsTaken());
  expect([value(state), state.etag, state.saving]).toEqual([77, '"9"', 'saved']);
  expect(value(draftSlice.reducer(state, undone()))).toBe(20);
});

test('keeping mine saves it over theirs, and theirs is one undo away', () => {
  const state = run(change(20), conflicted({ recipe: gloss(77), etag: '"9"' }), mineKept());
  expect([value(state), state.etag, state.saving]).toEqual([20, '"9"', 'changed']);
  expect(value(draftSlice.reducer(state, undone()))).toBe(77);
});

test('work goes on while the question is open, and nothing is saved over theirs', () => {
  expect(run(conflicted({ recipe: gloss(77), etag: '"9"' }), change(30)).saving).toBe('conflict');
});

test('a failed save says why', () => {
  expect(run(change(20), failed('The server does not answer.'))).toMatchObject({
    saving: 'failed',
    sentence: 'The server does not answer.',
  });
});

test('a finish that is opened again goes on from what was not saved yet; the stored version is one undo away', () => {
  const unsaved = { recipe: gloss(20), etag: '"1"', theirs: null };
  const state = run(opened({ finishId: 'f', recipe: gloss(10), etag: '"1"', unsaved }));
  expect([value(state), state.saving]).toEqual([20, 'changed']);
  expect(value(draftSlice.reducer(state, undone()))).toBe(10);
  const theirs = { recipe: gloss(77), etag: '"9"' };
  const undecided = run(
    opened({ finishId: 'f', recipe: gloss(77), etag: '"9"', unsaved: { ...unsaved, theirs } }),
  );
  expect([value(undecided), undecided.saving, undecided.theirs?.etag]).toEqual([20, 'conflict', '"9"']);
});
