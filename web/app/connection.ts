import { createListenerMiddleware, createSlice, isRejectedWithValue } from '@reduxjs/toolkit';
import { api } from './api';

/** Whether the server answers. */
export const connectionSlice = createSlice({
  name: 'connection',
  initialState: { away: false },
  reducers: {
    lost: (state) => {
      state.away = true;
    },
    found: (state) => {
      state.away = false;
    },
  },
});

const listeners = createListenerMiddleware();
export const watchConnection = listeners.middleware;
const ASK_AGAIN_MS = 2000;

/** Everything that is read from the server. */
const ALL_TAGS = [
  'Samples',
  'Finishes',
  'Finish',
  'Projects',
  'Project',
  'Handovers',
  'Addresses',
  'Outside',
] as const;

const answers = async (): Promise<boolean> => {
  try {
    return (await fetch('/api/health', { cache: 'no-store' })).ok;
  } catch {
    return false;
  }
};

let asking = false;
// A call that got no answer: the server is asked until it answers, then everything on view is read anew.
listeners.startListening({
  predicate: (action) =>
    isRejectedWithValue(action) && (action.payload as { status?: unknown })?.status === 'FETCH_ERROR',
  effect: async (_action, listener) => {
    if (asking) return;
    asking = true;
    listener.dispatch(connectionSlice.actions.lost());
    do await listener.delay(ASK_AGAIN_MS);
    while (!(await answers()));
    asking = false;
    listener.dispatch(connectionSlice.actions.found());
    listener.dispatch(api.util.invalidateTags([...ALL_TAGS]));
  },
});
