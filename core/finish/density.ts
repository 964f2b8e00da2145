import { enlargeTwice } from '../sample';
import { mapChannels, resample, type ColourPicture } from '../raster';
import { learnBlendSpace, type BlendSpace } from '../repeat';
import { warp, warpLevel, type Frame } from '../straighten';
import type { StageCache } from './cache';
import { hashOf } from './hash';
import type { Sources } from './result';

/** The used part of a sample at the density of the repeat's pixels: straightened where it has to be. */

/** Blend statistics come from a picture no larger than this, so that every size mixes alike. */
const LEARNING_SIDE_PX = 512;

/** How often a sample is halved before it is brought to a density: as often as leaves it at least that dense. */
export function levelFor(samplePxPerMm: number, wantedPxPerMm: number): number {
  let level = 0;
  while (level < 12 && samplePxPerMm / 2 ** (level + 1) >= wantedPxPerMm) level++;
  return level;
}

/** A picture to straighten: which sample, its pixels, and how its values are read. */
export interface PictureToPlace {
  sampleId: string;
  info: { widthPx: number; heightPx: number; sha256: string };
  /** Read as data (0–1 as stored), not as colour. */
  asData?: boolean;
  /** How many times finer than its pixels its detail is made; 1 or nothing: not at all. */
  enlarged?: number;
  frame: Frame;
}

/** What is done to a picture once it is straightened: its light is levelled, its colour balanced. */
export interface PictureChange {
  key: string;
  apply: (picture: ColourPicture, mmPerPx: { x: number; y: number }) => ColourPicture;
}

const levelOf = (sources: Sources, { sampleId, asData }: PictureToPlace, level: number) =>
  asData ? sources.data(sampleId, level) : sources.level(sampleId, level);

/** A frame that belongs to the first picture, put on another map of the same surface with other pixels. */
export const frameOnMap = (frame: Frame, info: { widthPx: number; heightPx: number }): Frame => ({
  ...frame,
  picture: { ...frame.picture, widthPx: info.widthPx, heightPx: info.heightPx },
});

/** The frame brought to a number of pixels, from the halving of the sample that suits. */
export async function straightenedTo(
  sources: Sources,
  picture: PictureToPlace,
  widthPx: number,
  heightPx: number,
): Promise<ColourPicture> {
  const { frame, info } = picture;
  if (!frame.whole) {
    const level = warpLevel(frame, widthPx, heightPx);
    return warp(await levelOf(sources, picture, level), level, frame, widthPx, heightPx);
  }
  let level = 0;
  while (
    level < 12 &&
    info.widthPx / 2 ** (level + 1) >= widthPx &&
    info.heightPx / 2 ** (level + 1) >= heightPx
  )
    level++;
  const source = await levelOf(sources, picture, level);
  // A level is rounded up to whole pixels; the step is taken from the full size.
  const stepX = info.widthPx / 2 ** level / widthPx;
  const stepY = info.heightPx / 2 ** level / heightPx;
  return mapChannels(source, (plane) =>
    resample(plane, { leftPx: 0, topPx: 0, stepX, stepY }, widthPx, heightPx),
  );
}

/**
 * The used part of a sample at a density.
 * @param usedMm its size
 * @param pxPerMm density wanted
 */
export async function sampleAtDensity(
  sources: Sources,
  cache: StageCache,
  picture: PictureToPlace,
  usedMm: { width: number; height: number },
  pxPerMm: { x: number; y: number },
  change?: PictureChange,
): Promise<{ picture: ColourPicture; pxPerMm: { x: number; y: number }; key: string }> {
  const { frame, info } = picture;
  const w = Math.max(1, Math.ceil(usedMm.width * pxPerMm.x - 1e-6));
  const h = Math.max(1, Math.ceil(usedMm.height * pxPerMm.y - 1e-6));
  const key = hashOf(
    'density',
    info.sha256,
    picture.asData ?? false,
    frame.whole ? 'whole' : { plane: frame.plane, bow: frame.bow },
    usedMm,
    pxPerMm,
    change?.key ?? 'as received',
  );
  const own = { x: frame.widthPx / usedMm.width, y: frame.heightPx / usedMm.height };
  if ((picture.enlarged ?? 1) > 1 && (pxPerMm.x > BEYOND * own.x || pxPerMm.y > BEYOND * own.y))
    return enlargedTo(sources, cache, picture, usedMm, pxPerMm, own, change);
  const known = cache.get<ColourPicture>(key);
  if (known) return { picture: known, pxPerMm: densityOf(frame, known, usedMm, pxPerMm), key };
  let dense: ColourPicture;
  if (frame.whole) {
    const level = Math.min(
      levelFor(info.widthPx / usedMm.width, pxPerMm.x),
      levelFor(info.heightPx / usedMm.height, pxPerMm.y),
    );
    const source = await levelOf(sources, picture, level);
    // A level is rounded up to whole pixels; the step is taken from the full size.
    const stepX = info.widthPx / 2 ** level / (usedMm.width * pxPerMm.x);
    const stepY = info.heightPx / 2 ** level / (usedMm.height * pxPerMm.y);
    dense = mapChannels(source, (plane) => resample(plane, { leftPx: 0, topPx: 0, stepX, stepY }, w, h));
  } else dense = await straightenedTo(sources, picture, w, h);
  if (change) {
    const real = densityOf(frame, dense, usedMm, pxPerMm);
    dense = change.apply(dense, { x: 1 / real.x, y: 1 / real.y });
  }
  cache.set(key, dense);
  return { picture: dense, pxPerMm: densityOf(frame, dense, usedMm, pxPerMm), key };
}

