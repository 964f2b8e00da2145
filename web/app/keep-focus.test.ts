/** @jest-environment ./script/jest-page-environment.cjs */
import { keepFocus } from './keep-focus';

let end: () => void;
beforeEach(() => {
  jest.useFakeTimers({ doNotFake: ['queueMicrotask'] });
  document.body.innerHTML =
    '<main><ul><li><button>a</button></li><li><button>b</button></li><li><button>c</button></li></ul><button>d</button></main>';
  end = keepFocus();
});
afterEach(() => {
  end();
  jest.useRealTimers();
});
const button = (name: string) =>
  [...document.querySelectorAll('button')].find((b) => b.textContent === name)!;
/** Lets the observer see what changed, and time pass. */
const settle = async (ms = 0) => {
  await Promise.resolve();
  await jest.advanceTimersByTimeAsync(ms);
};
const focused = () => document.activeElement?.textContent;

test('when the element with the focus is removed, the one that took its place has it', async () => {
  button('b').focus();
  button('b').parentElement!.remove();
  await settle();
  expect(focused()).toBe('c');
  button('c').parentElement!.remove();
  await settle();
  expect(focused()).toBe('a');
  document.querySelector('ul')!.remove();
  await settle();
  expect(focused()).toBe('d');
});

test('a control that is disabled for a moment has the focus again; for longer its neighbour has it', async () => {
  const b = button('b');
  b.focus();
  b.blur();
  b.disabled = true;
  await settle(100);
  expect(document.activeElement).toBe(document.body);
  b.disabled = false;
  await settle(100);
  expect(focused()).toBe('b');
  b.blur();
  b.disabled = true;
  await settle(1000);
  expect(focused()).toBe('c');
});

test('whoever presses beside everything lets go of the focus', async () => {
  button('b').focus();
  document.dispatchEvent(new Event('pointerdown'));
  button('b').blur();
  button('b').parentElement!.remove();
  await settle(1000);
  expect(document.activeElement).toBe(document.body);
});
