/** @jest-environment ./script/jest-page-environment.cjs */
import { screen, waitFor, within } from '@testing-library/react';
import {
  defaultRecipe,
  generatedRecipe,
  lead,
  recipeSchema,
  type Recipe,
  type RenderReport,
} from '@jossel/core/finish';
import type { ColourSettings } from '@jossel/core/light';
import type { Sample } from '../../../app/api';
import { useAppSelector } from '../../../app/store';
import { show, type Answers } from '../../../test/page';
import { MatchPanel } from './MatchPanel';
import { WaysPanel } from './WaysPanel';

const SAMPLES = ['board.png', 'moss.jpg'].map(
  (fileName, k) => ({ id: `s${k}`, fileName, widthPx: 900, heightPx: 600 }) as Sample,
);
const base = (change: Partial<ColourSettings> = {}): Recipe => {
  const recipe = defaultRecipe(['s0'], 'plaster', { widthPx: 900, heightPx: 600 });
  return { ...recipe, colour: { ...recipe.colour, ...change } };
};

function opened(
  recipe: Recipe,
  Panel: (props: { recipe: Recipe }) => React.ReactNode,
  answers: Answers = {},
) {
  function Held() {
    const held = useAppSelector((s) => s.draft.recipe);
    return held && <Panel recipe={held} />;
  }
  const page = show(<Held />, {
    recipe,
    answers: {
      'GET /api/samples': () => ({ body: { items: SAMPLES, total: 2 } }),
      'GET /api/finishes': () => ({
        body: {
          items: [
            { id: 'f', name: 'This one' },
            { id: 'o', name: 'Oak' },
          ],
          total: 2,
          suppliers: [],
        },
      }),
      ...answers,
    },
  });
  return {
    ...page,
    colour: () => page.recipe().colour,
    valid: () => recipeSchema.safeParse(JSON.parse(JSON.stringify(page.recipe()))).success,
  };
}

describe('colourways', () => {
  const ways = (recipe: Recipe, answers?: Answers) =>
    opened(recipe, (props) => <WaysPanel {...props} finishId="f" />, answers);
  const names = () =>
    within(screen.getByRole('list', { name: 'Colourways' }))
      .queryAllByRole('textbox', { name: /^Name of colourway/ })
      .map((box) => (box as HTMLInputElement).value);

  test('a new one begins grey and assumed; its colour is typed in any form, and undone', async () => {
    const { press, type, colour, undo, valid } = ways(base());
    await press('Another colourway');
    expect(names()).toEqual(['Colourway 1']);
    expect(colour().ways[0]!.target.basis).toBe('assumed');
    await type('Colour of Colourway 1', '#C8A274');
    expect(colour().ways[0]!.target.lab[0]).toBeCloseTo(69.1, 0);
    expect(valid()).toBe(true);
    await type('Colour of Colourway 1', 'purplish');
    expect(screen.getByRole('alert')).toBeTruthy();
    expect(colour().ways[0]!.target.lab[0]).toBeCloseTo(69.1, 0);
    undo();
    expect(colour().ways[0]!.target.lab).toEqual([50, 0, 0]);
  });

  test('a list is added as published colours; a line that cannot be read is named and nothing is added', async () => {
    const { user, press, colour } = ways(base());
    const list = screen.getByRole('textbox', { name: /^List, one a line/ });
    await user.type(list, 'Moss; M-04; Lab 48 -12 18{Enter}Sand; no colour');
    await press('Add these colourways');
    expect(screen.getByRole('alert').textContent).toMatch(/[Ll]ine 2|Sand/);
    expect(colour().ways).toEqual([]);
    await user.clear(list);
    await user.type(list, 'Moss; M-04; Lab 48 -12 18{Enter}Sand; #C8A274');
    await press('Add these colourways');
    expect(colour().ways.map(({ name, code, target }) => [name, code, target.basis])).toEqual([
      ['Moss', 'M-04', 'published'],
      ['Sand', '', 'published'],
    ]);
    expect((list as HTMLTextAreaElement).value).toBe('');
  });

  test('one that is on the plate is taken from it when it is removed', async () => {
    const { press, user, store, colour } = ways(base());
    await press('Another colourway');
    const { id } = colour().ways[0]!;
    await user.click(screen.getByRole('button', { name: /on the plate/ }));
    expect(store.getState().bench.way).toBe(id);
    await press('Remove Colourway 1');
    expect(store.getState().bench.way).toBeNull();
    expect(colour().ways).toEqual([]);
  });

  test('only a part is recoloured where the picture has parts', async () => {
    const recipe = base();
    lead(recipe).preparation.parts = [{ id: 'joint', name: 'Joints' }] as never;
    const { choose, colour } = ways(recipe);
    await choose(/Colourways recolour/, 'only: Joints');
    expect(colour().recoloured).toBe('joint');
    await choose(/Colourways recolour/, 'the whole finish');
    expect(colour().recoloured).toBeNull();
  });

  test('colours are drawn from a picture, with their shares, and say where they come from', async () => {
    const { choose, press, colour, asked } = ways(base(), {
      'GET /api/samples/s1/palette': () => ({
        body: {
          colours: [
            { lab: [40, -10, 20], share: 0.7 },
            { lab: [70, 5, 30], share: 0.3 },
          ],
        },
      }),
    });
    await choose(/Draw colours from a picture/, 'moss.jpg');
    expect(await screen.findByRole('img', { name: 'Shares: 70 %, 30 %' })).toBeTruthy();
    expect(screen.getByText('Only 2 colours stand apart in this picture.')).toBeTruthy();
    await press('Add all');
    expect(colour().ways.map(({ name, target }) => [name, target.basis, target.note])).toEqual([
      ['moss 1', 'inferred', 'Drawn from moss'],
      ['moss 2', 'inferred', 'Drawn from moss'],
    ]);
    expect(asked).toContain('GET /api/samples/s1/palette');
  });
});

