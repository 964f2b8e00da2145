import { useEffect, useMemo, useState } from 'react';
import { useAppDispatch, useAppSelector } from '../app/store';
import { isTyping } from '../controls/typing';
import { projectHistorySlice, type ProjectCall, type ProjectStep } from './history-slice';
import { projectApi } from './project-api';

/** A call as it is dispatched. */
type ProjectThunk = () => Promise<{ error?: unknown }>;

export interface ProjectEdits {
  /** Makes a change that can be taken back; resolves to whether it went well. */
  make: (step: ProjectStep) => Promise<boolean>;
  /** Writes down a change that was made by another call, such as adding something. */
  made: (step: ProjectStep) => void;
  undo: (() => void) | null;
  redo: (() => void) | null;
  /** What would be taken back and made again. */
  undoName: string;
  redoName: string;
  busy: boolean;
  error: unknown;
}

/** Changes of a project, one after the other, with undo and redo also by Ctrl+Z and Ctrl+Y. */
export function useProjectHistory(id: string): ProjectEdits {
  const dispatch = useAppDispatch();
  const history = useAppSelector((s) => s.projectHistory[id]);
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState<unknown>(null);

  const edits = useMemo(() => {
    async function run(calls: readonly ProjectCall[]): Promise<boolean> {
      setBusy(true);
      setError(null);
      try {
        for (const { call, args } of calls) {
          const initiate = projectApi.endpoints[call].initiate as unknown as (args: unknown) => ProjectThunk;
          const answer = await dispatch(initiate(args));
          if (answer.error) throw answer.error;
        }
        return true;
      } catch (fault) {
        setError(fault);
        return false;
      } finally {
        setBusy(false);
      }
    }
    const { changed, undone, redone } = projectHistorySlice.actions;
    return {
      made: (step: ProjectStep) => void dispatch(changed({ id, step })),
      make: async (step: ProjectStep) => {
        const well = await run(step.redo);
        if (well) dispatch(changed({ id, step }));
        return well;
      },
      undo: async (step: ProjectStep) => (await run(step.undo)) && dispatch(undone(id)),
      redo: async (step: ProjectStep) => (await run(step.redo)) && dispatch(redone(id)),
    };
  }, [dispatch, id]);

  const [last, next] = [history?.past.at(-1), history?.future.at(-1)];
  const undo = last && !busy ? () => void edits.undo(last) : null;
  const redo = next && !busy ? () => void edits.redo(next) : null;
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      const key = e.key.toLowerCase();
      if (!(e.ctrlKey || e.metaKey) || (key !== 'z' && key !== 'y') || isTyping(e.target)) return;
      e.preventDefault();
      if (key === 'y' || e.shiftKey) redo?.();
      else undo?.();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  });
  return {
    make: edits.make,
    made: edits.made,
    undo,
    redo,
    undoName: last?.name ?? '',
    redoName: next?.name ?? '',
    busy,
    error,
  };
}
