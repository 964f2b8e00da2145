import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

/** Texts that were begun and not used yet, by where they stand; they stay when their section or page is closed. */
export const halfTypedSlice = createSlice({
  name: 'halfTyped',
  initialState: {} as Record<string, string>,
  reducers: {
    typed: (state, { payload }: PayloadAction<{ at: string; text: string }>) => {
      if (payload.text === '') delete state[payload.at];
      else state[payload.at] = payload.text;
    },
  },
});
