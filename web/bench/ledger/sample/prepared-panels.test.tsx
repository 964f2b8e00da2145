/** @jest-environment ./script/jest-page-environment.cjs */
import { screen, waitFor, within } from '@testing-library/react';
import { defaultRecipe, lead, reliefFrom, recipeSchema, type Recipe } from '@jossel/core/finish';
import { sizeKnownBy } from '@jossel/core/size';
import { figure } from '@jossel/core/units';
import type { Finish, Sample } from '../../../app/api';
import { useAppSelector } from '../../../app/store';
import { show } from '../../../test/page';
import { answerAsWorker } from '../../../test/worker';
import { geometryOf } from '../../picture-in-hand';
import { ContinuityLinesPanel, KeepOutsPanel } from './MarksPanels';
import type { PanelProps } from './panel-props';
import { SetPanel } from './SetPanel';
import { StraightenPanel } from './StraightenPanel';

/** What the worker sees in the picture. */
const sees: { card: unknown; structure: unknown } = { card: null, structure: null };
answerAsWorker({ card: () => sees.card, structure: () => sees.structure });

const SHAPE = { widthPx: 900, heightPx: 600 };
const SAMPLE = { id: 's', fileName: 'wall.png', ...SHAPE } as Sample;

function opened(
  Panel: (props: PanelProps) => React.ReactNode,
  change: (recipe: Recipe) => void = () => undefined,
) {
  const recipe = defaultRecipe(['s'], 'brick', SHAPE);
  lead(recipe).size = sizeKnownBy({ overall: figure(900, 'mm', 'measured') }, 'follows');
  change(recipe);
  function Held() {
    const held = useAppSelector((s) => s.draft.recipe);
    if (!held) return null;
    const source = lead(held);
    return (
      <Panel recipe={held} source={source} sample={SAMPLE} geometry={geometryOf(held, source, [SAMPLE])} />
    );
  }
  const page = show(<Held />, { recipe });
  return {
    ...page,
    prepared: () => lead(page.recipe()).preparation,
    valid: () => recipeSchema.safeParse(JSON.parse(JSON.stringify(page.recipe()))).success,
  };
}

describe('straightening', () => {
  const straightened = (change?: (recipe: Recipe) => void) =>
    opened((p) => <StraightenPanel {...p} />, change);
  const CORNERS = [
    [0.05, 0.04],
    [0.96, 0.02],
    [0.97, 0.95],
    [0.03, 0.98],
  ];

  test('quarter turns go round to where they began, and the whole picture is one press away', async () => {
    const { press, prepared, valid } = straightened();
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Whole picture' }).disabled).toBe(true);
    await press('Quarter turn to the left');
    const turned = prepared().frame;
    expect(turned).not.toBeNull();
    expect(valid()).toBe(true);
    for (let k = 0; k < 4; k++) await press('Quarter turn to the right');
    expect(prepared().frame).toEqual(turned);
    await press('Whole picture');
    expect(prepared().frame).toBeNull();
  });

  test('by the structure: its corners are taken, and how it leaned is said; a level one is left', async () => {
    const { press, prepared } = straightened();
    sees.structure = { across: { period: 0.2 }, up: null, stagger: 0, straighten: null };
    await press('Straighten by the structure');
    expect((await screen.findByText(/already straight in this frame/)).getAttribute('role')).toBe('alert');
    expect(prepared().frame).toBeNull();
    const straighten = { corners: CORNERS, slopeDeg: -1.5, converges: { across: 0, up: 0 } };
    sees.structure = { across: { period: 0.2 }, up: null, stagger: 0, straighten };
    await press('Straighten by the structure');
    expect(await screen.findByText(/^Straightened: courses rose by 1\.50?° to the right/)).toBeTruthy();
    expect(prepared().frame).toEqual(CORNERS);
  });

  test('by the card: without one that is said; with one it is also what the size is known by', async () => {
    const { press, prepared, recipe } = straightened();
    sees.card = null;
    await press('Straighten by the card');
    expect(await screen.findByText(/No target card is seen/)).toBeTruthy();
    const marks = [
      [0.1, 0.1],
      [0.25, 0.1],
      [0.25, 0.2],
      [0.1, 0.2],
    ];
    sees.card = { marks };
    await press('Straighten by the card');
    await waitFor(() => expect(prepared().frame).not.toBeNull());
    expect(lead(recipe()).size!.card!.marks).toEqual(marks);
  });

  test('what is to be drawn on the plate is said on its button, and taken back by it', async () => {
    const { press, store } = straightened();
    await press('Turn along the grain');
    expect(store.getState().bench.drawing).toBe('grain');
    await press('Draw a straight edge');
    expect(store.getState().bench.drawing).toBe('bow');
    await press('Draw it on the plate now');
    expect(store.getState().bench.drawing).toBeNull();
  });
});

