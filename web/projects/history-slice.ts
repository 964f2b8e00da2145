import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { projectApi } from './project-api';

/** Calls that change a project, each of which can be taken back by others of them. */
export type ProjectCall = {
  [N in 'changeSurface' | 'changeProject' | 'renameRoom' | 'removePart' | 'restorePart']: {
    call: N;
    args: Parameters<(typeof projectApi.endpoints)[N]['initiate']>[0];
  };
}['changeSurface' | 'changeProject' | 'renameRoom' | 'removePart' | 'restorePart'];

/** One change of a project: what it is called, and the calls that take it back and make it again. */
export interface ProjectStep {
  name: string;
  undo: ProjectCall[];
  redo: ProjectCall[];
}
export interface ProjectHistory {
  past: ProjectStep[];
  future: ProjectStep[];
}

const MOST_STEPS = 100;
const NONE: ProjectHistory = { past: [], future: [] };

/** What was changed in each project since the page was opened. */
export const projectHistorySlice = createSlice({
  name: 'projectHistory',
  initialState: {} as Record<string, ProjectHistory>,
  reducers: {
    changed: (state, { payload: { id, step } }: PayloadAction<{ id: string; step: ProjectStep }>) => {
      const { past } = state[id] ?? NONE;
      state[id] = { past: [...past.slice(-MOST_STEPS + 1), step], future: [] };
    },
    /** The last change was taken back. */
    undone: (state, { payload: id }: PayloadAction<string>) => {
      const history = state[id];
      const step = history?.past.pop();
      if (step) history!.future.push(step);
    },
    redone: (state, { payload: id }: PayloadAction<string>) => {
      const history = state[id];
      const step = history?.future.pop();
      if (step) history!.past.push(step);
    },
  },
});
