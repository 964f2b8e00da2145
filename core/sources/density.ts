import { wholePower } from '../exact';
import { enlargingSteps } from '../sample';
import { halvingsKeeping, halvingsToFit, resamplePictureSteps, type ColourPicture } from '../raster';
import { warpLevel, warpSteps, type Frame } from '../straighten';
import { hashOf, withTurns, type ContextOptions, type Pictures, type RenderContext } from '../surface';

/** The used part of a picture at a density: straightened where it has to be, its light taken out. */

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

const levelOf = (pictures: Pictures, { sampleId, asData }: PictureToPlace, level: number) =>
  asData ? pictures.data(sampleId, level) : pictures.level(sampleId, level);

/** A frame that belongs to the first picture, put on another map of the same surface with other pixels. */
export const frameOnMap = (frame: Frame, info: { widthPx: number; heightPx: number }): Frame => ({
  ...frame,
  picture: { ...frame.picture, widthPx: info.widthPx, heightPx: info.heightPx },
});

/** The frame brought to a number of pixels, from the halving of the sample that suits. */
export async function straightenedTo(
  { pictures, options }: { pictures: Pictures; options: ContextOptions },
  picture: PictureToPlace,
  widthPx: number,
  heightPx: number,
): Promise<ColourPicture> {
  const { frame, info } = picture;
  if (!frame.whole) {
    const level = warpLevel(frame, widthPx, heightPx);
    const halved = await levelOf(pictures, picture, level);
    return withTurns(options, warpSteps(halved, level, frame, widthPx, heightPx));
  }
  const level = Math.min(halvingsKeeping(info.widthPx, widthPx), halvingsKeeping(info.heightPx, heightPx));
  const source = await levelOf(pictures, picture, level);
  // A level is rounded up to whole pixels; the step is taken from the full size.
  const stepX = info.widthPx / wholePower(2, level) / widthPx;
  const stepY = info.heightPx / wholePower(2, level) / heightPx;
  return withTurns(
    options,
    resamplePictureSteps(source, { leftPx: 0, topPx: 0, stepX, stepY }, widthPx, heightPx),
  );
}

/**
 * The used part of a sample at a density.
 * @param usedMm its size
 * @param pxPerMm density wanted
 */
export async function sampleAtDensity(
  ctx: RenderContext,
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
    return enlargedTo(ctx, picture, usedMm, pxPerMm, own, change);
  const dense = await ctx.known(key, async () => {
    const received = frame.whole
      ? await wholeAtDensity(ctx, picture, usedMm, pxPerMm, w, h)
      : await straightenedTo(ctx, picture, w, h);
    if (!change) return received;
    const real = densityOf(frame, received, usedMm, pxPerMm);
    return change.apply(received, { x: 1 / real.x, y: 1 / real.y });
  });
  return { picture: dense, pxPerMm: densityOf(frame, dense, usedMm, pxPerMm), key };
}

/** A whole picture at a density exactly as asked, to the last part of a pixel. */
async function wholeAtDensity(
  { pictures, options }: RenderContext,
  picture: PictureToPlace,
  usedMm: { width: number; height: number },
  pxPerMm: { x: number; y: number },
  widthPx: number,
  heightPx: number,
): Promise<ColourPicture> {
  const { info } = picture;
  const level = Math.min(
    halvingsKeeping(info.widthPx / usedMm.width, pxPerMm.x),
    halvingsKeeping(info.heightPx / usedMm.height, pxPerMm.y),
  );
  const source = await levelOf(pictures, picture, level);
  // A level is rounded up to whole pixels; the step is taken from the full size.
  const stepX = info.widthPx / wholePower(2, level) / (usedMm.width * pxPerMm.x);
  const stepY = info.heightPx / wholePower(2, level) / (usedMm.height * pxPerMm.y);
  return withTurns(
    options,
    resamplePictureSteps(source, { leftPx: 0, topPx: 0, stepX, stepY }, widthPx, heightPx),
  );
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
  ctx: RenderContext,
  pictures: readonly LaidPicture[],
  pxPerMm: { x: number; y: number },
): Promise<Awaited<ReturnType<typeof sampleAtDensity>>[]> {
  const dense = [];
  for (const { picture, laidMm, change } of pictures)
    dense.push(await sampleAtDensity(ctx, picture, laidMm, pxPerMm, change));
  return dense;
}

/** Detail is made where a density is asked for that is so many times the picture's own. */
const BEYOND = 1.02;

/** The used part at a density beyond its own, with detail made from itself. */
async function enlargedTo(
  ctx: RenderContext,
  picture: PictureToPlace,
  usedMm: { width: number; height: number },
  pxPerMm: { x: number; y: number },
  own: { x: number; y: number },
  change: PictureChange | undefined,
): ReturnType<typeof sampleAtDensity> {
  const { enlarged = 1, ...plain } = picture;
  const from = await sampleAtDensity(ctx, plain, usedMm, own, change);
  const key = hashOf('enlarged', from.key, enlarged, pxPerMm);
  const exact = await ctx.known(key, async () => {
    const times = Math.min(enlarged, Math.max(pxPerMm.x / own.x, pxPerMm.y / own.y));
    let [large, doubled] = [from.picture, 1];
    while (doubled < times / BEYOND) {
      doubled *= 2;
      const smaller = large;
      large = await ctx.known(hashOf('enlarged twice', from.key, doubled), () =>
        withTurns(ctx.options, enlargingSteps(smaller)),
      );
    }
    const [stepX, stepY] = [(from.pxPerMm.x * doubled) / pxPerMm.x, (from.pxPerMm.y * doubled) / pxPerMm.y];
    const side = (mm: number, perMm: number) => Math.max(1, Math.ceil(mm * perMm - 1e-6));
    const [w, h] = [side(usedMm.width, pxPerMm.x), side(usedMm.height, pxPerMm.y)];
    return withTurns(ctx.options, resamplePictureSteps(large, { leftPx: 0, topPx: 0, stepX, stepY }, w, h));
  });
  return { picture: exact, pxPerMm, key };
}

/** A straightened frame fills its whole pixels exactly; a whole picture keeps the density asked for. */
const densityOf = (
  frame: Frame,
  picture: ColourPicture,
  usedMm: { width: number; height: number },
  asked: { x: number; y: number },
) => (frame.whole ? asked : { x: picture.widthPx / usedMm.width, y: picture.heightPx / usedMm.height });

/** The used part, small: no side is longer than so many pixels. */
export async function smallOf(
  ctx: RenderContext,
  picture: PictureToPlace,
  usedMm: { width: number; height: number },
  sidePx: number,
  change?: PictureChange,
): Promise<ColourPicture> {
  const { frame, info } = picture;
  let small: ColourPicture;
  if (frame.whole) small = await levelOf(ctx.pictures, picture, halvingsToFit(info, sidePx));
  else {
    const scale = Math.min(1, sidePx / Math.max(frame.widthPx, frame.heightPx));
    const side = (px: number) => Math.max(1, Math.round(px * scale));
    small = await straightenedTo(ctx, picture, side(frame.widthPx), side(frame.heightPx));
  }
  return change
    ? change.apply(small, { x: usedMm.width / small.widthPx, y: usedMm.height / small.heightPx })
    : small;
}