/** One picture of each source of a repeat, as it is laid in it. */
export interface LaidPicture {
  picture: PictureToPlace;
  /** Its size as it is laid. */
  laidMm: { width: number; height: number };
  change?: PictureChange;
}

/** The same picture of every source at a density. */
export async function allAtDensity(
  sources: Sources,
  cache: StageCache,
  pictures: readonly LaidPicture[],
  pxPerMm: { x: number; y: number },
): Promise<Awaited<ReturnType<typeof sampleAtDensity>>[]> {
  const dense = [];
  for (const { picture, laidMm, change } of pictures)
    dense.push(await sampleAtDensity(sources, cache, picture, laidMm, pxPerMm, change));
  return dense;
}

/** Detail is made where a density is asked for that is so many times the picture's own. */
const BEYOND = 1.02;

/** The used part at a density beyond its own, with detail made from itself. */
async function enlargedTo(
  sources: Sources,
  cache: StageCache,
  picture: PictureToPlace,
  usedMm: { width: number; height: number },
  pxPerMm: { x: number; y: number },
  own: { x: number; y: number },
  change: PictureChange | undefined,
): ReturnType<typeof sampleAtDensity> {
  const { enlarged = 1, ...plain } = picture;
  const from = await sampleAtDensity(sources, cache, plain, usedMm, own, change);
  const key = hashOf('enlarged', from.key, enlarged, pxPerMm);
  const known = cache.get<ColourPicture>(key);
  if (known) return { picture: known, pxPerMm, key };
  const times = Math.min(enlarged, Math.max(pxPerMm.x / own.x, pxPerMm.y / own.y));
  let [large, doubled] = [from.picture, 1];
  while (doubled < times / BEYOND) {
    doubled *= 2;
    const step = hashOf('enlarged twice', from.key, doubled);
    const twice = cache.get<ColourPicture>(step) ?? enlargeTwice(large);
    cache.set(step, twice);
    large = twice;
  }
  const [stepX, stepY] = [(from.pxPerMm.x * doubled) / pxPerMm.x, (from.pxPerMm.y * doubled) / pxPerMm.y];
  const side = (mm: number, perMm: number) => Math.max(1, Math.ceil(mm * perMm - 1e-6));
  const [w, h] = [side(usedMm.width, pxPerMm.x), side(usedMm.height, pxPerMm.y)];
  const exact = mapChannels(large, (plane) => resample(plane, { leftPx: 0, topPx: 0, stepX, stepY }, w, h));
  cache.set(key, exact);
  return { picture: exact, pxPerMm, key };
}

/** A straightened frame fills its whole pixels exactly; a whole picture keeps the density asked for. */
const densityOf = (
  frame: Frame,
  picture: ColourPicture,
  usedMm: { width: number; height: number },
  asked: { x: number; y: number },
) => (frame.whole ? asked : { x: picture.widthPx / usedMm.width, y: picture.heightPx / usedMm.height });

/** Statistics by which overlapping copies of the used part are mixed. */
export async function blendSpaceOf(
  sources: Sources,
  cache: StageCache,
  picture: PictureToPlace,
  usedMm: { width: number; height: number },
  change?: PictureChange,
): Promise<BlendSpace> {
  const { frame, info } = picture;
  const key = hashOf(
    'blend space',
    info.sha256,
    picture.asData ?? false,
    frame.whole ? 'whole' : { plane: frame.plane, bow: frame.bow },
    change?.key ?? 'as received',
    change ? usedMm : null,
  );
  const known = cache.get<BlendSpace>(key);
  if (known) return known;
  let learnt: ColourPicture;
  if (frame.whole) {
    let level = 0;
    while (Math.max(info.widthPx, info.heightPx) / 2 ** level > LEARNING_SIDE_PX) level++;
    learnt = await levelOf(sources, picture, level);
  } else {
    const scale = Math.min(1, LEARNING_SIDE_PX / Math.max(frame.widthPx, frame.heightPx));
    const side = (px: number) => Math.max(1, Math.round(px * scale));
    learnt = await straightenedTo(sources, picture, side(frame.widthPx), side(frame.heightPx));
  }
  const space = learnBlendSpace(
    change
      ? change.apply(learnt, { x: usedMm.width / learnt.widthPx, y: usedMm.height / learnt.heightPx })
      : learnt,
  );
  cache.set(key, space);
  return space;
}
