/** @jest-environment ./script/jest-page-environment.cjs */
import { screen, waitFor, within } from '@testing-library/react';
import type { FinishItem } from '../app/api';
import { show, type Answers } from '../test/page';
import { RackItem } from './RackItem';

const finish = (change: Partial<FinishItem> = {}): FinishItem => ({
  id: 'f1',
  name: 'Shell limestone',
  category: 'stone',
  state: 'issued',
  etag: '"3"',
  detailsEtag: '"d3"',
  revisions: ['A', 'B'],
  headline: {
    repeatMm: { width: 1200, height: 800 },
    sizeBasis: 'measured',
    lrv: 41.7,
    lrvMeasured: true,
    lrvBasis: 'published',
    lrvGiven: { value: 42, unit: 'LRV', basis: 'published' },
    passesPercent: null,
    glossGu: 12,
    depthMm: 0.8,
    supplier: 'Quellimer',
    line: '',
    code: 'QS-4',
  },
  fault: null,
  ...change,
});
const item = (change: Partial<FinishItem> = {}, answers: Answers = {}, inBin = false) =>
  show(<RackItem item={finish(change)} inBin={inBin} pxPerMm={0.1} onMeasured={() => undefined} />, {
    answers,
  });
const headline = (change: Partial<NonNullable<FinishItem['headline']>>) => ({
  headline: { ...finish().headline!, ...change },
});
const text = () => screen.getByRole('link').parentElement!.textContent!;
async function act(user: ReturnType<typeof show>['user'], name: string) {
  await user.click(screen.getByRole('button', { name: 'Actions for Shell limestone' }));
  await user.click(within(await screen.findByRole('menu')).getByRole('menuitem', { name }));
}

test('a finish says its figures, each with its basis, and its last revision; it leads to the Bench', () => {
  item();
  expect(screen.getByRole('link').getAttribute('href')).toBe('/bench/f1');
  for (const words of ['Stone', 'issued B', '1200 × 800', 'LRV 42', 'gloss 12 GU'])
    expect(text()).toContain(words);
  const bases = screen.getAllByRole('img').map((mark) => mark.getAttribute('aria-label'));
  expect(bases).toEqual(expect.arrayContaining(['measured', 'published']));
  // Within half an LRV the given one is not worth a line.
  expect(text()).not.toContain('Given');
});

test('where it measures another reflectance than was given, both are said', () => {
  item(headline({ lrvGiven: { value: 44, unit: 'LRV', basis: 'assumed' } }));
  expect(text()).toMatch(/Given.*LRV 44 assumed/);
});

test('glass says what it lets through; a finish that cannot be read says why', () => {
  item({ ...headline({ passesPercent: 78.4 }), fault: 'Its recipe is of a newer Jossel.' });
  expect(text()).toMatch(/Transmits\D*78 %/);
  expect(text()).toContain('Its recipe is of a newer Jossel.');
});

test('it is renamed in place, by the version that was seen', async () => {
  const bodies: unknown[] = [];
  const { user } = item(
    {},
    {
      'PATCH /api/finishes/f1': (body) => {
        bodies.push(body);
        return { body: {} };
      },
    },
  );
  await act(user, 'Rename');
  await screen.findByRole('textbox', { name: 'New name of Shell limestone' });
  await user.keyboard('Hall floor{Enter}');
  await waitFor(() => expect(bodies).toEqual([{ name: 'Hall floor' }]));
});

test('it is copied and moved to the bin; only what was issued can be derived from', async () => {
  const { user, asked } = item(
    { revisions: [] },
    {
      'POST /api/finishes/f1/duplicate': () => ({ status: 201, body: {} }),
      'DELETE /api/finishes/f1': () => ({ status: 409, body: { detail: 'It lies on the floor of a room.' } }),
    },
  );
  await act(user, 'Duplicate');
  await waitFor(() => expect(asked).toEqual(['POST /api/finishes/f1/duplicate']));
  await user.click(screen.getByRole('button', { name: 'Actions for Shell limestone' }));
  const derive = within(await screen.findByRole('menu')).getByRole('menuitem', { name: 'Derive a finish' });
  expect(derive.getAttribute('aria-disabled')).toBe('true');
  await user.keyboard('{Escape}');
  await act(user, 'Move to the bin');
  expect(await screen.findByText('It lies on the floor of a room.')).toBeTruthy();
});

test('from the bin it can only come back', async () => {
  const { user, asked } = item({}, { 'POST /api/finishes/f1/restore': () => ({ body: {} }) }, true);
  expect(screen.queryByRole('button', { name: /Actions/ })).toBeNull();
  await user.click(screen.getByRole('button', { name: 'Restore Shell limestone' }));
  await waitFor(() => expect(asked).toEqual(['POST /api/finishes/f1/restore']));
});
