import { calibrate, type Calibration } from '../../light';
import { mean, type ColourPicture, type Plane } from '../../raster';
import { drawKeepOuts } from '../../sample';
import {
  calibrationOf,
  sampleAtDensity,
  usedPart,
  type PictureChange,
  type PictureToPlace,
  type Source,
  type UsedPart,
  type UsedSource,
} from '../../sources';
import { frameOfQuad, toPicture, type Quad } from '../../straighten';
import { hashOf, Refusal, type RenderContext } from '../../surface';
import type { RepeatPlan } from '../plan';
import type { PlaceFrom } from '../settings';
import { knowsFaces } from '../version';

/** What a repeat is made from: a picture, and where it is composed anew, further areas and pictures. */

/** A part of a picture that copies are taken from. */
export interface RepeatSource {
  source: Source;
  picture: PictureToPlace;
  change: PictureChange;
  calibration: Calibration;
  /** Its own size. */
  usedMm: { width: number; height: number };
  /** Its size as it is laid in the repeat. */
  laidMm: { width: number; height: number };
  /** Id of the area it is; null: the whole frame. */
  areaId: string | null;
  /** What its linear light was multiplied by, per channel, to bring it to the tone of the first. */
  gain: readonly [number, number, number];
}

/** Tones are compared on rasters of this longer side, px. */
const TONE_PX = 192;
/** Pictures whose light differs by more are not of one finish, or of one kind of file. */
const MOST_GAIN = 6;

/** A picture or an area, or a stretch of it along its longer side, in shares of that. */
export type FaceFrom = PlaceFrom & { stretch?: readonly [from: number, to: number] };

/** A picture or area as `from` names it. @throws Refusal when it is not there any more */
export function usedSource(sources: readonly Source[], { source: id, area, stretch }: FaceFrom): UsedSource {
  const source = sources.find((s) => s.settings.id === id);
  if (!source)
    throw new Refusal(
      'picture-missing',
      'A picture that the repeat is made from does not belong to this finish any more. Take it out under Repeat.',
      'repeat.from',
    );
  const part = usedPart(source, source.settings, area);
  return { ...source, ...(stretch ? stretchOf(part, stretch) : part), area };
}

/** A stretch of an area along its longer side. */
function stretchOf({ used, usedMm }: UsedPart, [from, to]: readonly [number, number]): UsedPart {
  const lying = usedMm.width >= usedMm.height;
  const [left, right, top, bottom] = lying ? [from, to, 0, 1] : [0, 1, from, to];
  const corners = [
    [left, top],
    [right, top],
    [right, bottom],
    [left, bottom],
  ] as const;
  const quad = corners.map((at) => toPicture(used, at)) as unknown as Quad;
  return {
    used: frameOfQuad(used.picture, used.bow, quad),
    usedMm: { width: usedMm.width * (right - left), height: usedMm.height * (bottom - top) },
  };
}

/**
 * What a repeat is made from, each calibrated by its own light and brought to one tone: each channel's linear light is
 * multiplied so that its mean is that of the first. Exposure and the colour of light act as factors in linear light, so
 * a factor takes their difference out and leaves contrast alone.
 *
 * @param from all that the repeat is made from, the lead first
 * @param enlarged how many times finer than its pixels its detail is made
 * @throws Refusal when an area or picture cannot be joined
 */
export async function sourcesOfRepeat(
  ctx: RenderContext,
  sources: readonly Source[],
  from: readonly FaceFrom[],
  plan: RepeatPlan,
  enlarged: number,
): Promise<RepeatSource[]> {
  const lead = usedSource(sources, from[0]!);
  const scale = { x: plan.laidMm.width / lead.usedMm.width, y: plan.laidMm.height / lead.usedMm.height };
  const own = { x: lead.usedMm.width / plan.laidMm.width, y: lead.usedMm.height / plan.laidMm.height };
  const calibratedBy = new Map<string, Awaited<ReturnType<typeof calibrationOf>>>();
  const out: RepeatSource[] = [];
  const several = plan.kind === 'composed' || (plan.kind === 'layered' && plan.areas);
  for (const place of several ? from : from.slice(0, 1)) {
    const part = usedSource(sources, place);
    const calibration = calibratedBy.get(place.source) ?? (await calibrationOf(ctx, part));
    calibratedBy.set(place.source, calibration);
    const laid = { width: part.usedMm.width * scale.x, height: part.usedMm.height * scale.y };
    out.push({
      source: part,
      picture: { sampleId: part.settings.sampleId, info: part.info, frame: part.used, enlarged },
      change: calibratedAs(part, calibration, own),
      calibration: calibration.calibration,
      usedMm: part.usedMm,
      laidMm: out.length === 0 ? plan.laidMm : laid,
      areaId: place.area,
      gain: [1, 1, 1],
    });
  }
  // Pieces of one picture differ in tone as they do in the finish; only pictures are brought to one tone.
  const together = plan.kind === 'layered' && knowsFaces(ctx);
  return out.length === 1 ? out : toOneTone(ctx, out, together);
}

