/** @jest-environment ./script/jest-page-environment.cjs */
import { screen, waitFor } from '@testing-library/react';
import { useState } from 'react';
import type { Sample } from '../app/api';
import { show, type Answers } from '../test/page';
import type { Wish } from './likely';
import { SampleItem } from './SampleItem';

const sample = (change: Partial<Sample> = {}): Sample => ({
  id: 's1',
  fileName: 'shell-limestone.jpg',
  widthPx: 4000,
  heightPx: 3000,
  bitDepth: 8,
  profile: 'sRGB',
  pxPerMm: null,
  lrv: 42,
  sha256: 'abc',
  report: { sentences: ['Evenly lit within 4 %.'] } as unknown as Sample['report'],
  receivedAt: '2026-11-02T10:20:00Z',
  focalPx: null,
  cameFrom: 'file',
  sheet: {},
  benchSampleId: null,
  origin: { supplier: 'Quellimer', line: '', code: 'QS-4', permission: 'project use' } as Sample['origin'],
  removedAt: null,
  ...change,
});
function item(change: Partial<Sample> = {}, answers: Answers = {}) {
  const kept: { wish: Wish | null } = { wish: null };
  function Kept() {
    const [wish, setWish] = useState<Wish>({ name: 'Shell limestone', category: 'stone' });
    kept.wish = wish;
    return (
      <SampleItem
        sample={sample(change)}
        wish={wish}
        onWish={setWish}
        isChosen={false}
        onChosen={() => undefined}
      />
    );
  }
  return { ...show(<Kept />, { answers }), kept };
}
const made = (id: string): Answers => ({ 'POST /api/finishes': () => ({ status: 201, body: { id } }) });

test('a sample says what it is, where it came from, what is good for and what is missing', () => {
  item({ origin: { supplier: '', line: '', code: '', permission: '' } as Sample['origin'] });
  const text = screen.getByRole('listitem', { name: 'shell-limestone.jpg' }).textContent!;
  for (const words of [
    '4000 × 3000 px, 8 bit, sRGB',
    'came as a file',
    'Evenly lit within 4 %.',
    'origin not noted',
  ])
    expect(text).toContain(words);
  expect(text).toMatch(/No permission to use is noted/);
});

test('a published sheet is said with what rests on it; nothing of it, nothing said', () => {
  item({ sheet: { widthMm: 600, heightMm: 300, jointMm: 3, lrv: 0, glossGu: 12 } });
  const sheet = screen.getByText(/600 × 300 mm/);
  expect(sheet.textContent).toMatch(/600 × 300 mm, joint 3 mm, LRV 0, 12 GU$/);
  expect(screen.getByRole('img', { name: 'published' })).toBeTruthy();
});

test('a finish is made as wished and opened: a picture is looked at, a capture is straightened first', async () => {
  const bodies: unknown[] = [];
  const file = item(
    {},
    {
      'POST /api/finishes': (body) => {
        bodies.push(body);
        return { status: 201, body: { id: 'f7' } };
      },
    },
  );
  await file.user.type(screen.getByRole('textbox', { name: 'Name of the finish' }), ', honed');
  await file.user.click(screen.getByRole('button', { name: 'Make a finish' }));
  await waitFor(() => expect(file.address()).toBe('/bench/f7'));
  expect(bodies).toEqual([{ name: 'Shell limestone, honed', category: 'stone', sampleIds: ['s1'] }]);
  expect(file.store.getState().bench).toMatchObject({ section: 'sample', tool: 'report' });
});

test('a capture is straightened first', async () => {
  const capture = item({ cameFrom: 'capture bench' }, made('f8'));
  await capture.user.click(screen.getByRole('button', { name: 'Make a finish' }));
  await waitFor(() => expect(capture.address()).toBe('/bench/f8'));
  expect(capture.store.getState().bench).toMatchObject({ section: 'sample', tool: 'frame' });
});

test('what the server refuses is said, and one stays where one is', async () => {
  const { user, address } = item(
    {},
    { 'POST /api/finishes': () => ({ status: 422, body: { detail: 'A finish needs a name.' } }) },
  );
  await user.click(screen.getByRole('button', { name: 'Make a finish' }));
  expect(await screen.findByText('A finish needs a name.')).toBeTruthy();
  expect(address()).toBe('/');
});

test('its origin is corrected field by field, each when it is left', async () => {
  const bodies: unknown[] = [];
  const { user } = item(
    {},
    {
      'PATCH /api/samples/s1': (body) => {
        bodies.push(body);
        return { body: sample() };
      },
    },
  );
  expect(screen.queryByRole('textbox', { name: 'Code' })).toBeNull();
  await user.click(screen.getByRole('button', { name: 'Correct origin' }));
  const code = screen.getByDisplayValue('QS-4');
  await user.clear(code);
  await user.type(code, 'QS-5{Enter}');
  await waitFor(() => expect(bodies).toEqual([{ code: 'QS-5' }]));
});

test('one that is used cannot go to the bin; one in the bin can only come back', async () => {
  item({ usedIn: [{ id: 'f1', name: 'Limestone hall' }] });
  expect(screen.getByRole<HTMLAnchorElement>('link', { name: 'Limestone hall' }).getAttribute('href')).toBe(
    '/bench/f1',
  );
  expect(screen.queryByRole('button', { name: /to the bin/ })).toBeNull();
});

test('one in the bin is restored', async () => {
  const { user, asked } = item(
    { removedAt: '2026-11-03T08:00:00Z' },
    { 'POST /api/samples/s1/restore': () => ({ body: sample() }) },
  );
  expect(screen.queryByRole('button', { name: 'Make a finish' })).toBeNull();
  await user.click(screen.getByRole('button', { name: 'Restore shell-limestone.jpg' }));
  await waitFor(() => expect(asked).toEqual(['POST /api/samples/s1/restore']));
});
