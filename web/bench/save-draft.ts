import { createListenerMiddleware, isAnyOf } from '@reduxjs/toolkit';
import { api } from '../app/api';
import type { Recipe } from '@jossel/core/finish';
import { draftSlice, type DraftState } from './draft-slice';
import { keepHistory } from './kept-history';
import { DraftSaver, type SaveOutcome, type SendDraft } from './draft-saver';

/** Connects the draft in hand with what saves it. */

const listeners = createListenerMiddleware();
export const saveDraftsAsTheyChange = listeners.middleware;
const { changed, undone, redone, mineKept, theirsTaken, saved, failed, conflicted, savingStarted, opened } =
  draftSlice.actions;

const send: SendDraft = async (finishId, recipe, etag) => {
  try {
    const response = await fetch(`/api/finishes/${finishId}/draft`, {
      method: 'PUT',
      headers: { 'content-type': 'application/json', 'if-match': etag },
      body: JSON.stringify({ recipe }),
    });
    const answer = (await response.json()) as {
      etag: string;
      detail: string;
      current: { recipe: Recipe; etag: string };
    };
    if (response.ok) return { kind: 'saved', etag: answer.etag, recipe };
    if (response.status === 412)
      return { kind: 'conflict', theirs: { recipe: answer.current.recipe, etag: answer.current.etag } };
    return { kind: 'failed', sentence: answer.detail };
  } catch {
    return {
      kind: 'failed',
      sentence:
        'Jossel’s server does not answer. What you made stays in this window and is saved when it is back.',
    };
  }
};

const actionOf = (outcome: SaveOutcome) => {
  if (outcome.kind === 'saved') return saved({ etag: outcome.etag, recipe: outcome.recipe });
  if (outcome.kind === 'conflict') return conflicted(outcome.theirs);
  return failed(outcome.sentence);
};

listeners.startListening({
  matcher: isAnyOf(opened, changed, undone, redone, mineKept, theirsTaken),
  effect: (action, listener) => {
    const draft = () => (listener.getState() as { draft: DraftState }).draft;
    const saver = saverFor(
      (finishId) => draft().finishId === finishId,
      (a) => void listener.dispatch(a as never),
    );
    const { finishId, recipe, etag, saving } = draft();
    if (!finishId || !recipe) return;
    if (theirsTaken.match(action)) saver.dropped(finishId);
    else if (opened.match(action)) return;
    else if (saving === 'conflict') saver.changedInConflict(finishId, recipe);
    else saver.changed(finishId, recipe, etag);
  },
});

/** Keeps the steps to undo, a moment after they change and before the page goes. */
let keeping: { timer: ReturnType<typeof setTimeout>; now: () => void } | null = null;
const KEEP_AFTER_MS = 400;
listeners.startListening({
  matcher: isAnyOf(changed, undone, redone, mineKept, theirsTaken),
  effect: (_action, listener) => {
    const now = () => {
      keeping = null;
      const { finishId, recipe, past, future } = (listener.getState() as { draft: DraftState }).draft;
      if (finishId && recipe) keepHistory(sessionStorage, finishId, recipe, { past, future });
    };
    if (keeping) clearTimeout(keeping.timer);
    keeping = { timer: setTimeout(now, KEEP_AFTER_MS), now };
  },
});
window.addEventListener('pagehide', () => keeping?.now());

let saver: DraftSaver | null = null;
/** The one saver of this page. */
function saverFor(isOpen: (finishId: string) => boolean, dispatch: (action: unknown) => void): DraftSaver {
  saver ??= new DraftSaver(
    send,
    (finishId) => isOpen(finishId) && dispatch(savingStarted()),
    (finishId, outcome) => {
      if (isOpen(finishId)) dispatch(actionOf(outcome));
      dispatch(api.util.invalidateTags(['Finishes', { type: 'Finish', id: finishId }]));
    },
  );
  return saver;
}

/** What of a finish has not been saved yet, so that opening it again goes on from there; null: all is saved. */
export const unsavedDraft = (finishId: string) => saver?.unsaved(finishId) ?? null;

window.addEventListener('beforeunload', (event) => {
  if (saver?.anyUnsaved) event.preventDefault();
});
