/** @jest-environment ./script/jest-page-environment.cjs */
import { screen, waitFor, within } from '@testing-library/react';
import type { Handover, PackedFinish } from '../app/api';
import { show } from '../test/page';
import { PackageItem } from './PackageItem';

const packed = (change: Partial<PackedFinish> = {}): PackedFinish => ({
  repeatMm: { width: 1200, height: 800 },
  sizeBasis: 'measured',
  lrv: 41.6,
  lrvBasis: 'published',
  glossGu: 12,
  glossBasis: 'assumed',
  reliefMm: 0.8,
  reliefBasis: 'inferred',
  px: { width: 4096, height: 2731 },
  files: 7,
  ...change,
});
const handover = (change: Partial<Handover> = {}): Handover => ({
  id: 'h1',
  state: 'done',
  progress: 1,
  step: '',
  createdAt: '2026-11-02T10:20:00Z',
  profile: 'general',
  title: 'Velthrask arcade',
  items: [{ finishId: 'f1', revision: 'B', name: 'Shell limestone', way: null }],
  contents: [packed()],
  file: { url: '/api/handovers/h1/file', fileName: 'velthrask.zip', bytes: 3.5 * 1024 * 1024 },
  ...change,
});
const item = (change: Partial<Handover>, options = {}) =>
  show(<PackageItem handover={handover(change)} profileName="General" />, options);
const row = (name: RegExp) => screen.getByText(name).closest('tr')!;

test('a package that is ready says its figures, each with its basis, and has its file', () => {
  item({});
  const link = screen.getByRole<HTMLAnchorElement>('link', { name: /velthrask\.zip/ });
  expect(link.textContent).toBe('velthrask.zip (3.5 MB)');
  expect(link.getAttribute('download')).toBe('velthrask.zip');
  expect(row(/Shell limestone/).textContent).toMatch(/1200 × 800.mm.*42.*12 GU.*0\.8.mm.*4096 × 2731.*7/);
  const bases = within(row(/Shell limestone/)).getAllByRole('img');
  expect(bases.map((svg) => svg.getAttribute('aria-label'))).toEqual([
    'measured',
    'published',
    'assumed',
    'inferred',
  ]);
  expect(screen.queryByRole('button', { name: 'Stop' })).toBeNull();
});

test('figures follow the person’s units; relief that was split says where', () => {
  item({ contents: [packed({ splitMm: 5 })] }, { settings: { units: 'imperial' } });
  expect(row(/Shell limestone/).textContent).toMatch(/3' 11|47 1\/4|47\.2/);
  expect(row(/Shell limestone/).textContent).toContain('split at');
});

test('one that is being made says how far it is and is stopped once', async () => {
  const { user, asked } = item(
    { state: 'running', progress: 0.4, step: 'Encoding the maps', file: undefined as never, contents: null },
    { answers: { 'DELETE /api/handovers/h1': () => ({ body: handover({ state: 'stopped' }) }) } },
  );
  expect(screen.getByRole('progressbar').getAttribute('aria-valuenow')).toBe('40');
  expect(screen.getByText('Encoding the maps')).toBeTruthy();
  await user.click(screen.getByRole('button', { name: 'Stop' }));
  await waitFor(() => expect(asked).toEqual(['DELETE /api/handovers/h1']));
});

test('one that failed says why', () => {
  item({ state: 'failed', error: 'The disk of the server is full.', file: undefined as never });
  expect(screen.getByText('failed')).toBeTruthy();
  expect(screen.getByText('The disk of the server is full.')).toBeTruthy();
});

test('of many finishes six are listed until all are asked for; a colourway is named', async () => {
  const items = Array.from({ length: 9 }, (_, k) => ({
    finishId: `f${k}`,
    revision: 'A',
    name: `Finish ${k}`,
    way: k === 0 ? { id: 'w', name: 'dusk' } : null,
  }));
  const { user } = item({ items, contents: items.map(() => packed()) });
  const listed = () => screen.getAllByRole('link', { name: /^Finish \d$/ }).length;
  expect(row(/Finish 0/).textContent).toContain('Finish 0, dusk A');
  expect(listed()).toBe(6);
  await user.click(screen.getByRole('button', { name: 'Show 3 more' }));
  expect(listed()).toBe(9);
  await user.click(screen.getByRole('button', { name: 'Show less' }));
  expect(listed()).toBe(6);
});
