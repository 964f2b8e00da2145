import { halve, mapChannels, type ColourPicture } from '@jossel/core/raster';
import type { Pictures } from '@jossel/core/surface';
import { LIMITS } from '../config';
import { decodeData, decodePicture } from './decode';

/** A sample as the main thread hands it to a computing thread. */
export interface SampleBytes {
  id: string;
  sha256: string;
  widthPx: number;
  heightPx: number;
  focalPx: number | null;
  bytes: Uint8Array;
}

/** The last few decoded samples of this thread, with their halvings: `levels[0]` is the full size. */
const decoded = new Map<string, ColourPicture[]>();
const KEPT = 3;

async function levelsOf(sample: SampleBytes, asData: boolean): Promise<ColourPicture[]> {
  const key = `${sample.sha256}${asData ? ' data' : ''}`;
  let levels = decoded.get(key);
  if (!levels) levels = [await (asData ? decodeData : decodePicture)(sample.bytes, LIMITS.pixels)];
  decoded.delete(key);
  decoded.set(key, levels);
  for (const oldest of decoded.keys()) {
    if (decoded.size <= KEPT) break;
    decoded.delete(oldest);
  }
  return levels;
}

/** One halving of a sample, read as colour or as data. */
export async function levelOf(sample: SampleBytes, level: number, asData = false): Promise<ColourPicture> {
  const levels = await levelsOf(sample, asData);
  while (levels.length <= level) levels.push(mapChannels(levels[levels.length - 1]!, halve));
  return levels[level]!;
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
