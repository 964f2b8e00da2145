/** @jest-environment ./script/jest-page-environment.cjs */
import { screen, waitFor, within } from '@testing-library/react';
import type { Handover, PackageOrder } from '../app/api';
import { show, type Answers } from '../test/page';
import { Handovers } from './Handovers';

const finish = (id: string, name: string, supplier = 'Velthrask', revisions = ['A']) => ({
  ...{ id, name, revisions, state: 'issued', category: 'timber', etag: 'e', detailsEtag: 'd', fault: null },
  headline: { supplier, code: `${id}-1`, repeatMm: { width: 900, height: 600 } },
});
const FEW = [finish('oak', 'Oak'), finish('ash', 'Ash'), finish('draft', 'Draft only', 'Velthrask', [])];
const PROFILES = [
  { id: 'general-2048', name: 'General' },
  { id: 'close-4096', name: 'Close' },
];

/** A server that takes orders; those that are asked for again are done. */
function opened(finishes = FEW, more: Answers = {}, at = '/handovers') {
  const packages: Handover[] = [];
  const orders: unknown[] = [];
  const page = show(<Handovers />, {
    at,
    answers: {
      'GET /api/handovers': () => ({ body: { items: packages.map((p) => ({ ...p })), profiles: PROFILES } }),
      'GET /api/finishes': () => ({ body: { items: finishes, total: finishes.length, suppliers: [] } }),
      'POST /api/handovers/estimate': (body) => {
        const { items, profile } = body as PackageOrder;
        const times = profile === 'close-4096' ? 4 : 1;
        return {
          body: { seconds: 10 * times * items!.length, bytes: 1e9 * times, sets: 1, tooLarge: null },
        };
      },
      'POST /api/handovers': (body) => {
        orders.push(body);
        packages.unshift({
          ...{ id: `h${packages.length}`, state: 'running', progress: 0.4, step: 'Rendering Oak' },
          ...{ createdAt: '2026-11-29T10:00:00Z', profile: 'general-2048', title: 'Oak', items: [] },
        });
        return { status: 202, body: packages[0] };
      },
      'DELETE /api/handovers/h0': () => {
        Object.assign(packages[0]!, { state: 'stopped' });
        return { body: packages[0] };
      },
      ...more,
    },
  });
  return {
    ...page,
    orders,
    packages,
    pick: async (name: RegExp) => page.user.click(await screen.findByRole('checkbox', { name })),
  };
}
const makes = () => screen.getByRole('button', { name: /^Make/ });

test('only what is issued can be handed over, and nothing is made of nothing', async () => {
  opened();
  expect(await screen.findByRole('checkbox', { name: /Oak/ })).toBeTruthy();
  expect(screen.queryByRole('checkbox', { name: /Draft only/ })).toBeNull();
  expect(makes()).toHaveProperty('disabled', true);
});

test('where nothing is issued it is said where to do so', async () => {
  opened([FEW[2]!]);
  expect(await screen.findByText(/Issue a revision on the Bench/)).toBeTruthy();
});

test('a package is ordered of what was chosen, for a profile; then the choice is empty again', async () => {
  const { pick, user, choose, orders } = opened();
  await pick(/Oak/);
  await pick(/Ash/);
  await choose(/Profile/, 'Close');
  await user.click(screen.getByRole('checkbox', { name: 'Each with its colourways' }));
  await user.click(screen.getByRole('button', { name: 'Make a package of 2' }));
  await waitFor(() => expect(makes()).toHaveProperty('disabled', true));
  expect(orders).toEqual([
    { items: [{ finishId: 'oak' }, { finishId: 'ash' }], profile: 'close-4096', colourways: true },
  ]);
});

test('what a package will take is said before it is ordered, for what is chosen', async () => {
  const { pick, choose } = opened();
  await pick(/Oak/);
  expect(await screen.findByText(/^About 10 seconds, with 1.GB of memory$/)).toBeTruthy();
  await pick(/Ash/);
  expect(await screen.findByText(/About 20 seconds/)).toBeTruthy();
  await choose(/Profile/, 'Close');
  expect(await screen.findByText(/^About 80 seconds, with 4.GB of memory$/)).toBeTruthy();
  await pick(/Oak/);
  await pick(/Ash/);
  await waitFor(() => expect(screen.queryByText(/^About/)).toBeNull());
});

test('maps that do not fit into memory are said to be so before they are ordered', async () => {
  const { pick } = opened(FEW, {
    'POST /api/handovers/estimate': () => ({
      body: { seconds: 900, bytes: 9e9, sets: 1, tooLarge: 'Maps of Oak take about 9.0 GB of memory.' },
    }),
  });
  await pick(/Oak/);
  expect((await screen.findByRole('alert')).textContent).toMatch(/^Maps of Oak take about 9\.0 GB/);
});

test('relief is shared at a wavelength that can be typed, or that the plan of a mesh has brought along', async () => {
  const { user, type, orders } = opened(FEW, {}, '/handovers?finish=oak&split=4.2');
  const box = await screen.findByRole('textbox', { name: 'The mesh takes waves longer than' });
  expect(box).toHaveProperty('value', '4.2');
  await type('The mesh takes waves longer than', '0');
  expect(screen.getByRole('alert').textContent).toMatch(/between 0\.01/);
  await user.keyboard('{Escape}');
  await user.click(makes());
  await waitFor(() => expect(orders).toHaveLength(1));
  expect(orders[0]).toMatchObject({ items: [{ finishId: 'oak' }], splitMm: 4.2 });
});

test('among many, finishes are found by words of name, supplier or code; what is chosen stays in sight', async () => {
  const many = Array.from({ length: 12 }, (_, k) =>
    finish(`f${k}`, `Board ${k}`, k % 2 ? 'Orrim' : 'Velthrask'),
  );
  const { pick, user } = opened(many);
  await pick(/Board 3/);
  await user.type(screen.getByRole('searchbox', { name: /Find among/ }), 'velth 4');
  const shown = screen
    .getAllByRole('checkbox', { name: /Board/ })
    .map((box) => box.getAttribute('aria-label') ?? box.closest('label')!.textContent);
  expect(shown).toHaveLength(2);
  expect(shown.join()).toMatch(/Board 3.*Board 4/);
});

test('an order that is refused keeps the choice and says why', async () => {
  const { pick, user } = opened(FEW, {
    'POST /api/handovers': () => ({
      status: 409,
      body: { detail: 'Oak has no permission to be handed over.' },
    }),
  });
  await pick(/Oak/);
  await user.click(makes());
  expect((await screen.findByRole('alert')).textContent).toMatch(/no permission/);
  expect(makes()).toHaveProperty('disabled', false);
});

test('a package that is being made shows what it does, and can be stopped', async () => {
  const { pick, user, packages } = opened();
  await pick(/Oak/);
  await user.click(makes());
  const list = within(await screen.findByRole('region', { name: 'Packages' }));
  expect(await list.findByText(/Rendering Oak/)).toBeTruthy();
  await user.click(list.getByRole('button', { name: /^Stop/ }));
  await waitFor(() => expect(packages[0]!.state).toBe('stopped'));
});
