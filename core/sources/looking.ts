import { findGlare, type GlarePlace } from '../light';
import { drawKeepOuts, type Preparation } from '../sample';
import { FINER_TIMES, STRUCTURE_SIDE_PX, structureSteps, type FoundStructure } from '../size';
import {
  findCard,
  makeFrame,
  toPicture,
  type FoundCard,
  type Frame,
  type PictureShape,
  type Quad,
} from '../straighten';
import { halvingsToFit, type ColourPicture, type Plane } from '../raster';
import { hashOf, refusing, withTurns, type ContextOptions, type Pictures } from '../surface';
import { straightenedTo } from './density';

/** Looking at a sample before anything is made of it: the same on the server and in the page. */

export interface SampleToLookAt extends PictureShape {
  id: string;
  sha256: string;
}

/** What of a sample's settings decides where its frame lies. */
export type Straightening = Pick<Preparation, 'bowLines' | 'frame'>;

/** The straightened frame of a sample. @throws Refusal when corners or lines cannot be */
export const frameOfSample = (sample: PictureShape, settings: Straightening): Frame =>
  refusing('not-straight', 'preparation.frame', () =>
    makeFrame(sample, { bowLines: settings.bowLines, frame: settings.frame as Quad | null }),
  );

/** Pixels of a frame brought to at most so many on its longer side; never more than it has, and at least 8. */
export function framePxAtMost(frame: Frame, sidePx: number): [number, number] {
  const scale = Math.min(1, sidePx / Math.max(frame.widthPx, frame.heightPx));
  return [Math.max(8, Math.round(frame.widthPx * scale)), Math.max(8, Math.round(frame.heightPx * scale))];
}

/** A frame at most so many pixels long, sharp, and what is kept out of it (1 = kept out). */
export async function lookStraight(
  pictures: Pictures,
  sample: SampleToLookAt,
  frame: Frame,
  keepOuts: Preparation['keepOuts'],
  sidePx: number,
): Promise<{ picture: ColourPicture; keptOut: Plane | undefined }> {
  const [w, h] = framePxAtMost(frame, sidePx);
  const picture = await straightenedTo(
    { pictures, options: {} },
    { sampleId: sample.id, info: sample, frame },
    w,
    h,
  );
  return { picture, keptOut: keepOuts.length > 0 ? drawKeepOuts(frame, keepOuts, w, h) : undefined };
}

/** Where what was found is kept, as finding it takes seconds, and how others have their turn meanwhile. */
export type WhileLooking = Pick<ContextOptions, 'cache' | 'signal' | 'pause'>;

type PreparedForLooking = Straightening & Pick<Preparation, 'keepOuts'>;

/** The straightened frame of a sample, at most so many pixels long. @throws Refusal when corners or lines cannot be */
async function lookPrepared(
  pictures: Pictures,
  sample: SampleToLookAt,
  settings: PreparedForLooking,
  sidePx: number,
) {
  const frame = frameOfSample(sample, settings);
  return { frame, ...(await lookStraight(pictures, sample, frame, settings.keepOuts, sidePx)) };
}

/**
 * What repeats in the straightened frame, keep-outs left out; the corners by which it would be straightened further are in shares
 * of the picture as received.
 * @throws Refusal when corners or lines cannot be; Stopped when the signal asks
 */
export async function structureOfSample(
  pictures: Pictures,
  sample: SampleToLookAt,
  { bowLines, frame, keepOuts }: PreparedForLooking,
  options: WhileLooking = {},
): Promise<FoundStructure> {
  const { cache } = options;
  const find = () => foundStructure(pictures, sample, { bowLines, frame, keepOuts }, options);
  return cache ? cache.known(hashOf('structure', sample.sha256, bowLines, frame, keepOuts), find) : find();
}

async function foundStructure(
  pictures: Pictures,
  sample: SampleToLookAt,
  settings: PreparedForLooking,
  options: WhileLooking,
): Promise<FoundStructure> {
  const sidePx = FINER_TIMES * STRUCTURE_SIDE_PX;
  const { frame, picture, keptOut } = await lookPrepared(pictures, sample, settings, sidePx);
  const found = await withTurns(options, structureSteps(picture, keptOut));
  if (!found.straighten) return found;
  const corners = found.straighten.corners.map((p) => toPicture(frame, p)) as unknown as Quad;
  return { ...found, straighten: { ...found.straighten, corners } };
}

/** Pixels at which glare is looked for. */
const GLARE_SIDE_PX = 640;

/** Places of glare in the straightened frame, largest first; keep-outs are left out. */
export async function glareInSample(
  pictures: Pictures,
  sample: SampleToLookAt,
  settings: PreparedForLooking,
): Promise<GlarePlace[]> {
  const { frame, picture, keptOut } = await lookPrepared(pictures, sample, settings, GLARE_SIDE_PX);
  return findGlare(picture, frame, keptOut);
}

/** The longer side at which a card is looked for first. */
const CARD_SIDE_PX = 2400;

/** The target card in a sample as received; a large picture is looked at once more in full when none is seen. */
export async function cardInSample(pictures: Pictures, sample: SampleToLookAt): Promise<FoundCard | null> {
  const level = halvingsToFit(sample, CARD_SIDE_PX);
  const found = findCard(await pictures.level(sample.id, level));
  return found ?? (level > 0 ? findCard(await pictures.level(sample.id, 0)) : null);
}

/** The longer side at which it is seen whether there is a card worth looking for. */
const GLANCE_SIDE_PX = 1600;

/**
 * The target card, where it is seen at a glance: most pictures have none, and looking for one in every pixel takes
 * seconds. A card whose marks have less than about 8 px at that size is missed; it is found when it is asked for.
 */
export async function cardAtAGlance(pictures: Pictures, sample: SampleToLookAt): Promise<FoundCard | null> {
  const small = await pictures.level(sample.id, halvingsToFit(sample, GLANCE_SIDE_PX));
  return findCard(small, false) && cardInSample(pictures, sample);
}
