/** @jest-environment ./script/jest-page-environment.cjs */
import { screen, waitFor, within } from '@testing-library/react';
import { defaultRecipe, lead, recipeSchema, type Recipe, type RenderReport } from '@jossel/core/finish';
import { CARD_REFERENCE, plainLight } from '@jossel/core/light';
import { sizeKnownBy } from '@jossel/core/size';
import { figure } from '@jossel/core/units';
import type { Sample } from '../../../app/api';
import { useAppSelector } from '../../../app/store';
import { show } from '../../../test/page';
import { answerAsWorker } from '../../../test/worker';
import type { GlareSearch } from '../../use-glare';
import { BalancePanel } from './BalancePanel';
import { LightPanel } from './LightPanel';

/** What the worker sees of a target card; null: none. */
let card: { marks: [number, number][] } | null = null;
answerAsWorker({ card: () => card });

const SAMPLE = { id: 's', fileName: 'wall.png', widthPx: 900, heightPx: 600 } as Sample;
const base = (change: (recipe: Recipe) => void = () => undefined): Recipe => {
  const recipe = defaultRecipe(['s'], 'plaster', { widthPx: 900, heightPx: 600 });
  lead(recipe).size = sizeKnownBy({ overall: figure(600, 'mm', 'measured') }, 'follows');
  change(recipe);
  return recipe;
};

function opened(recipe: Recipe, Panel: (props: { recipe: Recipe }) => React.ReactNode) {
  function Held() {
    const held = useAppSelector((s) => s.draft.recipe);
    return held && <Panel recipe={held} />;
  }
  const page = show(<Held />, { recipe });
  return {
    ...page,
    source: () => lead(page.recipe()),
    light: () => lead(page.recipe()).light,
    valid: () => recipeSchema.safeParse(JSON.parse(JSON.stringify(page.recipe()))).success,
    tick: (name: string) => page.user.click(screen.getByRole('checkbox', { name })),
  };
}

describe('uneven light', () => {
  const NO_GLARE: GlareSearch = { places: [], busy: false, sentence: '' };
  const lit = (recipe: Recipe, glare = NO_GLARE, report: RenderReport | null = null) =>
    opened(recipe, ({ recipe }) => (
      <LightPanel recipe={recipe} source={lead(recipe)} report={report} glare={glare} />
    ));

  test('levelling begins with the fall of the light alone; what else it flattens is typed and emptied', async () => {
    const { tick, type, user, light, valid } = lit(base());
    await tick('Level uneven light');
    expect(light().levelling).toMatchObject({ radiusMm: null, shading: 0 });
    expect(screen.getByText(/corrects lighting falloff only/)).toBeTruthy();
    await type('Also flatten variation broader than', '20 cm');
    expect(light().levelling!.radiusMm).toBe(200);
    expect(screen.queryByText(/corrects lighting falloff only/)).toBeNull();
    expect(valid()).toBe(true);
    await user.clear(screen.getByRole('textbox', { name: 'Also flatten variation broader than' }));
    await user.keyboard('{Enter}');
    expect(light().levelling!.radiusMm).toBeNull();
    await tick('Level uneven light');
    expect(light().levelling).toBeNull();
  });

  test('shading of the relief is taken out by a share; its size is asked for only then', async () => {
    const { tick, type, light } = lit(base());
    await tick('Level uneven light');
    const size = () => screen.queryByRole('textbox', { name: 'Shading is finer than' });
    expect(size()).toBeNull();
    await type('Reduce relief shading, number', '0.4');
    expect(light().levelling!.shading).toBe(0.4);
    await type('Shading is finer than', '3');
    expect(light().levelling!.shadingMm).toBe(3);
    await type('Reduce relief shading, number', '1.5');
    expect(screen.getByRole('alert').textContent).toMatch(/between 0 and 1; 1\.5 is not/);
    expect(light().levelling!.shading).toBe(0.4);
  });

  test('how far the light falls off is said, with its map', () => {
    const map = { widthPx: 2, data: [0.7, 0.8, 0.9, 1] };
    const light = { fallPercent: 31.4, map, across: [1, 0.7], up: [1, 0.9] };
    lit(base(), NO_GLARE, { calibration: { light } } as unknown as RenderReport);
    expect(screen.getByText('31 %')).toBeTruthy();
    expect(screen.getByRole('img', { name: /Map of the illumination/ })).toBeTruthy();
  });

  const place = (x: number, isSmall: boolean) => ({
    points: [
      [x, 0.1],
      [x + 0.05, 0.1],
      [x, 1.2],
    ] as [number, number][],
    share: 0.002,
    times: 3,
    from: isSmall ? ([x, 0.5] as [number, number]) : null,
  });
  const glare = { ...NO_GLARE, places: [place(0.2, true), place(0.6, false)] } as unknown as GlareSearch;

  test('glare is kept out of all that is made of the picture, within its edges', async () => {
    const { press, source, valid } = lit(base(), glare);
    expect(screen.getByRole('status').textContent).toMatch(/^2 places, 0\.4.* up to 3(\.0)? times as bright/);
    await press('Keep out');
    const { keepOuts } = source().preparation;
    expect(keepOuts).toHaveLength(2);
    for (const { points } of keepOuts as { points: number[][] }[])
      expect(Math.max(...points.flat())).toBeLessThanOrEqual(1);
    expect(new Set(keepOuts.map(({ id }) => id)).size).toBe(2);
    expect(valid()).toBe(true);
  });

  test('small places are filled from around, large ones are left, and that is said; the filling is removed again', async () => {
    const { press, light, undo } = lit(base(), glare);
    await press('Fill from around');
    expect(light().fills).toHaveLength(1);
    expect(screen.getByRole('status').textContent).toMatch(/keep out the large ones/);
    expect(screen.getByText('1 place is filled.')).toBeTruthy();
    await press('Remove the filling');
    expect(light().fills).toEqual([]);
    undo();
    expect(light().fills).toHaveLength(1);
  });

  test.each([
    ['is looked for', { ...NO_GLARE, busy: true }, /Looking for glare/],
    ['is not there', NO_GLARE, /No glare is found/],
    ['could not be looked for', { ...NO_GLARE, sentence: 'The picture is gone.' }, /The picture is gone\./],
  ])('glare that %s', (_what, search, words) => {
    lit(base(), search);
    expect(screen.getByRole('status').textContent).toMatch(words);
    expect(screen.queryByRole('button', { name: 'Keep out' })).toBeNull();
  });
});

