/** @jest-environment ./script/jest-page-environment.cjs */
import { screen } from '@testing-library/react';
import { defaultRecipe, lead, recipeSchema, type Recipe } from '@jossel/core/finish';
import type { ReliefContribution } from '@jossel/core/relief';
import { useAppSelector } from '../../../app/store';
import { show } from '../../../test/page';
import { ReliefSection } from './ReliefSection';

function Held() {
  const recipe = useAppSelector((s) => s.draft.recipe);
  return recipe && <ReliefSection recipe={recipe} drawn={null} pieces={null} sample={null} geometry={null} />;
}

function opened(change: (recipe: Recipe) => void = () => undefined) {
  const recipe = defaultRecipe(['s'], 'plaster', { widthPx: 900, heightPx: 600 });
  change(recipe);
  const page = show(<Held />, { recipe });
  const contributions = () => page.recipe().relief.contributions;
  return {
    ...page,
    contributions,
    kinds: () => contributions().map((c) => c.kind),
    /** Of a kind: the last that was added. */
    last: <K extends ReliefContribution['kind']>(kind: K) =>
      contributions().findLast((c) => c.kind === kind) as Extract<ReliefContribution, { kind: K }>,
    valid: () => recipeSchema.safeParse(JSON.parse(JSON.stringify(page.recipe()))).success,
    async add(name: RegExp) {
      await page.user.click(screen.getByRole('button', { name: 'Add a contribution' }));
      await page.user.click(await screen.findByRole('menuitem', { name }));
    },
  };
}

test('contributions are added with a depth that is assumed, opened at once, and undone one by one', async () => {
  const { add, kinds, last, undo, valid } = opened();
  const before = kinds();
  await add(/^Profile/);
  await add(/^Generated variation/);
  expect(kinds()).toEqual([...before, 'profile', 'generated']);
  expect(last('generated').depthMm).toMatchObject({ value: 0.2, basis: 'assumed' });
  expect(screen.getByRole('region', { name: 'Contribution Variation' })).toBeTruthy();
  expect(valid()).toBe(true);
  undo();
  expect(kinds()).toEqual([...before, 'profile']);
});

test('what this finish does not have cannot be added', async () => {
  const { user } = opened();
  await user.click(screen.getByRole('button', { name: 'Add a contribution' }));
  for (const name of [/^Joints of the picture/, /^Level of a part/, /^Map of the set/])
    expect((await screen.findByRole('menuitem', { name })).getAttribute('aria-disabled')).toBe('true');
});

test('a part of the picture is put to a level of its own', async () => {
  const { add, last, valid } = opened((recipe) => {
    lead(recipe).preparation.parts = [
      {
        id: 'joint',
        name: 'Joints',
        picks: [{ at: [0.5, 0.5], lab: [40, 0, 0], add: true }],
        tolerance: 12,
        growMm: 0,
        softenMm: 0,
      },
    ];
  });
  await add(/^Level of a part/);
  expect(last('part')).toMatchObject({ part: 'joint', name: 'Joints', raised: false });
  expect(valid()).toBe(true);
});

test('a depth is typed in any unit; a deep one is kept, an impossible one refused', async () => {
  const { add, type, last, user } = opened();
  await add(/^Generated variation/);
  await type('Depth', '1/8"');
  expect(last('generated').depthMm.value).toBeCloseTo(3.175, 3);
  await type('Depth', '5 m');
  expect(screen.getByRole('alert')).toBeTruthy();
  expect(last('generated').depthMm.value).toBeCloseTo(3.175, 3);
  await user.keyboard('{Escape}');
  await type('Longest wave', '40');
  expect(last('generated').longestMm).toBe(40);
});

test('a contribution is switched off, shown alone, renamed and removed; alone ends with it', async () => {
  const { add, press, user, last, store, kinds } = opened();
  await add(/^Profile/);
  const { id } = last('profile');
  await press('alone');
  expect(store.getState().bench.alone).toBe(id);
  await press('on');
  expect(last('profile').off).toBe(true);
  await press('Rename Profile');
  await user.keyboard('Flutes{Enter}');
  expect(last('profile').name).toMatch(/Flutes$/);
  await press(/^Remove/);
  expect(kinds()).not.toContain('profile');
  expect(store.getState().bench.alone).toBeNull();
});

test('which level stays in place is chosen, and occlusion may have a radius of its own or none', async () => {
  const { user, type, recipe } = opened();
  await user.click(screen.getByRole('radio', { name: 'foot' }));
  expect(recipe().relief.zero).toBe('bottom');
  await type('Occlusion within', '25');
  expect(recipe().relief.occlusionMm).toBe(25);
  const box = screen.getByRole('textbox', { name: 'Occlusion within' });
  await user.clear(box);
  await user.keyboard('{Enter}');
  expect(recipe().relief).not.toHaveProperty('occlusionMm');
});

test('a relief of nothing is flat, and says so', () => {
  opened((recipe) => {
    recipe.relief.contributions = [];
  });
  expect(screen.getByText('Flat: nothing adds relief.')).toBeTruthy();
});
