import { distinctNames } from './distinct-names';

const finish = (id: string, name: string, code = '', lrv = 40) => ({
  id,
  name,
  headline: { code, lrv, line: '', supplier: '', repeatMm: { width: 600, height: 600 } } as never,
});

test('finishes of one name are told apart by their code, else their reflectance, else their place', () => {
  const named = (...list: ReturnType<typeof finish>[]) => [...distinctNames(list).values()];
  expect(named(finish('a', 'Smoked'), finish('b', 'Honed'))).toEqual(['Smoked', 'Honed']);
  expect(named(finish('a', 'Smoked', 'S1'), finish('b', 'Smoked', 'S2'))).toEqual([
    'Smoked · S1',
    'Smoked · S2',
  ]);
  expect(named(finish('a', 'Smoked', 'S1', 30), finish('b', 'Smoked', 'S1', 31))).toEqual([
    'Smoked · LRV 30',
    'Smoked · LRV 31',
  ]);
  expect(named(finish('a', 'Smoked'), finish('b', 'Smoked'))).toEqual(['Smoked · 1 of 2', 'Smoked · 2 of 2']);
});
