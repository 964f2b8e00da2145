import { mean, type Plane } from '../raster';
import { applyPlacement, type BlendSpace, type PlacementMap } from '../repeat';
import { drawKeepOuts } from '../sample';
import type { RepeatGeometry } from './geometry';
import type { Recipe } from './recipe';

/** Masks over the sample, and how they come to lie in the repeat. */

/** The plain mean by weight: of masks, and where nothing is mixed. */
export const PLAIN_SPACE: BlendSpace = {
  mix(values, weights, count, out) {
    let [sum, all] = [0, 0];
    for (let k = 0; k < count; k++) {
      sum += values[3 * k]! * weights[k]!;
      all += weights[k]!;
    }
    out.fill(all > 0 ? sum / all : 0);
  },
};

/** A mask of the used part, laid over the repeat. */
export function placedMask(
  mask: Plane,
  pxPerMm: { x: number; y: number },
  map: PlacementMap,
  widthPx: number,
  heightPx: number,
): Plane {
  const { widthPx: w, heightPx: h, data } = mask;
  const picture = { widthPx: w, heightPx: h, r: data, g: data, b: data };
  return {
    widthPx,
    heightPx,
    data: applyPlacement(map, [{ picture, pxPerMm }], widthPx, heightPx, PLAIN_SPACE).r,
  };
}

/** Keep-outs of a finish, on a raster of a few hundred pixels over the used part. */
export interface KeptOut {
  mask: Plane;
  /** Share of the used part that they cover. */
  share: number;
  /** Share of the repeat that they cover, as its placement map lays them. */
  shareOf(map: PlacementMap): number;
}

/** The longer side of the raster over the used part, and the longest over a repeat, px. */
const SIDE_PX = 256;
const MOST_PX = 1024;

export function keptOutOf(
  recipe: Pick<Recipe, 'sample'>,
  { used, usedMm }: Pick<RepeatGeometry, 'used' | 'usedMm'>,
): KeptOut | null {
  if (recipe.sample.keepOuts.length === 0) return null;
  const density = SIDE_PX / Math.max(usedMm.width, usedMm.height);
  const side = (mm: number, perMm = density) => Math.max(8, Math.round(mm * perMm));
  const mask = drawKeepOuts(used, recipe.sample.keepOuts, side(usedMm.width), side(usedMm.height));
  const pxPerMm = { x: mask.widthPx / usedMm.width, y: mask.heightPx / usedMm.height };
  return {
    mask,
    share: mean(mask.data),
    shareOf(map) {
      const { width, height } = map.repeatMm;
      // A repeat may be many times as large as the sample.
      const perMm = Math.min(density, MOST_PX / Math.max(width, height));
      return mean(placedMask(mask, pxPerMm, map, side(width, perMm), side(height, perMm)).data);
    },
  };
}
