/** @jest-environment ./script/jest-page-environment.cjs */
import { screen, waitFor } from '@testing-library/react';
import { defaultRecipe, lead, leadGeometry, withMeasured, type Recipe } from '@jossel/core/finish';
import type { ContributionOf } from '@jossel/core/relief';
import type { Sample } from '../../../app/api';
import { show } from '../../../test/page';
import { draftSlice } from '../../draft-slice';
import { MeasureStraightened } from './MeasureStraightened';

const SAMPLE = { id: 'colour', widthPx: 900, heightPx: 600, focalPx: null } as Sample;
const MEASURED = {
  ...{ lightSetId: 'set', colourId: 'colour', heightId: 'height' },
  ...{ overallMm: { width: 180, height: 120 }, rangeMm: 2, toleranceMm: 0.4, lrv: 55 },
};
const AGAIN = {
  ...{ colourId: 'colour 2', heightId: 'height 2', confidenceId: 'c', lights: [], doubts: [] },
  ...{ overallMm: { width: 90, height: 120 }, rangeMm: 1.6, toleranceMm: 0.1, lrv: 54 },
};

const recipeWith = (frame: boolean): Recipe => {
  const recipe = structuredClone(
    withMeasured(defaultRecipe(['colour'], 'plaster', { widthPx: 900, heightPx: 600 }), MEASURED),
  );
  if (frame) lead(recipe).preparation.frame = [[0.5, 0], [1, 0], [1, 1], [0.5, 1]]; // prettier-ignore
  return recipe;
};

function opened(recipe: Recipe, answer: () => { status?: number; body: unknown }) {
  return show(
    <MeasureStraightened
      recipe={recipe}
      contribution={recipe.relief.contributions[0] as ContributionOf<'measured'>}
      sample={SAMPLE}
      geometry={leadGeometry(recipe, SAMPLE)}
    />,
    { recipe, answers: { 'POST /api/light-sets/set/measure': answer } },
  );
}
const press = async ({ user }: ReturnType<typeof opened>) =>
  user.click(screen.getByRole('button', { name: 'Measure again, straightened' }));

test('it is offered where a frame was drawn since, and what comes is one step to undo', async () => {
  const recipe = recipeWith(true);
  const page = opened(recipe, () => ({ body: AGAIN }));
  await press(page);
  await waitFor(() => expect(lead(page.store.getState().draft.recipe!).sampleId).toBe('colour 2'));
  const { recipe: now, past } = page.store.getState().draft;
  expect(now!.relief.contributions[0]).toMatchObject({
    ...{ straightened: true, overMm: 90 },
    depthMm: { value: 1.6, tolerance: 0.1 },
  });
  expect(lead(now!).preparation.frame).toBeNull();
  expect(past.at(-1)).toEqual(recipe);
});

test('nothing is offered where the picture is used as it was measured', () => {
  opened(recipeWith(false), () => ({ body: AGAIN }));
  expect(screen.queryByRole('button')).toBeNull();
});

test('what cannot be measured is said, and nothing changes', async () => {
  const recipe = recipeWith(true);
  const detail = 'All lights stand on one side of the sample.';
  const page = opened(recipe, () => ({ status: 422, body: { title: 'Not measurable', detail } }));
  await press(page);
  await screen.findByText(detail, { exact: false });
  expect(page.store.getState().draft.recipe).toBe(recipe);
});

test('a frame that was moved meanwhile is not overwritten', async () => {
  const recipe = recipeWith(true);
  const moved = structuredClone(recipe);
  lead(moved).preparation.frame![0] = [0.4, 0];
  const page = opened(recipe, () => {
    page.store.dispatch(
      draftSlice.actions.changed({ what: 'frame', recipe: moved, at: 1, dragged: false, gesture: 1 }),
    );
    return { body: AGAIN };
  });
  await press(page);
  await screen.findByText(/changed while it was measured/);
  expect(page.store.getState().draft.recipe).toEqual(moved);
});
