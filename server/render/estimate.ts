import { estimateCost, type Recipe } from '@jossel/core/finish';
import type { PictureInfo, Pictures } from '@jossel/core/surface';
import { optionsOf, type IssuedAs } from './issued';
import { serialiseErrors } from './serialise-errors';

/** What computing the maps of a finish takes, before any of it is done; runs in a computing thread, as layouts are solved for it. */

export interface EstimateOrder {
  recipe: Recipe;
  issued?: IssuedAs | null;
  /** The pictures that it names; none of their pixels is needed. */
  pictures: ({ id: string } & PictureInfo)[];
  widthPx: number;
}

/** Seconds on the machine of docs/measured.md, and memory of the computation itself. */
export interface WorkEstimate {
  seconds: number;
  bytes: number;
}

export const estimate = ({ recipe, issued, pictures, widthPx }: EstimateOrder) =>
  serialiseErrors(async (): Promise<WorkEstimate> => {
    const { seconds, bytes } = await estimateCost(recipe, unread(pictures), {
      ...optionsOf(issued),
      widthPx,
    });
    return { seconds, bytes };
  });

function unread(pictures: EstimateOrder['pictures']): Pictures {
  const noPixels = async () => {
    throw new Error('An estimate reads no pixels.');
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
