/** @jest-environment ./script/jest-page-environment.cjs */
import { cleanup, screen, waitFor, within } from '@testing-library/react';
import { defaultRecipe, recipeSchema, type Recipe } from '@jossel/core/finish';
import { initialLayout, LAID_PARTS } from '@jossel/core/layout';
import { USUAL_LAYERS, usualLayer, type WeatheringReport } from '@jossel/core/weathering';
import { useAppSelector } from '../../../app/store';
import { show } from '../../../test/page';
import { WeatheringSection } from './WeatheringSection';

const OTHER = {
  ...{ id: 'moss', name: 'Moss cushion', category: 'stone', state: 'issued', revisions: ['A', 'B'] },
};
const plain = (): Recipe => defaultRecipe(['s'], 'brick', { widthPx: 900, heightPx: 600 });
const layered = (...names: string[]): Recipe => ({
  ...plain(),
  weathering: names.map((name, k) => usualLayer(name, `layer-${k}`, k + 1)),
});

/** The section of the recipe in hand, as the ledger shows it. */
function Held({ report = null }: { report?: WeatheringReport['weathering'] }) {
  const recipe = useAppSelector((s) => s.draft.recipe);
  return recipe ? <WeatheringSection finishId="f" recipe={recipe} report={report} /> : null;
}

function opened(recipe: Recipe, report?: WeatheringReport['weathering']) {
  const page = show(<Held report={report ?? null} />, {
    recipe,
    answers: {
      'GET /api/finishes': () => ({ body: { items: [OTHER], total: 1 } }),
      'GET /api/finishes/moss/revisions/B': () => ({ body: { recipe: plain(), versions: { relief: 2 } } }),
    },
  });
  return {
    ...page,
    layers: () => page.recipe().weathering,
    /** What would be saved is a recipe. */
    valid: () => recipeSchema.safeParse(JSON.parse(JSON.stringify(page.recipe()))).success,
  };
}
const rows = () => screen.getAllByRole('row').map((row) => row.textContent);

test('layers are added from what usually happens, the last one on top and open', async () => {
  const { user, layers, valid } = opened(plain());
  await screen.findByText(/Nothing has happened to it yet/);
  for (const name of ['Dust in hollows', 'Run-off streaks']) {
    await user.click(screen.getByRole('button', { name: 'Add a layer' }));
    await user.click(within(screen.getByRole('group', { name: 'Layers to add' })).getByText(name));
  }
  expect(layers().map((l) => l.name)).toEqual(['Dust in hollows', 'Run-off streaks']);
  expect(new Set(layers().map((l) => l.id)).size).toBe(2);
  expect(rows()[0]).toContain('Run-off streaks');
  expect(screen.getByRole('heading', { name: 'Run-off streaks' })).toBeTruthy();
  expect(valid()).toBe(true);
});

test('every usual layer opens with fields of its own, and is a layer that can be saved', async () => {
  for (const { name } of USUAL_LAYERS) {
    const { valid } = opened(layered(name));
    expect(await screen.findByRole('heading', { name })).toBeTruthy();
    expect({ name, valid: valid() }).toEqual({ name, valid: true });
    cleanup();
  }
});

test.each([
  ['Dust in hollows', ['Thickness', 'Gloss'], ['Degrees by ISO 4628']],
  ['Opaque paint', ['Dry film', 'Gloss', 'Blistering, 0–5', 'Chalking, 0–5'], []],
  ['Worn arrises', ['Depth', 'Gloss'], ['Texture']],
  ['Wet', ['Film of water'], ['Gloss']],
])('%s has the figures of its kind', async (name, there, missing) => {
  opened(layered(name));
  await screen.findByRole('heading', { name });
  const labels = screen.getAllByRole('textbox').map((box) => box.getAttribute('aria-label') ?? labelOf(box));
  for (const label of there) expect(labels.some((l) => l.startsWith(label))).toBe(true);
  for (const label of missing) expect(screen.queryByText(label)).toBeNull();
});

const labelOf = (box: HTMLElement) =>
  (box as HTMLInputElement).labels?.[0]?.textContent ??
  document.getElementById(box.getAttribute('aria-labelledby')?.split(' ')[0] ?? '')?.textContent ??
  '';

test('a place brings the lengths that it needs, and forgets those of another', async () => {
  const { choose, layers, type, valid } = opened(layered('Dust in hollows'));
  await screen.findByRole('textbox', { name: /Surroundings/ });
  await choose(/Where it lies/, 'at the foot of a wall');
  expect(layers()[0]!.place).toMatchObject({ at: 'foot', fromMm: 0, toMm: 350 });
  expect(screen.queryByRole('textbox', { name: /Surroundings/ })).toBeNull();
  await type('Up to', '600');
  expect(layers()[0]!.place).toMatchObject({ toMm: 600 });
  await choose(/Where it lies/, 'everywhere');
  expect(layers()[0]!.place).not.toHaveProperty('toMm');
  expect(valid()).toBe(true);
});

