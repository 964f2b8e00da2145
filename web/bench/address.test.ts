import fc from 'fast-check';
import { SECTIONS } from '@jossel/core/surface';
import { addressOf, benchAt } from './address';
import { benchSlice, COLOUR_TOOLS, FIELDS, LOOKS, REPEAT_TOOLS, SAMPLE_TOOLS } from './bench-slice';

const initial = benchSlice.getInitialState();

test('the Bench as it begins has nothing in its address', () => {
  expect(addressOf(initial).toString()).toBe('');
  expect(initial).toMatchObject(benchAt(new URLSearchParams()));
});

test('section, tool, map, view and scale stand in the address', () => {
  const state = { ...initial, section: 'colour', colourTool: 'hand', map: 'height', scale: 7.5 } as const;
  expect(addressOf(state).toString()).toBe('section=colour&tool=hand&map=height&scale=7.5');
});

test('an address leads back to what it was made from', () => {
  const any = <T>(values: readonly T[]) => fc.constantFrom(...values);
  fc.assert(
    fc.property(
      fc.record({
        section: any([...SECTIONS, null]),
        tool: any(SAMPLE_TOOLS),
        colourTool: any(COLOUR_TOOLS),
        repeatTool: any(REPEAT_TOOLS),
        look: any([...LOOKS, null]),
        map: any(['colour', 'height', 'normal'] as const),
        scale: any([null, 1, 7.5, 200]),
        field: any(FIELDS),
        way: any([null, 'moss']),
      }),
      (state) => {
        const back = benchAt(addressOf(state));
        // Tools of sections that are not open are not in the address.
        const { tool: _, colourTool: __, repeatTool: ___, ...rest } = state;
        expect(back).toMatchObject(rest);
        if (state.section === 'sample') expect(back.tool).toBe(state.tool);
        if (state.section === 'colour') expect(back.colourTool).toBe(state.colourTool);
        if (state.section === 'repeat') expect(back.repeatTool).toBe(state.repeatTool);
      },
    ),
  );
});

test('what makes no sense in an address is passed over', () => {
  const wild = new URLSearchParams('section=roof&tool=saw&map=smell&scale=-3&repeats=9&view=upside');
  expect(benchAt(wild)).toEqual(benchAt(new URLSearchParams()));
  expect(benchAt(new URLSearchParams('scale=1e9')).scale).toBe(1000);
});
