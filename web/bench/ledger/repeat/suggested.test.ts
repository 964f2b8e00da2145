import { configureStore } from '@reduxjs/toolkit';
import { defaultRecipe, lead, type Recipe } from '@jossel/core/finish';
import { draftSlice } from '../../draft-slice';
import { withSuggestion } from './suggested';

const ASKED = defaultRecipe(['s1'], 'stone', { widthPx: 800, heightPx: 600 });
const SUGGESTED = { method: 'composed', why: ['Its features are long.'] } as const;

/** A draft that became `now` after a suggestion was asked for. */
function draftOf(now: Recipe) {
  const store = configureStore({ reducer: { draft: draftSlice.reducer } });
  store.dispatch(draftSlice.actions.opened({ finishId: 'f1', recipe: now, etag: 'e1' }));
  const sentence = store.dispatch(
    withSuggestion(ASKED, { ...SUGGESTED, why: [...SUGGESTED.why] }, 'repeat method suggested', 1) as never,
  ) as unknown;
  return { sentence, draft: store.getState().draft };
}

test('what was changed elsewhere while methods were tried is kept, and the suggestion is one step to undo', () => {
  const glossGu = { ...ASKED.response.glossGu, value: 33 };
  const now = { ...ASKED, response: { ...ASKED.response, glossGu } };
  const { sentence, draft } = draftOf(now);
  expect(sentence).toBe('');
  expect(draft.recipe).toEqual({ ...now, repeat: { ...now.repeat, ...SUGGESTED } });
  expect(draft.past.at(-1)).toEqual(now);
});

test.each([
  [
    'its corners',
    (r: Recipe) =>
      void (lead(r).preparation.frame = [
        [0, 0],
        [1, 0],
        [1, 0.9],
        [0, 1],
      ]),
  ],
  ['its repeat', (r: Recipe) => void (r.repeat.across.overlapMm = 7)],
])(
  'a suggestion for a sample of which %s were changed meanwhile is not set, and that is said',
  (_what, change) => {
    const now = structuredClone(ASKED);
    change(now);
    const { sentence, draft } = draftOf(now);
    expect(sentence).toMatch(/changed meanwhile/);
    expect(draft.recipe).toEqual(now);
  },
);

test('reasons of an earlier suggestion do not count as a change', () => {
  const now = { ...ASKED, repeat: { ...ASKED.repeat, why: ['Something else.'] } };
  expect(draftOf(now).sentence).toBe('');
});
