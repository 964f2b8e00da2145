import { factorForLrv, readColour, scaleColour, type ColourReading } from '../colour';
import { mapChannels, resample, type ColourPicture, type Plane } from '../raster';
import {
  bandsOfPicture,
  normalsOfHeight,
  occlusionOfHeight,
  reliefFromBands,
  slopes,
  type Bands,
  type HeightField,
  type NormalField,
} from '../relief';
import {
  applyPlacement,
  closeAxis,
  learnBlendSpace,
  placeClosed,
  seamFigures,
  type BlendSpace,
  type ClosedAxis,
  type PlacementMap,
  type SeamFigures,
} from '../repeat';
import { roughnessOfGloss, type Surface } from '../response';
import { resolveSize, type ResolvedSize } from '../size';
import { StageCache } from './cache';
import { checkFinish, type Check } from './checks';
import { hashOf } from './hash';
import type { Recipe } from './recipe';

/** Names of all maps a finish can have. */
export const MAP_NAMES = ['colour', 'height', 'normal', 'roughness', 'metalness', 'occlusion'] as const;
export type MapName = (typeof MAP_NAMES)[number];

/** The pictures of a finish, as the core sees them: at full size or halved any number of times. */
export interface Sources {
  info(sampleId: string): Promise<{ widthPx: number; heightPx: number; sha256: string }>;
  /** The picture halved `level` times in linear light (see `levelFor`). */
  level(sampleId: string, level: number): Promise<ColourPicture>;
}

export interface RenderOptions {
  /** Width of the repeat in pixels; the height follows from its proportions. */
  widthPx: number;
  maps?: readonly MapName[];
  onProgress?: (share: number, step: string) => void;
  /** Looked at between stages. */
  signal?: { readonly aborted: boolean };
  cache?: StageCache;
  /** Lets other work in between stages, for instance a newer request. */
  pause?: () => Promise<void>;
}

export interface RenderReport {
  repeatMm: { width: number; height: number };
  sampleMm: { width: number; height: number };
  pxPerMm: { x: number; y: number };
  lrv: number;
  meanLab: readonly [number, number, number];
  /** The sample before any match. */
  before: { lrv: number; meanLab: readonly [number, number, number] };
  factor: number;
  clipped: { high: number; low: number };
  luminance: { p1: number; p50: number; p99: number };
  seam: SeamFigures;
  heightMm: { min: number; max: number; zero: number };
  slopeDeg: { mean: number; p99: number };
  glossGu: number;
  roughness: number;
  checks: Check[];
}

