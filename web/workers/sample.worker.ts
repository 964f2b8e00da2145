import { expose, transfer } from 'comlink';
import { linearToLab, linearToSrgbBytes } from '@jossel/core/colour';
import { halvingsToFit, type ColourPicture } from '@jossel/core/raster';
import { findPart, type Part, type Preparation } from '@jossel/core/sample';
import {
  cardInSample,
  frameOfSample,
  framePxAtMost,
  glareInSample,
  lookStraight,
  structureOfSample,
  type Straightening,
} from '@jossel/core/sources';
import { StageCache } from '@jossel/core/surface';
import { frameOfQuad, warp, warpLevel, type Quad } from '@jossel/core/straighten';
import { piecesOfFinish, pickPieces, type Recipe, type RepeatToJudge } from '@jossel/core/finish';
import { yieldToEventLoop } from './yield-to-event-loop';
import { sourcesOf, type SampleInfo } from './sources';

/** Looks at samples for the page: shows them as received and straightened, finds structure, card and parts. */

/** A picture as the page shows it: RGBA, 8 bit. */
export interface Shown {
  widthPx: number;
  heightPx: number;
  rgba: Uint8ClampedArray<ArrayBuffer>;
}
/** Where a part lies over the straightened frame: weight 0–255. */
export interface ShownPart {
  widthPx: number;
  heightPx: number;
  weight: Uint8ClampedArray<ArrayBuffer>;
  share: number;
}
const cache = new StageCache(320 * 1024 * 1024);

function shown(picture: ColourPicture): Shown {
  const rgba = linearToSrgbBytes(picture, 4);
  return transfer({ widthPx: picture.widthPx, heightPx: picture.heightPx, rgba }, [rgba.buffer]);
}

const sources = (sample: SampleInfo) => sourcesOf([sample], cache);
const levelOf = (sample: SampleInfo, level: number) => sources(sample).level(sample.id, level);

let latestDraft = 0;

const worker = {
  /** The picture as received, at most so many pixels long. */
  async received(sample: SampleInfo, sidePx: number): Promise<Shown> {
    return shown(await levelOf(sample, halvingsToFit(sample, sidePx)));
  },

  /** The straightened frame, sharp. */
  async straightened(sample: SampleInfo, settings: Straightening, sidePx: number): Promise<Shown> {
    return shown(
      (await lookStraight(sources(sample), sample, frameOfSample(sample, settings), [], sidePx)).picture,
    );
  },

  /** A frame or area while it is being dragged: quick, a little soft. Null when a newer one was asked for meanwhile. */
  async draft(
    sample: SampleInfo,
    settings: Straightening,
    area: Quad | null,
    sidePx: number,
  ): Promise<(Shown & { frameWidthPx: number; frameHeightPx: number }) | null> {
    const mine = ++latestDraft;
    // Lets newer requests in first, so that only the newest is computed.
    await yieldToEventLoop();
    if (mine !== latestDraft) return null;
    const whole = frameOfSample(sample, settings);
    const frame = area ? frameOfQuad(sample, whole.bow, area) : whole;
    const [w, h] = framePxAtMost(frame, sidePx);
    const level = warpLevel(frame, w, h, true);
    const source = await levelOf(sample, level);
    const { rgba, ...size } = shown(warp(source, level, frame, w, h, { from: 0, to: h }, true));
    return transfer({ ...size, rgba, frameWidthPx: frame.widthPx, frameHeightPx: frame.heightPx }, [
      rgba.buffer,
    ]);
  },

  structure: (sample: SampleInfo, settings: Straightening & Pick<Preparation, 'keepOuts'>) =>
    structureOfSample(sources(sample), sample, settings, { cache }),

  glare: (sample: SampleInfo, settings: Straightening & Pick<Preparation, 'keepOuts'>) =>
    glareInSample(sources(sample), sample, settings),

  /**
   * The pieces of a finish, and which are broken.
   * @param draw draws its repeat: the worker that computes finishes has solved it already
   */
  pieces: (recipe: Recipe, samples: SampleInfo[], draw: (widthPx: number) => Promise<RepeatToJudge>) =>
    piecesOfFinish(recipe, sourcesOf(samples, cache), { cache, pause: yieldToEventLoop }, draw),
  /** The pieces that a picture of a finish shows. */
  pickedPieces: (recipe: Recipe, samples: SampleInfo[], sourceId: string) =>
    pickPieces(
      recipe,
      sourcesOf(samples, cache),
      recipe.sources.find((s) => s.id === sourceId),
    ),

  card: (sample: SampleInfo) => cardInSample(sources(sample), sample),

  /** CIELAB of a small neighbourhood of a place of the picture as received. */
  async labAt(sample: SampleInfo, place: readonly [number, number]): Promise<[number, number, number]> {
    const picture = await levelOf(sample, halvingsToFit(sample, 1400));
    const [x0, y0] = [Math.floor(place[0] * picture.widthPx), Math.floor(place[1] * picture.heightPx)];
    const sum = [0, 0, 0];
    let n = 0;
    for (let y = Math.max(0, y0 - 1); y <= Math.min(picture.heightPx - 1, y0 + 1); y++)
      for (let x = Math.max(0, x0 - 1); x <= Math.min(picture.widthPx - 1, x0 + 1); x++) {
        const i = y * picture.widthPx + x;
        n++;
        sum[0]! += picture.r[i]!;
        sum[1]! += picture.g[i]!;
        sum[2]! += picture.b[i]!;
      }
    if (n === 0) throw new RangeError('There is no picture at this place.');
    return linearToLab([sum[0]! / n, sum[1]! / n, sum[2]! / n]).map((v) => Number(v.toFixed(2))) as [
      number,
      number,
      number,
    ];
  },

  async part(
    sample: SampleInfo,
    settings: Straightening & Pick<Preparation, 'keepOuts'>,
    frameMm: { width: number; height: number },
    part: Part,
    sidePx: number,
  ): Promise<ShownPart> {
    const frame = frameOfSample(sample, settings);
    const { picture, keptOut } = await lookStraight(
      sources(sample),
      sample,
      frame,
      settings.keepOuts,
      sidePx,
    );
    const { widthPx, heightPx } = picture;
    const perPx = { x: frameMm.width / widthPx, y: frameMm.height / heightPx };
    const { weight, share } = findPart(picture, part, perPx, keptOut);
    const bytes = new Uint8ClampedArray(weight.data.length);
    for (let i = 0; i < bytes.length; i++) bytes[i] = 255 * weight.data[i]!;
    return transfer({ widthPx, heightPx, weight: bytes, share }, [bytes.buffer]);
  },
};

export type SampleWorker = typeof worker;
expose(worker);
