import { LIGHT_TABLE } from '@jossel/core/proof';
import { benchSlice, lightAsSet, lookOf, type BenchState } from './bench-slice';

const { addressed, changed } = benchSlice.actions;
const begun = benchSlice.getInitialState();
const after = (...actions: ReturnType<typeof changed | typeof addressed>[]): BenchState =>
  actions.reduce<BenchState>((state, action) => benchSlice.reducer(state, action), begun);

test.each<[string, Partial<BenchState>, string]>([
  ['nothing open', {}, 'repeat'],
  ['the report of the sample', { section: 'sample', tool: 'report' }, 'received'],
  ['straightening', { section: 'sample', tool: 'frame' }, 'received'],
  ['keep-outs', { section: 'sample', tool: 'keep-outs' }, 'straight'],
  ['parts', { section: 'sample', tool: 'parts' }, 'straight'],
  ['a set of maps', { section: 'sample', tool: 'set' }, 'repeat'],
  ['size', { section: 'size' }, 'straight'],
  ['levelling', { section: 'colour', colourTool: 'light' }, 'straight'],
  ['grey card', { section: 'colour', colourTool: 'balance' }, 'received'],
  ['matching', { section: 'colour', colourTool: 'match' }, 'repeat'],
  ['relief', { section: 'relief' }, 'repeat'],
])('%s looks at what it works on', (_name, state, look) => {
  expect(lookOf(after(changed(state)))).toBe(look);
});

test('what is chosen by hand stays until another section or tool is opened', () => {
  const byHand = after(changed({ section: 'size' }), changed({ look: 'received' }));
  expect(lookOf(byHand)).toBe('received');
  expect(lookOf(benchSlice.reducer(byHand, changed({ map: 'height' })))).toBe('received');
  expect(lookOf(benchSlice.reducer(byHand, changed({ section: 'relief' })))).toBe('repeat');
});

test('another tool lets go of what is in hand; what is set for the views stays', () => {
  const inHand = after(
    changed({ section: 'sample', tool: 'keep-outs' }),
    changed({ drawing: 'area', selected: 'k1', dropper: 'add', field: 3, raking: true }),
  );
  const other = benchSlice.reducer(inHand, changed({ tool: 'parts' }));
  expect(other).toMatchObject({ drawing: null, selected: null, dropper: null, field: 3, raking: true });
  // Chosen together with the tool it is in hand.
  expect(benchSlice.reducer(inHand, changed({ tool: 'parts', selected: 'p2' })).selected).toBe('p2');
});

test('an address that is opened gives the sheet back and lets go of what was in hand', () => {
  const filled = after(changed({ filled: 'plate', selected: 'k1', hatch: true }));
  expect(benchSlice.reducer(filled, addressed({ section: 'relief' }))).toMatchObject({
    section: 'relief',
    filled: null,
    selected: null,
    hatch: true,
  });
});

test('a light is set up with its lamp where its table says', () => {
  for (const name of Object.keys(LIGHT_TABLE) as (keyof typeof LIGHT_TABLE)[])
    expect(lightAsSet(name)).toEqual({
      name,
      azimuthDeg: LIGHT_TABLE[name].azimuthDeg,
      elevationDeg: LIGHT_TABLE[name].elevationDeg,
    });
});
