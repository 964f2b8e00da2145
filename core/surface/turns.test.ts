import { checkpoint, RenderContext, Stopped, turn, withTurns } from '.';
import { NO_PICTURES } from './context';

const TURN_MS = 60;
beforeEach(() => jest.useFakeTimers({ now: 1000 }));
afterEach(() => jest.useRealTimers());

/** Work that takes some time, and whoever waits for a turn meanwhile. */
function sharing() {
  let turns = 0;
  const pause = async () => void turns++;
  const signal = { aborted: false };
  const work = (ms: number) => jest.setSystemTime(Date.now() + ms);
  return { shared: { pause, signal }, signal, work, turns: () => turns };
}

test('parts of work that are short by themselves let others in once they took long together', async () => {
  const { shared, work, turns } = sharing();
  await checkpoint(shared);
  for (let k = 0; k < 10; k++) {
    work(25);
    await turn(shared);
  }
  // Every third of them.
  expect(turns()).toBe(1 + 3);
});

test('steps of several kinds of work go on by one clock', async () => {
  const { shared, work, turns } = sharing();
  function* steps(count: number) {
    for (let k = 0; k < count; k++) {
      work(TURN_MS / 2);
      yield;
    }
    return count;
  }
  await checkpoint(shared);
  expect(await withTurns(shared, steps(1))).toBe(1);
  expect(turns()).toBe(1);
  expect(await withTurns(shared, steps(1))).toBe(1);
  expect(turns()).toBe(2);
  expect(await withTurns(shared, steps(6))).toBe(6);
  expect(turns()).toBe(5);
});

test('who asks to stop is heeded at the next step, and the work clears up', async () => {
  const { shared, signal } = sharing();
  let [done, cleared] = [0, false];
  function* endless() {
    try {
      for (;;) {
        if (++done === 5) signal.aborted = true;
        yield;
      }
    } finally {
      cleared = true;
    }
  }
  await expect(withTurns(shared, endless())).rejects.toBeInstanceOf(Stopped);
  expect([done, cleared]).toEqual([5, true]);
  await expect(turn(shared)).rejects.toBeInstanceOf(Stopped);
});

test('nothing new is made once the work is to stop; what is known is not asked', async () => {
  const { shared, signal } = sharing();
  const ctx = new RenderContext(NO_PICTURES, { widthPx: 8, way: null, category: null }, shared);
  expect(await ctx.known('a', () => 1)).toBe(1);
  signal.aborted = true;
  expect(await ctx.known('a', () => 2)).toBe(1);
  await expect(ctx.known('b', () => 3)).rejects.toBeInstanceOf(Stopped);
});
