import type { CalibrationReport } from '../light';
import type { ColourPicture, Plane } from '../raster';
import type { HeightField, NormalField } from '../relief';
import type { Courses, PlacementMap, SeamFigures } from '../repeat';
import type { StageCache } from './cache';
import type { Check } from './checks';
import type { ColourClaim, FinishedColour } from './colour';
import type { RepeatSource } from './joined';
import type { Recipe } from './recipe';

/** What is asked of a finish that is to be computed, and what comes out. */

/** Names of all maps a finish can have. */
export const MAP_NAMES = [
  'colour',
  'height',
  'normal',
  'roughness',
  'metalness',
  'occlusion',
  'opacity',
] as const;
export type MapName = (typeof MAP_NAMES)[number];

/** The maps that a finish has: opacity only when one came with its set. */
export const mapsOf = (recipe: Recipe): MapName[] =>
  MAP_NAMES.filter((name) => name !== 'opacity' || recipe.source.maps.some((m) => m.role === 'opacity'));

/** The pictures that are needed to compute a finish. */
export const neededSamples = (recipe: Recipe): string[] => [
  ...new Set([
    ...recipe.source.sampleIds.slice(0, 1),
    ...recipe.source.maps.map((m) => m.sampleId),
    ...(recipe.repeat.way === 'compose' ? recipe.repeat.compose.pictures.map((p) => p.sampleId) : []),
  ]),
];

/** The pictures of a finish, as the core sees them: at full size or halved any number of times. */
export interface Sources {
  info(
    sampleId: string,
  ): Promise<{ widthPx: number; heightPx: number; sha256: string; focalPx?: number | null }>;
  /** The picture halved `level` times in linear light (see `levelFor`). */
  level(sampleId: string, level: number): Promise<ColourPicture>;
  /** The same read as data: values 0–1 as stored, halved as they are. */
  data(sampleId: string, level: number): Promise<ColourPicture>;
}

export interface RenderOptions {
  /** Width of the repeat in pixels; the height follows from its proportions. */
  widthPx: number;
  maps?: readonly MapName[];
  onProgress?: (share: number, step: string) => void;
  /** Called while a placement is being solved, with the colour as it would be so far. */
  onEarly?: (early: { colour: ColourPicture; repeatMm: { width: number; height: number } }) => void;
  /** Looked at between stages. */
  signal?: { readonly aborted: boolean };
  cache?: StageCache;
  /** Lets other work in between stages, for instance a newer request. */
  pause?: () => Promise<void>;
  /** A colourway of the finish; default: the finish itself. */
  way?: string | null;
  /** Kind of finish, by which figures are found unlikely. */
  category?: string;
}

export interface RenderReport {
  repeatMm: { width: number; height: number };
  /** How many copies of the sample a cut or composed repeat is made of; null: closed by blending, mirroring or as it is. */
  copies: number | null;
  /** Boards a composed repeat is laid of, from joint to joint, and joints found in the sample; null: it is cut from copies. */
  boards: { laid: number; joints: number } | null;
  /** Number of the arrangement of a repeat composed anew; null otherwise. */
  arrangement: number | null;
  /** How many areas and pictures it is made from, and what each was multiplied by, per channel, to be of one tone. */
  joined: readonly { gain: readonly [number, number, number] }[];
  /** Over what length hold lines are broken where copies meet; 0 where all run on. */
  brokenHoldMm: number;
  /** By how much, as a share, the sample is stretched on each axis so that its structure closes. */
  stretch: { across: number; up: number };
  /** How far the size of the repeat may be off: what the size of the sample may be off, and the stretch. */
  repeatToleranceMm: { width: number; height: number };
  /** How many times finer than the picture its detail is; more than 1 is inferred. */
  inferred: number;
  sampleMm: { width: number; height: number };
  /** Size of what the repeat is made from: the frame, or an area picked out of it. */
  usedMm: { width: number; height: number };
  /** Share of the used part of the sample that keep-outs cover, 0–1; none of it is in the repeat. */
  keptOut: number;
  pxPerMm: { x: number; y: number };
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
  calibration: CalibrationReport;
  /** The colourway; null: the finish itself. */
  way: string | null;
  /** How far the colourway is off its target, CIEDE2000. */
  wayOff: number | null;
  clipped: { high: number; low: number };
  luminance: { p1: number; p50: number; p99: number };
  seam: SeamFigures;
  heightMm: { min: number; max: number; zero: number };
  slopeDeg: { mean: number; p99: number };
  glossGu: number;
  roughness: number;
  checks: Check[];
}

/** Where everything in a repeat comes from. */
export interface PlacedRepeat {
  map: PlacementMap;
  sources: readonly RepeatSource[];
  /** Regular structure in the repeat. */
  courses: Courses;
}

/** A finish, computed. Only the maps asked for are there. */
export interface RenderedFinish {
  widthPx: number;
  heightPx: number;
  report: RenderReport;
  placed: PlacedRepeat;
  /** Linear light, calibrated; may leave 0–1. */
  colour: ColourPicture;
  height?: HeightField;
  normal?: NormalField;
  occlusion?: Plane;
  roughness: number;
  metalness: number;
  /** What came as a map of the set, 0–1; it stands in place of the one value above. */
  responseMaps: Partial<Record<'roughness' | 'metalness' | 'opacity', Plane>>;
}

/** Thrown when `signal` says to stop. */
export class Stopped extends Error {
  override readonly name = 'Stopped';
  constructor() {
    super('Stopped when asked.');
  }
}

/** Thrown when a recipe cannot be computed; the message says what to do. */
export class CannotRender extends Error {
  override readonly name = 'CannotRender';
}
