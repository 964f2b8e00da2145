import { findGlare, type GlarePlace } from '../light';
import { adviseRepeat, type Advice } from '../repeat';
import { drawKeepOuts, type SampleSettings } from '../sample';
import { findStructure, STRUCTURE_SIDES_PX, type FoundStructure } from '../size';
import { findCard, makeFrame, type FoundCard, type Frame, type PictureShape, type Quad } from '../straighten';
import type { ColourPicture, Plane } from '../raster';
import { straightenedTo } from './density';
import { resolveSample } from './geometry';
import type { Recipe } from './recipe';
import type { Sources } from './result';

/** Looking at a sample before anything is made of it: the same on the server and in the page. */

export interface SampleToLookAt extends PictureShape {
  id: string;
  sha256: string;
}

/** What of a sample's settings decides where its frame lies. */
export type Straightening = Pick<SampleSettings, 'bowLines' | 'frame'>;

/** How often a picture is halved until its longer side is at most so many pixels. */
export function levelAtMost(info: { widthPx: number; heightPx: number }, sidePx: number): number {
  let level = 0;
  while (Math.max(info.widthPx, info.heightPx) / 2 ** level > sidePx) level++;
  return level;
}

/** The straightened frame of a sample. @throws RangeError with a sentence when corners or lines cannot be */
export const frameOfSample = (sample: PictureShape, settings: Straightening): Frame =>
  makeFrame(sample, { bowLines: settings.bowLines, frame: settings.frame as Quad | null });

/** Pixels of a frame brought to at most so many on its longer side; never more than it has, and at least 8. */
export function framePxAtMost(frame: Frame, sidePx: number): [number, number] {
  const scale = Math.min(1, sidePx / Math.max(frame.widthPx, frame.heightPx));
  return [Math.max(8, Math.round(frame.widthPx * scale)), Math.max(8, Math.round(frame.heightPx * scale))];
}

/** A frame at most so many pixels long, sharp, and what is kept out of it (1 = kept out). */
export async function lookStraight(
  sources: Sources,
  sample: SampleToLookAt,
  frame: Frame,
  keepOuts: SampleSettings['keepOuts'],
  sidePx: number,
): Promise<{ picture: ColourPicture; keptOut: Plane | undefined }> {
  const [w, h] = framePxAtMost(frame, sidePx);
  const picture = await straightenedTo(sources, { sampleId: sample.id, info: sample, frame }, w, h);
  return { picture, keptOut: keepOuts.length > 0 ? drawKeepOuts(frame, keepOuts, w, h) : undefined };
}

/** What repeats in the straightened frame, keep-outs left out. */
export async function structureOfSample(
  sources: Sources,
  sample: SampleToLookAt,
  settings: Straightening & Pick<SampleSettings, 'keepOuts'>,
): Promise<FoundStructure> {
  const frame = frameOfSample(sample, settings);
  const { picture, keptOut } = await lookStraight(
    sources,
    sample,
    frame,
    settings.keepOuts,
    STRUCTURE_SIDES_PX[1],
  );
  return findStructure(picture, keptOut);
}

/** Pixels at which it is judged how a sample is best made a repeat. */
const ADVICE_SIDE_PX = 512;

/** Which way of making a repeat suits a finish's sample, and why. @throws RangeError when its frame cannot be */
export async function adviceForRepeat(
  sources: Sources,
  sample: SampleToLookAt,
  recipe: Pick<Recipe, 'sample' | 'size' | 'repeat'>,
): Promise<Advice> {
  const { used, usedMm } = resolveSample(recipe, sample);
  const found = await structureOfSample(sources, sample, recipe.sample);
  const { picture } = await lookStraight(sources, sample, used, [], ADVICE_SIDE_PX);
  return adviseRepeat(picture, found, usedMm, recipe.repeat);
}

/** Pixels at which glare is looked for. */
const GLARE_SIDE_PX = 640;

/** Places of glare in the straightened frame, largest first; keep-outs are left out. */
export async function glareInSample(
  sources: Sources,
  sample: SampleToLookAt,
  settings: Straightening & Pick<SampleSettings, 'keepOuts'>,
): Promise<GlarePlace[]> {
  const frame = frameOfSample(sample, settings);
  const { picture, keptOut } = await lookStraight(sources, sample, frame, settings.keepOuts, GLARE_SIDE_PX);
  return findGlare(picture, frame, keptOut);
}

/** The longer side at which a card is looked for first. */
const CARD_SIDE_PX = 2400;

/** The target card in a sample as received; a large picture is looked at once more in full when none is seen. */
export async function cardInSample(sources: Sources, sample: SampleToLookAt): Promise<FoundCard | null> {
  const level = levelAtMost(sample, CARD_SIDE_PX);
  const found = findCard(await sources.level(sample.id, level));
  return found ?? (level > 0 ? findCard(await sources.level(sample.id, 0)) : null);
}