test('a part is offered only where the finish has parts', async () => {
  const without = opened(layered('Lime bloom'));
  await without.user.click(await screen.findByRole('button', { name: /Where it lies/ }));
  expect(screen.queryByRole('option', { name: 'on a part' })).toBeNull();
  cleanup();

  const laid = opened({ ...layered('Lime bloom'), layout: initialLayout('running') });
  await laid.choose(/Where it lies/, 'on a part');
  expect(laid.layers()[0]!.place).toMatchObject({ at: 'part', part: 'joint' });
  await laid.choose(/Part/, LAID_PARTS.face);
  expect(laid.layers()[0]!.place).toMatchObject({ part: 'face' });
});

test('a degree beyond the standard is not taken, and the last good one stays', async () => {
  const { layers, type } = opened(layered('Opaque paint'));
  await type('Flaking, 0–5', '3');
  expect(layers()[0]).toMatchObject({ flaking: 3 });
  await type('Flaking, 0–5', '6');
  expect(await screen.findByRole('alert')).toBeTruthy();
  expect(layers()[0]).toMatchObject({ flaking: 3 });
});

test('a coating that flakes says where it does so first; one that was stored before that, at arrises', async () => {
  const recipe = layered('Opaque paint');
  delete (recipe.weathering[0] as { flakesFirst?: unknown }).flakesFirst;
  const { layers, type, user } = opened(recipe);
  expect(screen.queryByRole('group', { name: 'Flakes first' })).toBeNull();
  await type('Flaking, 0–5', '2');
  const ticked = () =>
    within(screen.getByRole('group', { name: 'Flakes first' }))
      .getAllByRole('checkbox')
      .map((box) => (box as HTMLInputElement).checked);
  expect(ticked()).toEqual([true, false, false]);
  await user.click(screen.getByRole('checkbox', { name: /^below joints/ }));
  await user.click(screen.getByRole('checkbox', { name: 'at arrises' }));
  expect(layers()[0]).toMatchObject({ flakesFirst: ['below-joints'] });
  expect(ticked()).toEqual([false, true, false]);
});

test('another one has the same settings and another seed; leaving out and removing are steps to undo', async () => {
  const { user, layers, undo } = opened(layered('Dust in hollows', 'Moss'));
  const [before] = layers().slice(-1);
  await user.click(await screen.findByRole('button', { name: 'Another one' }));
  const { seed, ...same } = layers().at(-1)!;
  expect(seed).not.toBe(before!.seed);
  expect({ ...same, seed: before!.seed }).toEqual(before);

  await user.click(screen.getByRole('checkbox', { name: 'Leave it out' }));
  expect(rows()[0]).toContain('(off)');
  await user.click(screen.getByRole('button', { name: 'Remove the layer' }));
  expect(layers().map((l) => l.name)).toEqual(['Dust in hollows']);
  undo();
  expect(layers().at(-1)).toMatchObject({ name: 'Moss', off: true });
});

test('what lies is said beside each layer, and the plate shows it before or after', async () => {
  const report = {
    layers: [{ id: 'layer-0', name: 'Moss', covers: 0.318, lrv: 21.4 }],
    wallMm: null,
  } as unknown as WeatheringReport['weathering'];
  const { user, store } = opened(layered('Moss'), report);
  await screen.findByText('32 %, LRV 21');
  expect(screen.getByText('LRV 21.4 over all')).toBeTruthy();
  await user.click(screen.getByRole('button', { name: 'Before' }));
  expect(store.getState().bench.beforeWeathering).toBe(true);
  expect(screen.queryByText(/over all/)).toBeNull();
  await user.click(screen.getByRole('button', { name: 'After' }));
  expect(store.getState().bench.beforeWeathering).toBe(false);
});

test('another finish becomes the detail of this one, at its newest revision', async () => {
  const { choose, layers, asked } = opened(plain());
  await waitFor(() => expect(asked).toContain('GET /api/finishes'));
  await choose(/Detail of another finish/, 'Moss cushion');
  await waitFor(() => expect(layers()).toHaveLength(1));
  expect(layers()[0]).toMatchObject({
    ...{ kind: 'detail', name: 'Moss cushion', place: { at: 'hollows' } },
    finish: { finishId: 'moss', letter: 'B', versions: { relief: 2 } },
  });
});
