import { mean, type ColourPicture, type Plane } from '../raster';
import {
  applyCells,
  applyPlacement,
  type BlendSpace,
  type Cells,
  type PlacedSource,
  type PlacementMap,
} from '../repeat';
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

/** A sample made ready before it is laid: its cells, and the pixels it has then. */
export interface MadeReady {
  cells: Cells;
  sizeMm: { width: number; height: number };
  widthPx: number;
  heightPx: number;
}

/**
 * Masks, one for each source, laid over the repeat.
 * @param ready how the only source was made ready first; null: it is laid as it is
 */
export function placedMasks(
  masks: readonly { mask: Plane; pxPerMm: { x: number; y: number } }[],
  map: PlacementMap,
  widthPx: number,
  heightPx: number,
  ready: MadeReady | null,
): Plane {
  const plain = masks.map(({ mask: { widthPx: w, heightPx: h, data }, pxPerMm }) => ({
    picture: { widthPx: w, heightPx: h, r: data, g: data, b: data },
    pxPerMm,
  }));
  const sources = ready ? [madeReady(plain[0]!, ready, null)] : plain;
  return {
    widthPx,
    heightPx,
    data: applyPlacement(map, sources, widthPx, heightPx, PLAIN_SPACE).r,
  };
}

/** A sample with its keep-outs filled and the axis cut that is cut first. */
export const madeReady = (
  source: PlacedSource,
  { cells, sizeMm, widthPx, heightPx }: MadeReady,
  evened: ColourPicture | null,
): PlacedSource => ({
  picture: applyCells(cells, sizeMm, [source], widthPx, heightPx, evened),
  pxPerMm: source.pxPerMm,
});

/** The longer side of the raster by which keep-outs are measured, px. */
const SIDE_PX = 256;

/** Share of the used part that keep-outs cover, 0–1. */
export function keptOutShare(
  recipe: Pick<Recipe, 'sample'>,
  { used, usedMm }: Pick<RepeatGeometry, 'used' | 'usedMm'>,
): number {
  if (recipe.sample.keepOuts.length === 0) return 0;
  const density = SIDE_PX / Math.max(usedMm.width, usedMm.height);
  const side = (mm: number) => Math.max(8, Math.round(mm * density));
  return mean(drawKeepOuts(used, recipe.sample.keepOuts, side(usedMm.width), side(usedMm.height)).data);
}
