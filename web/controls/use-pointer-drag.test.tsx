/** @jest-environment ./script/jest-page-environment.cjs */
import '../test/pointer-events';
import { fireEvent, render, screen } from '@testing-library/react';
import { usePointerDrag } from './use-pointer-drag';

type Step = [what: string, start: number, ...rest: unknown[]];

function Handle({ value, steps, onPress }: { value: number; steps: Step[]; onPress?: () => void }) {
  const drag = usePointerDrag({
    begin: (_press, by: number) => value * by,
    move: (start, [x, y], at) => steps.push(['move', start, x, y, ...at]),
    end: (start, moved) => steps.push(['end', start, moved]),
  });
  return (
    <div onPointerDown={onPress}>
      <button style={{ touchAction: 'none' }} {...drag(10)}>
        handle
      </button>
    </div>
  );
}

function held() {
  const steps: Step[] = [];
  const pressed = jest.fn();
  const { rerender } = render(<Handle value={3} steps={steps} onPress={pressed} />);
  const handle = screen.getByRole('button');
  const at = (clientX: number, clientY: number, more: object = {}) => ({
    ...{ clientX, clientY, pointerId: 1, buttons: 1, button: 0 },
    ...more,
  });
  return {
    steps,
    pressed,
    press: (x: number, y: number, more?: object) => fireEvent.pointerDown(handle, at(x, y, more)),
    move: (x: number, y: number, more?: object) => fireEvent.pointerMove(handle, at(x, y, more)),
    up: (x: number, y: number) => fireEvent.pointerUp(handle, at(x, y, { buttons: 0 })),
    cancel: () => fireEvent.pointerCancel(handle, at(0, 0, { buttons: 0 })),
    key: (key: string) => fireEvent.keyDown(handle, { key }),
    become: (value: number) => rerender(<Handle value={value} steps={steps} onPress={pressed} />),
  };
}

test('a drag goes from what it began with, however much of the page was drawn anew meanwhile', () => {
  const { press, move, up, become, steps } = held();
  press(100, 50);
  move(110, 45);
  // What is dragged has changed by the drag; it still counts from where it began.
  become(7);
  move(130, 60);
  up(130, 60);
  expect(steps).toEqual([
    ['move', 30, 10, -5, 110, 45],
    ['move', 30, 30, 10, 130, 60],
    ['end', 30, true],
  ]);
});

test('a press without a move ends as one that moved nothing', () => {
  const { press, up, steps } = held();
  press(100, 50);
  up(100, 50);
  expect(steps).toEqual([['end', 30, false]]);
});

test('what lies below does not see the press', () => {
  const { press, pressed } = held();
  press(100, 50);
  expect(pressed).not.toHaveBeenCalled();
});

test('where the system takes the pointer away the drag has ended, and what follows is none', () => {
  const { press, move, cancel, steps } = held();
  press(100, 50);
  move(110, 50);
  cancel();
  move(200, 50);
  expect(steps.map(([what]) => what)).toEqual(['move', 'end']);
});

test('other buttons, other pointers and arrow keys drag nothing', () => {
  const { press, move, up, key, steps } = held();
  press(100, 50, { button: 2, buttons: 2 });
  move(150, 50, { buttons: 2 });
  key('ArrowRight');
  expect(steps).toEqual([]);
  press(100, 50);
  move(180, 50, { pointerId: 2 });
  expect(steps).toEqual([]);
  move(105, 50);
  up(105, 50);
  expect(steps).toHaveLength(2);
});
