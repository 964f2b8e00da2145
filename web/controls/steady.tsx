import { isValidElement, memo, useLayoutEffect, useState, type FC } from 'react';

type Shown = Record<string, unknown>;
type Handler = (...args: never[]) => unknown;

const isHandler = (name: string, value: unknown): value is Handler =>
  typeof value === 'function' && /^on[A-Z]/.test(name);

const sameEntries = (a: object, b: object, same: (a: unknown, b: unknown) => boolean) => {
  const keys = Object.keys(a);
  return (
    keys.length === Object.keys(b).length &&
    keys.every((key) => key in b && same((a as Shown)[key], (b as Shown)[key]))
  );
};

/** Whether two nodes show the same: elements of one type whose props are the same or again such elements. */
function sameNode(a: unknown, b: unknown): boolean {
  if (Object.is(a, b)) return true;
  if (Array.isArray(a) && Array.isArray(b)) return sameEntries(a, b, sameNode);
  if (!isValidElement<Shown>(a) || !isValidElement<Shown>(b)) return false;
  return a.type === b.type && a.key === b.key && sameEntries(a.props, b.props, sameNode);
}

/** Whether two values show the same: lists and plain objects by what is in them. */
function showsSame(a: unknown, b: unknown): boolean {
  if (Object.is(a, b)) return true;
  if (typeof a !== 'object' || typeof b !== 'object' || !a || !b) return false;
  if (isValidElement(a) || isValidElement(b)) return sameNode(a, b);
  return Object.getPrototypeOf(a) === Object.getPrototypeOf(b) && sameEntries(a, b, showsSame);
}

/**
 * A control that is rendered again only when what it shows changes. Its handlers (`on…`) are written anew with every change of
 * a draft; they are called as they are then, and do not count as a change.
 */
export function steady<Props extends object>(Control: FC<Props>): FC<Props> {
  const Kept = memo(Control, showsSame) as unknown as FC<Shown>;
  return function Steady(props: Props) {
    const [latest] = useState(() => ({ props: props as Shown, handlers: {} as Record<string, Handler> }));
    useLayoutEffect(() => {
      latest.props = props as Shown;
    });
    const shown: Shown = {};
    for (const [name, value] of Object.entries(props))
      shown[name] = isHandler(name, value)
        ? (latest.handlers[name] ??= (...args) => (latest.props[name] as Handler | undefined)?.(...args))
        : value;
    return <Kept {...shown} />;
  };
}
