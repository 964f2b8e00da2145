import { useEffect, useState } from 'react';

/**
 * A value two frames late: for what is slow to draw and must not hold up what is looked at meanwhile. Of values that
 * come faster than frames only the newest is passed on.
 */
export function useAfterPaint<T>(value: T): T {
  const [late, setLate] = useState(value);
  useEffect(() => {
    let second = 0;
    const first = requestAnimationFrame(() => {
      second = requestAnimationFrame(() => setLate(value));
    });
    return () => {
      cancelAnimationFrame(first);
      cancelAnimationFrame(second);
    };
  }, [value]);
  return late;
}
