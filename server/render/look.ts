import { straightenedTo, type Sources } from '@jossel/core/finish';
import { linearToSrgb8 } from '@jossel/core/colour';
import { luminancePlane, type ColourPicture } from '@jossel/core/raster';
import {
  drawKeepOuts,
  drawReport,
  orientationOfNormals,
  recogniseMap,
  type Orientation,
  type RecognisedMap,
  type ReportPicture,
  type SampleSettings,
} from '@jossel/core/sample';
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
import { writePng } from './png';
import { levelOf, sourcesFrom, type SampleBytes } from './sources';
import { told } from './told';

/** Looking at samples: report pictures, structure, target card, straightening, map sets. Each runs in a computing thread. */

/** The halving of a sample whose longer side is at most so many pixels. */
async function atMost(sample: SampleBytes, sidePx: number, asData = false): Promise<ColourPicture> {
  let level = 0;
  while (Math.max(sample.widthPx, sample.heightPx) / 2 ** level > sidePx) level++;
  return levelOf(sample, level, asData);
}

function toPng({ widthPx, heightPx, r, g, b }: ColourPicture): Promise<Buffer> {
  const data = new Uint8Array(3 * r.length);
  for (let i = 0; i < r.length; i++) {
    data[3 * i] = linearToSrgb8(r[i]!);
    data[3 * i + 1] = linearToSrgb8(g[i]!);
    data[3 * i + 2] = linearToSrgb8(b[i]!);
  }
  return writePng({ name: 'colour', widthPx, heightPx, channels: 3, bitDepth: 8, colourSpace: 'srgb', data });
}

export const reportPicture = ({ sample, shows }: { sample: SampleBytes; shows: ReportPicture }) =>
  told(async () => new Uint8Array(await toPng(drawReport(await atMost(sample, 1600), shows))));

const frameOf = (sample: SampleBytes, settings: SampleSettings): Frame =>
  makeFrame(sample, { ...settings, frame: settings.frame as Quad | null });

/** The frame at most so many pixels long, with what is kept out of it. */
async function straight(
  sources: Sources,
  sample: SampleBytes,
  frame: Frame,
  settings: SampleSettings,
  sidePx: number,
) {
  const scale = Math.min(1, sidePx / Math.max(frame.widthPx, frame.heightPx));
  const [w, h] = [frame.widthPx, frame.heightPx].map((n) => Math.max(8, Math.round(n * scale))) as [
    number,
    number,
  ];
  const picture = await straightenedTo(sources, { sampleId: sample.id, info: sample, frame }, w, h);
  return {
    picture,
    keptOut: settings.keepOuts.length > 0 ? drawKeepOuts(frame, settings.keepOuts, w, h) : undefined,
  };
}

export const structure = ({ sample, settings }: { sample: SampleBytes; settings: SampleSettings }) =>
  told(async (): Promise<FoundStructure> => {
    const { picture, keptOut } = await straight(
      sourcesFrom([sample]),
      sample,
      frameOf(sample, settings),
      settings,
      STRUCTURE_SIDES_PX[1],
    );
    return findStructure(picture, keptOut);
  });

export const card = ({ sample }: { sample: SampleBytes }) =>
  told(async (): Promise<FoundCard | null> => {
    const found = findCard(await atMost(sample, 2400));
    return (
      found ?? (Math.max(sample.widthPx, sample.heightPx) > 2400 ? findCard(await levelOf(sample, 0)) : null)
    );
  });

export interface StraightenOrder {
  sample: SampleBytes;
  settings: SampleSettings;
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

/** Straightens some rows of the frame, or of the used area. */
export const straightenRows = ({ sample, settings, widthPx, from, to }: StraightenOrder) =>
  told(async (): Promise<StraightRows> => {
    const whole = frameOf(sample, settings);
    const area = settings.areas.find((a) => a.id === settings.used);
    const frame = area ? frameOfQuad(sample, whole.bow, area.corners as Quad) : whole;
    const w = widthPx ?? frame.widthPx;
    const h = Math.max(1, Math.round((w * frame.heightPx) / frame.widthPx));
    const rows = { from: Math.round(from * h), to: Math.round(to * h) };
    const level = warpLevel(frame, w, h);
    const source = await levelOf(sample, level);
    const started = performance.now();
    const { r, g, b } = warp(source, level, frame, w, h, rows);
    const ms = performance.now() - started;
    const data = new Uint8Array(3 * r.length);
    for (let i = 0; i < r.length; i++) {
      data[3 * i] = linearToSrgb8(r[i]!);
      data[3 * i + 1] = linearToSrgb8(g[i]!);
      data[3 * i + 2] = linearToSrgb8(b[i]!);
    }
    return { widthPx: w, heightPx: rows.to - rows.from, data, ms };
  });

export interface Recognised extends RecognisedMap {
  sampleId: string;
  fileName: string;
  /** Of a normal map. */
  orientation?: Orientation;
}

export const recognise = ({ files }: { files: { fileName: string; sample: SampleBytes }[] }) =>
  told(async (): Promise<Recognised[]> => {
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
