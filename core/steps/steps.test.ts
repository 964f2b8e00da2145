import { atOnce, inTurns, rowSpans, spans, type Steps } from '.';

/** Counts up in steps that take some time each. */
function* counting(to: number, stepMs: number): Steps<number> {
  let sum = 0;
  for (let k = 1; k <= to; k++) {
    const until = Date.now() + stepMs;
    while (Date.now() < until);
    sum += k;
    yield;
  }
  return sum;
}

test('work comes to the same at once and in turns', async () => {
  expect(atOnce(counting(10, 0))).toBe(55);
  expect(await inTurns(counting(10, 0), async () => undefined)).toBe(55);
});

test('others have their turn now and then, not at every step', async () => {
  let turns = 0;
  await inTurns(counting(30, 8), async () => void turns++);
  expect(turns).toBeGreaterThan(1);
  expect(turns).toBeLessThan(15);
});

test('it is stopped where it would let others in', async () => {
  const stopped = new Error('stopped');
  await expect(inTurns(counting(1000, 5), () => Promise.reject(stopped))).rejects.toBe(stopped);
});

test('work that is stopped in turns clears up after itself', async () => {
  let cleared = false;
  function* endless(): Steps<void> {
    try {
      for (;;) yield;
    } finally {
      cleared = true;
    }
  }
  const stopped = inTurns(endless(), async () => {
    throw new Error('stop');
  });
  await expect(stopped).rejects.toThrow('stop');
  expect(cleared).toBe(true);
});

test('spans cover all numbers once, in order, none longer than asked; rows are never cut', () => {
  for (const count of [0, 1, 7, 8, 9, 1000]) {
    const all = spans(count, 8).flatMap(({ from, to }) => {
      expect(to - from).toBeLessThanOrEqual(8);
      return Array.from({ length: to - from }, (_, k) => from + k);
    });
    expect(all).toEqual(Array.from({ length: count }, (_, k) => k));
  }
  const ofRows = rowSpans(5000, 4000);
  expect(ofRows.length).toBeGreaterThan(10);
  expect(ofRows.at(-1)!.to).toBe(5000);
  // Rows of any length are taken one by one at least.
  expect(rowSpans(3, 1e9)).toEqual([0, 1, 2].map((from) => ({ from, to: from + 1 })));
});
