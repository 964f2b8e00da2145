/** @jest-environment ./script/jest-page-environment.cjs */
import { screen, within } from '@testing-library/react';
import { defaultRecipe, recipeSchema, type Recipe } from '@jossel/core/finish';
import { initialLayout, LAID_PARTS } from '@jossel/core/layout';
import { clearPane, type ResponseSettings } from '@jossel/core/response';
import { figure } from '@jossel/core/units';
import { useAppSelector } from '../../../app/store';
import { focus, show } from '../../../test/page';
import { ResponseSection } from './ResponseSection';

const withResponse = (change: Partial<ResponseSettings> = {}, laid = false): Recipe => {
  const recipe = defaultRecipe(['s'], 'ceramic', { widthPx: 900, heightPx: 600 });
  const layout = laid ? { layout: initialLayout('stack') } : {};
  return { ...recipe, ...layout, response: { ...recipe.response, ...change } };
};

/** The section of the recipe in hand, as the ledger shows it before anything is computed. */
function Held() {
  const recipe = useAppSelector((s) => s.draft.recipe);
  return recipe ? (
    <ResponseSection finishId="f" recipe={recipe} report={null} sample={undefined} sizeMm={null} />
  ) : null;
}

function opened(recipe: Recipe) {
  const none = () => ({ body: { items: [], total: 0 } });
  const page = show(<Held />, {
    recipe,
    answers: { 'GET /api/finishes': none, 'GET /api/samples': none, 'GET /api/surroundings': none },
  });
  const response = () => page.recipe().response;
  return {
    ...page,
    response,
    /** What would be saved is a recipe. */
    valid: () => recipeSchema.safeParse(JSON.parse(JSON.stringify(page.recipe()))).success,
  };
}

test('gloss is typed as a figure or chosen as a word; a word is assumed, with the tolerance of its range', async () => {
  const { user, type, response, valid } = opened(withResponse());
  await type('Gloss at 60°', '37');
  expect(response().glossGu.value).toBe(37);
  await user.click(screen.getByRole('button', { name: /In words/ }));
  await user.click(await screen.findByRole('option', { name: /^matt/ }));
  const { value, basis, tolerance } = response().glossGu;
  expect(value).toBeLessThan(37);
  expect(basis).toBe('assumed');
  expect(tolerance).toBeGreaterThan(0);
  expect(valid()).toBe(true);
});

test.each([
  ['Gloss at 60°', '-3'],
  ['Gloss at 60°', '9000'],
  ['Refractive index', '0.4'],
])('%s of %s is not taken', async (name, text) => {
  const { type, recipe } = opened(withResponse());
  const before = recipe();
  await type(name, text);
  expect(await screen.findByRole('alert')).toBeTruthy();
  expect(recipe()).toBe(before);
});

test('a surface of another kind begins with figures of its own, and one undo brings the old one back', async () => {
  const { user, response, undo, valid } = opened(withResponse());
  await user.click(screen.getByRole('radio', { name: 'bare metal' }));
  expect(response().base).toEqual({ kind: 'metal' });
  expect(screen.queryByRole('textbox', { name: 'Refractive index' })).toBeNull();
  expect(valid()).toBe(true);
  await user.click(screen.getByRole('radio', { name: 'glass' }));
  expect(response().base).toMatchObject({ kind: 'glass' });
  expect(screen.queryByRole('button', { name: 'Add a clear coat' })).toBeNull();
  expect(valid()).toBe(true);
  undo();
  expect(response().base).toEqual({ kind: 'metal' });
});

test('a second glass begins like the first and has its own figures', async () => {
  const { press, type, response, valid } = opened(withResponse({ base: clearPane() }));
  await type('Thickness of the pane', '6');
  await press('Laminate a second glass');
  const second = screen.getByRole('region', { name: 'Second glass' });
  expect(within(second).getByRole<HTMLInputElement>('textbox', { name: 'Thickness' }).value).toMatch(/^6/);
  await type('Thickness', '4');
  await type('Thickness of the interlayer', '0.76');
  const { base } = response();
  expect(base).toMatchObject({
    thicknessMm: { value: 6 },
    laminate: { second: { thicknessMm: { value: 4 } }, interlayerMm: { value: 0.76 } },
  });
  expect(valid()).toBe(true);
  await press('Remove the second glass');
  expect(response().base).not.toHaveProperty('laminate.second');
  expect(valid()).toBe(true);
});

