import { createContext, useContext } from 'react';

/**
 * One thing that views of the open finish share, so that a view follows what it shows and nothing else.
 * @returns its provider, and the hook that reads it
 */
export function concern<T>(name: string) {
  const Context = createContext<T | null>(null);
  const use = (): T => {
    const value = useContext(Context);
    if (value === null) throw new Error(`No finish is open around what asks for its ${name}.`);
    return value;
  };
  return [Context.Provider, use] as const;
}
