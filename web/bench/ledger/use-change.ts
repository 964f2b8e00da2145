import { useCallback } from 'react';
import { refitLengths, resolveSample, type Recipe } from '@jossel/core/finish';
import type { PictureShape } from '@jossel/core/straighten';
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

/**
 * Changes what decides the size of the used part: the sample or the size itself. Lengths that still stand as they began
 * go along with it.
 */
export function useGeometryChange<S extends 'sample' | 'size'>(
  recipe: Recipe,
  sample: PictureShape,
  section: S,
) {
  const put = useChangeRecipe();
  return useCallback(
    (what: string, change: Partial<Recipe[S]>, dragged = false) => {
      const next = { ...recipe, [section]: { ...recipe[section], ...change } };
      put(`${section} ${what}`, refitted(recipe, next, sample), dragged);
    },
    [put, recipe, sample, section],
  );
}

function refitted(before: Recipe, after: Recipe, sample: PictureShape): Recipe {
  try {
    return refitLengths(after, resolveSample(before, sample).usedMm, resolveSample(after, sample).usedMm);
  } catch {
    return after;
  }
}

/** Changes one section of the recipe; `what` names the change, so that a drag becomes one step to undo. */
export function useChange<S extends 'colour' | 'repeat' | 'relief' | 'response'>(recipe: Recipe, section: S) {
  const put = useChangeRecipe();
  return useCallback(
    (what: string, change: Partial<Recipe[S]>, dragged = false) =>
      put(`${section} ${what}`, { ...recipe, [section]: { ...recipe[section], ...change } }, dragged),
    [put, recipe, section],
  );
}
