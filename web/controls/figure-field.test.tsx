/** @jest-environment ./script/jest-page-environment.cjs */
import { screen, waitFor } from '@testing-library/react';
import { useState } from 'react';
import { figure, type Figure } from '@jossel/core/units';
import { show } from '../test/page';
import { FigureField } from './figure-field';

function depth(value: Figure<'mm'> | null) {
  const kept: { now: Figure<'mm'> | null } = { now: value };
  function Kept() {
    const [current, setCurrent] = useState(value);
    kept.now = current;
    return (
      <>
        <FigureField
          label="Depth"
          figure={current}
          unit="mm"
          min={0}
          onChange={setCurrent}
          onClear={() => setCurrent(null)}
        />
        <input aria-label="Next" />
      </>
    );
  }
  const { user } = show(<Kept />);
  const box = screen.getByRole('textbox', { name: 'Depth' });
  const type = async (text: string) => {
    await user.clear(box);
    await user.type(box, `${text}{Enter}`);
  };
  return { user, box, type, kept };
}
const asked = () => screen.queryByText(/Assumed, or/) !== null;

test('a number does not become measured by being typed: it is assumed until one key says otherwise', async () => {
  const { user, type, kept } = depth(null);
  await type('4');
  expect(kept.now).toMatchObject({ value: 4, unit: 'mm', basis: 'assumed' });
  expect(asked()).toBe(true);
  await user.keyboard('m');
  expect(kept.now).toMatchObject({ value: 4, basis: 'measured' });
  expect(asked()).toBe(false);
});

test('a measured figure that is typed again was read again; a published one is open', async () => {
  const measured = depth(figure(4, 'mm', 'measured', 0.1));
  await measured.type('5');
  expect(measured.kept.now).toMatchObject({ value: 5, basis: 'measured', tolerance: 0.1 });
  expect(asked()).toBe(false);
});

test('what was published and is typed over is asked about; a press answers', async () => {
  const { user, type, kept } = depth(figure(4, 'mm', 'published'));
  await type('5');
  expect(kept.now!.basis).toBe('assumed');
  await user.click(screen.getByRole('button', { name: /^p ?ublished$/ }));
  expect(kept.now!.basis).toBe('published');
});

test('Escape or going on leaves it assumed; a letter in the middle of typing is text', async () => {
  const { user, box, type, kept } = depth(null);
  await type('4');
  await user.keyboard('{Escape}');
  expect(asked()).toBe(false);
  await type('6');
  await user.type(box, '1m');
  expect(asked()).toBe(true);
  await user.keyboard('{Backspace}{Backspace}{Enter}');
  await user.click(screen.getByRole('textbox', { name: 'Next' }));
  await waitFor(() => expect(asked()).toBe(false));
  expect(kept.now!.basis).toBe('assumed');
});

test('a tolerance is given and taken away; a note opens a line of its own; an emptied field is no figure', async () => {
  const { user, box, kept } = depth(figure(4, 'mm', 'measured'));
  const tolerance = screen.getByRole('textbox', { name: '± tolerance of depth' });
  await user.type(tolerance, '0.2{Enter}');
  expect(kept.now!.tolerance).toBe(0.2);
  await user.clear(tolerance);
  await user.keyboard('{Enter}');
  expect(kept.now).not.toHaveProperty('tolerance');
  await user.click(screen.getByRole('button', { name: 'Add a note on depth' }));
  await user.type(screen.getByRole('textbox', { name: 'Note on depth' }), 'gauge, three places{Enter}');
  expect(kept.now!.note).toBe('gauge, three places');
  await user.clear(box);
  await user.keyboard('{Enter}');
  expect(kept.now).toBeNull();
  expect(screen.queryByRole('textbox', { name: /tolerance/ })).toBeNull();
});
