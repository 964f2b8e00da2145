import { expose, transfer } from 'comlink';
import { linearToLab, linearToSrgb8 } from '@jossel/core/colour';
import { StageCache, straightenedTo } from '@jossel/core/finish';
import type { ColourPicture } from '@jossel/core/raster';
import { drawKeepOuts, findPart, type Mark, type Part, type SampleSettings } from '@jossel/core/sample';
import { findStructure, STRUCTURE_SIDES_PX, type FoundStructure } from '@jossel/core/size';
import {
  findCard,
  frameOfQuad,
  makeFrame,
  warp,
  warpLevel,
  type FoundCard,
  type Frame,
  type Quad,
} from '@jossel/core/straighten';
import { breath } from './breath';
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
/** What of the settings decides where the frame lies. */
export type Straightening = Pick<SampleSettings, 'bowLines' | 'frame'>;

const cache = new StageCache(320 * 1024 * 1024);

function shown({ widthPx, heightPx, r, g, b }: ColourPicture): Shown {
  const rgba = new Uint8ClampedArray(4 * r.length);
  for (let i = 0; i < r.length; i++) {
    rgba[4 * i] = linearToSrgb8(r[i]!);
    rgba[4 * i + 1] = linearToSrgb8(g[i]!);
    rgba[4 * i + 2] = linearToSrgb8(b[i]!);
    rgba[4 * i + 3] = 255;
  }
  return transfer({ widthPx, heightPx, rgba }, [rgba.buffer]);
}

const levelAtMost = (sample: SampleInfo, sidePx: number) => {
  let level = 0;
  while (Math.max(sample.widthPx, sample.heightPx) / 2 ** level > sidePx) level++;
  return level;
};
const levelOf = (sample: SampleInfo, level: number) => sourcesOf([sample], cache).level(sample.id, level);
const frameOf = (sample: SampleInfo, settings: Straightening): Frame =>
  makeFrame(sample, { ...settings, frame: settings.frame as Quad | null });
const sized = (frame: Frame, sidePx: number): [number, number] => {
  const scale = Math.min(1, sidePx / Math.max(frame.widthPx, frame.heightPx));
  return [Math.max(4, Math.round(frame.widthPx * scale)), Math.max(4, Math.round(frame.heightPx * scale))];
};
async function straight(sample: SampleInfo, frame: Frame, sidePx: number): Promise<ColourPicture> {
  const [w, h] = sized(frame, sidePx);
  return straightenedTo(sourcesOf([sample], cache), { sampleId: sample.id, info: sample, frame }, w, h);
}

let latestDraft = 0;

const worker = {
  /** The picture as received, at most so many pixels long. */
  async received(sample: SampleInfo, sidePx: number): Promise<Shown> {
    return shown(await levelOf(sample, levelAtMost(sample, sidePx)));
  },

  /** The straightened frame, sharp. */
  async straightened(sample: SampleInfo, settings: Straightening, sidePx: number): Promise<Shown> {
    return shown(await straight(sample, frameOf(sample, settings), sidePx));
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
    await breath();
    if (mine !== latestDraft) return null;
    const whole = frameOf(sample, settings);
    const frame = area ? frameOfQuad(sample, whole.bow, area) : whole;
    const [w, h] = sized(frame, sidePx);
    const level = warpLevel(frame, w, h, true);
    const source = await levelOf(sample, level);
    const { rgba, ...size } = shown(warp(source, level, frame, w, h, { from: 0, to: h }, true));
    return transfer({ ...size, rgba, frameWidthPx: frame.widthPx, frameHeightPx: frame.heightPx }, [
      rgba.buffer,
    ]);
  },

  async structure(sample: SampleInfo, settings: Straightening, keepOuts: Mark[]): Promise<FoundStructure> {
    const frame = frameOf(sample, settings);
    const picture = await straight(sample, frame, STRUCTURE_SIDES_PX[1]);
    return findStructure(
      picture,
      keepOuts.length > 0 ? drawKeepOuts(frame, keepOuts, picture.widthPx, picture.heightPx) : undefined,
    );
  },

  async card(sample: SampleInfo): Promise<FoundCard | null> {
    const level = levelAtMost(sample, 2400);
    return findCard(await levelOf(sample, level)) ?? (level > 0 ? findCard(await levelOf(sample, 0)) : null);
  },

  /** CIELAB of a small neighbourhood of a place of the picture as received. */
  async labAt(sample: SampleInfo, place: readonly [number, number]): Promise<[number, number, number]> {
    const picture = await levelOf(sample, levelAtMost(sample, 1400));
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
    settings: Straightening,
    keepOuts: Mark[],
    frameMm: { width: number; height: number },
    part: Part,
    sidePx: number,
  ): Promise<ShownPart> {
    const frame = frameOf(sample, settings);
    const picture = await straight(sample, frame, sidePx);
    const { widthPx, heightPx } = picture;
    const { weight, share } = findPart(
      picture,
      part,
      { x: frameMm.width / widthPx, y: frameMm.height / heightPx },
      keepOuts.length > 0 ? drawKeepOuts(frame, keepOuts, widthPx, heightPx) : undefined,
    );
    const bytes = new Uint8ClampedArray(weight.data.length);
    for (let i = 0; i < bytes.length; i++) bytes[i] = 255 * weight.data[i]!;
    return transfer({ widthPx, heightPx, weight: bytes, share }, [bytes.buffer]);
  },
};

export type SampleWorker = typeof worker;
expose(worker);
