/** @jest-environment ./script/jest-page-environment.cjs */
import { screen, waitFor } from '@testing-library/react';
import { show, type Answers } from '../test/page';
import { FromLightSet } from './FromLightSet';

const LIGHTS = Array.from({ length: 8 }, (_, k) => ({
  fileName: `light-${k}.png`,
  light: { positionMm: [300 * Math.cos(k), 300 * Math.sin(k), 400] },
}));
const TAKEN = { id: 'set', sampleIds: ['a'], lights: LIGHTS, overallMm: { width: 240, height: 180 } };
const ON_BENCH = [
  { id: 'b1', name: 'Tile, bevelled', category: 'ceramic' },
  { id: 'b2', name: 'Slab of something', category: 'unheard of' },
];

function opened(answers: Answers = {}) {
  const bodies: Record<string, unknown> = {};
  const keeping =
    (call: string, body: unknown): Answers[string] =>
    (sent) => {
      bodies[call] = sent;
      return { body };
    };
  const page = show(<FromLightSet permission="ours" />, {
    at: '/receiving',
    answers: {
      'GET /api/capture/samples': () => ({ body: { items: ON_BENCH } }),
      'GET /api/settings/addresses': () => ({ body: { captureBench: 'http://127.0.0.1:1' } }),
      'POST /api/capture/light-sets': keeping('take', TAKEN),
      'POST /api/finishes': keeping('create', { id: 'new' }),
      ...answers,
    },
  });
  return { ...page, bodies };
}
const name = () => screen.getByRole<HTMLInputElement>('textbox', { name: 'Name of the finish' });

test('a sample is chosen and photographed under so many lights; the finish begins with its name and category', async () => {
  const { choose, user, type, press, bodies } = opened();
  await choose(/Sample under the lights/, 'Tile, bevelled');
  await user.click(screen.getByRole('radio', { name: '12' }));
  await type('Width, px', '800');
  await press('Take 12 pictures');
  await screen.findByText('8 pictures have arrived');
  expect(bodies['take']).toEqual({ sampleId: 'b1', lights: 12, widthPx: 800 });
  expect(name().value).toBe('Tile, bevelled');
  expect(screen.getByRole('button', { name: /Category/ }).textContent).toMatch(/[Cc]eramic/);
});

test('it is measured at the size the device says, and opens on its relief', async () => {
  const { press, bodies, address, type } = opened();
  await screen.findByRole('button', { name: /Sample under the lights/ });
  await press(/^Take 8/);
  await screen.findByText('8 pictures have arrived');
  await type('Width of the whole picture on the sample', '25 cm');
  await press('Measure the relief');
  await waitFor(() => expect(address()).toBe('/bench/new?section=relief'));
  expect(bodies['create']).toEqual({
    name: 'Tile, bevelled',
    category: 'ceramic',
    lightSetId: 'set',
    overallMm: { width: 250 },
  });
});

test('without a width or a name nothing is measured, and the width is asked for', async () => {
  const { overallMm: _, ...unsized } = TAKEN;
  const { press, type, user } = opened({ 'POST /api/capture/light-sets': () => ({ body: unsized }) });
  await screen.findByRole('button', { name: /Sample under the lights/ });
  await press(/^Take 8/);
  const measure = () => screen.getByRole<HTMLButtonElement>('button', { name: 'Measure the relief' });
  expect((await screen.findByRole('alert')).textContent).toMatch(/type the width first/);
  expect(measure().disabled).toBe(true);
  await type('Width of the whole picture on the sample', '9 3/4"');
  expect(measure().disabled).toBe(false);
  await user.clear(name());
  expect(measure().disabled).toBe(true);
});

test('a category that is not known becomes one that is', async () => {
  const { choose, press } = opened();
  await choose(/Sample under the lights/, 'Slab of something');
  await press(/^Take 8/);
  await screen.findByText('8 pictures have arrived');
  expect(screen.getByRole('button', { name: /Category/ }).textContent).toMatch(/[Ss]tone/);
});

test('why pictures could not be taken is said, and they can be taken again', async () => {
  let isAway = true;
  const { press } = opened({
    'POST /api/capture/light-sets': () =>
      isAway
        ? { status: 502, body: { title: 'Bad gateway', detail: 'The lamp of light 3 does not answer.' } }
        : { body: TAKEN },
  });
  await screen.findByRole('button', { name: /Sample under the lights/ });
  await press(/^Take 8/);
  expect(await screen.findByText(/The lamp of light 3 does not answer/)).toBeTruthy();
  isAway = false;
  await press(/^Take 8/);
  expect(await screen.findByText('8 pictures have arrived')).toBeTruthy();
  expect(screen.queryByText(/The lamp of light 3/)).toBeNull();
});

test('from files, pictures and the list of their lights are needed, and go with their permission', async () => {
  const appended = jest.spyOn(FormData.prototype, 'append');
  const { user, press } = opened({ 'POST /api/light-sets': () => ({ body: TAKEN }) });
  await user.click(screen.getByRole('radio', { name: 'files' }));
  const send = screen.getByRole<HTMLButtonElement>('button', { name: 'Import the light set' });
  expect(send.disabled).toBe(true);
  const [pictures, list] = document.querySelectorAll<HTMLInputElement>('input[type=file]');
  await user.upload(pictures!, [
    new File(['1'], 'a.png', { type: 'image/png' }),
    new File(['2'], 'b.png', { type: 'image/png' }),
  ]);
  expect(screen.getByText('2 pictures')).toBeTruthy();
  expect(send.disabled).toBe(true);
  await user.upload(list!, new File(['file,x,y,z'], 'lights.csv', { type: 'text/csv' }));
  expect(send.disabled).toBe(false);
  // Forms of jsdom do not come through Node's requests.
  globalThis.fetch = async () => Response.json(TAKEN);
  await press('Import the light set');
  expect(await screen.findByText('8 pictures have arrived')).toBeTruthy();
  expect(appended.mock.calls.map(([key, value, name]) => `${key}=${name ?? String(value)}`)).toEqual([
    'permission=ours',
    'file=a.png',
    'file=b.png',
    'lights=lights.csv',
  ]);
});
