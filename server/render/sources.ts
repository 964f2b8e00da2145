import { workerData } from 'piscina';
import { halve, mapChannels, type ColourPicture } from '@jossel/core/raster';
import { StageCache, type Pictures } from '@jossel/core/surface';
import { LIMITS } from '../config';
import type { ThreadData } from './lane';
import { decodeData, decodePicture, decodePictureHalved } from './decode';

/** A sample as the main thread hands it to a computing thread. */
export interface SampleBytes {
  id: string;
  sha256: string;
  widthPx: number;
  heightPx: number;
  focalPx: number | null;
  bytes: Uint8Array;
}

/** What each cache of this thread may hold; the lane that it belongs to says so. */
export const CACHE_BYTES = ((workerData as ThreadData | null)?.cacheBytes ?? 256 * 1024 * 1024) / 2;

/** Decoded samples of this thread and their halvings, each by itself: large ones go first, small ones are asked for again. */
const decoded = new StageCache(CACHE_BYTES);

/** What was found in samples, and placements solved for looking at a finish, so that looking again does not find them again. */
export const lookedAt = new StageCache(CACHE_BYTES / 2);

/** A sample halved `level` times, read as colour or as data. */
export const levelOf = (sample: SampleBytes, level: number, asData = false): Promise<ColourPicture> =>
  decoded.known(`${sample.sha256} ${asData ? 'data' : 'colour'} ${level}`, () =>
    madeLevel(sample, level, asData),
  );

/** Above so many pixels a picture is halved while it is decoded. */
const LARGE_PIXELS = 64_000_000;

async function madeLevel(sample: SampleBytes, level: number, asData: boolean): Promise<ColourPicture> {
  if (level === 0) return (asData ? decodeData : decodePicture)(sample.bytes, LIMITS.pixels);
  if (level === 1 && !asData && sample.widthPx * sample.heightPx > LARGE_PIXELS)
    return decodePictureHalved(sample.bytes, LIMITS.pixels);
  return mapChannels(await levelOf(sample, level - 1, asData), halve);
}

/** The samples of a finish as the core wants them. */
export function sourcesFrom(samples: SampleBytes[]): Pictures {
  const find = (id: string) => {
    const sample = samples.find((s) => s.id === id);
    if (!sample) throw new Error(`The sample ${id} was not handed over.`);
    return sample;
  };
  return {
    info: async (id) => find(id),
    level: async (id, level) => levelOf(find(id), level),
    data: async (id, level) => levelOf(find(id), level, true),
  };
}
