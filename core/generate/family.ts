import type { Steps } from '../steps';
import type { Check } from '../surface';
import type { Canvas } from './canvas';
import type { SettingList, ValuesOf } from './setting';

export const GROUPS = [
  'Floors and stone',
  'Timber',
  'Mineral',
  'Cloth',
  'Metal',
  'Glass',
  'Resilient',
  'Variation',
] as const;
export type Group = (typeof GROUPS)[number];

export interface SizeMm {
  width: number;
  height: number;
}

/** What a finish is made of that a family generates, as its response begins with. */
export interface UsualResponse {
  base: 'dielectric' | 'metal' | 'glass';
  glossGu: number;
  /** Parts with a gloss of their own. */
  parts?: readonly { part: string; glossGu: number }[];
}

/** A kind of finish that is generated: what can be set of it, and how it is painted. */
export interface Family<D extends SettingList = SettingList, Solved = unknown> {
  kind: string;
  /** As the trade calls it. */
  name: string;
  group: Group;
  /** The category of finishes that it is of. */
  category: string;
  /** The repeat at first, mm. */
  repeatMm: SizeMm;
  settings: D;
  /** Settings that are shown first; the others follow under "More". */
  headline: readonly (keyof D & string)[];
  /** Settings that mean nothing for the values of others. */
  unused?: (values: ValuesOf<D>) => readonly (keyof D & string)[];
  response: UsualResponse;
  /** Parts that the surface has, with their names. */
  parts?: (values: ValuesOf<D>) => readonly { id: string; name: string }[];
  /** Width of the finest thing that pixels have to resolve, mm; undefined: all of it fades out by itself. */
  finestMm?: (values: ValuesOf<D>) => number;
  /** The size nearest to the asked one on which it closes; undefined: it closes on any. */
  closing?: (values: ValuesOf<D>, asked: SizeMm) => SizeMm;
  /** Stretches that pieces can be cut from, mm from the lower left corner; undefined: from anywhere. */
  faces?: (
    values: ValuesOf<D>,
    sizeMm: SizeMm,
  ) => readonly { left: number; bottom: number; width: number; height: number }[];
  /** Whole periods of a regular structure in the repeat; undefined: it has none. */
  courses?: (values: ValuesOf<D>, sizeMm: SizeMm) => { across: number; up: number };
  /**
   * What is worked out once in mm and holds at any number of pixels.
   * @throws RangeError with a sentence where that cannot be
   */
  solve?: (values: ValuesOf<D>, sizeMm: SizeMm, seed: number) => Steps<Solved>;
  /** Settings that this depends on, colours in them aside; undefined: all. */
  solvedBy?: readonly (keyof D & string)[];
  /** Whether light passes straight through openings in it. */
  opens?: (values: ValuesOf<D>) => boolean;
  paint: (canvas: Canvas, values: ValuesOf<D>, solved: Solved) => Promise<void>;
  /** Pixels that strokes go over, beside all pixels once; undefined: few. A family with many takes longer to paint. */
  strokesPx?: (values: ValuesOf<D>, sizeMm: SizeMm, px: SizeMm) => number;
  /** What follows from the settings and is worth knowing, in sentences. */
  facts?: (values: ValuesOf<D>) => readonly string[];
  /** What does not come out as it was asked. */
  checks?: (values: ValuesOf<D>, sizeMm: SizeMm, solved: Solved) => Check[];
}

/** Keeps the types of a family's own settings. */
export const family = <D extends SettingList, Solved = undefined>(
  definition: Family<D, Solved>,
): Family<D, Solved> => definition;
