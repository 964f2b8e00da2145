import { useCallback } from 'react';
import { halfTypedSlice } from './half-typed-slice';
import { useAppDispatch, useAppSelector } from './store';

/** A text that is being typed at a place, and what changes it; empty once it was used. */
export function useHalfTyped(at: string): [string, (text: string) => void] {
  const dispatch = useAppDispatch();
  const text = useAppSelector((s) => s.halfTyped[at] ?? '');
  const set = useCallback(
    (next: string) => {
      dispatch(halfTypedSlice.actions.typed({ at, text: next }));
    },
    [dispatch, at],
  );
  return [text, set];
}