/** The light of a picture taken out of it. @param own mm of the picture per mm as it is laid */
function calibratedAs(
  { settings, used }: UsedSource,
  { calibration, key }: Awaited<ReturnType<typeof calibrationOf>>,
  own: { x: number; y: number },
): PictureChange {
  const { levelling, fills } = settings.light;
  return {
    key: hashOf(key, levelling, fills),
    // Light was judged on the picture in its own mm.
    apply: (picture, perPx) =>
      calibrate(picture, calibration, { levelling, fills }, used, { x: perPx.x * own.x, y: perPx.y * own.y }),
  };
}

/** @param together areas of one picture get one factor, so that they differ as they did */
async function toOneTone(
  ctx: RenderContext,
  sources: readonly RepeatSource[],
  together: boolean,
): Promise<RepeatSource[]> {
  const each: [number, number, number][] = [];
  for (const source of sources) each.push(await toneOf(ctx, source));
  const idOf = (k: number) => sources[k]!.source.settings.id;
  const tones = each.map((own, k) => {
    if (!together) return own;
    const ofPicture = each.filter((_, other) => idOf(other) === idOf(k));
    return ([0, 1, 2] as const).map((c) => mean(Float32Array.from(ofPicture, (tone) => tone[c])));
  });
  return sources.map((source, k) => {
    if (together ? idOf(k) === idOf(0) : k === 0) return source;
    const gain = ([0, 1, 2] as const).map((c) => tones[0]![c]! / Math.max(1e-4, tones[k]![c]!));
    const worst = Math.max(...gain.map((g) => Math.max(g, 1 / g)));
    if (worst > MOST_GAIN)
      throw new Refusal(
        'tones-differ',
        `The picture or area no. ${k + 1} that is joined is ${worst.toFixed(1)} times lighter or darker than the first. Pictures of one finish differ by at most ${MOST_GAIN} times; take another one.`,
        `repeat.from.${k}`,
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
async function toneOf(ctx: RenderContext, source: RepeatSource): Promise<[number, number, number]> {
  const { laidMm, picture, change } = source;
  const density = TONE_PX / Math.max(laidMm.width, laidMm.height);
  const dense = await sampleAtDensity(ctx, picture, laidMm, { x: density, y: density }, change);
  const small = dense.picture;
  const mask = keptOutOfSource(source, small.widthPx, small.heightPx);
  const over = (data: Float32Array) => (mask ? mean(data.filter((_, i) => mask.data[i]! < 0.5)) : mean(data));
  return [over(small.r), over(small.g), over(small.b)];
}

/** Keep-outs over a source; null: there are none. */
export function keptOutOfSource(
  { source, picture }: Pick<RepeatSource, 'source' | 'picture'>,
  widthPx: number,
  heightPx: number,
): Plane | null {
  const { keepOuts } = source.settings.preparation;
  return keepOuts.length > 0 ? drawKeepOuts(picture.frame, keepOuts, widthPx, heightPx) : null;
}

/** The longer side of the raster by which keep-outs are measured, px. */
const SIDE_PX = 256;

/** Share of the used part of a source that its keep-outs cover, 0–1. */
export function keptOutShare({ settings, used, usedMm }: UsedSource): number {
  const { keepOuts } = settings.preparation;
  if (keepOuts.length === 0) return 0;
  const density = SIDE_PX / Math.max(usedMm.width, usedMm.height);
  const side = (mm: number) => Math.max(8, Math.round(mm * density));
  return mean(drawKeepOuts(used, keepOuts, side(usedMm.width), side(usedMm.height)).data);
}
