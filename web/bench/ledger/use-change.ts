import { useCallback } from 'react';
import { keptToCount, leadingPicture, leadGeometry, refitLengths, type Recipe } from '@jossel/core/finish';
import type { LightSettings } from '@jossel/core/light';
import type { Preparation } from '@jossel/core/sample';
import type { SizeSettings } from '@jossel/core/size';
import type { PictureSource } from '@jossel/core/sources';
import type { PictureShape } from '@jossel/core/straighten';
import { isRefusal } from '@jossel/core/surface';
import { useAppDispatch } from '../../app/store';
import { draftSlice } from '../draft-slice';
import { gestureNow } from '../gesture';
import { withSource } from '../picture-in-hand';

/** Changes the recipe as a whole; `what` names the change. */
export function useChangeRecipe() {
  const dispatch = useAppDispatch();
  return useCallback(
    (what: string, recipe: Recipe, dragged = false) => {
      dispatch(draftSlice.actions.changed({ what, recipe, at: Date.now(), dragged, gesture: gestureNow() }));
    },
    [dispatch],
  );
}

/** What of a picture can be changed. */
interface PictureParts {
  preparation: Preparation;
  size: SizeSettings;
  light: LightSettings;
}

/** Changes one part of a picture of the recipe; `what` names the change, so that a drag becomes one step to undo. */
export function usePictureChange<S extends keyof PictureParts>(
  recipe: Recipe,
  source: PictureSource,
  part: S,
) {
  const put = useChangeRecipe();
  return useCallback(
    (what: string, change: Partial<PictureParts[S]>, dragged = false) =>
      put(`${part} ${what}`, withPart(recipe, source, part, change), dragged),
    [put, recipe, source, part],
  );
}

const withPart = <S extends keyof PictureParts>(
  recipe: Recipe,
  source: PictureSource,
  part: S,
  change: Partial<PictureParts[S]>,
): Recipe =>
  withSource(recipe, source.id, { [part]: { ...source[part], ...change } } as Partial<PictureSource>);

/**
 * Changes what decides the size of the used part: the preparation of a picture or its size. Lengths that still stand as
 * they began go along with it.
 */
export function useGeometryChange<S extends 'preparation' | 'size'>(
  recipe: Recipe,
  source: PictureSource,
  sample: PictureShape,
  part: S,
) {
  const put = useChangeRecipe();
  return useCallback(
    (what: string, change: Partial<PictureParts[S]>, dragged = false) => {
      const next = refitted(recipe, withPart(recipe, source, part, change), source, sample);
      put(
        `${part} ${what}`,
        orSame(next, () => keptToCount(recipe, next, sample)),
        dragged,
      );
    },
    [put, recipe, source, sample, part],
  );
}

/** Only the picture that leads the repeat decides its lengths. */
export function refitted(before: Recipe, after: Recipe, source: PictureSource, sample: PictureShape): Recipe {
  if (leadingPicture(before)?.id !== source.id) return after;
  return orSame(after, () =>
    refitLengths(after, leadGeometry(before, sample).usedMm, leadGeometry(after, sample).usedMm),
  );
}

/** A recipe that follows from another one; where its geometry cannot be, the other one as it is. */
function orSame(recipe: Recipe, follow: () => Recipe): Recipe {
  try {
    return follow();
  } catch (error) {
    if (!isRefusal(error)) throw error;
    return recipe;
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
