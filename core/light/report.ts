import type { ColourClaim, FinishedColour } from './finished';
import type { ColourSettings } from './settings';

/** What the colour stage is set by. */
export interface ColourStageSettings {
  colour: ColourSettings;
  /** Whether the picture's own colour says anything: it was balanced by a grey or a card. */
  balanced: boolean;
  /** A bare metal may reflect what nothing else does. */
  metal: boolean;
  /** Glass has the colour of what it absorbs, not that of its picture. */
  glass: boolean;
}

/** What the colour stage came to. */
export interface ColourReport {
  lrv: number;
  meanLab: readonly [number, number, number];
  /** The repeat before any match, as levelled and balanced. */
  before: { lrv: number; meanLab: readonly [number, number, number] };
  /** Factors of the match in linear light, per channel. */
  factors: readonly [number, number, number];
  /** What is known of the colour against what the repeat measures; the ruling way first. */
  claims: readonly ColourClaim[];
  /** What each correction by hand does; null when there is none. */
  hand: FinishedColour['hand'];
  /** The colourway; null: the finish itself. */
  way: string | null;
  /** How far the colourway is off its target, CIEDE2000. */
  wayOff: number | null;
  clipped: { high: number; low: number };
  luminance: { p1: number; p50: number; p99: number };
}
