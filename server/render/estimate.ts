import { estimateCost, type Recipe } from '@jossel/core/finish';
import type { PictureInfo, Pictures } from '@jossel/core/surface';
import { optionsOf, type IssuedAs } from './issued';
import { serialiseErrors } from './serialise-errors';
import { sourcesFrom, type SampleBytes } from './sources';

/** What computing the maps of a finish takes, before any of it is done; runs in a computing thread, as layouts are solved for it. */

export interface EstimateOrder {
  recipe: Recipe;
  issued?: IssuedAs | null;
  /** The pictures that it names: their sizes alone, or with their bytes. */
  pictures: SampleBytes[] | ({ id: string } & PictureInfo)[];
  widthPx: number;
}

/** Seconds on the machine of docs/measured.md, and memory of the computation itself. */
export interface WorkEstimate {
  seconds: number;
  bytes: number;
}

/**
 * Estimates from sizes alone where it can: most samples need not be loaded and decoded for it.
 * @returns null when the bytes of the pictures are needed: pictures that are joined, or calibrated by a card, are looked at first
 */
export const estimate = ({ recipe, issued, pictures, widthPx }: EstimateOrder) =>
  serialiseErrors(async (): Promise<WorkEstimate | null> => {
    const sources = hasBytes(pictures) ? sourcesFrom(pictures) : sizesAlone(pictures);
    try {
      const { seconds, bytes } = await estimateCost(recipe, sources, { ...optionsOf(issued), widthPx });
      return { seconds, bytes };
    } catch (error) {
      if (error instanceof PixelsNeeded) return null;
      throw error;
    }
  });

const hasBytes = (pictures: EstimateOrder['pictures']): pictures is SampleBytes[] =>
  pictures.length > 0 && 'bytes' in pictures[0]!;

class PixelsNeeded extends Error {}

function sizesAlone(pictures: readonly ({ id: string } & PictureInfo)[]): Pictures {
  const noPixels = async () => {
    throw new PixelsNeeded('The bytes of the pictures are needed.');
  };
  return {
    async info(id) {
      const found = pictures.find((p) => p.id === id);
      if (!found) throw new Error(`The sample ${id} was not handed over.`);
      return found;
    },
    level: noPixels,
    data: noPixels,
  };
}
