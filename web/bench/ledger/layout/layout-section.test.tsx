/** @jest-environment ./script/jest-page-environment.cjs */
import { screen, within } from '@testing-library/react';
import { defaultRecipe, generatedRecipe, recipeSchema, type Recipe } from '@jossel/core/finish';
import { initialLayout, layPieces, SHADE_GRADES, type LayoutSettings } from '@jossel/core/layout';
import { useAppSelector } from '../../../app/store';
import { show } from '../../../test/page';
import { LayoutSection } from './LayoutSection';

function Held() {
  const recipe = useAppSelector((s) => s.draft.recipe);
  return recipe && <LayoutSection finishId="f" recipe={recipe} samples={[]} geometry={null} report={null} />;
}

const laid = (bond: string, change: Partial<LayoutSettings> = {}): Recipe => ({
  ...defaultRecipe(['s'], 'brick', { widthPx: 900, heightPx: 600 }),
  layout: { ...initialLayout(bond), ...change },
});

/** The section of a finish that is laid, with a server that has one other issued finish. */
function opened(recipe: Recipe) {
  const other = { id: 'o', name: 'Slate', revisions: ['A'], state: 'issued', headline: null };
  const page = show(<Held />, {
    recipe,
    answers: {
      'GET /api/finishes': () => ({ body: { items: [other], total: 1, suppliers: [] } }),
      'GET /api/finishes/o/revisions/A': () => ({
        body: { letter: 'A', recipe: generatedRecipe('slate'), versions: { generate: 1 } },
      }),
    },
  });
  return {
    ...page,
    layout: () => page.recipe().layout!,
    valid: () => recipeSchema.safeParse(JSON.parse(JSON.stringify(page.recipe()))).success,
    radio: (name: string | RegExp) => page.user.click(screen.getByRole('radio', { name })),
  };
}

test('sizes and joints are typed; they are assumed until somebody says otherwise, and each is one step to undo', async () => {
  const { type, layout, user, undo, valid } = opened(laid('running'));
  await type('Length of a piece', '240');
  await type('Joint along', '3/8"');
  expect(layout().piece.lengthMm).toMatchObject({ value: 240, basis: 'assumed' });
  expect(layout().joint.alongMm.value).toBeCloseTo(9.525, 3);
  await user.keyboard('m');
  expect(layout().joint.alongMm.basis).toBe('measured');
  expect(valid()).toBe(true);
  undo();
  undo();
  expect(layout().joint.alongMm.value).toBe(initialLayout('running').joint.alongMm.value);
  expect(layout().piece.lengthMm.value).toBe(240);
});

test('each bond shows the settings that are its own, within their range', async () => {
  const { type, layout } = opened(laid('running'));
  await type('Shift, share of a piece', '0.25');
  expect(layout().bond).toMatchObject({ kind: 'running', shift: 0.25 });
  await type('Shift, share of a piece', '2');
  expect(screen.getByRole('alert').textContent).toMatch(/between 0 and 1/);
  expect(layout().bond['shift']).toBe(0.25);
  expect(screen.queryByRole('textbox', { name: 'Stretcher courses' })).toBeNull();
});

test.each([
  ['english', 'Stretcher courses'],
  ['random-length', 'Least stagger'],
  ['octagon', 'Side of the dot'],
  ['chevron', 'Mitre angle'],
  ['standing-seam', 'Width of seams'],
])('%s has “%s”', (bond, label) => {
  opened(laid(bond));
  expect(screen.getByRole('textbox', { name: label })).toBeTruthy();
});

test('profile, arris and working are chosen from drawn sections; what belongs to them appears with them', async () => {
  const { radio, layout, type, valid } = opened(
    laid('stack', { arris: { ...initialLayout('stack').arris, form: 'square' } }),
  );
  await radio('weather-struck');
  expect(layout().joint.profile).toBe('weather-struck');
  expect(screen.queryByRole('textbox', { name: 'Width of the arris' })).toBeNull();
  await radio('bevel');
  await type('Width of the arris', '2');
  expect(layout().arris).toMatchObject({ form: 'bevel', sizeMm: { value: 2 } });
  await radio(/^bush-hammered/);
  expect(layout().working.kind).toBe('bush-hammered');
  expect(valid()).toBe(true);
});

