/**
 * Counts what a person does: a drag from press to release, a key from the first press to its release. Changes of one
 * thing within one of them are one step to undo, however long it takes.
 */
let count = 0;

for (const type of ['pointerdown', 'pointerup', 'pointercancel', 'keyup'] as const)
  window.addEventListener(type, () => count++, { capture: true });

/** Number of the gesture that is going on, or that ended last. */
export const gestureNow = (): number => count;
