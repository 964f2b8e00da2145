/** @jest-environment ./script/jest-page-environment.cjs */
import { screen, within } from '@testing-library/react';
import { defaultRecipe, lead, recipeSchema, type Recipe } from '@jossel/core/finish';
import { sizeKnownBy } from '@jossel/core/size';
import { figure } from '@jossel/core/units';
import type { Sample } from '../../../app/api';
import { useAppSelector } from '../../../app/store';
import { show } from '../../../test/page';
import { geometryOf } from '../../picture-in-hand';
import type { StructureSearch } from '../../use-structure';
import { SizeSection } from './SizeSection';

const SAMPLE = {
  id: 's',
  fileName: 'wall.png',
  widthPx: 1200,
  heightPx: 800,
  pxPerMm: 2,
  sheet: { widthMm: 215, heightMm: 65, jointMm: 10 },
} as Sample;
const NOT_SEARCHED: StructureSearch = { found: null, busy: false, sentence: '' };

function Held({ search }: { search: StructureSearch }) {
  const recipe = useAppSelector((s) => s.draft.recipe);
  if (!recipe) return null;
  const source = lead(recipe);
  return (
    <SizeSection
      {...{ recipe, source, search }}
      samples={[SAMPLE]}
      sample={SAMPLE}
      category="brick"
      geometry={geometryOf(recipe, source, [SAMPLE])}
    />
  );
}

const measured = (mm: number) => figure(mm, 'mm', 'measured');

function opened(size = sizeKnownBy({ overall: measured(600) }, 'follows'), search = NOT_SEARCHED) {
  const recipe: Recipe = defaultRecipe(['s'], 'brick', { widthPx: 1200, heightPx: 800 });
  lead(recipe).size = size;
  const page = show(<Held search={search} />, { recipe });
  return {
    ...page,
    size: () => lead(page.recipe()).size!,
    valid: () => recipeSchema.safeParse(JSON.parse(JSON.stringify(page.recipe()))).success,
    axis: (name: 'Width' | 'Height') => within(screen.getByRole('region', { name })),
    async source(axis: 'Width' | 'Height', way: string) {
      const list = within(screen.getByRole('region', { name: axis })).getByRole('button', { name: /Source/ });
      await page.user.click(list);
      await page.user.click(await screen.findByRole('option', { name: way }));
    },
  };
}

test('one length gives both sides by the proportions of the picture, each with its tolerance and source', () => {
  const { axis } = opened();
  expect(axis('Width').getByText(/600/)).toBeTruthy();
  expect(axis('Height').getByText(/400/)).toBeTruthy();
  expect(axis('Height').getAllByText(/proportions/).length).toBeGreaterThan(0);
});

test('a typed length is assumed until somebody says otherwise; it is undone in one step', async () => {
  const { type, size, user, undo, axis } = opened();
  await type('Overall width', '2\' 6"');
  expect(size().overall.across!.value).toBeCloseTo(762, 6);
  expect(axis('Height').getByText(/508/)).toBeTruthy();
  await user.keyboard('m');
  expect(size().overall.across!.basis).toBe('measured');
  undo();
  undo();
  expect(size().overall.across!.value).toBe(600);
});

test('what cannot be a length is said where it was typed', async () => {
  const { type, size } = opened();
  for (const wrong of ['0', '-5', '1,200', 'wide']) {
    await type('Overall width', wrong);
    expect(screen.getByRole('alert').textContent!.length).toBeGreaterThan(10);
    expect(size().overall.across!.value).toBe(600);
  }
});

test('an axis is counted: modules with their joints, edge to edge or from joint to joint', async () => {
  const { source, type, size, axis, user, valid } = opened();
  await source('Height', 'counted modules');
  await type('Count', '5');
  await type('Module', '65');
  await type('Joint', '10');
  expect(size().ruling.up).toBe('count');
  await user.click(screen.getByRole('radio', { name: 'edge to edge' }));
  expect(axis('Height').getByText(/365/)).toBeTruthy();
  await user.click(screen.getByRole('radio', { name: 'joint to joint' }));
  expect(axis('Height').getByText(/375/)).toBeTruthy();
  expect(valid()).toBe(true);
});

test('other figures of an axis are cross-checks with their difference, and can be removed', async () => {
  const { type, size, source, press } = opened({
    ...sizeKnownBy({ overall: measured(600) }, 'follows'),
    resolution: figure(2.1, 'px/mm', 'published'),
  });
  const check = within(screen.getByRole('table', { name: 'Cross-check of the width' }));
  // 1200 px at 2.1 px per mm are 571 mm.
  expect(check.getByText(/^−4\.76 %$/)).toBeTruthy();
  await type('Overall width', '571.43');
  expect(check.getByText(/^[−+]?0(\.0\d)? %$/)).toBeTruthy();
  expect(size().resolution).not.toBeNull();
  await source('Width', 'counted modules');
  await source('Width', 'overall length');
  expect(size().count.across).not.toBeNull();
  await press('Remove the count');
  expect(size()).toMatchObject({ ruling: { across: 'overall' }, count: { across: null } });
});

test('pieces of the data sheet give the size of the picture by their number', async () => {
  const { type, press, size } = opened();
  await type('Pieces across', '3');
  await press('Take over');
  expect(size().ruling).toEqual({ across: 'count', up: 'count' });
  expect(size().count.across).toMatchObject({ modules: 3, moduleMm: { value: 215, basis: 'published' } });
});

test('a ruler line is asked for where none is drawn, and the plate is made ready to draw it', async () => {
  const { source, store, size } = opened();
  await source('Width', 'ruler line');
  expect(screen.getByRole('alert').textContent).toMatch(/Draw a ruler line on the plate first/);
  expect(store.getState().bench.drawing).toBe('ruler');
  expect(size().ruling.across).toBe('overall');
});

test.each([
  [{ ...NOT_SEARCHED, busy: true }, /still being looked for/],
  [NOT_SEARCHED, /No regular structure was found along the height/],
])('a structure that is not known cannot be the source', async (search, says) => {
  const { source, size } = opened(undefined, search);
  await source('Height', 'detected structure');
  expect(screen.getByRole('alert').textContent).toMatch(says);
  expect(size().ruling.up).toBe('follows');
});
