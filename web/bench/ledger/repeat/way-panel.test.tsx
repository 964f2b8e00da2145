/** @jest-environment ./script/jest-page-environment.cjs */
import { act, screen, waitFor, within } from '@testing-library/react';
import { defaultRecipe, lead, recipeSchema, repeatGeometry, type Recipe } from '@jossel/core/finish';
import type { BoardsLaid, PiecesJudged, RepeatSettings } from '@jossel/core/repeat';
import { sizeKnownBy, type FoundStructure } from '@jossel/core/size';
import { figure } from '@jossel/core/units';
import type { Sample } from '../../../app/api';
import { useAppSelector } from '../../../app/store';
import { show } from '../../../test/page';
import { answerAsWorker } from '../../../test/worker';
import { geometryOf } from '../../picture-in-hand';
import type { DrawnOf } from '../../use-drawn';
import type { StructureSearch } from '../../use-structure';
import { WayPanel } from './WayPanel';

const SHAPE = { widthPx: 900, heightPx: 600 };
const SAMPLE = { id: 's', fileName: 'wall.png', ...SHAPE } as Sample;
const SEAM = { acrossWidth: 1, acrossHeight: 1, inside: { acrossWidth: null, acrossHeight: null } };
const NOT_FOUND: StructureSearch = { found: null, busy: false, sentence: '' };

/** What the worker is asked and answers, once it is let go on. */
let answer: (advice: unknown) => void;
let stopped: number;
answerAsWorker({
  listen: () => undefined,
  advice: () => new Promise((resolve) => (answer = resolve)),
  stopAdvice: () => void stopped++,
  relayPieces: () => new Promise((resolve) => (answer = resolve)),
  stopRelaying: () => void stopped++,
});
beforeEach(() => {
  stopped = 0;
  answer = () => undefined;
});

function Held({
  search,
  pieces,
  boards,
}: {
  search: StructureSearch;
  pieces: PiecesJudged | null;
  boards: BoardsLaid | null;
}) {
  const recipe = useAppSelector((s) => s.draft.recipe);
  if (!recipe) return null;
  const { repeatMm } = repeatGeometry(recipe, SHAPE);
  const report = {
    repeatMm,
    arrangement: null,
    copies: 7,
    boards,
    repeatToleranceMm: { width: 1, height: 1 },
    seam: SEAM,
  };
  return (
    <WayPanel
      {...{ recipe, search, pieces }}
      plan={repeatGeometry(recipe, SHAPE)}
      size={geometryOf(recipe, lead(recipe), [SAMPLE]).size}
      samples={[SAMPLE]}
      drawn={boards ? ({ report } as unknown as DrawnOf) : null}
    />
  );
}

function opened(
  change: (recipe: Recipe) => void = () => undefined,
  { search = NOT_FOUND, pieces = null as PiecesJudged | null, boards = null as BoardsLaid | null } = {},
) {
  const recipe = defaultRecipe(['s'], 'brick', SHAPE);
  lead(recipe).size = sizeKnownBy({ overall: figure(900, 'mm', 'measured') }, 'follows');
  change(recipe);
  const page = show(<Held {...{ search, pieces, boards }} />, { recipe });
  return {
    ...page,
    repeat: () => page.recipe().repeat,
    valid: () => recipeSchema.safeParse(JSON.parse(JSON.stringify(page.recipe()))).success,
    take: (name: string) => page.user.click(screen.getByRole('radio', { name })),
  };
}
const axis = (name: 'Horizontal' | 'Vertical') => within(screen.getByRole('region', { name }));
const composed = (recipe: Recipe) => {
  recipe.repeat = { ...recipe.repeat, method: 'composed' };
};

describe('broken pieces', () => {
  const box = { left: 0.1, top: 0.1, width: 0.2, height: 0.1 };
  const BROKEN = {
    ...{ pieces: 40, whereCopiesMeet: 12, jointEnds: 0 },
    broken: [{ kind: 'cut' as const, ...box }],
  };
  const arrangementsWith = (recipe: Recipe) => {
    const areas = [
      [
        [0.1, 0.1],
        [0.3, 0.1],
        [0.3, 0.2],
      ],
    ] as [number, number][][];
    return recipe.repeat.arrangements.map((a) => ({
      ...a,
      redone: [{ id: 'p', seed: 7, areas, taken: [] }],
    }));
  };

  test('of a composed repeat are re-laid as one step; where none comes out whole, that is said', async () => {
    const page = opened(composed, { pieces: BROKEN });
    await page.press('Re-lay broken pieces');
    await waitFor(() => expect(screen.getByText(/Re-laying them/)).toBeTruthy());
    const before = page.repeat();
    const arrangements = arrangementsWith(page.recipe());
    await act(async () => answer({ arrangements, pieces: 40, brokenBefore: 1, broken: 0 }));
    await waitFor(() => expect(page.repeat().arrangements).toEqual(arrangements));
    expect(page.valid()).toBe(true);
    page.undo();
    expect(page.repeat()).toEqual(before);
    await page.press('Re-lay broken pieces');
    await act(async () =>
      answer({ arrangements: before.arrangements, pieces: 40, brokenBefore: 1, broken: 1 }),
    );
    await screen.findByText(/None came out whole/);
    expect(page.repeat()).toEqual(before);
  });

  test('are left as they are when it is stopped, and cannot be re-laid in a repeat that is closed at its edges', async () => {
    const page = opened(composed, { pieces: BROKEN });
    const before = page.repeat();
    await page.press('Re-lay broken pieces');
    await page.press('Stop re-laying');
    await waitFor(() => expect(stopped).toBe(1));
    await act(async () => answer(null));
    expect(await screen.findByRole('button', { name: 'Re-lay broken pieces' })).toBeTruthy();
    expect(page.repeat()).toEqual(before);
    await page.take('closed at its edges');
    expect(screen.queryByRole('button', { name: 'Re-lay broken pieces' })).toBeNull();
  });
});

