import type { SectionLine } from '../bench/plate/section-line';
import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

/** How this person's screen shows things; kept in the browser. */
export interface Settings {
  units: 'metric' | 'imperial';
  /** CSS pixels per millimetre of this screen, from holding a bank card against it; 96 dpi until then. */
  screenPxPerMm: number;
  screenMeasured: boolean;
  surround: 40 | 60 | 80 | 95;
  rackScale: number;
  /** The proof is folded away and not drawn: slow machines have more for all else. */
  proofFolded: boolean;
  /** Letters and digits alone are keys of the Bench. */
  singleKeys: boolean;
  /** Where the last pictures came from; it goes with the next ones. */
  lastOrigin: Record<string, string>;
  /** Where line A–A lies on each finish. */
  sectionLines: Record<string, SectionLine>;
}

const KEY = 'jossel.settings';
const initial: Settings = {
  units: 'metric',
  screenPxPerMm: 96 / 25.4,
  screenMeasured: false,
  surround: 60,
  rackScale: 10,
  proofFolded: false,
  singleKeys: true,
  lastOrigin: {},
  sectionLines: {},
};

export function storedSettings(): Settings {
  try {
    return { ...initial, ...(JSON.parse(localStorage.getItem(KEY) ?? '{}') as Partial<Settings>) };
  } catch {
    return initial;
  }
}
export const storeSettings = (settings: Settings) => localStorage.setItem(KEY, JSON.stringify(settings));

export const settingsSlice = createSlice({
  name: 'settings',
  initialState: initial,
  reducers: {
    changed: (state, { payload }: PayloadAction<Partial<Settings>>) => ({ ...state, ...payload }),
  },
});
