/** @jest-environment ./script/jest-page-environment.cjs */
import { act, render, screen } from '@testing-library/react';
import { useAfterPaint } from './use-after-paint';

/** Frames are drawn when the test says so. */
let waiting: FrameRequestCallback[] = [];
beforeEach(() => {
  waiting = [];
  globalThis.requestAnimationFrame = (draw) => waiting.push(draw);
  globalThis.cancelAnimationFrame = (id) => void (waiting[id - 1] = () => undefined);
});
/** Draws one frame: all that waited for it. */
const frame = () =>
  act(() => {
    const due = waiting;
    waiting = due.map(() => () => undefined);
    due.forEach((draw) => draw(0));
  });

let renders = 0;
function Late({ value }: { value: string }) {
  renders++;
  return <p>{useAfterPaint(value)}</p>;
}
const shown = () => screen.getByText(/./).textContent;

test('a value arrives two frames after it was given', () => {
  const { rerender } = render(<Late value="a" />);
  expect(shown()).toBe('a');
  rerender(<Late value="b" />);
  expect(shown()).toBe('a');
  frame();
  expect(shown()).toBe('a');
  frame();
  expect(shown()).toBe('b');
});

test('of values that come faster than frames only the newest is passed on', () => {
  const { rerender } = render(<Late value="a" />);
  frame();
  frame();
  renders = 0;
  for (const value of ['b', 'c', 'd']) rerender(<Late value={value} />);
  frame();
  rerender(<Late value="e" />);
  frame();
  expect(shown()).toBe('a');
  frame();
  expect(shown()).toBe('e');
  // Four values, and one that was passed on.
  expect(renders).toBe(5);
});

test('what is gone is passed on to nobody', () => {
  const { rerender, unmount } = render(<Late value="a" />);
  rerender(<Late value="b" />);
  unmount();
  const before = renders;
  frame();
  frame();
  expect(renders).toBe(before);
});
