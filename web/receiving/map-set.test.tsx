/** @jest-environment ./script/jest-page-environment.cjs */
import { screen, waitFor } from '@testing-library/react';
import type { MapRole } from '@jossel/core/sample';
import type { RecognisedFile, Sample } from '../app/api';
import { show, type Answers } from '../test/page';
import { likelySets, MapSet } from './MapSet';

const sample = (id: string, fileName: string) => ({ id, fileName, widthPx: 512, heightPx: 512 }) as Sample;
const FILES = [
  sample('c', 'cliff_bed-colour.png'),
  sample('n', 'cliff_bed-normal.png'),
  sample('g', 'cliff_bed-gloss.png'),
];
const recognised = (id: string, role: MapRole, change: Partial<RecognisedFile> = {}): RecognisedFile =>
  ({
    sampleId: id,
    fileName: FILES.find((f) => f.id === id)!.fileName,
    role,
    why: 'By its name.',
    ...change,
  }) as RecognisedFile;
const MAPS = [
  recognised('c', 'colour'),
  recognised('n', 'normal', {
    orientation: { greenRuns: 'down', why: 'Hollows are lit from below.' } as never,
  }),
  recognised('g', 'gloss'),
];

async function opened(maps = MAPS, answers: Answers = {}) {
  const made: unknown[] = [];
  let closed = 0;
  const page = show(<MapSet samples={FILES} onClose={() => closed++} />, {
    at: '/receiving',
    answers: {
      'POST /api/sample-sets': () => ({ body: { maps } }),
      'POST /api/finishes': (body) => {
        made.push(body);
        return { body: { id: 'new' } };
      },
      ...answers,
    },
  });
  await screen.findByRole('button', { name: 'Make a finish of this set' });
  return { ...page, made, closed: () => closed };
}
const make = () => screen.getByRole<HTMLButtonElement>('button', { name: 'Make a finish of this set' });

test('what each file shows is proposed with the reason, and which way green runs; a finish is made of all', async () => {
  const { press, made, address, choose } = await opened();
  expect(screen.getByText('Hollows are lit from below.')).toBeTruthy();
  expect(screen.getByRole<HTMLInputElement>('textbox', { name: 'Name of the finish' }).value).toMatch(
    /^Cliff/,
  );
  await choose(/Category/, /Stone/);
  await press('Make a finish of this set');
  await waitFor(() => expect(address()).toBe('/bench/new'));
  expect(made[0]).toMatchObject({
    category: 'stone',
    sampleIds: ['c'],
    maps: [
      { sampleId: 'n', role: 'normal', greenRuns: 'down' },
      { sampleId: 'g', role: 'gloss' },
    ],
  });
});

test('a proposal is corrected before anything is made', async () => {
  const { choose, user, press, made } = await opened();
  await choose(/What cliff_bed-gloss\.png shows/, 'roughness');
  await user.click(screen.getByRole('radio', { name: 'green up' }));
  await press('Make a finish of this set');
  expect(made[0]).toMatchObject({
    maps: [
      { sampleId: 'n', greenRuns: 'up' },
      { sampleId: 'g', role: 'roughness' },
    ],
  });
});

test('no set is without a colour, nor has one map twice', async () => {
  const { choose } = await opened();
  await choose(/What cliff_bed-colour\.png shows/, 'gloss');
  const said = screen.getAllByRole('alert').map((alert) => alert.textContent);
  expect(said).toEqual([
    'One of the maps must be the colour; say which.',
    'Two maps are said to be gloss; each can be there once.',
  ]);
  expect(make().disabled).toBe(true);
  await choose(/What cliff_bed-colour\.png shows/, 'colour');
  expect(make().disabled).toBe(false);
});

test('why a set could not become a finish is said, and the choices stay', async () => {
  const { choose, press } = await opened(MAPS, {
    'POST /api/finishes': () => ({
      status: 422,
      body: {
        title: 'Not one surface',
        detail: 'cliff_bed-gloss.png is 300 × 512 px; the colour is 512 × 512 px.',
      },
    }),
  });
  await choose(/What cliff_bed-gloss\.png shows/, 'roughness');
  await press('Make a finish of this set');
  expect(await screen.findByText(/cliff_bed-gloss\.png is 300 × 512 px/)).toBeTruthy();
  expect(screen.getByRole('button', { name: /What cliff_bed-gloss\.png shows/ }).textContent).toContain(
    'roughness',
  );
});

test('it is closed without anything being made', async () => {
  const { press, closed, made } = await opened();
  await press('Close');
  expect(closed()).toBe(1);
  expect(made).toEqual([]);
});

test('files of one stem that show different things are a likely set; of one kind, or alone, they are none', () => {
  const byName = (name: string): MapRole | null =>
    (/(colour|normal|gloss)/.exec(name)?.[1] as MapRole) ?? null;
  const others = [sample('x', 'oak-colour.png'), sample('y', 'elm_1-normal.png'), sample('z', 'holiday.jpg')];
  expect(likelySets([...FILES, ...others], byName)).toEqual([FILES]);
  expect(likelySets(others, byName)).toEqual([]);
});
