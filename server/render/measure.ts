import { linearToSrgb, lrvOf } from '@jossel/core/colour';
import {
  doubtsOfMeasured,
  doubtsOfPictures,
  measureRelief,
  straightenerOf,
  type Light,
  type LitPicture,
  type StraightenedAs,
} from '@jossel/core/photometric';
import { extent, halvingsToFit, mean, type ColourPicture, type Plane } from '@jossel/core/raster';
import type { StraightenSettings } from '@jossel/core/straighten';
import { writePng } from './png';
import { levelOf, type SampleBytes } from './sources';
import { serialiseErrors } from './serialise-errors';

/** Measures relief from a light set; runs in a computing thread. */

export interface MeasureOrder {
  pictures: { sample: SampleBytes; light: Light }[];
  /** Size of what is measured, the whole picture or the frame that is straightened, on the sample. */
  overallMm: { width: number; height: number };
  /** How all pictures are straightened first; null: they are measured as they are. */
  straighten: StraightenSettings | null;
}

export interface MeasuredFiles {
  colourPng: Uint8Array;
  heightPng: Uint8Array;
  confidencePng: Uint8Array;
  rangeMm: number;
  toleranceMm: number;
  lrv: number;
  lights: { gain: number; residual: number; used: number }[];
  doubts: string[];
}

/** Longer side of the pictures that relief is measured from, px: finer detail takes minutes. */
const MEASURED_PX = 1600;

export const measure = (order: MeasureOrder) =>
  serialiseErrors(async (): Promise<MeasuredFiles> => {
    const { set, mm, cameraMm } = await (order.straighten
      ? straightened(order.pictures, { settings: order.straighten, sizeMm: order.overallMm })
      : asReceived(order));
    const before = doubtsOfPictures(set);
    const found = await measureRelief(set, mm, cameraMm);
    const { min, max } = extent(found.height.data);
    const { r, g, b } = found.colour;
    return {
      colourPng: await colourPng(found.colour),
      heightPng: await greyPng(found.height, min, max),
      confidencePng: await greyPng(found.confidence, 0, 1),
      rangeMm: Math.max(1e-3, max - min),
      toleranceMm: found.toleranceMm,
      lrv: lrvOf([mean(r), mean(g), mean(b)]),
      lights: found.ofLights,
      doubts: [...before, ...doubtsOfMeasured(set, found, mm)],
    };
  });

interface SetToMeasure {
  set: LitPicture[];
  /** Size of a pixel on the sample. */
  mm: { x: number; y: number };
  /** From the camera to the sample; null: not known. */
  cameraMm: number | null;
}

/** The pictures as they are, no larger than they are measured. */
async function asReceived({ pictures, overallMm }: MeasureOrder): Promise<SetToMeasure> {
  const set: LitPicture[] = [];
  for (const { sample, light } of pictures)
    set.push({ picture: await levelOf(sample, halvingsToFit(sample, MEASURED_PX)), light });
  const { widthPx, heightPx } = set[0]!.picture;
  const { focalPx, widthPx: fullPx } = pictures[0]!.sample;
  return {
    set,
    mm: { x: overallMm.width / widthPx, y: overallMm.height / heightPx },
    cameraMm: focalPx ? (focalPx * overallMm.width) / fullPx : null,
  };
}

/** All pictures straightened alike, and the lights as they stand to the frame. */
async function straightened(pictures: MeasureOrder['pictures'], as: StraightenedAs): Promise<SetToMeasure> {
  const { level, straighten, mmPerPx, cameraMm } = straightenerOf(pictures[0]!.sample, as, MEASURED_PX);
  const set: LitPicture[] = [];
  for (const { sample, light } of pictures)
    set.push(straighten({ picture: await levelOf(sample, level), light }));
  return { set, mm: mmPerPx, cameraMm };
}

async function colourPng({ widthPx, heightPx, r, g, b }: ColourPicture): Promise<Uint8Array> {
  const data = new Uint16Array(3 * r.length);
  const code = (v: number) => Math.round(65535 * Math.min(1, Math.max(0, linearToSrgb(v))));
  for (let i = 0; i < r.length; i++) {
    data[3 * i] = code(r[i]!);
    data[3 * i + 1] = code(g[i]!);
    data[3 * i + 2] = code(b[i]!);
  }
  const png = { widthPx, heightPx, channels: 3, bitDepth: 16, data } as const;
  return new Uint8Array(await writePng({ ...png, name: 'colour', colourSpace: 'srgb' }));
}

async function greyPng(plane: Plane, low: number, high: number): Promise<Uint8Array> {
  const { widthPx, heightPx } = plane;
  const scale = high > low ? 65535 / (high - low) : 0;
  const data = Uint16Array.from(plane.data, (v) =>
    Math.round(Math.min(65535, Math.max(0, (v - low) * scale))),
  );
  const png = { widthPx, heightPx, channels: 1, bitDepth: 16, data } as const;
  return new Uint8Array(await writePng({ ...png, name: 'height', colourSpace: 'data' }));
}
