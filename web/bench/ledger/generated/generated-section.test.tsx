/** @jest-environment ./script/jest-page-environment.cjs */
import { screen, within } from '@testing-library/react';
import { generatedRecipe, recipeSchema } from '@jossel/core/finish';
import { familyOf, GENERATED_FAMILIES } from '@jossel/core/generate';
import { figure } from '@jossel/core/units';
import { useAppSelector } from '../../../app/store';
import { focus, show } from '../../../test/page';
import { GeneratedSection, GeneratedSize } from './GeneratedSection';

function Held() {
  const recipe = useAppSelector((s) => s.draft.recipe);
  if (!recipe?.generated) return null;
  return (
    <>
      <GeneratedSection recipe={recipe} generated={recipe.generated} />
      <GeneratedSize recipe={recipe} generated={recipe.generated} />
    </>
  );
}

function opened(kind: string, settings: object = {}) {
  const page = show(<Held />, { recipe: generatedRecipe(kind, settings) });
  return {
    ...page,
    generated: () => page.recipe().generated as Record<string, unknown> & { seed: number },
    valid: () => recipeSchema.safeParse(JSON.parse(JSON.stringify(page.recipe()))).success,
  };
}

test.each(GENERATED_FAMILIES.map(({ kind }) => kind))(
  '%s shows its headline settings first and the others on request',
  async (kind) => {
    const { user } = opened(kind);
    const { settings, headline, unused } = familyOf(kind);
    const idle: readonly string[] = unused?.(generatedRecipe(kind).generated as never) ?? [];
    const shown = (key: string) => {
      const { kind: of, label } = settings[key]!;
      return of === 'list' ? screen.queryAllByRole('group', { name: label }) : screen.queryAllByText(label);
    };
    const used = (keys: readonly string[]) => keys.filter((key) => !idle.includes(key));
    for (const key of used(headline)) expect(shown(key)).not.toEqual([]);
    const more = screen.queryByRole('button', { name: /more settings?$/ });
    if (more) await user.click(more);
    for (const key of used(Object.keys(settings))) expect(shown(key)).not.toEqual([]);
  },
);

test('a figure is typed and its basis said; beyond its range it is refused and the last one stays', async () => {
  const { type, generated, user, undo, valid } = opened('timber');
  await type('Annual rings', '7');
  expect(generated()['ringsPerCm']).toMatchObject({ value: 7, basis: 'assumed' });
  await user.keyboard('p');
  expect(generated()['ringsPerCm']).toMatchObject({ value: 7, basis: 'published' });
  await type('Annual rings', '90');
  expect(await screen.findByRole('alert')).toHaveProperty(
    'textContent',
    expect.stringMatching(/between 0\.5.*and 25/),
  );
  expect(generated()['ringsPerCm']).toMatchObject({ value: 7 });
  expect(valid()).toBe(true);
  undo();
  undo();
  expect(generated()['ringsPerCm']).toMatchObject({ value: 4 });
});

test('settings that mean nothing for the values of others are not shown', async () => {
  const { user, type } = opened('timber');
  await user.click(screen.getByRole('button', { name: /more settings$/ }));
  expect(screen.queryByText('Colour of the sapwood')).toBeNull();
  await type('Sapwood', '30');
  expect(screen.getByText('Colour of the sapwood')).toBeTruthy();
});

test('the setting in hand is explained with what it may be; left, what holds for all is said again', async () => {
  opened('terrazzo');
  const general = /Every figure begins as assumed/;
  expect(screen.getByText(general)).toBeTruthy();
  const [share] = screen.getAllByRole('textbox', { name: 'Share' });
  focus(share!);
  expect(screen.getByText(/^Share: of the whole surface; 0\.5 to 80\s?%\.$/)).toBeTruthy();
  focus(screen.getByRole('textbox', { name: 'Number' }));
  expect(screen.getByText(general)).toBeTruthy();
});

test('stones are added and removed, down to one; each keeps its own figures', async () => {
  const { user, generated } = opened('terrazzo');
  const stones = () => generated()['stones'] as { sharePercent: { value: number } }[];
  const before = stones().length;
  await user.click(screen.getByRole('button', { name: 'Add a stone' }));
  expect(stones()).toHaveLength(before + 1);
  const last = within(screen.getByRole('region', { name: `Stone ${before + 1}` }));
  const box = last.getByRole('textbox', { name: 'Share' });
  await user.clear(box);
  await user.type(box, '4{Enter}');
  expect(stones().at(-1)!.sharePercent.value).toBe(4);
  expect(stones()[0]!.sharePercent.value).not.toBe(4);
  for (let k = before + 1; k > 1; k--)
    await user.click(screen.getByRole('button', { name: `Remove stone ${k}` }));
  expect(stones()).toHaveLength(1);
  expect(screen.queryByRole('button', { name: /^Remove stone/ })).toBeNull();
});

test('an order of yarns that names none is said where it is typed, and the draft is drawn from what is right', async () => {
  const { user, generated, type } = opened('cloth');
  const more = screen.queryByRole('button', { name: /more settings$/ });
  if (more) await user.click(more);
  const before = generated()['warpOrder'];
  await type('Warp order', 'A?B');
  expect(screen.getByRole('alert').textContent).toMatch(/"\?" names no yarn/);
  expect(generated()['warpOrder']).toBe(before);
  expect(screen.getByRole('img', { name: /^Draft of \d+ by \d+ threads$/ })).toBeTruthy();
  await user.keyboard('{Escape}');
  expect(screen.queryByRole('alert')).toBeNull();
});

test('the repeat closes on the nearest size, which is said; another number is another one', async () => {
  const { type, generated, user } = opened('studded-rubber', { pitchMm: figure(40, 'mm', 'published') });
  await type('Width', '470');
  expect(screen.getByText(/Closes on 480 × 520\s?mm/)).toBeTruthy();
  const { seed } = generated();
  await user.click(screen.getByRole('button', { name: 'Another one' }));
  expect(generated().seed).not.toBe(seed);
  await type('Stud', '40');
  expect(screen.getByRole('alert').textContent).toMatch(/leave nothing between them at a pitch of 40 mm/);
});
