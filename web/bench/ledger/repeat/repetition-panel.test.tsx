/** @jest-environment ./script/jest-page-environment.cjs */
import { screen, within } from '@testing-library/react';
import {
  defaultRecipe,
  recipeSchema,
  type FoundTelltale,
  type Repetition,
  type Recipe,
} from '@jossel/core/finish';
import { useAppSelector } from '../../../app/store';
import { show } from '../../../test/page';
import type { Drawn } from '../../../workers/render.worker';
import type { RepetitionSearch } from '../../use-repetition';
import { AnewPanel } from './AnewPanel';
import { RepetitionPanel } from './RepetitionPanel';

const DRAWN = { report: { repeatMm: { width: 600, height: 400 } } } as unknown as Drawn;

function base(method: 'edges' | 'composed'): Recipe {
  const recipe = defaultRecipe(['s'], 'stone', { widthPx: 900, heightPx: 600 });
  return { ...recipe, repeat: { ...recipe.repeat, method } };
}

/** One in a square of the sample. @param differs in L*, a*, b* */
function telltale(
  x: number,
  contrast: number,
  differs: readonly [number, number, number],
  isKnown = true,
): FoundTelltale {
  const outline = [
    [x, 0.2],
    [x + 0.1, 0.2],
    [x + 0.1, 0.3],
    [x, 0.3],
  ] as [number, number][];
  const source = base('edges').sources[0]!.id;
  return {
    ...{ at: [x + 0.05, 0.25], outline, share: 0.01, contrast, differs, out: 5 },
    taken: isKnown ? [{ source, area: null, points: outline }] : [],
  } as unknown as FoundTelltale;
}
const TELLTALES = [
  telltale(0.1, 9.4, [-9, 1, 1]),
  telltale(0.4, 5.2, [1, 4, -3]),
  telltale(0.7, 1.1, [0.2, 0.4, 1]),
];
const seen = (farthestMm: number | null): Repetition['seen'] =>
  ({
    farthestMm,
    nearestMm: 2000,
    strongestMm: 7000,
    strongest: { lengthMm: 600, contrast: 0.0123 },
    curve: [],
  }) as unknown as Repetition['seen'];
const found = (telltales: readonly FoundTelltale[], farthestMm: number | null = 24000): RepetitionSearch => ({
  found: { telltales, seen: seen(farthestMm) },
  busy: false,
  sentence: '',
});

function opened(recipe: Recipe, search: RepetitionSearch) {
  function Held() {
    const held = useAppSelector((s) => s.draft.recipe);
    return (
      held && (
        <>
          <RepetitionPanel recipe={held} drawn={DRAWN} repetition={search} />
          <AnewPanel recipe={held} />
        </>
      )
    );
  }
  const page = show(<Held />, { recipe });
  return {
    ...page,
    redone: () => page.recipe().repeat.arrangements[0]!.redone,
    valid: () => recipeSchema.safeParse(JSON.parse(JSON.stringify(page.recipe()))).success,
  };
}
const items = () =>
  within(screen.getByRole('region', { name: 'Telltales' }))
    .getAllByRole('listitem')
    .map((item) => item.textContent!.replace(/Replace$/, ''));

test('telltales are listed with how they stand out and how large they are', () => {
  opened(base('composed'), found(TELLTALES));
  expect(items()).toEqual([
    expect.stringMatching(/^19\.40? ΔE darker, 49(\.0)?.mm$/),
    expect.stringMatching(/^25\.20? ΔE redder, 49(\.0)?.mm$/),
    expect.stringMatching(/^31\.10? ΔE yellower, 49(\.0)?.mm$/),
  ]);
});

test.each([
  [
    'from how far',
    found([], 24000),
    /visible from 2(\.0)?.m to 24(\.0)?.m, most at 7(\.0)?.m \(period 600.mm, contrast 1\.23 %\)/,
  ],
  ['and beyond', found([], 3e5), /to 300(\.0)?.m and beyond/],
  ['not at all', found([], null), /not visible from any distance/],
  ['not known yet', { found: null, busy: true, sentence: '' }, /Looking at the repeat/],
])('the repetition is seen %s', (_what, search, words) => {
  opened(base('composed'), search);
  expect(screen.getByRole('status').textContent).toMatch(words);
});

test('in a composed repeat one is laid anew, again with other copies, and taken back', async () => {
  const { press, redone, undo, valid } = opened(base('composed'), found(TELLTALES));
  await press('Replace telltale 2');
  expect(redone()).toHaveLength(1);
  expect(redone()[0]!.taken).toHaveLength(1);
  expect(valid()).toBe(true);
  const areas = within(screen.getByRole('list', { name: 'Areas re-laid' }));
  expect(areas.getByText(/^1\. replaced/)).toBeTruthy();
  const { seed } = redone()[0]!;
  await press('Re-lay area 1 again');
  expect(redone()[0]!.seed).not.toBe(seed);
  await press('Undo re-laying area 1');
  expect(redone()).toEqual([]);
  undo();
  expect(redone()).toHaveLength(1);
});

test('all that stand out by more than a contrast are replaced at once', async () => {
  const { press, type, redone } = opened(base('composed'), found(TELLTALES));
  expect(screen.getByRole('button', { name: 'Replace all 2' })).toBeTruthy();
  await type('Minimum contrast', '6');
  await press('Replace one');
  expect(redone()).toHaveLength(1);
  await type('Minimum contrast', '20');
  expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Replace all 0' }).disabled).toBe(true);
});

test('in a repeat that is closed at its edges one becomes a keep-out of the sample', async () => {
  const { press, recipe, valid } = opened(base('edges'), found(TELLTALES));
  expect(screen.getByText(/Areas can be re-laid in a composed repeat/)).toBeTruthy();
  await press('Replace telltale 1');
  expect(recipe().sources[0]!.preparation.keepOuts).toHaveLength(1);
  expect(valid()).toBe(true);
});

test('where it is not known any more where one comes from, that is said and nothing is changed', async () => {
  const start = base('composed');
  const { press, recipe } = opened(start, found([telltale(0.1, 9, [-9, 0, 0], false)]));
  await press('Replace telltale 1');
  expect(screen.getByRole('alert').textContent).toMatch(/not known any more/);
  expect(recipe()).toEqual(start);
});

test('a repeat in which nothing stands out says so; the field that is looked at is typed', async () => {
  const { type, store } = opened(base('composed'), found([]));
  expect(screen.getByText('Nothing in the repeat stands out from the rest.')).toBeTruthy();
  await type(/^Side of the field/, '12 m');
  expect(store.getState().bench.lookedAtMm).toBe(12000);
});
