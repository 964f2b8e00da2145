import { useEffect, useState } from 'react';

/** A value as it was when it last stood still for a while: for charts that need not follow every step of a drag. */
export function useDebounced<T>(value: T, ms = 250): T {
  const [still, setStill] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setStill(value), ms);
    return () => clearTimeout(timer);
  }, [value, ms]);
  return still;
}
