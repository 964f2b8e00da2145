/** @jest-environment ./script/jest-page-environment.cjs */
import { screen, within } from '@testing-library/react';
import { useState } from 'react';
import { focus, show } from '../test/page';
import { Amount, Tick } from './amounts';
import { Choice } from './choice';
import { RenameBox } from './rename-box';

describe('a new name', () => {
  function rename(name: string) {
    const ends: (string | null)[] = [];
    const { user } = show(<RenameBox name={name} onEnd={(next) => ends.push(next)} />);
    return {
      user,
      ends,
      box: screen.getByRole<HTMLInputElement>('textbox', { name: `New name of ${name}` }),
    };
  }

  test('is taken over by Enter, without blanks around it, once', async () => {
    const { user, ends, box } = rename('Loggia');
    expect(document.activeElement).toBe(box);
    await user.keyboard(' Long loggia {Enter}');
    expect(ends).toEqual(['Long loggia']);
    await user.tab();
    expect(ends).toHaveLength(1);
  });

  test.each([
    ['Escape', 'Hall{Escape}'],
    ['nothing typed', '{Backspace}{Enter}'],
    ['the same one', 'Loggia{Enter}'],
  ])('%s leaves the old one', async (_how, keys) => {
    const { user, ends } = rename('Loggia');
    await user.keyboard(keys);
    expect(ends).toEqual([null]);
  });
});

describe('a choice', () => {
  const OPTIONS = [
    { value: 'half', name: 'half bond' },
    { value: 'third', name: 'third bond' },
  ] as const;
  function choose(value: 'half' | 'third' | null) {
    const told: string[] = [];
    function Kept() {
      const [chosen, setChosen] = useState(value);
      return (
        <Choice
          label="Bond"
          value={chosen}
          options={OPTIONS}
          placeholder="choose a bond"
          onChange={(next) => {
            told.push(next);
            setChosen(next);
          }}
        />
      );
    }
    const { user } = show(<Kept />);
    return { user, told, trigger: screen.getByRole('button', { name: /Bond/ }) };
  }

  test('says what is chosen, and that nothing is', () => {
    expect(choose('third').trigger.textContent).toContain('third bond');
  });

  test('is made with the keyboard: Enter opens the list, Escape leaves it as it was', async () => {
    const { user, told, trigger } = choose(null);
    expect(trigger.textContent).toContain('choose a bond');
    focus(trigger);
    await user.keyboard('{Enter}');
    expect(screen.getAllByRole('option').map((o) => o.textContent)).toEqual(['half bond', 'third bond']);
    await user.keyboard('{Escape}');
    expect(screen.queryByRole('listbox')).toBeNull();
    expect(told).toEqual([]);
    focus(trigger);
    await user.keyboard('{Enter}{ArrowDown}{Enter}');
    expect(told).toHaveLength(1);
    expect(trigger.textContent).toContain(told[0] === 'half' ? 'half bond' : 'third bond');
  });

  test('is made with the pointer', async () => {
    const { user, told, trigger } = choose('half');
    await user.click(trigger);
    await user.click(within(screen.getByRole('listbox')).getByRole('option', { name: 'third bond' }));
    expect(told).toEqual(['third']);
  });
});

describe('an amount', () => {
  function amount(value: number) {
    const told: number[] = [];
    function Kept() {
      const [now, setNow] = useState(value);
      return (
        <Amount
          label="Warmth"
          value={now}
          min={-1}
          max={1}
          step={0.1}
          onChange={(next) => {
            told.push(next);
            setNow(next);
          }}
        />
      );
    }
    const { user } = show(<Kept />);
    return { user, told, slider: screen.getByRole('slider', { name: 'Warmth' }) };
  }

  test('is moved by keys in its steps and stops at its ends', async () => {
    const { user, told, slider } = amount(0.9);
    focus(slider);
    await user.keyboard('{ArrowRight}{ArrowRight}{ArrowLeft}');
    expect(told.at(-1)).toBeCloseTo(0.9, 9);
    expect(Math.max(...told)).toBeCloseTo(1, 9);
    await user.keyboard('{Home}');
    expect(told.at(-1)).toBe(-1);
  });

  test('is typed beside the slider, where what is beyond its ends is refused', async () => {
    const { user, told, slider } = amount(0);
    const box = screen.getByRole('textbox', { name: 'Warmth, number' });
    await user.clear(box);
    await user.type(box, '0.3{Enter}');
    expect(told).toEqual([0.3]);
    expect((slider as HTMLInputElement).value).toBe('0.3');
    await user.clear(box);
    await user.type(box, '2{Enter}');
    expect(screen.getByRole('alert').textContent).toMatch(/between −1 × and 1 ×|between −1 and 1/);
    expect(told).toEqual([0.3]);
  });
});

test('a tick is turned over by the space bar and by pressing its words', async () => {
  const told: boolean[] = [];
  function Kept() {
    const [on, setOn] = useState(false);
    return (
      <Tick
        name="Mirrored"
        value={on}
        onChange={(next) => {
          told.push(next);
          setOn(next);
        }}
      />
    );
  }
  const { user } = show(<Kept />);
  await user.click(screen.getByText('Mirrored'));
  focus(screen.getByRole('checkbox', { name: 'Mirrored' }));
  await user.keyboard(' ');
  expect(told).toEqual([true, false]);
});
