/** @jest-environment ./script/jest-page-environment.cjs */
import { screen } from '@testing-library/react';
import { useState } from 'react';
import { show } from '../test/page';
import type { Settings } from '../app/settings-slice';
import { NumberField, TextLine, type NumberFieldProps } from './fields';

/** A field whose value is kept, and what it was told. */
function field(
  props: Partial<NumberFieldProps> & { value?: number | null },
  settings: Partial<Settings> = {},
) {
  const told: (number | 'none')[] = [];
  function Kept() {
    const [value, setValue] = useState(props.value ?? null);
    return (
      <NumberField
        label="Depth"
        unit="mm"
        {...props}
        value={value}
        onChange={(next) => {
          told.push(next);
          setValue(next);
        }}
        {...(props.onClear
          ? {
              onClear: () => {
                told.push('none');
                setValue(null);
              },
            }
          : {})}
      />
    );
  }
  const { user, set } = show(<Kept />, { settings });
  const box = screen.getByRole<HTMLInputElement>('textbox', { name: 'Depth' });
  const type = async (text: string, end = '{Enter}') => {
    await user.clear(box);
    await user.type(box, `${text}${end}`);
  };
  return { user, box, type, told, set };
}
const fault = () => screen.queryByRole('alert')?.textContent ?? '';

test.each([
  ['12', 12],
  ['1.2 cm', 12],
  ['2*60+5', 125],
  ['1 1/2"', 38.1],
])('%s is taken over as %d mm and shown as it is kept', async (text, mm) => {
  const { box, type, told } = field({ value: 3 });
  await type(text);
  expect(told).toHaveLength(1);
  expect(told[0]).toBeCloseTo(mm, 9);
  expect(Number(box.value)).toBeCloseTo(mm, 2);
  expect(box.dataset['typing']).toBe('no');
});

test('what cannot be is said below, tied to the field, and the last value stays until it is right', async () => {
  const { user, box, type, told } = field({ value: 3, min: 0, max: 40 });
  await type('50');
  expect(fault()).toMatch(/^Depth must be between 0.mm and 40.mm; 50.mm is not\.$/);
  expect(box.getAttribute('aria-invalid')).toBe('true');
  expect(document.getElementById(box.getAttribute('aria-describedby')!)!.textContent).toBe(fault());
  expect(box.value).toBe('50');
  expect(told).toEqual([]);
  await type('deep');
  expect(fault()).toContain('deep');
  await user.type(box, '{Escape}');
  expect([box.value, fault(), box.getAttribute('aria-invalid')]).toEqual(['3', '', null]);
  await type('39');
  expect(told).toEqual([39]);
  expect(fault()).toBe('');
});

test('one end of the range alone is said as such', async () => {
  const { type } = field({ value: 3, min: 1 });
  await type('0.5');
  expect(fault()).toMatch(/at least 1.mm/);
});

test('leaving takes over, and what is unchanged is no change', async () => {
  const { user, type, told } = field({ value: 3 });
  await type('4', '');
  expect(told).toEqual([]);
  await user.tab();
  expect(told).toEqual([4]);
  await type('4');
  expect(told).toEqual([4]);
});

test('an emptied field is none where there may be none, else a fault', async () => {
  const optional = field({ value: 3, onClear: () => undefined });
  await optional.user.clear(optional.box);
  await optional.user.keyboard('{Enter}');
  expect(optional.told).toEqual(['none']);
  expect(optional.box.value).toBe('');
});

test('a whole number stays whole', async () => {
  const { type, told } = field({ value: 3, unit: '1', whole: true });
  await type('2.5');
  expect(fault()).toMatch(/whole number; 2\.5 is not/);
  await type('7/2*2');
  expect(told).toEqual([7]);
});

test('arrow keys step by the size of the number, ten times so with Shift, and stop at the ends', async () => {
  const { user, box, told } = field({ value: 12, max: 30, min: 0 });
  await user.click(box);
  await user.keyboard('{ArrowUp}');
  await user.keyboard('{ArrowDown}{ArrowDown}');
  await user.keyboard('{Shift>}{ArrowUp}{ArrowUp}{/Shift}');
  expect(told).toEqual([13, 12, 11, 21, 30]);
});

test('in imperial units a bare number is inches, thin things are thou, and the value stays in mm', async () => {
  const { box, type, told, set } = field({ value: 25.4 }, { units: 'imperial' });
  expect(box.value).toBe('1');
  expect(screen.getByText('in')).toBeTruthy();
  await type('2');
  expect(told).toEqual([50.8]);
  await type('0.254 mm');
  expect(told.at(-1)).toBeCloseTo(0.254, 9);
  expect([box.value, screen.getByText('thou').textContent]).toEqual(['10', 'thou']);
  set({ units: 'metric' });
  expect(Number(box.value)).toBeCloseTo(0.25, 2);
});

test('units that are no lengths take plain numbers only', async () => {
  const { type, told } = field({ value: 20, unit: 'GU' });
  await type('3 mm');
  expect(fault()).toContain('is not a number');
  await type('30');
  expect(told).toEqual([30]);
});

test('a line of text is taken over when it is left or by Enter, and given up by Escape', async () => {
  const told: string[] = [];
  const { user } = show(<TextLine label="Note" value="by eye" onChange={(text) => told.push(text)} />);
  const box = screen.getByRole<HTMLInputElement>('textbox', { name: 'Note' });
  await user.type(box, ' at noon{Escape}');
  expect([box.value, told]).toEqual(['by eye', []]);
  await user.type(box, ' at noon');
  expect(box.dataset['typing']).toBe('yes');
  await user.tab();
  expect(told).toEqual(['by eye at noon']);
});
