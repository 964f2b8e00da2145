import { createListenerMiddleware, isAnyOf } from '@reduxjs/toolkit';
import { api } from '../app/api';
import { draftSlice, type DraftState } from './draft-slice';

/** Saves the draft a moment after it changed, one save at a time; when the server is away, tries until it is back. */
export const saveDraftsAsTheyChange = createListenerMiddleware();
const { changed, undone, redone, mineKept, saved, failed, conflicted, savingStarted, opened } =
  draftSlice.actions;

const QUIET_MS = 350;
const AGAIN_MS = 3000;
let timer: ReturnType<typeof setTimeout> | undefined;
let inFlight = false;
let unsaved = false;

saveDraftsAsTheyChange.startListening({
  matcher: isAnyOf(opened, changed, undone, redone, mineKept, saved, failed, conflicted),
  effect: (action, listener) => {
    const draft = () => (listener.getState() as { draft: DraftState }).draft;
    unsaved = draft().saving !== 'saved';
    clearTimeout(timer);
    if (inFlight || (draft().saving !== 'changed' && draft().saving !== 'failed')) return;
    timer = setTimeout(save, failed.match(action) ? AGAIN_MS : QUIET_MS);

    async function save() {
      const { finishId, recipe, etag } = draft();
      if (!finishId || !recipe) return;
      inFlight = true;
      let outcome: Parameters<typeof listener.dispatch>[0];
      listener.dispatch(savingStarted());
      try {
        const response = await fetch(`/api/finishes/${finishId}/draft`, {
          method: 'PUT',
          headers: { 'content-type': 'application/json', 'if-match': etag },
          body: JSON.stringify({ recipe }),
        });
        const answer = (await response.json()) as {
          etag: string;
          detail: string;
          current: { recipe: DraftState['recipe']; etag: string };
        };
        if (response.ok) outcome = saved({ etag: answer.etag, recipe });
        else if (response.status === 412)
          outcome = conflicted({ recipe: answer.current.recipe!, etag: answer.current.etag });
        else outcome = failed(answer.detail);
      } catch {
        outcome = failed(
          'Jossel’s server does not answer. What you made stays in this window and is saved when it is back.',
        );
      }
      inFlight = false;
      if (draft().finishId !== finishId) return;
      listener.dispatch(outcome);
      listener.dispatch(api.util.invalidateTags(['Finishes', { type: 'Finish', id: finishId }]) as never);
    }
  },
});

window.addEventListener('beforeunload', (event) => {
  if (unsaved) event.preventDefault();
});
