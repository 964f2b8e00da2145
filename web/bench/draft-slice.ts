import { createSlice, original, type PayloadAction } from '@reduxjs/toolkit';
import type { Recipe } from '@jossel/core/finish';
import type { History } from './kept-history';

/** The recipe being worked on, with undo and redo over the whole of it. */
export interface DraftState {
  finishId: string | null;
  recipe: Recipe | null;
  etag: string;
  past: Recipe[];
  future: Recipe[];
  /** What was changed last, when and in which gesture, so that one drag is one step to undo. */
  last: { what: string; at: number; gesture: number } | null;
  saving: 'saved' | 'changed' | 'saving' | 'failed' | 'conflict';
  /** Why saving failed. */
  sentence: string;
  /** What another window or person saved meanwhile. */
  theirs: { recipe: Recipe; etag: string } | null;
}

const initialState: DraftState = {
  finishId: null,
  recipe: null,
  etag: '',
  past: [],
  future: [],
  last: null,
  saving: 'saved',
  sentence: '',
  theirs: null,
};
const MOST_STEPS = 200;
/** Moving the same thing again within this time is one step, as by pressing a key several times. */
const ONE_STEP_MS = 700;

export const draftSlice = createSlice({
  name: 'draft',
  initialState,
  reducers: {
    /** A finish is opened; what of it was not saved yet when it was left goes on from there. */
    opened: (
      _state,
      {
        payload: { unsaved, history, ...finish },
      }: PayloadAction<{
        finishId: string;
        recipe: Recipe;
        etag: string;
        unsaved?: { recipe: Recipe; etag: string; theirs: DraftState['theirs'] } | null;
        /** Steps of before a reload. */
        history?: History | null;
      }>,
    ): DraftState =>
      unsaved
        ? {
            ...initialState,
            ...finish,
            recipe: unsaved.recipe,
            etag: unsaved.etag,
            past: history?.past ?? [finish.recipe],
            future: history?.future ?? [],
            saving: unsaved.theirs ? 'conflict' : 'changed',
            theirs: unsaved.theirs,
          }
        : { ...initialState, ...finish, ...(history ?? {}) },
    changed: (
      state,
      {
        payload,
      }: PayloadAction<{ what: string; recipe: Recipe; at: number; dragged: boolean; gesture: number }>,
    ) => {
      if (!state.recipe) return;
      const sameStep =
        state.last &&
        state.last.what === payload.what &&
        (state.last.gesture === payload.gesture ||
          (payload.dragged && payload.at - state.last.at < ONE_STEP_MS));
      if (!sameStep) state.past = [...state.past.slice(-MOST_STEPS), state.recipe];
      state.last = { what: payload.what, at: payload.at, gesture: payload.gesture };
      state.recipe = payload.recipe;
      state.future = [];
      if (state.saving !== 'conflict') state.saving = 'changed';
    },
    undone: (state) => {
      const before = state.past.pop();
      if (!before || !state.recipe) return;
      state.future.push(state.recipe);
      state.recipe = before;
      state.last = null;
      if (state.saving !== 'conflict') state.saving = 'changed';
    },
    redone: (state) => {
      const after = state.future.pop();
      if (!after || !state.recipe) return;
      state.past.push(state.recipe);
      state.recipe = after;
      state.last = null;
      if (state.saving !== 'conflict') state.saving = 'changed';
    },
    savingStarted: (state) => {
      state.saving = 'saving';
    },
    saved: (state, { payload }: PayloadAction<{ etag: string; recipe: Recipe }>) => {
      state.etag = payload.etag;
      // Changed again while it was being saved: the next save is due.
      state.saving = original(state)?.recipe === payload.recipe ? 'saved' : 'changed';
      state.sentence = '';
    },
    failed: (state, { payload }: PayloadAction<string>) => {
      state.saving = 'failed';
      state.sentence = payload;
    },
    conflicted: (state, { payload }: PayloadAction<{ recipe: Recipe; etag: string }>) => {
      state.saving = 'conflict';
      state.theirs = payload;
    },
    /** Theirs is taken; mine can be had back with undo. */
    theirsTaken: (state) => {
      if (!state.theirs || !state.recipe) return;
      state.past.push(state.recipe);
      state.future = [];
      state.recipe = state.theirs.recipe;
      state.etag = state.theirs.etag;
      state.theirs = null;
      state.saving = 'saved';
    },
    /** Mine is saved over theirs; theirs can be had back with undo. */
    mineKept: (state) => {
      if (!state.theirs) return;
      state.past.push(state.theirs.recipe);
      state.etag = state.theirs.etag;
      state.theirs = null;
      state.saving = 'changed';
    },
  },
});
