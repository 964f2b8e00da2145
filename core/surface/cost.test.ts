import { printTime, refuseBeyond, type Cost } from './cost';
import { Refusal } from './refusal';

const laying: Cost = {
  what: 'laying 40 pieces over 512 × 400 px',
  less: 'Make the repeat of the layout smaller',
  where: 'layout.repeatMm',
  seconds: 2,
  bytes: 0.4e9,
};
const composing: Cost = {
  what: 'composing the repeat',
  less: 'Compose it of larger copies',
  where: 'repeat.composed.copyMm',
  seconds: 400,
  bytes: 0.3e9,
};

const refusalOf = (run: () => void): Refusal => {
  try {
    run();
  } catch (error) {
    expect(error).toBeInstanceOf(Refusal);
    return error as Refusal;
  }
  throw new Error('It was not refused.');
};

test('what most of the time goes into is named, with what makes it less, and the setting', () => {
  const { code, sentence, where } = refusalOf(() => refuseBeyond({ seconds: 120 }, [laying, composing]));
  expect(sentence).toBe(
    'This would take about 7 minutes for composing the repeat; at most 2 minutes can be spent on it. Compose it of larger copies.',
  );
  expect([code, where]).toEqual(['too-much-time', 'repeat.composed.copyMm']);
});

test('the largest part of the memory is not that of the time', () => {
  const { code, sentence } = refusalOf(() =>
    refuseBeyond({ seconds: 1000, bytes: 0.5e9 }, [laying, composing]),
  );
  expect(sentence).toMatch(
    /^This would take about 0\.7\u2009GB of memory, 0\.4\u2009GB of it for laying 40 pieces over 512 × 400 px; at most 0\.5\u2009GB/,
  );
  expect(code).toBe('too-much-memory');
});

test('what is within the budget, or has none, is not refused', () => {
  expect(() => refuseBeyond({}, [laying, composing])).not.toThrow();
  expect(() => refuseBeyond({ seconds: 402, bytes: 0.7e9 }, [laying, composing])).not.toThrow();
  expect(() => refuseBeyond({ seconds: 0 }, [])).not.toThrow();
});

test.each([
  [0.2, '1 second'],
  [42.4, '42 seconds'],
  [89.7, '90 seconds'],
  [150, '3 minutes'],
  [5399, '90 minutes'],
  [9000, '2.5 hours'],
  [72000, '20 hours'],
])('%d s are said as %s', (seconds, said) => expect(printTime(seconds)).toBe(said));
