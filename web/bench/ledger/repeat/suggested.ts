import type { Recipe } from '@jossel/core/finish';
import type { RepeatSettings } from '@jossel/core/repeat';
import type { AppThunk } from '../../../app/store';
import { draftSlice } from '../../draft-slice';

const CHANGED_MEANWHILE = 'The sample or its repeat was changed meanwhile, so nothing was set. Ask again.';

/** What of a recipe a suggestion depends on. */
const askedOf = ({ sources, repeat: { why: _, ...repeat } }: Recipe) => JSON.stringify([sources, repeat]);

/**
 * Sets what was suggested in the draft as it is now: it may have been changed since it was asked for.
 * @returns why it was not set; empty: it was
 */
export const withSuggestion =
  (asked: Recipe, suggested: Partial<RepeatSettings>, what: string, gesture: number): AppThunk<string> =>
  (dispatch, getState) => {
    const { recipe } = getState().draft;
    if (!recipe || askedOf(recipe) !== askedOf(asked)) return CHANGED_MEANWHILE;
    const next = { ...recipe, repeat: { ...recipe.repeat, ...suggested } };
    dispatch(
      draftSlice.actions.changed({
        what,
        recipe: next,
        at: Date.now(),
        dragged: false,
        gesture,
      }),
    );
    return '';
  };
