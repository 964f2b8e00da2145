import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { MapName, Section } from '@jossel/core/finish';

/** What the person is doing on the Bench: which section is open, how the views are set. */
export interface BenchState {
  section: Section | null;
  map: MapName;
  /** Drawing scale of the plate as 1 : scale; null fits the field. */
  scale: number | null;
  field: 1 | 2 | 3 | 4 | 5;
  shifted: boolean;
  /** Height of line A–A on the plate as a share of the repeat. */
  sectionAt: number;
  form: 'panel' | 'sphere' | 'box';
  /** Where the lamp stands: 0° to the right, anticlockwise; and its height above the surface. */
  lampFromDeg: number;
  lampHeightDeg: number;
}

const initialState: BenchState = {
  section: 'size',
  map: 'colour',
  scale: null,
  field: 1,
  shifted: false,
  sectionAt: 0.5,
  form: 'panel',
  lampFromDeg: 130,
  lampHeightDeg: 35,
};

export const benchSlice = createSlice({
  name: 'bench',
  initialState,
  reducers: {
    changed: (state, { payload }: PayloadAction<Partial<BenchState>>) => ({ ...state, ...payload }),
  },
});
