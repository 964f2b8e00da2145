/** @jest-environment ./script/jest-page-environment.cjs */
import { configureStore } from '@reduxjs/toolkit';
import { defaultRecipe, type Recipe } from '@jossel/core/finish';
import { api } from '../app/api';
import { draftSlice } from './draft-slice';
import { keptHistory } from './kept-history';
import { saveDraftsAsTheyChange, unsavedDraft } from './save-draft';

const { opened, changed, undone, mineKept, theirsTaken } = draftSlice.actions;
const gloss = (gu: number): Recipe => {
  const recipe = defaultRecipe(['s'], 'stone');
  recipe.response.glossGu.value = gu;
  return recipe;
};
let finishes = 0;
let gestures = 0;
/** As in the page there is one, with what saves its drafts. */
const store = configureStore({
  reducer: { draft: draftSlice.reducer, [api.reducerPath]: api.reducer },
  middleware: (defaults) =>
    defaults({ serializableCheck: false }).prepend(saveDraftsAsTheyChange).concat(api.middleware),
});

/** A finish that is opened, and a server that answers as it is told; `sent` is what it got. */
function open() {
  const finishId = `finish-${++finishes}`;
  const sent: { gu: number; etag: string | null }[] = [];
  const answers: (() => Promise<unknown>)[] = [];
  globalThis.fetch = jest.fn((_url: string, { body, headers }: RequestInit) => {
    const { recipe } = JSON.parse(body as string) as { recipe: Recipe };
    sent.push({
      gu: recipe.response.glossGu.value,
      etag: (headers as Record<string, string>)['if-match'] ?? null,
    });
    return (answers.shift() ?? answer(200, { etag: `"${sent.length + 1}"` }))();
  }) as never;
  store.dispatch(opened({ finishId, recipe: gloss(10), etag: '"1"' }));
  return {
    finishId,
    sent,
    answers,
    dispatch: store.dispatch,
    draft: () => store.getState().draft,
    change: (gu: number) =>
      store.dispatch(
        changed({ what: 'gloss', recipe: gloss(gu), at: 0, dragged: false, gesture: ++gestures }),
      ),
  };
}
const answer = (status: number, body: object) => () =>
  Promise.resolve({ ok: status < 400, status, json: () => Promise.resolve(body) });
const wait = (ms: number) => jest.advanceTimersByTimeAsync(ms);

beforeEach(() => {
  jest.useFakeTimers();
  sessionStorage.clear();
});
afterEach(() => jest.useRealTimers());

test('an opened draft is not saved; changes are, once, a moment after the last, with the ETag of the one before', async () => {
  const { finishId, sent, change, draft } = open();
  await wait(2000);
  expect(sent).toEqual([]);
  change(20);
  await wait(200);
  change(30);
  expect(draft().saving).toBe('changed');
  expect(unsavedDraft(finishId)!.recipe).toEqual(gloss(30));
  await wait(400);
  expect(sent).toEqual([{ gu: 30, etag: '"1"' }]);
  expect(draft()).toMatchObject({ saving: 'saved', etag: '"2"' });
  expect(unsavedDraft(finishId)).toBeNull();
  change(40);
  await wait(400);
  expect(sent[1]).toEqual({ gu: 40, etag: '"2"' });
});

test('undo is saved as any change', async () => {
  const { sent, change, dispatch } = open();
  change(20);
  await wait(400);
  dispatch(undone());
  await wait(400);
  expect(sent.map(({ gu }) => gu)).toEqual([20, 10]);
});

test('while the server is away the draft stays unsaved, says so, and is saved when it is back', async () => {
  const { finishId, sent, answers, change, draft } = open();
  answers.push(
    () => Promise.reject(new TypeError('refused')),
    answer(500, { detail: 'The disk of the server is full.' }),
  );
  change(20);
  await wait(400);
  expect(draft().saving).toBe('failed');
  expect(draft().sentence).toMatch(/does not answer\. What you made stays/);
  await wait(3000);
  expect(draft().sentence).toBe('The disk of the server is full.');
  expect(unsavedDraft(finishId)!.recipe).toEqual(gloss(20));
  const leaving = new Event('beforeunload', { cancelable: true });
  window.dispatchEvent(leaving);
  expect(leaving.defaultPrevented).toBe(true);
  await wait(3000);
  expect(sent.map(({ gu }) => gu)).toEqual([20, 20, 20]);
  expect(draft()).toMatchObject({ saving: 'saved', sentence: '' });
  const going = new Event('beforeunload', { cancelable: true });
  window.dispatchEvent(going);
  expect(going.defaultPrevented).toBe(false);
});

test('changed by somebody else: nothing is sent until it is decided; mine over theirs', async () => {
  const { sent, answers, change, draft, dispatch } = open();
  answers.push(answer(412, { current: { recipe: gloss(99), etag: '"7"' } }));
  change(20);
  await wait(400);
  expect(draft()).toMatchObject({ saving: 'conflict', theirs: { etag: '"7"' } });
  change(25);
  await wait(5000);
  expect(sent).toHaveLength(1);
  dispatch(mineKept());
  await wait(400);
  expect(sent[1]).toEqual({ gu: 25, etag: '"7"' });
  expect(draft().saving).toBe('saved');
});

test('theirs taken: mine is not sent any more, and is had back by undo', async () => {
  const { finishId, sent, answers, change, draft, dispatch } = open();
  answers.push(answer(412, { current: { recipe: gloss(99), etag: '"7"' } }));
  change(20);
  await wait(400);
  dispatch(theirsTaken());
  await wait(5000);
  expect(sent).toHaveLength(1);
  expect(unsavedDraft(finishId)).toBeNull();
  expect(draft()).toMatchObject({ saving: 'saved', etag: '"7"' });
  dispatch(undone());
  await wait(400);
  expect(sent[1]).toEqual({ gu: 20, etag: '"7"' });
});

test('steps to undo outlive the page: kept a moment after they change, at once when it goes', async () => {
  const { finishId, change, draft } = open();
  change(20);
  expect(keptHistory(sessionStorage, finishId, draft().recipe!)).toBeNull();
  await wait(500);
  expect(keptHistory(sessionStorage, finishId, draft().recipe!)!.past).toEqual([gloss(10)]);
  change(30);
  window.dispatchEvent(new Event('pagehide'));
  expect(keptHistory(sessionStorage, finishId, draft().recipe!)!.past).toEqual([gloss(10), gloss(20)]);
  await wait(500);
});
