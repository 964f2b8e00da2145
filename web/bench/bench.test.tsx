/** @jest-environment ./script/jest-page-environment.cjs */
import '../test/pointer-events';
import { act, screen, waitFor, within } from '@testing-library/react';
import { Route, Routes } from 'react-router';
import { generatedRecipe, renderFinish, type Recipe } from '@jossel/core/finish';
import { NO_PICTURES, SECTIONS } from '@jossel/core/surface';
import type { Finish } from '../app/api';
import { show } from '../test/page';
import { answerAsWorker } from '../test/worker';
import { Bench } from './Bench';
import { benchSlice } from './bench-slice';
import { HEADS } from './ledger/heads';
import { Ledger } from './ledger/Ledger';

/** The worker of the page: it draws in this process, small, and refuses what it is told to refuse. */
let refused = '';
const drawSmall = (recipe: Recipe) => renderFinish(recipe, NO_PICTURES, { widthPx: 32, maps: ['colour'] });
const known = new Map<string, ReturnType<typeof drawSmall>>();
function rendered(recipe: Recipe) {
  const key = JSON.stringify(recipe);
  const made = known.get(key) ?? drawSmall(recipe);
  known.set(key, made);
  return made;
}
const drawnLrv: number[] = [];
answerAsWorker({
  listen: () => undefined,
  async draw(recipe: Recipe, _infos: unknown, _widthPx: number, maps: readonly string[]) {
    if (refused) throw new RangeError(refused);
    const { report, widthPx, heightPx } = await rendered(recipe);
    drawnLrv.push(report.lrv);
    const pixels = () => new Uint8ClampedArray(4 * widthPx * heightPx);
    return {
      ...{ widthPx, heightPx, report, maps, serial: drawnLrv.length },
      ...{ colour: pixels(), normal: pixels(), occlusion: null, uneven: {} },
      ...{ heightMm: new Float32Array(widthPx * heightPx), histogram: [], scatter: [] },
    };
  },
  lines: () => null,
  pieces: () => null,
});
beforeEach(() => {
  refused = '';
  sessionStorage.clear();
  localStorage.clear();
});

const finishOf = (recipe: Recipe): Finish => ({
  id: 'f',
  name: 'Terrazzo, dune',
  category: 'stone',
  state: 'draft',
  updatedAt: '2026-03-02T08:00:00Z',
  removedAt: null,
  detailsEtag: 'd',
  draft: { recipe, etag: 'e' },
  samples: [],
  revisions: [],
});

/** The Bench at the address of a finish; `away`: the server does not answer for it. */
function opened({ away = false } = {}) {
  const server = { away };
  const page = show(
    <Routes>
      <Route path="/bench/:id" element={<Bench />} />
    </Routes>,
    {
      at: '/bench/f',
      settings: { proofFolded: true },
      answers: {
        'GET /api/finishes/f': () =>
          server.away
            ? { status: 503, body: { title: 'The database does not answer.', status: 503 } }
            : { body: finishOf(generatedRecipe('terrazzo')) },
        'GET /api/samples': () => ({ body: { items: [], total: 0 } }),
      },
    },
  );
  return { ...page, server };
}
const head = (name: string) => screen.getByRole('button', { name: new RegExp(`^${name}`) });

test('a finish opens with a line for each section, and what is drawn of it stands in them', async () => {
  opened();
  await screen.findByRole('region', { name: 'Ledger' });
  expect(document.title).toBe('Terrazzo, dune · Jossel');
  for (const section of SECTIONS) expect(head(HEADS[section].name)).toBeTruthy();
  await waitFor(() => expect(head('Colour').textContent).toContain(`LRV ${drawnLrv.at(-1)!.toFixed(1)}`));
});

test('sections open one at a time, each with its controls', async () => {
  const { user, store } = opened();
  const ledger = within(await screen.findByRole('region', { name: 'Ledger' }));
  for (const section of SECTIONS) {
    await user.click(head(HEADS[section].name));
    expect(store.getState().bench.section).toBe(section);
    const open = ledger.getAllByRole('button', { expanded: true }).filter((b) => b.closest('h2'));
    expect(open).toHaveLength(1);
    expect(open[0]!.textContent).toContain(HEADS[section].name);
    expect(screen.queryByText(/failed/)).toBeNull();
  }
  await user.click(head('Revision'));
  expect(store.getState().bench.section).toBeNull();
});

test('what cannot be drawn is said, and the last drawing stays with its figures', async () => {
  const { store, type, user } = opened();
  await waitFor(() => expect(head('Colour').textContent).toContain('LRV'));
  const before = head('Colour').textContent;
  refused = 'The relief is steeper than 80° where chips meet.';
  await user.click(head('Size'));
  await type(/Width/, '700');
  expect(await screen.findByText(/steeper than 80°/)).toBeTruthy();
  expect(head('Colour').textContent).toBe(before);
  expect(store.getState().draft.recipe!.generated!.repeatMm.width).toBe(700);
});

test('undo and redo are there once there is something to undo', async () => {
  const { user, press, type, recipe } = opened();
  await screen.findByRole('region', { name: 'Ledger' });
  const button = (name: string) => screen.getByRole<HTMLButtonElement>('button', { name });
  const widthMm = () => recipe().generated!.repeatMm.width;
  const before = widthMm();
  expect([button('Undo').disabled, button('Redo').disabled]).toEqual([true, true]);
  await user.click(head('Size'));
  await type(/Width/, '700');
  expect(widthMm()).toBe(700);
  await press('Undo');
  expect(widthMm()).toBe(before);
  await press('Redo');
  expect(widthMm()).toBe(700);
  expect(button('Redo').disabled).toBe(true);
});

test('a finish that cannot be opened says so, and opens when it is tried again', async () => {
  const { server, user } = opened({ away: true });
  expect(await screen.findByRole('heading', { name: 'This finish cannot be opened' })).toBeTruthy();
  expect(screen.getByRole('link', { name: 'To the rack' })).toBeTruthy();
  server.away = false;
  await user.click(screen.getByRole('button', { name: /again/i }));
  expect(await screen.findByRole('region', { name: 'Ledger' })).toBeTruthy();
});

test('the ledger is not rendered again for what only the plate or the proof shows', async () => {
  const renders = jest.spyOn(HEADS.sample, 'head');
  const { store, press } = opened();
  await waitFor(() => expect(head('Colour').textContent).toContain('LRV'));
  // The finer drawing follows once nothing has changed for 700 ms; the ledger shows it two frames later.
  for (let quiet = 0; quiet < 15; quiet++) {
    renders.mockClear();
    await act(() => new Promise((soon) => setTimeout(soon, 100)));
    if (renders.mock.calls.length > 0) quiet = 0;
  }
  for (const change of [
    { stops: 1 },
    { rakingFromDeg: 40 },
    { scale: 5 },
    { form: 'sphere' },
    { hatch: true },
    { filled: 'plate' },
    { filled: null },
  ] as const)
    act(() => void store.dispatch(benchSlice.actions.changed(change)));
  await press('Sheet of keys');
  expect(renders).not.toHaveBeenCalled();
  act(() => void store.dispatch(benchSlice.actions.changed({ section: 'relief' })));
  expect(renders).toHaveBeenCalled();
  renders.mockRestore();
});

test('a view outside of an open finish says what it lacks', () => {
  const noise = jest.spyOn(console, 'error').mockImplementation(() => undefined);
  expect(() => show(<Ledger />)).toThrow(/No finish is open around what asks for its pictures/);
  noise.mockRestore();
});