describe('marks', () => {
  const STROKE = {
    id: 'k',
    kind: 'stroke' as const,
    points: [
      [0.2, 0.5],
      [0.8, 0.5],
    ] as [number, number][],
    width: 60 / 900,
    erase: false,
  };

  test('what is kept out is said as a share of what is used, and removed as one step', async () => {
    const { press, prepared, undo } = opened(
      (p) => <KeepOutsPanel {...p} />,
      (recipe) => {
        lead(recipe).preparation.keepOuts = [STROKE] as never;
      },
    );
    // A stroke of 540 × 60 mm with round ends, on 900 × 600 mm.
    const share = Number(
      /^([\d.]+) % of the used part/.exec(screen.getByText(/of the used part/).textContent!)![1],
    );
    expect(share).toBeGreaterThan(5.9);
    expect(share).toBeLessThan(7.1);
    await press('Remove all');
    expect(prepared().keepOuts).toEqual([]);
    expect(screen.getByText('Nothing is kept out.')).toBeTruthy();
    undo();
    expect(prepared().keepOuts).toHaveLength(1);
  });

  test('the brush has a width in mm, within what the picture shows; outlines have none', async () => {
    const { type, user, store } = opened((p) => <KeepOutsPanel {...p} />);
    await type('Width of the brush', '2.5 cm');
    expect(store.getState().bench.brush.widthMm).toBe(25);
    await type('Width of the brush', '3 m');
    expect(screen.getByRole('alert').textContent).toMatch(/between .* and 900.mm; 3000.mm is not/);
    await user.keyboard('{Escape}');
    await user.click(screen.getByRole('radio', { name: 'outline' }));
    expect(screen.queryByRole('textbox', { name: 'Width of the brush' })).toBeNull();
    await user.click(screen.getByRole('button', { name: 'take away' }));
    expect(store.getState().bench.brush).toMatchObject({ kind: 'outline', erase: true });
  });

  test('continuity lines are removed one by one', async () => {
    const { press, prepared } = opened(
      (p) => <ContinuityLinesPanel {...p} />,
      (recipe) => {
        const { kind: _, erase: __, ...line } = STROKE;
        lead(recipe).preparation.continuityLines = [line, { ...line, id: 'l' }] as never;
      },
    );
    await press('Remove continuity line 1');
    expect(prepared().continuityLines.map(({ id }) => id)).toEqual(['l']);
    await press('Remove continuity line 1');
    expect(screen.getByText('No continuity line is drawn yet.')).toBeTruthy();
  });
});

describe('maps of a set', () => {
  const finish = {
    samples: [SAMPLE, { ...SAMPLE, id: 'n', fileName: 'wall normal.png' }],
  } as unknown as Finish;
  const withNormals = (recipe: Recipe) => {
    lead(recipe).maps = [{ sampleId: 'n', role: 'normal', greenRuns: 'up' }] as never;
    recipe.relief = reliefFrom(recipe.relief, 'map');
  };
  const set = (change?: (recipe: Recipe) => void) =>
    opened(({ recipe, source }) => <SetPanel finish={finish} recipe={recipe} source={source} />, change);

  test('one picture alone says where maps come in', () => {
    set();
    expect(screen.getByText(/brought in\s+together under Receiving/)).toBeTruthy();
  });

  test('which way green runs is asked of normals alone; another role is chosen from the list', async () => {
    const { user, choose, recipe } = set(withNormals);
    const map = () => lead(recipe()).maps[0]!;
    await user.click(screen.getByRole('radio', { name: 'green down' }));
    expect(map().greenRuns).toBe('down');
    await choose(/What wall normal\.png shows/, 'roughness');
    expect(map().role).toBe('roughness');
    expect(screen.queryByRole('radio', { name: 'green down' })).toBeNull();
  });

  test('without the map that carries it, the relief is read from the picture again', async () => {
    const { press, recipe, undo } = set(withNormals);
    const kinds = () => recipe().relief.contributions.map((c) => c.kind);
    expect(kinds()).toContain('map');
    await press('Remove');
    expect(lead(recipe()).maps).toEqual([]);
    expect(kinds()).not.toContain('map');
    undo();
    expect(kinds()).toContain('map');
    const from = within(screen.getByRole('radiogroup', { name: 'Where the relief comes from' }));
    expect(from.getByRole('radio', { name: 'relief from the map' }).getAttribute('aria-checked')).toBe(
      'true',
    );
  });
});
