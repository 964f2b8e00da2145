import { configureStore } from '@reduxjs/toolkit';
import { api } from './api';
import { connectionSlice, watchConnection } from './connection';

const store = () =>
  configureStore({
    reducer: { connection: connectionSlice.reducer, [api.reducerPath]: api.reducer },
    middleware: (defaults) => defaults().prepend(watchConnection).concat(api.middleware),
  });
const rejected = (status: unknown) => ({
  type: 'anything/rejected',
  payload: { status },
  meta: { requestStatus: 'rejected', rejectedWithValue: true, requestId: 'r', arg: { endpointName: 'none' } },
  error: { message: '' },
});

beforeEach(() => jest.useFakeTimers());
afterEach(() => jest.useRealTimers());

test('a call without an answer is said once; the server is asked until it answers, then all is read anew', async () => {
  const answers = [new TypeError('refused'), { ok: false }, { ok: true }];
  const asked = jest.fn(() => {
    const next = answers.shift();
    return next instanceof Error ? Promise.reject(next) : Promise.resolve(next);
  });
  globalThis.fetch = asked as never;
  const { dispatch, getState, subscribe } = store();
  let told = 0;
  subscribe(() => (told += getState().connection.away ? 0 : 1));
  dispatch(rejected('FETCH_ERROR'));
  dispatch(rejected('FETCH_ERROR'));
  await jest.advanceTimersByTimeAsync(1000);
  expect(getState().connection.away).toBe(true);
  expect(asked).not.toHaveBeenCalled();
  await jest.advanceTimersByTimeAsync(1100);
  expect(asked).toHaveBeenCalledTimes(1);
  await jest.advanceTimersByTimeAsync(2000);
  expect(getState().connection.away).toBe(true);
  await jest.advanceTimersByTimeAsync(2000);
  expect(getState().connection.away).toBe(false);
  expect(asked).toHaveBeenCalledTimes(3);
  expect(told).toBeGreaterThan(0);
  await jest.advanceTimersByTimeAsync(10000);
  expect(asked).toHaveBeenCalledTimes(3);
});

test('an answer that refuses is no lost connection', async () => {
  const asked = jest.fn();
  globalThis.fetch = asked as never;
  const { dispatch, getState } = store();
  dispatch(rejected(422));
  await jest.advanceTimersByTimeAsync(5000);
  expect(getState().connection.away).toBe(false);
  expect(asked).not.toHaveBeenCalled();
});
