import { useEffect, useRef } from 'react';
import { NavigationType, useLocation, useNavigate, useNavigationType } from 'react-router';
import { useAppDispatch, useAppSelector } from '../app/store';
import { addressOf, benchAt } from './address';
import { benchSlice } from './bench-slice';

/** Changes come faster than the browser takes addresses. */
const FOLLOWS_AFTER_MS = 120;

/** Marks the entries of the history that follow the Bench, as against those it has to follow. */
const OWN = { followsBench: true };
const isOwn = (state: unknown): boolean => (state as Partial<typeof OWN> | null)?.followsBench === true;

/**
 * Keeps the address of the Bench and what it shows the same: an address that is opened, reloaded or gone back to sets the
 * Bench; what is changed on the Bench changes the address in place.
 */
export function useAddress(): void {
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const { pathname, search, state } = useLocation();
  const arrivedBy = useNavigationType();
  const bench = useAppSelector((s) => s.bench);
  /** The search part that the Bench stands for. */
  const written = useRef<string | null>(null);

  useEffect(() => {
    const asked = search.replace(/^\?/, '');
    if (asked === written.current) return;
    // An address of our own may arrive after a later one was written: the Bench has gone on, and does not follow it back.
    if (written.current !== null && arrivedBy === NavigationType.Replace && isOwn(state)) return;
    // A plain link to a finish opens it as the Bench stands; anything else is what was asked for.
    if (asked !== '' || written.current !== null) {
      const state = benchAt(new URLSearchParams(asked));
      dispatch(benchSlice.actions.addressed(state));
    }
    written.current = asked;
  }, [dispatch, search, pathname, state, arrivedBy]);

  useEffect(() => {
    const timer = setTimeout(() => {
      const next = addressOf(bench).toString();
      if (next === written.current || written.current === null) return;
      written.current = next;
      void navigate(next ? `${pathname}?${next}` : pathname, { replace: true, state: OWN });
    }, FOLLOWS_AFTER_MS);
    return () => clearTimeout(timer);
  }, [bench, navigate, pathname]);
}
