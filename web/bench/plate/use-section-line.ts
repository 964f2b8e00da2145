import { useCallback, useMemo, useRef } from 'react';
import { rowThatShowsMost } from '@jossel/core/relief';
import { settingsSlice } from '../../app/settings-slice';
import { useAppDispatch, useAppSelector } from '../../app/store';
import type { Drawn } from '../../workers/render.worker';
import type { SectionLine } from './section-line';

/** So many finishes keep their line; of more the oldest begin anew. */
const MOST_LINES = 300;

/**
 * Where line A–A lies on a finish: where it was put last, else level where the first picture of the relief shows most; and
 * what puts it elsewhere. Null takes it back to where it began.
 */
export function useSectionLine(
  finishId: string,
  drawn: Drawn | null,
): [SectionLine, (line: SectionLine | null) => void] {
  const dispatch = useAppDispatch();
  const lines = useAppSelector((s) => s.settings.sectionLines);
  const first = useRef<{ finishId: string; share: number } | null>(null);
  const own = lines[finishId];
  const proposed = useMemo(() => {
    if (own !== undefined || !drawn) return 0.5;
    // Looked for once: the line must not jump while the relief is worked on.
    if (first.current?.finishId !== finishId) {
      const { widthPx, heightPx, heightMm: data } = drawn;
      first.current = { finishId, share: rowThatShowsMost({ widthPx, heightPx, data }) };
    }
    return first.current.share;
  }, [own, drawn, finishId]);
  const put = useCallback(
    (line: SectionLine | null) => {
      const { [finishId]: _, ...others } = lines;
      const kept = Object.entries(others).slice(-MOST_LINES + 1);
      const all = line === null ? kept : [...kept, [finishId, line] as const];
      dispatch(settingsSlice.actions.changed({ sectionLines: Object.fromEntries(all) }));
    },
    [dispatch, lines, finishId],
  );
  return [own ?? proposed, put];
}