describe('what governs the colour', () => {
  const report = {
    lrv: 41.26,
    meanLab: [70.2, 1.5, 9.8],
    factors: [1, 1, 1],
    clipped: { high: 0.02, low: 0 },
    claims: [
      { way: 'picture', lrv: 41.3, lrvOff: 0, deltaE: 0 },
      { way: 'lrv', lrv: 55, lrvOff: 13.7, deltaE: null },
    ],
  } as unknown as RenderReport;
  const matched = (recipe: Recipe, answers?: Answers) =>
    opened(
      recipe,
      (props) => <MatchPanel {...props} finishId="f" report={report} sample={undefined} sizeMm={null} />,
      answers,
    );
  const rule = (name: string) => screen.getByRole('radio', { name });

  test('a figure that is asked for begins with what the repeat measures, so that nothing jumps', async () => {
    const { user, colour, valid } = matched(base());
    await user.click(rule('reflectance'));
    expect(colour()).toMatchObject({ ruling: 'lrv', lrv: { value: 41.3, basis: 'assumed' } });
    await user.click(rule('colour'));
    expect(colour()).toMatchObject({ ruling: 'colour', colour: { lab: [70.2, 1.5, 9.8], basis: 'assumed' } });
    expect(valid()).toBe(true);
  });

  test('the first figure that is typed governs; taken out, the picture does again', async () => {
    const { type, colour, user } = matched(base());
    await type('Light reflectance value', '55');
    expect(colour()).toMatchObject({ ruling: 'lrv', lrv: { value: 55 } });
    await type('Colour', 'Lab 60 2 8');
    expect(colour()).toMatchObject({ ruling: 'lrv', colour: { lab: [60, 2, 8] } });
    await user.clear(screen.getByRole('textbox', { name: 'Light reflectance value' }));
    await user.keyboard('{Enter}');
    expect(colour()).toMatchObject({ ruling: 'picture', lrv: null });
  });

  test('all that is known stands beside the result, with its difference; what is clipped is said', () => {
    matched(base());
    const table = within(screen.getByRole('table', { name: 'What is known of the colour' }));
    expect(table.getByRole('rowheader', { name: 'picture, governs' })).toBeTruthy();
    expect(table.getByText('+13.7 LRV')).toBeTruthy();
    expect(screen.getByText(/2 % is clipped at white/)).toBeTruthy();
  });

  test('what is generated has no picture that could govern', () => {
    matched(generatedRecipe('marble'));
    expect(rule('as generated')).toBeTruthy();
    expect(screen.getByRole('rowheader', { name: 'as generated, governs' })).toBeTruthy();
    expect(screen.queryByText(/picture, governs/)).toBeNull();
  });

  test('another finish is matched by its mean and spread, and removed again', async () => {
    const { choose, colour, press, valid } = matched(base(), {
      'POST /api/finishes/o/colour': () => ({
        body: {
          repeat: { lrv: 30, lab: [61, 5, 20], meanLinear: [0.35, 0.29, 0.2], spread: [0.1, 0.1, 0.1] },
          spots: [],
        },
      }),
    });
    await choose(/Another finish or picture to match/, 'Oak');
    await waitFor(() => expect(colour().ruling).toBe('reference'));
    expect(colour().reference).toMatchObject({
      name: 'Oak',
      from: { kind: 'finish', id: 'o' },
      takeSpread: 0.5,
    });
    expect(valid()).toBe(true);
    await press('Remove');
    expect(colour()).toMatchObject({ ruling: 'picture', reference: null });
  });

  test('a finish that cannot be read is said, and nothing changes', async () => {
    const { choose, colour } = matched(base(), {
      'POST /api/finishes/o/colour': () => ({
        status: 409,
        body: { detail: 'This finish has no sample yet.' },
      }),
    });
    await choose(/Another finish or picture to match/, 'Oak');
    expect((await screen.findByRole('alert')).textContent).toMatch(/no sample yet/);
    expect(colour().ruling).toBe('picture');
  });

  test('spectral readings of a file are listed under three lights; one is used as a measured colour', async () => {
    const { user, press, colour } = matched(base());
    const bands = Array.from({ length: 31 }, (_, k) => 400 + 10 * k);
    const table = ['Name', ...bands].join(',') + '\n' + ['Flat grey', ...bands.map(() => 0.2)].join(',');
    const input = document.querySelector<HTMLInputElement>('input[type="file"]')!;
    await user.upload(input, new File([table], 'meter.csv', { type: 'text/csv' }));
    await screen.findByRole('button', { name: 'Use Flat grey as the colour' });
    await press('Use Flat grey as the colour');
    const { lab, basis, note } = colour().colour!;
    expect(lab[0]).toBeCloseTo(51.8, 0);
    expect(Math.hypot(lab[1], lab[2])).toBeLessThan(0.3);
    expect([basis, note]).toEqual(['measured', expect.stringMatching(/“Flat grey” of meter/)]);
  });
});
