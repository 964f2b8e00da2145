import { useEffect, useRef } from 'react';
import { useAppSelector } from '../../app/store';
import { isTyping } from '../../controls/typing';
import { keyNamed, nameOfKey, type KeyContext } from './bench-keys';

/** Whether a letter belongs to what has the focus: to a text field, or a list in which letters choose. */
function takesLetters(target: EventTarget | null): boolean {
  if (!(target instanceof HTMLElement)) return false;
  if (target instanceof HTMLTextAreaElement) return true;
  if (target instanceof HTMLInputElement) return !['checkbox', 'radio', 'range'].includes(target.type);
  return target.matches('[aria-haspopup="listbox"], [role="listbox"] *, [role="menu"] *, [role="dialog"] *');
}

/** Whether Escape closes something nearer: an open list, menu or sheet. */
const closesItself = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement && target.matches('[role="listbox"] *, [role="menu"] *, [role="dialog"] *');

/** Runs the keys of the Bench while it is on view. */
export function useBenchKeys(context: KeyContext): void {
  const now = useRef(context);
  now.current = context;
  const singleKeys = useAppSelector((s) => s.settings.singleKeys);
  useEffect(() => {
    // A field gives its text up by Escape before the key gets here, so it is looked at as the key arrives.
    let typing = false;
    const onArrival = (e: KeyboardEvent) => {
      typing = isTyping(e.target);
    };
    const onKey = (e: KeyboardEvent) => {
      if (e.defaultPrevented || e.altKey) return;
      const name = nameOfKey(e);
      const key = keyNamed(name);
      if (!key) return;
      const taken = name.startsWith('ctrl+')
        ? typing
        : name === 'escape'
          ? typing || closesItself(e.target)
          : takesLetters(e.target);
      if (taken) return;
      // Letters by themselves can be turned off, for those who dictate; the sheet and Escape stay.
      if (!singleKeys && name.length === 1 && name !== '?') return;
      e.preventDefault();
      key.run(now.current);
    };
    window.addEventListener('keydown', onArrival, { capture: true });
    window.addEventListener('keydown', onKey);
    return () => {
      window.removeEventListener('keydown', onArrival, { capture: true });
      window.removeEventListener('keydown', onKey);
    };
  }, [singleKeys]);
}