/** A finish, computed. Only the maps asked for are there. */
export interface RenderedFinish {
  widthPx: number;
  heightPx: number;
  report: RenderReport;
  /** Linear light, calibrated; may leave 0–1. */
  colour: ColourPicture;
  height?: HeightField;
  normal?: NormalField;
  occlusion?: Plane;
  roughness: number;
  metalness: number;
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

const LARGEST_SIDE_PX = 16384;
/** Blend statistics come from a picture no larger than this, so that every size mixes alike. */
const LEARNING_SIDE_PX = 512;

/** How often a sample is halved before it is brought to a density: as often as leaves it at least that dense. */
export function levelFor(samplePxPerMm: number, wantedPxPerMm: number): number {
  let level = 0;
  while (level < 12 && samplePxPerMm / 2 ** (level + 1) >= wantedPxPerMm) level++;
  return level;
}

/** The geometry of a finish without its pixels: size of the sample, how it closes, and the repeat. */
export function resolveRepeat(
  recipe: Recipe,
  sample: { widthPx: number; heightPx: number },
): { size: ResolvedSize; across: ClosedAxis; up: ClosedAxis; map: PlacementMap } {
  const size = resolveSize(recipe.size, sample.widthPx, sample.heightPx);
  const across = closeAxis({ lengthMm: size.width.mm, ...recipe.repeat.across, module: size.width.module });
  const up = closeAxis({ lengthMm: size.height.mm, ...recipe.repeat.up, module: size.height.module });
  return { size, across, up, map: placeClosed(across, up) };
}

/**
 * Computes a finish from its recipe.
 *
 * Stages, each kept under the hash of what it depends on: sample at the density wanted → placement → colour, relief →
 * normals and occlusion → response. The match to a reflectance is made over the finished repeat, so that the repeat
 * itself, not the sample it was cut from, has the asked mean.
 *
 * @param recipe a valid recipe
 * @param sources its pictures
 * @throws Stopped when the signal asks; CannotRender with a sentence when something is missing
 */
export async function renderFinish(
  recipe: Recipe,
  sources: Sources,
  options: RenderOptions,
): Promise<RenderedFinish> {
  const { widthPx, maps = MAP_NAMES, onProgress, signal, cache = new StageCache(), pause } = options;
  const step = async (share: number, name: string) => {
    onProgress?.(share, name);
    await pause?.();
    if (signal?.aborted) throw new Stopped();
  };
  const sampleId = recipe.source.sampleIds[0];
  if (!sampleId) throw new CannotRender('This finish has no sample yet. Add a picture to it first.');
  const info = await sources.info(sampleId);
  const { size, across, up, map } = resolveRepeat(recipe, info);
  const heightPx = Math.max(1, Math.round((widthPx * map.repeatMm.height) / map.repeatMm.width));
  if (heightPx > LARGEST_SIDE_PX || widthPx > LARGEST_SIDE_PX) {
    throw new CannotRender(
      `At ${widthPx} px of width the repeat of ${map.repeatMm.width.toFixed(0)} × ${map.repeatMm.height.toFixed(0)} mm would be ${heightPx} px high; at most ${LARGEST_SIDE_PX} px are possible. Ask for fewer pixels.`,
    );
  }
  const pxPerMm = { x: widthPx / map.repeatMm.width, y: heightPx / map.repeatMm.height };
  const mmPerPx = { x: 1 / pxPerMm.x, y: 1 / pxPerMm.y };

  const densityKey = hashOf('density', info.sha256, size.width.mm, size.height.mm, pxPerMm);
  const placedKey = hashOf('placed', densityKey, map);
  await step(0.02, 'Placing the sample');
  let placed = cache.get<ColourPicture>(placedKey);
  if (!placed) {
    const dense = await atDensity(sources, cache, densityKey, sampleId, info, size, pxPerMm);
    await step(0.2, 'Placing the sample');
    const space = await blendSpace(sources, cache, sampleId, info);
    placed = applyPlacement(map, [{ picture: dense, pxPerMm }], widthPx, heightPx, space);
    cache.set(placedKey, placed);
  }

  await step(0.4, 'Matching the colour');
  const seamKey = hashOf('seam', placedKey, across.modules, up.modules);
  const measured =
    cache.get<{ seam: SeamFigures; before: ColourReading }>(seamKey) ??
    keep(cache, seamKey, {
      seam: seamFigures(placed, { across: across.modules, up: up.modules }),
      before: readColour(placed),
    });
  const factor = recipe.colour.lrv ? factorForLrv(measured.before, recipe.colour.lrv.value) : 1;
  const colourKey = hashOf('colour', placedKey, factor);
  const calibrated =
    cache.get<{ colour: ColourPicture; after: ColourReading }>(colourKey) ??
    keep(
      cache,
      colourKey,
      (() => {
        const colour = factor === 1 ? placed : scaleColour(placed, factor);
        return { colour, after: readColour(colour) };
      })(),
    );
  const { colour, after } = calibrated;

  const wants = (name: MapName) => maps.includes(name);
  await step(0.5, 'Reading the relief');
  const { depthMm, ...shape } = recipe.relief;
  const heightKey = hashOf('height', placedKey, shape, depthMm.value);
  let height = cache.get<HeightField>(heightKey);
  if (!height) {
    const bandsKey = hashOf('bands', placedKey, shape.broadFromMm, shape.fineBelowMm);
    const bands = cache.get<Bands>(bandsKey) ?? keep(cache, bandsKey, bandsOfPicture(placed, mmPerPx, shape));
    height = keep(cache, heightKey, reliefFromBands(bands, mmPerPx, { ...shape, depthMm: depthMm.value }));
  }
  await step(0.6, 'Deriving normals');
  const normalKey = hashOf('normal', heightKey);
  const derived =
    cache.get<{ normal: NormalField; slope: ReturnType<typeof slopes> }>(normalKey) ??
    keep(
      cache,
      normalKey,
      (() => {
        const normal = normalsOfHeight(height, mmPerPx);
        return { normal, slope: slopes(normal) };
      })(),
    );
  let occlusion: Plane | undefined;
  if (wants('occlusion')) {
    await step(0.7, 'Deriving occlusion');
    const occlusionKey = hashOf('occlusion', heightKey);
    // Beyond six times the depth a rise stands below 10° and takes next to no light.
    const radiusMm = Math.max(6 * depthMm.value, 2 * Math.max(mmPerPx.x, mmPerPx.y));
    occlusion =
      cache.get<Plane>(occlusionKey) ??
      keep(cache, occlusionKey, occlusionOfHeight(height, derived.normal, mmPerPx, radiusMm));
  }

  await step(0.95, 'Working out the gloss');
  const surface: Surface = recipe.response.metal
    ? { kind: 'metal', f0: Math.min(1, after.lrv / 100) }
    : { kind: 'dielectric', index: recipe.response.index.value };
  const gloss = roughnessOfGloss(recipe.response.glossGu.value, surface);

  const report: Omit<RenderReport, 'checks'> = {
    repeatMm: map.repeatMm,
    sampleMm: { width: size.width.mm, height: size.height.mm },
    pxPerMm,
    lrv: after.shown.lrv,
    meanLab: after.shown.meanLab,
    before: { lrv: measured.before.lrv, meanLab: measured.before.meanLab },
    factor,
    clipped: { high: after.clippedHigh, low: after.clippedLow },
    luminance: { p1: after.p1, p50: after.p50, p99: after.p99 },
    seam: measured.seam,
    heightMm: { min: height.minMm, max: height.maxMm, zero: 0 },
    slopeDeg: { mean: derived.slope.meanDeg, p99: derived.slope.p99Deg },
    glossGu: recipe.response.glossGu.value,
    roughness: gloss.roughness,
  };
  await step(1, 'Done');
  return {
    widthPx,
    heightPx,
    report: {
      ...report,
      checks: checkFinish(recipe, report, {
        size,
        across,
        up,
        surface,
        glossReached: gloss.reached,
        samplePxPerMm: size.pxPerMm,
      }),
    },
    colour,
    ...(wants('height') ? { height } : {}),
    ...(wants('normal') ? { normal: derived.normal } : {}),
    ...(occlusion ? { occlusion } : {}),
    roughness: gloss.roughness,
    metalness: recipe.response.metal ? 1 : 0,
  };
}

function keep<T>(cache: StageCache, key: string, value: T): T {
  cache.set(key, value);
  return value;
}

/** The sample brought to the density of the repeat's pixels. */
async function atDensity(
  sources: Sources,
  cache: StageCache,
  key: string,
  sampleId: string,
  info: { widthPx: number; heightPx: number },
  size: ResolvedSize,
  pxPerMm: { x: number; y: number },
): Promise<ColourPicture> {
  const known = cache.get<ColourPicture>(key);
  if (known) return known;
  const level = Math.min(levelFor(size.pxPerMm.x, pxPerMm.x), levelFor(size.pxPerMm.y, pxPerMm.y));
  const picture = await sources.level(sampleId, level);
  // A level is rounded up to whole pixels; the step is taken from the full size.
  const stepX = info.widthPx / 2 ** level / (size.width.mm * pxPerMm.x);
  const stepY = info.heightPx / 2 ** level / (size.height.mm * pxPerMm.y);
  const w = Math.max(1, Math.ceil(size.width.mm * pxPerMm.x - 1e-6));
  const h = Math.max(1, Math.ceil(size.height.mm * pxPerMm.y - 1e-6));
  return keep(
    cache,
    key,
    mapChannels(picture, (plane) => resample(plane, { leftPx: 0, topPx: 0, stepX, stepY }, w, h)),
  );
}

async function blendSpace(
  sources: Sources,
  cache: StageCache,
  sampleId: string,
  info: { widthPx: number; heightPx: number; sha256: string },
): Promise<BlendSpace> {
  const key = hashOf('blend space', info.sha256);
  const known = cache.get<BlendSpace>(key);
  if (known) return known;
  let level = 0;
  while (Math.max(info.widthPx, info.heightPx) / 2 ** level > LEARNING_SIDE_PX) level++;
  return keep(cache, key, learnBlendSpace(await sources.level(sampleId, level)));
}
