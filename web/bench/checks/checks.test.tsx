/** @jest-environment ./script/jest-page-environment.cjs */
import { screen } from '@testing-library/react';
import type { Check } from '@jossel/core/surface';
import { show } from '../../test/page';
import { Checks } from './Checks';

const CHECKS: Check[] = [
  { code: 'too-light', section: 'colour', weight: 'wrong', text: 'The lightest part reflects 97 %.' },
  { code: 'size-assumed', section: 'size', weight: 'open', text: 'The size of 1 × 1 mm is assumed.' },
];

test('checks are counted, marked by their weight, and lead to their section', async () => {
  const { user, store } = show(<Checks checks={CHECKS} stale={false} sentence="" />);
  expect(screen.getByRole('heading').textContent).toBe('Checks: 2 open');
  expect(screen.getAllByRole('img').map((mark) => mark.getAttribute('aria-label'))).toEqual([
    'wrong',
    'open',
  ]);
  await user.click(screen.getByText('The size of 1 × 1 mm is assumed.'));
  expect(store.getState().bench.section).toBe('size');
  await user.click(screen.getByText('The lightest part reflects 97 %.'));
  expect(store.getState().bench.section).toBe('colour');
});

test('why a picture could not be drawn leads to the section of the setting that is about, where one is', async () => {
  const refused = 'Composing the repeat would take about 3 hours. Compose it of larger copies.';
  const {
    user,
    store,
    show: again,
  } = show(<Checks checks={CHECKS} stale sentence={refused} where="repeat.composed.copyMm" />);
  await user.click(screen.getByRole('button', { name: `wrong ${refused}` }));
  expect(store.getState().bench).toMatchObject({ section: 'repeat', repeatTool: 'way' });
  again(<Checks checks={CHECKS} stale sentence={refused} where="" />);
  expect(screen.getByText(refused)).toBeTruthy();
  expect(screen.queryByRole('button', { name: new RegExp(refused) })).toBeNull();
});

test('none open is said in words; not known yet is neither', () => {
  const { show: again } = show(<Checks checks={[]} stale={false} sentence="" />);
  expect(screen.getByRole('heading').textContent).toBe('Checks: all hold');
  again(<Checks checks={null} stale={false} sentence="" />);
  expect(screen.getByRole('heading').textContent).toBe('Checks');
  expect(screen.queryByText(/Every figure has a source/)).toBeNull();
});

test('checks of an older picture are said to be, and why the newer one could not be drawn', () => {
  const { show: again } = show(<Checks checks={CHECKS} stale sentence="" />);
  expect(screen.getByText('Of the picture before the last change.')).toBeTruthy();
  again(<Checks checks={CHECKS} stale sentence="The frame is crossed." />);
  expect(screen.getByText('The frame is crossed.')).toBeTruthy();
  expect(screen.getByText('The rest is of the last picture that could be drawn.')).toBeTruthy();
  expect(screen.getByRole('list').hasAttribute('data-stale')).toBe(true);
});
