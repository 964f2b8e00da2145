/** @jest-environment ./script/jest-page-environment.cjs */
import { screen } from '@testing-library/react';
import { useState } from 'react';
import { show } from '../test/page';
import { BuildUpRows } from './build-up';

const LAYERS = [
  { id: 'lime', name: 'Lime', mm: 10 },
  { id: 'size', name: 'Size', mm: 0 },
  { id: 'wash', name: 'Wash', mm: 1 },
];

function rows() {
  const opened: string[] = [];
  const orders: string[][] = [];
  function Kept() {
    const [open, setOpen] = useState<string | null>('lime');
    const [items, setItems] = useState(LAYERS);
    return (
      <BuildUpRows
        label="Layers"
        items={items}
        open={open}
        onOpen={(id) => {
          opened.push(id);
          setOpen(id);
        }}
        onOrder={(next) => {
          orders.push(next.map((layer) => layer.id));
          setItems(next);
        }}
        thick={({ mm }) => mm / 10}
        state={({ mm }) => (mm === 0 ? ', off' : '')}
        figure={({ mm }) => `${mm} mm`}
        counts={({ mm }) => mm > 0}
        dependencies={[items, open]}
      />
    );
  }
  const { user } = show(<Kept />);
  return { user, opened, orders };
}
const names = () => screen.getAllByRole('row').map((row) => row.querySelector('.name')!.textContent);

test('layers are drawn from the top down, as thick as they count; what is off is said to be', () => {
  rows();
  expect(names()).toEqual(['Wash', 'Size, off', 'Lime']);
  const thick = screen.getAllByRole('row').map((row) => row.querySelector('i')!);
  const height = thick.map((i) => parseFloat(getComputedStyle(i).height));
  expect(height[2]).toBeGreaterThan(height[0]!);
  expect(screen.getAllByRole('row').map((row) => row.hasAttribute('data-off'))).toEqual([false, true, false]);
  expect(screen.getByRole('row', { name: 'Lime' }).getAttribute('aria-selected')).toBe('true');
});

test('a row is opened by a press or by arrow keys; one is always open', async () => {
  const { user, opened } = rows();
  await user.click(screen.getByRole('row', { name: 'Wash' }));
  expect(opened).toEqual(['wash']);
  await user.keyboard('{ArrowDown}');
  expect(opened.at(-1)).toBe('size');
  await user.keyboard('{Escape}');
  expect(screen.getByRole('row', { name: 'Size' }).getAttribute('aria-selected')).toBe('true');
});
