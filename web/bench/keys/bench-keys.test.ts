import { BENCH_KEYS, keyNamed, leave, nameOfKey, type KeyContext } from './bench-keys';
import { benchSlice, type BenchState } from '../bench-slice';

const initial = benchSlice.getInitialState();

/** Presses keys one after the other and returns the state they lead to. */
function press(names: string[], from: Partial<BenchState> = {}): { bench: BenchState; told: string[] } {
  let bench: BenchState = { ...initial, ...from };
  const told: string[] = [];
  const context = (): KeyContext => ({
    bench,
    maps: ['colour', 'height', 'normal'],
    plate: { zoom: (larger) => told.push(larger ? 'larger' : 'smaller'), fit: () => told.push('fit') },
    change: (change) => (bench = benchSlice.reducer(bench, benchSlice.actions.changed(change))),
    undo: () => told.push('undo'),
    redo: () => told.push('redo'),
    toFirstCheck: () => told.push('check'),
    showSheet: () => told.push('sheet'),
  });
  for (const name of names) keyNamed(name)!.run(context());
  return { bench, told };
}

test('every key does one thing', () => {
  const all = BENCH_KEYS.flatMap((k) => k.keys);
  expect(new Set(all).size).toBe(all.length);
});

test('a digit opens its section and closes it again', () => {
  expect(press(['3']).bench.section).toBe('colour');
  expect(press(['6']).bench.section).toBe('weathering');
  expect(press(['9']).bench.section).toBe('revision');
  expect(
    BENCH_KEYS.filter(({ name }) => name.startsWith('Open or close')).map(
      ({ caps, name }) => `${caps} ${name}`,
    ),
  ).toContain('7 Open or close Relief');
  expect(press(['3', '4']).bench.section).toBe('repeat');
  expect(press(['3', '3']).bench.section).toBeNull();
});

test('maps, views and repeats go round', () => {
  expect(press(['.', '.', '.']).bench.map).toBe('colour');
  expect(press([',']).bench.map).toBe('normal');
  expect(press(['v']).bench.look).toBe('received');
  expect(press(['n', 'n']).bench.field).toBe(3);
  expect(press(Array(6).fill('n') as string[]).bench.field).toBe(1);
});

test('zoom, fit, undo and the sheet go to whoever does them', () => {
  expect(press(['+', '=', '-', 'w', 'ctrl+z', 'ctrl+y', 'ctrl+shift+z', '?', 'c']).told).toEqual([
    'larger',
    'larger',
    'smaller',
    'fit',
    'undo',
    'redo',
    'redo',
    'sheet',
    'check',
  ]);
});

test('Escape leaves one thing after the other, the innermost first', () => {
  let bench: BenchState = {
    ...initial,
    section: 'sample',
    filled: 'plate',
    selected: 'a',
    drawing: 'area',
  };
  const left: string[] = [];
  for (let change = leave(bench); change; change = leave(bench)) {
    left.push(Object.keys(change)[0]!);
    bench = { ...bench, ...change };
  }
  expect(left).toEqual(['drawing', 'selected', 'filled', 'section']);
});

test.each([
  [{ key: 'Z', ctrlKey: true, metaKey: false, shiftKey: true }, 'ctrl+shift+z'],
  [{ key: 'y', ctrlKey: false, metaKey: true, shiftKey: false }, 'ctrl+y'],
  [{ key: '?', ctrlKey: false, metaKey: false, shiftKey: true }, '?'],
])('%j is called %s', (event, name) => {
  expect(nameOfKey(event)).toBe(name);
});
