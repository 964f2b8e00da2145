/**
 * Keeps the keyboard's place: when the element that has the focus is removed or disabled, what stood next to it gets the
 * focus, so that nobody starts again at the top of the page.
 */

const FOCUSABLE =
  'a[href], button:not([disabled]), input:not([disabled]), textarea:not([disabled]), select:not([disabled]), [tabindex]:not([tabindex="-1"])';

/** A control that is disabled for a moment, while its work is done, is waited for so long. */
const COMES_BACK_WITHIN_MS = 900;

/** Where an element stood: its ancestors, nearest first, and how many of their controls came before it. */
interface Place {
  element: HTMLElement;
  around: { ancestor: HTMLElement; before: number }[];
}

const controlsIn = (element: HTMLElement): HTMLElement[] => [
  ...element.querySelectorAll<HTMLElement>(FOCUSABLE),
];

function placeOf(element: HTMLElement): Place {
  const around: Place['around'] = [];
  for (let a = element.parentElement; a && a !== document.body; a = a.parentElement)
    around.push({ ancestor: a, before: controlsIn(a).indexOf(element) });
  return { element, around };
}

/** What stands where an element stood: the control that took its place, else the last one before it. */
export function standsAt({ around }: Place): HTMLElement | null {
  for (const { ancestor, before } of around) {
    if (!ancestor.isConnected) continue;
    const controls = controlsIn(ancestor);
    const next = controls[before] ?? controls.at(-1);
    if (next) return next;
  }
  return null;
}

/** Starts keeping the focus of a page. @returns what ends it */
export function keepFocus(): () => void {
  let last: Place | null = null;
  let timer: ReturnType<typeof setTimeout> | undefined;
  const lost = () => document.activeElement === document.body || document.activeElement === null;
  const mend = () => {
    if (!last || !lost()) return;
    const { element } = last;
    if (element.isConnected && !element.matches(':disabled')) element.focus();
    else standsAt(last)?.focus();
  };
  const onFocus = (e: FocusEvent) => {
    clearTimeout(timer);
    if (e.target instanceof HTMLElement) last = placeOf(e.target);
  };
  // Whoever presses beside everything lets go of the focus on purpose.
  const onPress = () => {
    last = null;
  };
  const observer = new MutationObserver(() => {
    if (!last || !lost()) return;
    clearTimeout(timer);
    timer = setTimeout(mend, last.element.isConnected ? COMES_BACK_WITHIN_MS : 0);
    if (last.element.isConnected && !last.element.matches(':disabled')) mend();
  });
  document.addEventListener('focusin', onFocus);
  document.addEventListener('pointerdown', onPress, { capture: true });
  observer.observe(document.body, {
    childList: true,
    subtree: true,
    attributes: true,
    attributeFilter: ['disabled'],
  });
  return () => {
    clearTimeout(timer);
    document.removeEventListener('focusin', onFocus);
    document.removeEventListener('pointerdown', onPress, { capture: true });
    observer.disconnect();
  };
}