test('shade variation is given by its grade or by its figures; a figure of its own is no grade', async () => {
  const { press, type, layout } = opened(laid('stack'));
  await press('V3');
  expect(layout().shade.lightness).toBe(SHADE_GRADES.V3);
  expect(screen.getByRole('button', { name: 'V3' }).getAttribute('aria-pressed')).toBe('true');
  await type('Spread of L*', '2.2');
  expect(layout().shade.lightness).toBe(2.2);
  expect(screen.getByRole('button', { name: 'V3' }).getAttribute('aria-pressed')).toBe('false');
  await press('none');
  expect(layout().shade.lightness).toBe(0);
});

describe('a blend', () => {
  test('has kinds by share; what is left keeps the finish as it is, and no share is larger than that', async () => {
    const { press, type, layout, valid } = opened(laid('stack'));
    await press('Add a kind');
    expect(screen.getByText(/90 % keep the finish as it is/)).toBeTruthy();
    await press('Add a kind');
    await type('Share', '55');
    expect(screen.getByText(/35 % keep the finish as it is/)).toBeTruthy();
    await type('Share', '95');
    expect(screen.getByRole('alert').textContent).toMatch(/between 0 .* and 90 %/);
    expect(layout().blend.others.map((o) => o.share)).toEqual([55, 10]);
    expect(valid()).toBe(true);
    await press('Remove Kind 1');
    expect(layout().blend.others.map((o) => o.name)).toEqual(['Kind 2']);
  });

  test('a kind is a tone of the finish, a plain colour, or another finish at its issued revision', async () => {
    const { press, radio, choose, layout, valid } = opened(laid('stack'));
    await press('Add a kind');
    const kind = within(screen.getByRole('group', { name: 'Kind 1' }));
    expect(layout().blend.others[0]).toMatchObject({ lab: null, finish: null, shift: [-12, 0, 0] });
    const [, plain] = kind.getAllByRole('radio');
    await radio(plain!.textContent!);
    expect(layout().blend.others[0]).toMatchObject({ lab: [50, 0, 0], finish: null });
    await radio(/finish$/);
    await choose(/Finish of Kind 1/, /Slate/);
    expect((await screen.findAllByDisplayValue('Slate')).length).toBeGreaterThan(0);
    expect(layout().blend.others[0]).toMatchObject({
      name: 'Slate',
      finish: { finishId: 'o', letter: 'A', name: 'Slate' },
    });
    expect(valid()).toBe(true);
  });
});

test('laid anew by chance, sizes stay and places change', async () => {
  const { press, layout } = opened(laid('random-length'));
  const before = layout();
  await press('Rearrange');
  const after = layout();
  expect(after.seed).not.toBe(before.seed);
  expect({ ...after, seed: 0 }).toEqual({ ...before, seed: 0 });
  const ends = (settings: LayoutSettings) => layPieces(settings).pieces.map((p) => Math.round(p.centre[0]));
  expect(ends(after)).not.toEqual(ends(before));
});

test('the direction of laying turns the whole layout', async () => {
  const { radio, layout } = opened(laid('random-length'));
  await radio('upright');
  expect(layout().turnedDeg).toBe(90);
});

test('leaves of a generated timber are laid one to a piece', async () => {
  const recipe = { ...generatedRecipe('timber'), layout: initialLayout('random-length') };
  const { radio, layout } = opened(recipe);
  await radio(/leaves, one to a piece/);
  expect(layout().faces.from).toBe('areas');
  // It has no sample whose pieces could be picked.
  expect(screen.queryByRole('button', { name: /Pick the pieces/ })).toBeNull();
});
