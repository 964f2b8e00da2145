import { configureStore } from '@reduxjs/toolkit';
import { useDispatch, useSelector } from 'react-redux';
import { draftSlice } from '../bench/draft-slice';
import { saveDraftsAsTheyChange } from '../bench/save-draft';
import { benchSlice } from '../bench/bench-slice';
import { api } from './api';
import { settingsSlice, storedSettings, storeSettings } from './settings-slice';

export const store = configureStore({
  reducer: {
    [api.reducerPath]: api.reducer,
    settings: settingsSlice.reducer,
    draft: draftSlice.reducer,
    bench: benchSlice.reducer,
  },
  middleware: (defaults) => defaults().prepend(saveDraftsAsTheyChange).concat(api.middleware),
  preloadedState: { settings: storedSettings() },
});
store.subscribe(() => storeSettings(store.getState().settings));

export type RootState = ReturnType<typeof store.getState>;
export const useAppDispatch = useDispatch.withTypes<typeof store.dispatch>();
export const useAppSelector = useSelector.withTypes<RootState>();