describe('balance', () => {
  const patches = CARD_REFERENCE.slice(0, 8).map(({ name, lab }, k) => ({
    name,
    lab,
    before: 9 + k,
    after: 0.4,
    leftOut: k === 2 ? 'clipped' : null,
    measured: lab,
  }));
  const fit = {
    meanError: 0.62,
    worst: { name: patches[1]!.name, error: 1.9 },
    expected: { mean: 0.8, worst: 2.4 },
    patches,
  };
  const balanced = (recipe: Recipe) =>
    opened(recipe, ({ recipe }) => (
      <BalancePanel
        recipe={recipe}
        source={lead(recipe)}
        sample={SAMPLE}
        report={{ calibration: { target: fit, grey: { gains: [1.1, 1, 0.9] } } } as unknown as RenderReport}
      />
    ));
  const by = (name: string) => screen.getByRole('radio', { name });
  const byCard = () =>
    base((recipe) => {
      lead(recipe).light = { ...plainLight(), balance: 'card' };
    });

  test('without a grey patch one is asked for, and nothing is changed before it is drawn', async () => {
    const { user, light, store } = balanced(base());
    await user.click(by('grey patch'));
    expect(screen.getByRole('alert').textContent).toMatch(/Draw round the grey patch/);
    expect(store.getState().bench).toMatchObject({ drawing: 'grey', look: 'received' });
    expect(light().balance).toBe('none');
  });

  test('the reflectance of a grey patch is a figure; its gains are said', async () => {
    const recipe = base((r) => {
      const grey = { points: [], lrv: figure(18, 'LRV', 'published') } as never;
      lead(r).light = { ...plainLight(), balance: 'grey', grey };
    });
    const { type, light, press, store } = balanced(recipe);
    expect(screen.getByText(/red 1\.1(00)?, green 1(\.000)?, blue 0\.9(00)?\./)).toBeTruthy();
    await type('Reflectance of the grey', '20');
    expect(light().grey!.lrv).toMatchObject({ value: 20, basis: 'assumed' });
    await press('Another place');
    expect(store.getState().bench.drawing).toBe('grey');
  });

  test('a card that is seen balances the picture and stays known to its size; one that is not is said', async () => {
    const { user, light, source } = balanced(base());
    card = null;
    await user.click(by('target card'));
    await screen.findByText(/No target card is seen/);
    expect(light().balance).toBe('none');
    card = {
      marks: [
        [0.1, 0.1],
        [0.2, 0.1],
        [0.2, 0.2],
        [0.1, 0.2],
      ],
    };
    await user.click(by('target card'));
    await waitFor(() => expect(light().balance).toBe('card'));
    expect(source().size!.card!.marks).toEqual(card.marks);
    // The size goes on being what was measured.
    expect(source().size!.overall.across!.value).toBe(600);
  });

  test('what is left is said with its worst patch; a patch is left out and taken in; a clipped one has no choice', async () => {
    const { user, light } = balanced(byCard());
    const table = within(screen.getByRole('table', { name: 'Patches of the target card' }));
    expect(screen.getByText(/^Residual: mean/).textContent).toMatch(/mean ΔE00 0\.62, worst 1\.90? at/);
    const [first, , third] = patches;
    const box = table.getByRole('checkbox', { name: `${first!.name} takes part in the fit` });
    await user.click(box);
    expect(light().target.leftOut).toEqual([first!.name]);
    expect(screen.getByText('Patches, 1 left out')).toBeTruthy();
    await user.click(box);
    expect(light().target.leftOut).toEqual([]);
    expect(table.queryByRole('checkbox', { name: `${third!.name} takes part in the fit` })).toBeNull();
  });

  test('the value of a patch is corrected by hand; what is no colour leaves it; the card’s own come back', async () => {
    const { type, light, press, valid } = balanced(byCard());
    const [first] = patches;
    await type(`${first!.name} is, Lab`, 'Lab 50 1 2');
    const value = () => light().target.reference?.patches.find(({ name }) => name === first!.name)!.lab;
    expect(value()).toEqual([50, 1, 2]);
    expect(light().target.reference!.patches).toHaveLength(CARD_REFERENCE.length);
    expect(valid()).toBe(true);
    await type(`${first!.name} is, Lab`, 'nearly white');
    expect(screen.getByRole('alert').textContent).toMatch(new RegExp(`^${first!.name}: `));
    expect(value()).toEqual([50, 1, 2]);
    await press('Use the card’s own');
    expect(light().target.reference).toBeNull();
  });

  test('flare is subtracted or not', async () => {
    const { tick, light } = balanced(byCard());
    const before = light().target.offset;
    await tick('Subtract flare');
    expect(light().target.offset).toBe(!before);
  });
});
