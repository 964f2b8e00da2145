import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { MapName } from '@jossel/core/finish';
import { LIGHT_TABLE, type FormName, type LightName, type TurnedLight } from '@jossel/core/proof';
import type { Section } from '@jossel/core/surface';
import type { MeshForCamera } from './proof/planned-mesh';

/** What the plate shows: the picture as received, the straightened frame, or the repeat. */
export const LOOKS = ['received', 'straight', 'repeat'] as const;
export type Look = (typeof LOOKS)[number];

/** What is being done to the sample. */
export const SAMPLE_TOOLS = [
  'report',
  'frame',
  'areas',
  'keep-outs',
  'continuity-lines',
  'parts',
  'set',
] as const;
export type SampleTool = (typeof SAMPLE_TOOLS)[number];

/** What a drag on the ground of the plate draws. */
export type Drawing = 'bow' | 'grain' | 'area' | 'ruler' | 'grey' | null;

/** What is being done to light and colour. */
export const COLOUR_TOOLS = ['light', 'balance', 'match', 'hand', 'ways'] as const;
export type ColourTool = (typeof COLOUR_TOOLS)[number];

/** What is being done to the repeat. */
export const REPEAT_TOOLS = ['way', 'sources', 'repetition', 'anew'] as const;
export type RepeatTool = (typeof REPEAT_TOOLS)[number];

/** How many repeats the plate shows each way, or a wall of them. */
export const FIELDS = [1, 2, 3, 4, 5, 'wall'] as const;
export type Field = (typeof FIELDS)[number];
export const WALL_MM = { width: 12000, height: 6000 } as const;

/** What a finish is compared with in the proof. */
export type Compared =
  | { kind: 'sample' }
  | { kind: 'revision'; letter: string }
  | { kind: 'way'; id: string }
  | { kind: 'finish'; id: string };

/** A light with its lamp where it stands to begin with. */
export const lightAsSet = (name: LightName): TurnedLight => {
  const { azimuthDeg, elevationDeg } = LIGHT_TABLE[name];
  return { name, azimuthDeg, elevationDeg };
};

/** What the person is doing on the Bench: which section is open, how the views are set. */
export interface BenchState {
  section: Section | null;
  /** Chosen by hand; null follows the open section and tool. */
  look: Look | null;
  tool: SampleTool;
  /** Of several pictures the one that is worked on; null: the one that leads the repeat. */
  sourceId: string | null;
  colourTool: ColourTool;
  repeatTool: RepeatTool;
  /** Side of the field that is looked at when it is judged from how far a repetition is seen, mm. */
  lookedAtMm: number;
  /** The colourway that is looked at; null: the finish itself. */
  way: string | null;
  /** The repeat is read where it is pressed. */
  probe: boolean;
  drawing: Drawing;
  /** The area, ruler line or part in hand. */
  selected: string | null;
  brush: { kind: 'stroke' | 'outline'; widthMm: number; erase: boolean };
  /** Whether the next click with the dropper adds to the part or takes away. */
  dropper: 'add' | 'take' | null;
  /** The contribution to the relief that is shown without the others; null: all are. */
  alone: string | null;
  /** The finish is shown as it was before anything happened to it. */
  beforeWeathering: boolean;
  /** Lines over the straightened frame, by which one sees whether it is true. */
  grid: boolean;
  map: MapName;
  /** Drawing scale of the plate as 1 : scale; null fits the field. */
  scale: number | null;
  field: Field;
  /** Where the edges of the repeat are shown, as shares of it, when they are moved into view; null: where they are. */
  edgesAt: readonly [number, number] | null;
  /** The lines of the layout are drawn over the plate. */
  hatch: boolean;
  /** The plate shows the relief under a light that rakes across it. */
  raking: boolean;
  /** The bond of the sheet that is looked at; null: none is. */
  bondOver: string | null;
  /** The view that has the whole sheet; null: all are there. */
  filled: 'plate' | 'proof' | null;
  form: FormName;
  /** The light of the proof, and where its lamp stands. */
  light: TurnedLight;
  /** Exposure of the proof beyond the one metered at the card, in stops. */
  stops: number;
  /** How many times the relief is exaggerated in the proof. */
  reliefTimes: number;
  /** The proof shows the map that the plate shows, as it is, instead of the finish. */
  mapOnForm: boolean;
  /** The mesh that the relief was planned with is drawn over the proof, from its camera; null: it is not. */
  mesh: MeshForCamera | null;
  /** What the proof is compared with; null: nothing. */
  compared: Compared | null;
  /** Where the raking light of the plate comes from: 0° from the right, anticlockwise. */
  rakingFromDeg: number;
}

const initialState: BenchState = {
  section: null,
  look: null,
  tool: 'report',
  sourceId: null,
  colourTool: 'match',
  repeatTool: 'way',
  lookedAtMm: 6000,
  way: null,
  probe: false,
  drawing: null,
  selected: null,
  alone: null,
  beforeWeathering: false,
  brush: { kind: 'stroke', widthMm: 10, erase: false },
  dropper: null,
  grid: false,
  map: 'colour',
  scale: null,
  field: 1,
  edgesAt: null,
  hatch: false,
  raking: false,
  bondOver: null,
  filled: null,
  form: 'panel',
  light: lightAsSet('overcast'),
  stops: 0,
  reliefTimes: 1,
  mapOnForm: false,
  mesh: null,
  compared: null,
  rakingFromDeg: 130,
};

export const benchSlice = createSlice({
  name: 'bench',
  initialState,
  reducers: {
    /** An address was opened: it says all of what it can say, and nothing of before is in hand any more. */
    addressed: (state, { payload }: PayloadAction<Partial<BenchState>>) => ({
      ...state,
      drawing: null,
      selected: null,
      dropper: null,
      filled: null,
      ...payload,
    }),
    changed: (state, { payload }: PayloadAction<Partial<BenchState>>) => ({
      ...state,
      // Another section or tool looks at what it works on.
      ...(payload.section !== undefined ||
      payload.tool !== undefined ||
      payload.colourTool !== undefined ||
      payload.repeatTool !== undefined
        ? { look: null, drawing: null, selected: null, dropper: null }
        : {}),
      ...payload,
    }),
  },
});

/** What the plate shows for a section and tool, unless chosen by hand. */
export const lookOf = ({ look, section, tool, colourTool }: BenchState): Look =>
  look ??
  (section === 'size'
    ? 'straight'
    : section === 'sample'
      ? tool === 'report' || tool === 'frame' || tool === 'areas'
        ? 'received'
        : tool === 'set'
          ? 'repeat'
          : 'straight'
      : section === 'colour' && colourTool === 'light'
        ? 'straight'
        : section === 'colour' && colourTool === 'balance'
          ? 'received'
          : 'repeat');