test('a satin side is told as haze, and both sides can be clear again', async () => {
  const { press, type, response } = opened(withResponse({ base: clearPane() }));
  await press('One side is satin');
  await type('Haze', '65');
  expect(response().base).toMatchObject({ hazePercent: { value: 65 } });
  await press('Both sides are clear');
  expect((response().base as { hazePercent?: unknown }).hazePercent).toBeUndefined();
});

test('a clear coat has gloss, index and tint of its own', async () => {
  const { press, type, response, valid } = opened(withResponse());
  await press('Add a clear coat');
  await type('Gloss of the coat at 60°', '85');
  await press('The coat is tinted');
  expect(screen.getByRole('textbox', { name: 'Light that passes it once' })).toBeTruthy();
  expect(response().coat).toMatchObject({ glossGu: { value: 85 } });
  expect(valid()).toBe(true);
  await press('The coat is clear');
  await press('Remove the coat');
  expect(response().coat).toBeUndefined();
});

test('cloth that light passes has an open area; bare metal has none', async () => {
  const { user, press, type, response, valid } = opened(withResponse());
  await press('Light passes through');
  await type('Open area', '12');
  expect(response().openness).toMatchObject({ openPercent: { value: 12 } });
  expect(valid()).toBe(true);
  await press('No light passes');
  expect(response().openness).toBeUndefined();
  await user.click(screen.getByRole('radio', { name: 'bare metal' }));
  expect(screen.queryByRole('button', { name: 'Light passes through' })).toBeNull();
});

test('a film on bare metal is chosen by its colour, along the strip or as a figure', async () => {
  const { press, user, type, response } = opened(withResponse());
  await user.click(screen.getByRole('radio', { name: 'bare metal' }));
  expect(screen.getByRole('button', { name: 'Add a thin film' })).toHaveProperty('disabled', true);
  await user.click(screen.getByRole('button', { name: /picture/ }));
  await user.click(await screen.findByRole('option', { name: /titanium/i }));
  await press('Add a thin film');
  await type('Thickness of the film', '120');
  expect(screen.getByRole('img', { name: /by the angle it is seen at/ })).toBeTruthy();
  focus(screen.getByRole('slider', { name: /Colour by thickness/ }));
  await user.keyboard('{ArrowRight}');
  expect(JSON.stringify(response())).toContain('"value":122');
  await press('Remove the film');
  expect(JSON.stringify(response())).not.toContain('thicknessNm');
});

test('readings at 20° and 85° are added and removed; parts of a layout have a gloss, its joints have theirs there', async () => {
  const { press, response, user, valid } = opened(withResponse({}, true));
  await press('Add a reading at 20°');
  expect(response().gloss20Gu).toMatchObject({ basis: 'assumed' });
  expect(screen.getByRole('textbox', { name: 'Gloss at 20°' })).toBeTruthy();

  await press('Add a part');
  const ofFaces = () => screen.queryAllByRole('group', { name: `Gloss of ${LAID_PARTS.face}` });
  const group = ofFaces()[0]!;
  await user.click(within(group).getByRole('button', { name: /Part/ }));
  expect(screen.queryByRole('option', { name: LAID_PARTS.joint })).toBeNull();
  await user.keyboard('{Escape}');
  expect(valid()).toBe(true);
  await user.click(within(group).getByRole('button', { name: 'Remove' }));
  expect(ofFaces()).toEqual([]);
});

test('what is measured keeps its basis and note when its value is corrected', async () => {
  const measured = figure(22, 'GU', 'measured', 1, 'Mean of three');
  const { type, response, store } = opened(withResponse({ glossGu: measured }));
  await type('Gloss at 60°', '24');
  expect(response().glossGu).toMatchObject({ value: 24, basis: 'measured', note: 'Mean of three' });
  expect(store.getState().draft.past).toHaveLength(1);
});
