/** @jest-environment ./script/jest-page-environment.cjs */
import { screen, waitFor, within } from '@testing-library/react';
import { defaultRecipe, lead, recipeSchema, type Recipe } from '@jossel/core/finish';
import type { Sample } from '../../../app/api';
import { useAppSelector } from '../../../app/store';
import { show } from '../../../test/page';
import type { Drawn } from '../../../workers/render.worker';
import { SourcesPanel } from './SourcesPanel';

const SAMPLES = ['board.png', 'second board.png', 'a wall.jpg'].map(
  (fileName, k) => ({ id: `s${k}`, fileName, widthPx: 900, heightPx: 600 }) as Sample,
);
const composed = (): Recipe => {
  const recipe = defaultRecipe(['s0'], 'timber', { widthPx: 900, heightPx: 600 });
  return { ...recipe, repeat: { ...recipe.repeat, method: 'composed', why: ['Tried.'] } };
};

function Held({ drawn }: { drawn: Drawn | null }) {
  const recipe = useAppSelector((s) => s.draft.recipe);
  return recipe ? <SourcesPanel recipe={recipe} samples={SAMPLES} drawn={drawn} /> : null;
}

async function opened(recipe: Recipe, drawn: Drawn | null = null) {
  const page = show(<Held drawn={drawn} />, {
    recipe,
    answers: { 'GET /api/samples': () => ({ body: { items: SAMPLES, total: SAMPLES.length } }) },
  });
  if (recipe.repeat.method === 'composed') await waitFor(() => expect(page.asked).toHaveLength(1));
  return {
    ...page,
    join: (name: string) => page.choose(/Join another picture/, name),
    valid: () => recipeSchema.safeParse(JSON.parse(JSON.stringify(page.recipe()))).success,
  };
}
const joinedNames = () =>
  within(screen.getByRole('list', { name: 'Joined pictures' }))
    .getAllByRole('listitem')
    .map((item) => item.querySelector('span')!.textContent);

test('pictures are joined only where the repeat is composed', async () => {
  const recipe = composed();
  await opened({ ...recipe, repeat: { ...recipe.repeat, method: 'edges' } });
  expect(screen.getByText(/joined where the repeat is composed/)).toBeTruthy();
  expect(screen.queryByRole('button', { name: /Join another picture/ })).toBeNull();
});

test('a joined picture has the parts of the first; the reasons for the method are gone, as they were for one', async () => {
  const start = composed();
  lead(start).preparation.parts = [{ id: 'knot', name: 'Knots' }] as never;
  const { join, recipe } = await opened(start);
  await join('second board.png');
  const { sources, repeat } = recipe();
  expect(sources.map((s) => s.sampleId)).toEqual(['s0', 's1']);
  expect(sources[1]!.preparation.parts).toEqual(lead(start).preparation.parts);
  expect(new Set(sources.map((s) => s.id)).size).toBe(2);
  expect(repeat.from.at(-1)).toEqual({ source: sources[1]!.id, area: null });
  expect(repeat.why).toEqual([]);
  expect(joinedNames()).toEqual(['second board.png']);
});

test('what is joined is not offered again until it is taken out, and taking out is one step to undo', async () => {
  const { join, user, recipe, undo, valid } = await opened(composed());
  await join('a wall.jpg');
  await user.click(screen.getByRole('button', { name: /Join another picture/ }));
  expect(screen.queryByRole('option', { name: 'a wall.jpg' })).toBeNull();
  await user.keyboard('{Escape}');
  expect(valid()).toBe(true);

  await user.click(screen.getByRole('button', { name: 'Take a wall.jpg out' }));
  expect(recipe().sources.map((s) => s.sampleId)).toEqual(['s0']);
  expect(recipe().repeat.from.every(({ source }) => source === recipe().sources[0]!.id)).toBe(true);
  expect(screen.queryByRole('list', { name: 'Joined pictures' })).toBeNull();
  undo();
  expect(joinedNames()).toEqual(['a wall.jpg']);
});

test('a joined picture may have a width of its own; emptied, its pixels are as large as those of the first', async () => {
  const { join, type, recipe, user } = await opened(composed());
  await join('second board.png');
  await type('It shows across', '420');
  expect(recipe().sources[1]!.size!.overall.across).toMatchObject({ value: 420, basis: 'assumed' });
  const box = screen.getByRole('textbox', { name: 'It shows across' });
  await user.clear(box);
  await user.keyboard('{Enter}');
  expect(recipe().sources[1]!.size).toBeNull();
});

test('areas of the first picture are joined by ticks; the one that leads is not among them', async () => {
  const start = composed();
  const corners = [[0, 0], [0.4, 0], [0.4, 0.4], [0, 0.4]]; // prettier-ignore
  const area = (id: string, name: string) => ({ id, name, corners });
  lead(start).preparation.areas = [area('a', 'Left'), area('b', 'Right')] as never;
  start.repeat.from = [{ source: start.sources[0]!.id, area: 'a' }];
  const { user, recipe } = await opened(start);
  expect(screen.queryByRole('checkbox', { name: 'Left' })).toBeNull();
  await user.click(screen.getByRole('checkbox', { name: 'Right' }));
  expect(recipe().repeat.from.map((p) => p.area)).toEqual(['a', 'b']);
  await user.click(screen.getByRole('checkbox', { name: 'Right' }));
  expect(recipe().repeat.from.map((p) => p.area)).toEqual(['a']);
});

test('what pictures were brought to the tone of the first by is said', async () => {
  const start = composed();
  start.repeat.from = [
    { source: start.sources[0]!.id, area: null },
    { source: start.sources[0]!.id, area: 'b' },
  ];
  const joined = [{ gain: [1, 1, 1] }, { gain: [1.1, 0.95, 1.2] }];
  await opened(start, { report: { joined } } as unknown as Drawn);
  expect(screen.getByText(/red × 1\.1, green × 0\.95, blue × 1\.2/)).toBeTruthy();
});

test('another scale of the elements is wrong until somebody says that it is meant', async () => {
  const { type, user, recipe } = await opened(composed());
  await type('Module in the repeat, against its true size', '125');
  expect(recipe().repeat.elements).toEqual({ scale: 1.25, confirmed: false });
  await user.click(screen.getByRole('checkbox', { name: 'This size is meant' }));
  expect(recipe().repeat.elements.confirmed).toBe(true);
  // Another scale has to be confirmed again.
  await type('Module in the repeat, against its true size', '130');
  expect(recipe().repeat.elements.confirmed).toBe(false);
  await type('Module in the repeat, against its true size', '5');
  expect(await screen.findByRole('alert')).toBeTruthy();
  expect(recipe().repeat.elements.scale).toBe(1.3);
});

test('detail finer than the picture is said to be inferred', async () => {
  const { user, recipe } = await opened(composed());
  expect(screen.queryByText(/marked as inferred/)).toBeNull();
  await user.click(screen.getByRole('radio', { name: '2 times' }));
  expect(recipe().repeat.enlarged).toBe(2);
  expect(screen.getByText(/marked as inferred/)).toBeTruthy();
});
