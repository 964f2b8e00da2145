import { mean, type ColourPicture, type Plane } from '../raster';
import { drawKeepOuts } from '../sample';
import { areaSizeMm } from '../size';
import { frameOfQuad, makeFrame, type Quad } from '../straighten';
import type { StageCache } from './cache';
import { sampleAtDensity, type PictureChange, type PictureToPlace } from './density';
import type { RepeatGeometry } from './geometry';
import { hashOf } from './hash';
import type { Recipe } from './recipe';
import type { Sources } from './result';

/** What a repeat is made from: the used part of the sample, and where it is composed anew, further areas and pictures. */

/** A part of a picture that copies are taken from. */
export interface RepeatSource {
  picture: PictureToPlace;
  change: PictureChange;
  /** Its size as it is laid in the repeat. */
  laidMm: { width: number; height: number };
  /** The area it is; null: the used part, or a picture as a whole. */
  areaId: string | null;
  /** 0: a part of the first picture, for which keep-outs and the maps of a set hold; 1 and on: of the further pictures, in order. */
  pictureNumber: number;
  /** What its linear light was multiplied by, per channel, to bring it to the tone of the first. */
  gain: readonly [number, number, number];
}

/** Tones are compared on rasters of this longer side, px. */
const TONE_PX = 192;
/** Pictures whose light differs by more are not of one finish, or of one kind of file. */
const MOST_GAIN = 6;

/**
 * All sources of a repeat, brought to one tone: each channel's linear light is multiplied so that its mean is that of the
 * first. Exposure and the colour of light act as factors in linear light, so a factor takes their difference out and leaves
 * contrast alone.
 *
 * @param first the used part of the sample
 * @param calibrated its levelling and balance, given the frame it is applied in
 * @throws RangeError with a sentence when an area or picture cannot be joined
 */
export async function sourcesOfRepeat(
  sources: Sources,
  cache: StageCache,
  recipe: Recipe,
  geometry: RepeatGeometry,
  first: PictureToPlace,
  calibrated: (picture: PictureToPlace) => PictureChange,
): Promise<RepeatSource[]> {
  const { frame, usedMm, laidMm, size } = geometry;
  const out: RepeatSource[] = [
    { picture: first, change: calibrated(first), laidMm, areaId: null, pictureNumber: 0, gain: [1, 1, 1] },
  ];
  if (geometry.solve !== 'compose') return out;
  const { areas, pictures } = recipe.repeat.compose;
  const scale = { x: laidMm.width / usedMm.width, y: laidMm.height / usedMm.height };
  const laid = (mm: { width: number; height: number }) => ({
    width: mm.width * scale.x,
    height: mm.height * scale.y,
  });
  const frameMm = { width: size.width.mm, height: size.height.mm };
  for (const id of areas) {
    if (id === recipe.sample.used) continue;
    const area = recipe.sample.areas.find((a) => a.id === id);
    if (!area)
      throw new RangeError(
        'An area that is joined is not there any more. Take it out under Joined, or undo its removal.',
      );
    const picture = {
      ...first,
      frame: frameOfQuad(frame.picture, frame.bow, area.corners as Quad),
    };
    out.push({
      picture,
      change: calibrated(picture),
      laidMm: laid(areaSizeMm(frame, frameMm, area.corners)),
      areaId: id,
      pictureNumber: 0,
      gain: [1, 1, 1],
    });
  }
  for (const [k, { sampleId, widthMm }] of pictures.entries()) {
    if (!recipe.source.sampleIds.includes(sampleId))
      throw new RangeError(
        'A picture that is joined does not belong to this finish any more. Take it out under Joined.',
      );
    const info = await sources.info(sampleId);
    const whole = makeFrame(info, { bowLines: [], frame: null });
    const width = widthMm ?? info.widthPx / size.pxPerMm.x;
    const height = widthMm ? (widthMm * info.heightPx) / info.widthPx : info.heightPx / size.pxPerMm.y;
    out.push({
      picture: { sampleId, info, frame: whole },
      change: { key: 'as received', apply: (picture) => picture },
      laidMm: laid({ width, height }),
      areaId: null,
      pictureNumber: k + 1,
      gain: [1, 1, 1],
    });
  }
  if (out.length === 1) return out;
  const tones: [number, number, number][] = [];
  for (const source of out) tones.push(await toneOf(sources, cache, recipe, source));
  return out.map((source, k) => {
    if (k === 0) return source;
    const gain = ([0, 1, 2] as const).map((c) => tones[0]![c]! / Math.max(1e-4, tones[k]![c]!));
    const worst = Math.max(...gain.map((g) => Math.max(g, 1 / g)));
    if (worst > MOST_GAIN)
      throw new RangeError(
        `The picture or area no. ${k + 1} that is joined is ${worst.toFixed(1)} times lighter or darker than the first. Pictures of one finish differ by at most ${MOST_GAIN} times; take another one.`,
      );
    const [r, g, b] = gain as [number, number, number];
    const { change } = source;
    return {
      ...source,
      gain: [r, g, b] as const,
      change: {
        key: hashOf(change.key, gain),
        apply: (picture: ColourPicture, mmPerPx: { x: number; y: number }) => {
          const plain = change.apply(picture, mmPerPx);
          const times = (data: Float32Array, by: number) => data.map((v) => v * by);
          return { ...plain, r: times(plain.r, r), g: times(plain.g, g), b: times(plain.b, b) };
        },
      },
    };
  });
}

/** Mean linear light of what may be used of a source. */
async function toneOf(
  sources: Sources,
  cache: StageCache,
  recipe: Pick<Recipe, 'sample'>,
  source: RepeatSource,
): Promise<[number, number, number]> {
  const { laidMm, picture, change } = source;
  const density = TONE_PX / Math.max(laidMm.width, laidMm.height);
  const { picture: small } = await sampleAtDensity(
    sources,
    cache,
    picture,
    laidMm,
    { x: density, y: density },
    change,
  );
  const mask = keptOutOfSource(recipe, source, small.widthPx, small.heightPx);
  const over = (data: Float32Array) => (mask ? mean(data.filter((_, i) => mask.data[i]! < 0.5)) : mean(data));
  return [over(small.r), over(small.g), over(small.b)];
}

/** Keep-outs over a source; null: there are none. */
export const keptOutOfSource = (
  { sample }: Pick<Recipe, 'sample'>,
  { picture, pictureNumber }: Pick<RepeatSource, 'picture' | 'pictureNumber'>,
  widthPx: number,
  heightPx: number,
): Plane | null =>
  pictureNumber === 0 && sample.keepOuts.length > 0
    ? drawKeepOuts(picture.frame, sample.keepOuts, widthPx, heightPx)
    : null;
