import { useCallback } from 'react';
import type { Recipe } from '@jossel/core/finish';
import { useAppDispatch } from '../../app/store';
import { draftSlice } from '../draft-slice';

/** Changes the recipe as a whole; `what` names the change. */
export function useChangeRecipe() {
  const dispatch = useAppDispatch();
  return useCallback(
    (what: string, recipe: Recipe, dragged = false) => {
      dispatch(draftSlice.actions.changed({ what, recipe, at: Date.now(), dragged }));
    },
    [dispatch],
  );
}

/** Changes one section of the recipe; `what` names the change, so that a drag becomes one step to undo. */
export function useChange<S extends 'sample' | 'size' | 'colour' | 'repeat' | 'relief' | 'response'>(
  recipe: Recipe,
  section: S,
) {
  const put = useChangeRecipe();
  return useCallback(
    (what: string, change: Partial<Recipe[S]>, dragged = false) =>
      put(`${section} ${what}`, { ...recipe, [section]: { ...recipe[section], ...change } }, dragged),
    [put, recipe, section],
  );
}