describe('a suggestion', () => {
  const tried = (name: string, settings: Partial<RepeatSettings>, broken: number) => ({
    name,
    settings,
    pieces: 50,
    broken,
    jointEnds: 0,
    seamShows: false,
    meetShare: 0.2,
    unlikeShare: 0.01,
    mixedShare: 0,
    mixedContrast: 1,
    shown: { widthPx: 1, heightPx: 1, rgba: new Uint8ClampedArray(4) },
  });
  const structure = { across: { period: 0.25, first: 0 }, up: null, stagger: 0 };
  const base = defaultRecipe(['s'], 'brick', SHAPE).repeat;
  const edges = { across: base.across, up: base.up };
  const COMPOSED = { ...edges, method: 'composed' as const, structure };
  const CUT = {
    ...edges,
    method: 'edges' as const,
    structure,
    across: { ...base.across, closing: 'cut' as const },
  };
  const ADVICE = {
    settings: { ...COMPOSED, why: ['A regular structure was found.', 'composed anew none of 50'] },
    tried: [tried('composed anew', COMPOSED, 0), tried('cut at its edges', CUT, 7)],
  };
  const suggest = async (page: ReturnType<typeof opened>) => {
    await page.press('Suggest a method');
    await waitFor(() => expect(screen.getByText(/Trying methods on the sample/)).toBeTruthy());
  };

  test('is set as one step, with its reasons and the next best beside it; by hand it is no suggestion any more', async () => {
    const page = opened();
    await suggest(page);
    await act(async () => answer(ADVICE));
    const why = await screen.findByRole('list', { name: 'Why this method' });
    expect(within(why).getAllByRole('listitem')).toHaveLength(2);
    expect(page.repeat()).toMatchObject({ method: 'composed', structure });
    const methods = within(screen.getByRole('group', { name: 'Methods that were tried' }));
    expect(methods.getByText('all 50 pieces whole')).toBeTruthy();
    expect(methods.getByText('7 of 50 pieces broken')).toBeTruthy();
    expect(methods.getByText('in use')).toBeTruthy();
    await page.press('Use cut at its edges');
    expect(page.repeat()).toMatchObject({ method: 'edges', across: { closing: 'cut' } });
    expect(screen.getByRole('list', { name: 'Why this method' })).toBeTruthy();
    await page.take('composed');
    expect(page.repeat().why).toEqual([]);
    expect(screen.queryByRole('list', { name: 'Why this method' })).toBeNull();
    page.undo();
    page.undo();
    page.undo();
    expect(page.repeat()).toEqual(base);
  });

  test('is stopped, and nothing is changed', async () => {
    const page = opened();
    await suggest(page);
    await page.press('Stop trying');
    await waitFor(() => expect(stopped).toBe(1));
    await act(async () => answer(null));
    expect(await screen.findByRole('button', { name: 'Suggest a method' })).toBeTruthy();
    expect(page.repeat()).toEqual(base);
  });

  test('of a sample that was changed meanwhile is not set, and that is said', async () => {
    const page = opened();
    await suggest(page);
    await page.take('composed');
    await act(async () => answer(ADVICE));
    expect((await screen.findByRole('alert')).textContent).toMatch(/changed meanwhile/);
    expect(page.repeat().structure).toEqual(base.structure);
  });
});

describe('closed at its edges', () => {
  test('each axis by its own; an overlap only where something is mixed or cut', async () => {
    const { repeat, user, type, valid } = opened();
    const overlap = () => axis('Horizontal').queryByRole('textbox', { name: 'Overlap' });
    expect(overlap()).toBeTruthy();
    await user.click(axis('Horizontal').getByRole('radio', { name: 'mirror' }));
    expect(overlap()).toBeNull();
    expect(repeat().across.closing).toBe('mirror');
    expect(repeat().up.closing).toBe('blend');
    await user.click(axis('Vertical').getByRole('radio', { name: 'cut' }));
    await type('Overlap', '12 cm');
    expect(repeat().up).toMatchObject({ closing: 'cut', overlapMm: 120 });
    expect(valid()).toBe(true);
  });
});

