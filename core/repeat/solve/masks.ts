import type { ColourPicture, Plane } from '../../raster';
import { applyCells } from '../cells';
import type { BlendSpace } from '../histogram';
import { applyPlacement } from '../apply';
import type { Cells, PlacedSource, PlacementMap } from '../placement';

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
 * @param exact whether copies lie to a part of a pixel, see `applyCells`
 * @param ready how the only source was made ready first; null: it is laid as it is
 */
export function placedMasks(
  masks: readonly { mask: Plane; pxPerMm: { x: number; y: number } }[],
  map: PlacementMap,
  widthPx: number,
  heightPx: number,
  ready: MadeReady | null,
  exact: boolean,
): Plane {
  const plain = masks.map(({ mask: { widthPx: w, heightPx: h, data }, pxPerMm }) => ({
    picture: { widthPx: w, heightPx: h, r: data, g: data, b: data },
    pxPerMm,
  }));
  const sources = ready ? [madeReady(plain[0]!, ready, null, exact)] : plain;
  return {
    widthPx,
    heightPx,
    data: applyPlacement(map, sources, widthPx, heightPx, PLAIN_SPACE, null, exact).r,
  };
}

/** A sample with its keep-outs filled and the axis cut that is cut first. */
export const madeReady = (
  source: PlacedSource,
  { cells, sizeMm, widthPx, heightPx }: MadeReady,
  evened: ColourPicture | null,
  exact: boolean,
): PlacedSource => ({
  picture: applyCells(cells, sizeMm, [source], widthPx, heightPx, evened, {}, exact),
  pxPerMm: source.pxPerMm,
});
