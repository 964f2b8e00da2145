import { useCallback } from 'react';
import type { Recipe } from '@jossel/core/finish';
import { useAppDispatch } from '../../app/store';
import { draftSlice } from '../draft-slice';

/** Changes one section of the recipe; `what` names the change, so that a drag becomes one step to undo. */
export function useChange<S extends 'size' | 'colour' | 'repeat' | 'relief' | 'response'>(
  recipe: Recipe,
  section: S,
) {
  const dispatch = useAppDispatch();
  return useCallback(
    (what: string, change: Partial<Recipe[S]>, dragged = false) => {
      dispatch(
        draftSlice.actions.changed({
          what: `${section} ${what}`,
          recipe: { ...recipe, [section]: { ...recipe[section], ...change } },
          at: Date.now(),
          dragged,
        }),
      );
    },
    [dispatch, recipe, section],
  );
}