describe('composed anew', () => {
  test('its size is typed or left to the sample; a size that does not close is said with the one that does', async () => {
    const { repeat, type, user } = opened((recipe) => {
      composed(recipe);
      recipe.repeat.structure = { across: { period: 0.25, first: 0 }, up: null, stagger: 0 };
    });
    await type('Repeat, width', '1 m');
    expect(repeat().composed.widthMm).toBe(1000);
    expect(
      screen.getByText(/Asked for a width of 1000 mm; 900 mm closes, with 4 whole periods\./),
    ).toBeTruthy();
    await type(/^Stretch at most/, '6');
    expect(repeat().composed.stretchMost).toBeCloseTo(0.06, 12);
    await user.clear(screen.getByRole('textbox', { name: 'Repeat, width' }));
    await user.keyboard('{Enter}');
    expect(repeat().composed.widthMm).toBeNull();
    expect(screen.queryByRole('textbox', { name: /^Stretch/ })).toBeNull();
  });

  test('copies are turned or mirrored with a warning of what that asks of the sample', async () => {
    const { repeat, take, user, valid } = opened(composed);
    expect(screen.queryByText(/Turn only what has no grain/)).toBeNull();
    await take('half turns');
    expect(repeat().composed.turning).toBe('half');
    expect(screen.getByText(/Turn only what has no grain/)).toBeTruthy();
    await user.click(screen.getByRole('checkbox', { name: 'Copies may be mirrored' }));
    expect(repeat().composed.mirrored).toBe(true);
    await take('across only');
    expect(repeat().composed.closed).toBe('across');
    expect(valid()).toBe(true);
  });

  test('of whole boards says how many are cut to length, and asks for no patches', async () => {
    const { user } = opened(composed, { boards: { laid: 22, whole: 4 } });
    expect(screen.getByText(/Laid of 22 boards, 18 of them cut to length\./)).toBeTruthy();
    expect(screen.queryByRole('textbox', { name: /Patch size/ })).toBeNull();
    await user.click(screen.getByRole('radio', { name: 'half turns' }));
    expect(screen.getByText(/Boards stay in their courses/)).toBeTruthy();
  });

  test('another arrangement is kept beside the first; one that is removed gives way to the one before', async () => {
    const { repeat, press, take, undo } = opened(composed);
    await press('Another arrangement');
    await press('Another arrangement');
    expect(repeat()).toMatchObject({ arrangement: 3 });
    expect(new Set(repeat().arrangements.map(({ seed }) => seed)).size).toBe(3);
    await take('Arrangement 2');
    await press('Remove 2');
    expect(repeat().arrangements.map(({ number }) => number)).toEqual([1, 3]);
    expect(repeat().arrangement).toBe(1);
    undo();
    expect(repeat()).toMatchObject({ arrangement: 2 });
    expect(repeat().arrangements).toHaveLength(3);
  });
});

describe('a structure', () => {
  const found = {
    across: { period: 0.25, first: 0.1, confidence: 0.9 },
    up: { period: 0.125, first: 0, confidence: 0.9 },
    stagger: 0,
    straighten: null,
  } as unknown as FoundStructure;

  test('is kept to at a press, halved and doubled, and ignored again', async () => {
    const { repeat, press } = opened(composed, { search: { ...NOT_FOUND, found } });
    await press('Keep to the structure');
    expect(repeat().structure).toMatchObject({ across: { period: 0.25 }, up: { period: 0.125 } });
    await press('Double the period across');
    expect(repeat().structure.across!.period).toBe(0.5);
    await press('Halve the period across');
    await press('Halve the period across');
    expect(repeat().structure.across).toMatchObject({ period: 0.125 });
    expect(repeat().structure.across!.first).toBeLessThan(0.125);
    await press('Ignore the structure');
    expect(repeat().structure).toEqual({ across: null, up: null, stagger: 0 });
  });

  test('that is seen at an angle is straightened at a press, and the angle is said', async () => {
    const corners = [
      [0.02, 0.01],
      [0.98, 0.03],
      [0.97, 0.99],
      [0.01, 0.97],
    ];
    const leaning = { ...found, straighten: { corners, slopeDeg: 1.2, converges: { across: 0, up: 0.04 } } };
    const { press, recipe } = opened(undefined, {
      search: { ...NOT_FOUND, found: leaning as unknown as FoundStructure },
    });
    expect(
      screen.getByText(
        /seen at an angle: courses fall by 1\.20?° to the right; the right side is 4(\.0)? % longer/,
      ),
    ).toBeTruthy();
    await press('Straighten by the structure');
    expect(lead(recipe()).preparation.frame).toEqual(corners);
  });
});

test.each([
  [{ pieces: 60, broken: [] }, '60 pieces in the repeat; all of them whole.'],
  [
    { pieces: 60, broken: [{ kind: 'cut' }, { kind: 'fused' }] },
    '60 pieces in the repeat; 2 broken where copies meet, outlined on the plate: cut ones in a full line, fused ones dashed, those of mixed tones dotted.',
  ],
])('pieces %#: how many are broken is said', (pieces, words) => {
  opened(undefined, { pieces: pieces as unknown as PiecesJudged });
  expect(screen.getByText(words)).toBeTruthy();
});
