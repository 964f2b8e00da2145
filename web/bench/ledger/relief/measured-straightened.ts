import { leadingPicture, measuredStraightened, type MeasuredRelief, type Recipe } from '@jossel/core/finish';
import type { PictureShape } from '@jossel/core/straighten';
import type { AppThunk } from '../../../app/store';
import { draftSlice } from '../../draft-slice';

const CHANGED_MEANWHILE =
  'The picture or its size was changed while it was measured, so that nothing was set. Measure again.';

/** What of a recipe a measurement depends on. */
const askedOf = (recipe: Recipe) => {
  const { sampleId, preparation, size } = leadingPicture(recipe) ?? {};
  return JSON.stringify([sampleId, preparation, size]);
};

/**
 * Sets what was measured from straightened pictures in the draft as it is now: it may have been changed since.
 * @param asked the recipe when it was ordered
 * @param picture shape of its leading picture
 * @returns why it was not set; empty: it was
 */
export const withStraightened =
  (
    asked: Recipe,
    contributionId: string,
    measured: MeasuredRelief,
    picture: PictureShape,
    gesture: number,
  ): AppThunk<string> =>
  (dispatch, getState) => {
    const { recipe } = getState().draft;
    if (!recipe || askedOf(recipe) !== askedOf(asked)) return CHANGED_MEANWHILE;
    dispatch(
      draftSlice.actions.changed({
        what: 'relief measured from straightened pictures',
        recipe: measuredStraightened(recipe, contributionId, measured, picture),
        at: Date.now(),
        dragged: false,
        gesture,
      }),
    );
    return '';
  };
