import { linearToSrgbBytes } from '@jossel/core/colour';
import { findJoints, JOINTS_SEEN_PX } from '@jossel/core/finish';
import { halvingsToFit, luminancePlane, type ColourPicture } from '@jossel/core/raster';
import { cardAtAGlance, cardInSample, frameOfSample, structureOfSample } from '@jossel/core/sources';
import {
  drawReport,
  orientationOfNormals,
  recogniseMap,
  type Orientation,
  type RecognisedMap,
  type Preparation,
  type ReportPicture,
} from '@jossel/core/sample';
import { frameOfQuad, warp, warpLevel, type Quad } from '@jossel/core/straighten';
import { writePng } from './png';
import { levelOf, lookedAt, sourcesFrom, type SampleBytes } from './sources';
import { serialiseErrors } from './serialise-errors';

/** Looking at samples: report pictures, structure, target card, straightening, map sets. Each runs in a computing thread. */

/** The halving of a sample whose longer side is at most so many pixels. */
const atMost = (sample: SampleBytes, sidePx: number, asData = false): Promise<ColourPicture> =>
  levelOf(sample, halvingsToFit(sample, sidePx), asData);

const bytesOf = (picture: ColourPicture) => new Uint8Array(linearToSrgbBytes(picture).buffer);

export const reportPicture = ({ sample, shows }: { sample: SampleBytes; shows: ReportPicture }) =>
  serialiseErrors(async () => {
    const picture = drawReport(await atMost(sample, 1600), shows);
    const { widthPx, heightPx } = picture;
    const data = bytesOf(picture);
    return new Uint8Array(
      await writePng({
        name: 'colour',
        widthPx,
        heightPx,
        channels: 3,
        bitDepth: 8,
        colourSpace: 'srgb',
        data,
      }),
    );
  });

export const structure = ({ sample, settings }: { sample: SampleBytes; settings: Preparation }) =>
  serialiseErrors(() => structureOfSample(sourcesFrom([sample]), sample, settings, { cache: lookedAt }));

export const card = ({ sample, thoroughly }: { sample: SampleBytes; thoroughly: boolean }) =>
  serialiseErrors(() => (thoroughly ? cardInSample : cardAtAGlance)(sourcesFrom([sample]), sample));

/** What the joints of a sample look like. @returns null: it has none that part pieces */
export const joints = ({ sample }: { sample: SampleBytes }) =>
  serialiseErrors(async () => findJoints(await atMost(sample, JOINTS_SEEN_PX)));

export interface StraightenOrder {
  sample: SampleBytes;
  settings: Preparation;
  /** An area picked out of the picture; null: its whole frame. */
  area: string | null;
  /** Default: as many as keep all detail. */
  widthPx?: number;
  /** Which share of the rows, 0–1. */
  from: number;
  to: number;
}
/** Some rows of a straightened picture, 8-bit sRGB, three channels interleaved. */
export interface StraightRows {
  widthPx: number;
  heightPx: number;
  data: Uint8Array;
  /** How long the straightening itself took, without decoding. */
  ms: number;
}

/** Straightens some rows of the frame, or of an area picked out of it. */
export const straightenRows = ({ sample, settings, area: id, widthPx, from, to }: StraightenOrder) =>
  serialiseErrors(async (): Promise<StraightRows> => {
    const whole = frameOfSample(sample, settings);
    const area = settings.areas.find((a) => a.id === id);
    const frame = area ? frameOfQuad(sample, whole.bow, area.corners as Quad) : whole;
    const w = widthPx ?? frame.widthPx;
    const h = Math.max(1, Math.round((w * frame.heightPx) / frame.widthPx));
    const rows = { from: Math.round(from * h), to: Math.round(to * h) };
    const level = warpLevel(frame, w, h);
    const source = await levelOf(sample, level);
    const started = performance.now();
    const straight = warp(source, level, frame, w, h, rows);
    const ms = performance.now() - started;
    return { widthPx: w, heightPx: straight.heightPx, data: bytesOf(straight), ms };
  });

export interface Recognised extends RecognisedMap {
  sampleId: string;
  fileName: string;
  /** Of a normal map. */
  orientation?: Orientation;
}

export const recognise = ({ files }: { files: { fileName: string; sample: SampleBytes }[] }) =>
  serialiseErrors(async (): Promise<Recognised[]> => {
    const seen = await Promise.all(
      files.map(async ({ fileName, sample }) => {
        const picture = await atMost(sample, 512, true);
        return { picture, map: { sampleId: sample.id, fileName, ...recogniseMap({ fileName, picture }) } };
      }),
    );
    const height = seen.find((s) => s.map.role === 'height');
    return seen.map(({ picture, map }) =>
      map.role === 'normal'
        ? { ...map, orientation: orientationOfNormals(picture, height && luminancePlane(height.picture)) }
        : map,
    );
  });
