import { useEffect, useRef } from 'react';
import { useLocation, useNavigate } from 'react-router';
import { useAppDispatch, useAppSelector } from '../app/store';
import { addressOf, benchAt } from './address';
import { benchSlice } from './bench-slice';

/** Changes come faster than the browser takes addresses. */
const FOLLOWS_AFTER_MS = 120;

/**
 * Keeps the address of the Bench and what it shows the same: an address that is opened, reloaded or gone back to sets the
 * Bench; what is changed on the Bench changes the address in place.
 */
export function useAddress(): void {
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const { pathname, search } = useLocation();
  const bench = useAppSelector((s) => s.bench);
  /** The search part that the Bench stands for. */
  const written = useRef<string | null>(null);

  useEffect(() => {
    const asked = search.replace(/^\?/, '');
    if (asked === written.current) return;
    // A plain link to a finish opens it as the Bench stands; anything else is what was asked for.
    if (asked !== '' || written.current !== null) {
      const state = benchAt(new URLSearchParams(asked));
      dispatch(benchSlice.actions.addressed(state));
    }
    written.current = asked;
  }, [dispatch, search, pathname]);

  useEffect(() => {
    const timer = setTimeout(() => {
      const next = addressOf(bench).toString();
      if (next === written.current || written.current === null) return;
      written.current = next;
      void navigate(next ? `${pathname}?${next}` : pathname, { replace: true });
    }, FOLLOWS_AFTER_MS);
    return () => clearTimeout(timer);
  }, [bench, navigate, pathname]);
}
