import { configureStore, type ThunkAction, type UnknownAction } from '@reduxjs/toolkit';
import { useDispatch, useSelector } from 'react-redux';
import { draftSlice } from '../bench/draft-slice';
import { saveDraftsAsTheyChange } from '../bench/save-draft';
import { benchSlice } from '../bench/bench-slice';
import { api } from './api';
import { connectionSlice, watchConnection } from './connection';
import { halfTypedSlice } from './half-typed-slice';
import { projectHistorySlice } from '../projects/history-slice';
import { settingsSlice, storedSettings, storeSettings } from './settings-slice';

export const store = configureStore({
  reducer: {
    [api.reducerPath]: api.reducer,
    settings: settingsSlice.reducer,
    draft: draftSlice.reducer,
    bench: benchSlice.reducer,
    halfTyped: halfTypedSlice.reducer,
    connection: connectionSlice.reducer,
    projectHistory: projectHistorySlice.reducer,
  },
  middleware: (defaults) =>
    defaults().prepend(saveDraftsAsTheyChange, watchConnection).concat(api.middleware),
  preloadedState: { settings: storedSettings() },
});
store.subscribe(() => storeSettings(store.getState().settings));

export type RootState = ReturnType<typeof store.getState>;
/** What is done with the state as it is by then. */
export type AppThunk<Result> = ThunkAction<Result, RootState, undefined, UnknownAction>;
export const useAppDispatch = useDispatch.withTypes<typeof store.dispatch>();
export const useAppSelector = useSelector.withTypes<RootState>();
