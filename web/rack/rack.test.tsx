/** @jest-environment ./script/jest-page-environment.cjs */
import { screen, waitFor, within } from '@testing-library/react';
import type { FinishItem } from '../app/api';
import { show } from '../test/page';
import { Rack } from './Rack';

const item = (k: number): FinishItem =>
  ({
    id: `f${k}`,
    name: `Finish ${k}`,
    category: 'stone',
    state: 'draft',
    etag: '"1"',
    detailsEtag: '"d1"',
    revisions: [],
    headline: null,
    fault: null,
  }) as unknown as FinishItem;

/** A server with so many finishes, which keeps what it was asked for. */
function opened(at: string, total: number, isAway: () => boolean = () => false) {
  const asked: Record<string, string>[] = [];
  const page = show(<Rack />, { at, answers: {} });
  globalThis.fetch = async (input, init) => {
    const { pathname, searchParams } = new URL(new Request(input, init).url);
    if (pathname !== '/api/finishes') return new Response(null, { status: 404 });
    if (isAway()) return Response.json({ title: 'Away', detail: 'The database is away.' }, { status: 503 });
    const query = Object.fromEntries(searchParams);
    asked.push(query);
    const from = Number(query['offset'] ?? 0);
    const items = Array.from({ length: Math.min(60, total - from) }, (_, k) => item(from + k));
    return Response.json({ items, total, suppliers: ['Quellimer', 'Orbast'] });
  };
  return { ...page, asked, last: () => asked.at(-1)! };
}
const names = () => screen.queryAllByRole('link', { name: /^Finish \d+/ });

test('the address narrows the rack: words, category, state and supplier; what it does not know is left out', async () => {
  const { last } = opened('/rack?find=slab&category=stone&state=issued&supplier=Orbast&colour=red', 3);
  expect(await screen.findByText('3 finishes with “slab”')).toBeTruthy();
  expect(last()).toMatchObject({ search: 'slab', category: 'stone', state: 'issued', supplier: 'Orbast' });
  expect(last()).not.toHaveProperty('colour');
});

test.each(['/rack?category=velvet', '/rack?state=lost'])('%s narrows nothing', async (at) => {
  const { last } = opened(at, 2);
  await screen.findByText('2 finishes');
  expect(last()).not.toHaveProperty('category');
  expect(last()).not.toHaveProperty('state');
  expect(screen.queryByRole('button', { name: 'Show all' })).toBeNull();
});

test('a filter that is chosen stands in the address, and all are shown again at a press', async () => {
  const { choose, press, address, last } = opened('/rack', 2);
  await screen.findByText('2 finishes');
  await choose(/State/, 'issued');
  await waitFor(() => expect(last()).toMatchObject({ state: 'issued' }));
  await choose(/Supplier/, 'Quellimer');
  expect(new URLSearchParams(address().split('?')[1])).toEqual(
    new URLSearchParams({ state: 'issued', supplier: 'Quellimer' }),
  );
  await choose(/State/, 'any state');
  expect(address()).toBe('/rack?supplier=Quellimer');
  await press('Show all');
  expect(address()).toBe('/rack');
});

test('a supplier who is chosen stays in the list, though nothing of theirs is left', async () => {
  const { user } = opened('/rack?supplier=Gone', 0);
  expect(await screen.findByRole('heading', { name: 'No finish fits' })).toBeTruthy();
  await user.click(screen.getByRole('button', { name: /Supplier/ }));
  const options = within(await screen.findByRole('listbox')).getAllByRole('option');
  expect(options.map((o) => o.textContent)).toEqual(['any supplier', 'Quellimer', 'Orbast', 'Gone']);
});

test('an empty rack leads to what fills it; an empty bin says what it is for', async () => {
  opened('/rack', 0);
  expect(await screen.findByRole('heading', { name: 'The rack is empty' })).toBeTruthy();
  expect(screen.getByRole('link', { name: 'Bring in a sample' }).getAttribute('href')).toBe('/receiving');
});

test('the bin asks for what was removed, and leads back', async () => {
  const { last } = opened('/rack?bin', 0);
  expect(await screen.findByRole('heading', { name: 'The bin is empty' })).toBeTruthy();
  expect(last()['removed']).toBe('true');
  expect(screen.getByRole('link', { name: 'Back to the rack' }).getAttribute('href')).toBe('/rack');
});

test('a long list comes in parts', async () => {
  const { press } = opened('/rack', 75);
  await screen.findByText('60 of 75 shown');
  await press('Show more finishes');
  await waitFor(() => expect(names()).toHaveLength(75));
  expect(screen.queryByRole('button', { name: 'Show more finishes' })).toBeNull();
});

test('without the server that is said, and asking again helps', async () => {
  let away = true;
  const { press } = opened('/rack', 1, () => away);
  expect(await screen.findByText(/The database is away/)).toBeTruthy();
  away = false;
  await press(/again/i);
  expect(await screen.findByText('1 finish')).toBeTruthy();
});
