/** @jest-environment ./script/jest-page-environment.cjs */
import { screen } from '@testing-library/react';
import { show } from '../test/page';
import { steady } from './steady';

interface Props {
  name: string;
  options?: readonly { value: string; mark?: React.ReactNode }[];
  style?: React.CSSProperties;
  children?: React.ReactNode;
  onPress?: (by: string) => void;
}
let renders: number;
const Part = steady(function PlainPart({ name, children, onPress }: Props) {
  renders++;
  return (
    <button onClick={() => onPress?.(name)}>
      {name} {children}
    </button>
  );
});
beforeEach(() => (renders = 0));

const Mark = ({ of }: { of: { kind: string } }) => <i>{of.kind}</i>;
const KIND = { kind: 'round' };

test.each<[string, () => Props]>([
  ['new handlers', () => ({ name: 'a', onPress: () => undefined })],
  ['lists of the same', () => ({ name: 'a', options: [{ value: 'x' }, { value: 'y' }] })],
  ['options with marks', () => ({ name: 'a', options: [{ value: 'x', mark: <Mark of={KIND} /> }] })],
  ['the same style', () => ({ name: 'a', style: { width: 4 } })],
  ['the same children', () => ({ name: 'a', children: ['b', <b key="b">c</b>] })],
])('%s are no change', (_what, props) => {
  const { show: again } = show(<Part {...props()} />);
  again(<Part {...props()} />);
  expect(renders).toBe(1);
});

test.each<[string, Props, Props]>([
  ['another word', { name: 'a' }, { name: 'b' }],
  ['an option more', { name: 'a', options: [] }, { name: 'a', options: [{ value: 'x' }] }],
  ['another child', { name: 'a', children: <b>c</b> }, { name: 'a', children: <b>d</b> }],
  ['another kind of child', { name: 'a', children: <b>c</b> }, { name: 'a', children: <i>c</i> }],
  [
    'a child that shows another object, though it is alike',
    { name: 'a', children: <Mark of={{ kind: 'round' }} /> },
    { name: 'a', children: <Mark of={{ kind: 'round' }} /> },
  ],
  ['a handler where there was none', { name: 'a' }, { name: 'a', onPress: () => undefined }],
])('%s is one', (_what, before, after) => {
  const { show: again } = show(<Part {...before} />);
  again(<Part {...after} />);
  expect(renders).toBe(2);
});

test('the handler of the last render is called, though nothing was rendered for it', async () => {
  const told: string[] = [];
  const { user, show: again } = show(<Part name="a" onPress={() => told.push('first')} />);
  again(<Part name="a" onPress={(by) => told.push(`second, by ${by}`)} />);
  await user.click(screen.getByRole('button'));
  expect(told).toEqual(['second, by a']);
  expect(renders).toBe(1);
});
