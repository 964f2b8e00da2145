/** @jest-environment ./script/jest-page-environment.cjs */
import { screen, waitFor, within } from '@testing-library/react';
import { familyOf, GENERATED_FAMILIES, GROUPS } from '@jossel/core/generate';
import { show } from '../test/page';
import { answerAsWorker } from '../test/worker';
import { Generate } from './Generate';

const drawn: [kind: string, pxPerMm: number][] = [];
answerAsWorker({
  draw: (kind: string, { width, height }: { width: number; height: number }, pxPerMm: number) => {
    drawn.push([kind, pxPerMm]);
    return { widthPx: width, heightPx: height, rgba: new Uint8ClampedArray(4 * width * height) };
  },
});

const SETTINGS = { screenPxPerMm: 4 };
const FIRST = GENERATED_FAMILIES[0]!;

test('every kind is shown in its group, all at one scale; another scale draws them anew', async () => {
  const { user } = show(<Generate />, { settings: SETTINGS });
  for (const group of GROUPS) {
    const shelf = within(screen.getByRole('region', { name: group }));
    const names = shelf.getAllByRole('button').map((button) => button.textContent);
    expect(names).toEqual(GENERATED_FAMILIES.filter((f) => f.group === group).map(({ name }) => name));
  }
  await waitFor(() => expect(drawn).toHaveLength(GENERATED_FAMILIES.length));
  // At 1:2 a millimetre is half as many pixels.
  expect(new Set(drawn.map(([, pxPerMm]) => pxPerMm))).toEqual(new Set([2]));
  drawn.length = 0;
  await user.click(screen.getByRole('radio', { name: '1:10' }));
  await waitFor(() => expect(drawn).toHaveLength(GENERATED_FAMILIES.length));
  expect(drawn[0]).toEqual([FIRST.kind, 0.4]);
  // What was drawn before is shown as it was.
  drawn.length = 0;
  await user.click(screen.getByRole('radio', { name: '1:2' }));
  expect(drawn).toEqual([]);
});

test('a kind that is chosen becomes a finish of its category, and is opened on the Bench', async () => {
  const told: unknown[] = [];
  const { press, address, store } = show(<Generate />, {
    settings: SETTINGS,
    answers: {
      'POST /api/finishes': (body) => {
        told.push(body);
        return { status: 201, body: { id: 'new', name: 'Terrazzo', category: 'stone', revisions: [] } };
      },
    },
  });
  const terrazzo = familyOf('terrazzo');
  await press(terrazzo.name);
  await waitFor(() => expect(address()).toBe('/bench/new'));
  expect(told).toEqual([{ name: terrazzo.name, category: 'stone', generated: { kind: 'terrazzo' } }]);
  expect(store.getState().bench.section).toBe('sample');
});

test('where it cannot be made the reason is said, and another can be chosen', async () => {
  const detail = 'The database does not answer. Try again in a minute.';
  let fails = true;
  const { press, address } = show(<Generate />, {
    settings: SETTINGS,
    answers: {
      'POST /api/finishes': () =>
        fails
          ? { status: 503, body: { title: 'Not ready', status: 503, detail } }
          : { body: { id: 'second' } },
    },
  });
  await press(FIRST.name);
  await waitFor(() => expect(screen.getByRole('alert').textContent).toContain(detail));
  expect(address()).toBe('/');
  fails = false;
  await press(familyOf('plaster').name);
  await waitFor(() => expect(address()).toBe('/bench/second'));
});
