/** @jest-environment ./script/jest-page-environment.cjs */
import { act, screen } from '@testing-library/react';
import { show } from '../test/page';
import { connectionSlice } from './connection';
import { Fault } from './Fault';

const refused = { status: 422, data: { detail: 'A room needs a name.' } };
const unanswered = { status: 'FETCH_ERROR', error: 'TypeError' };

test('what the server refused is said in its own words; no fault, nothing', () => {
  const { show: again } = show(<Fault error={refused} />);
  expect(screen.getByText('A room needs a name.')).toBeTruthy();
  again(<Fault error={undefined} />);
  expect(screen.queryByText('A room needs a name.')).toBeNull();
});

test('that the server did not answer is said while it is away', () => {
  const { store } = show(<Fault error={unanswered} />);
  const said = () => screen.queryByText(/server/i) !== null;
  expect(said()).toBe(false);
  act(() => void store.dispatch(connectionSlice.actions.lost()));
  expect(said()).toBe(true);
  act(() => void store.dispatch(connectionSlice.actions.found()));
  expect(said()).toBe(false);
});

test('it is tried again by a press, once', async () => {
  let times = 0;
  const { user, show: again } = show(<Fault error={unanswered} retry={() => times++} />);
  await user.click(screen.getByRole('button', { name: 'Try again' }));
  expect(times).toBe(1);
  again(<Fault error={unanswered} retry={() => times++} busy />);
  await user.click(screen.getByRole('button', { name: 'Trying …' }));
  expect(times).toBe(1);
});
