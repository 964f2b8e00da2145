import { applyCells } from './cells';
import { sampleCubic } from './sampling';
import type { BlendSpace } from './histogram';
import { makeColourPicture, type ColourPicture } from '../raster';

/**
 * A placement map says, for each place in the repeat, where in the sample it comes from. It is solved once, in mm,
 * and applied at any resolution and to every map of the sample alike, so that colour and relief stay together.
 */
export interface PlacementMap {
  repeatMm: { width: number; height: number };
  /** Copies with a weight from place to place: blended, mirrored or as it is. */
  layers: readonly Layer[];
  /** Copies cut out along outlines, as solved; in place of layers. */
  cells?: Cells;
}

/** A repeat cut from copies: a raster over it that says which copy lies where. */
export interface Cells {
  widthPx: number;
  heightPx: number;
  /** Index into `placements` for each cell. */
  copy: Uint16Array;
  placements: readonly Placement[];
  /** Which edges meet. */
  closed: { across: boolean; up: boolean };
  /**
   * Joints of a regular structure: 1 where the row and the next, the column and the next, belong to different pieces.
   * What is evened out in one piece does not go over to the next.
   */
  parted: { rows: Uint8Array; columns: Uint8Array };
  /** Copies meet in joints of their own: they are neither mixed there nor evened out. */
  sharp?: boolean;
}

/** One copy of the sample laid over the repeat, with its weight from place to place. */
export interface Layer {
  placement: Placement;
  across: Ramp;
  up: Ramp;
}

/**
 * sample mm = offset + sign · repeat mm, on each axis (x to the right, y downwards from the top edge); where `swapped`,
 * the sample's x follows the repeat's y and the other way round.
 */
export interface Placement {
  sourceIndex: number;
  swapped?: boolean;
  signX: 1 | -1;
  signY: 1 | -1;
  offsetXMm: number;
  offsetYMm: number;
}

/** Weight along one axis: straight lines between knots; two knots at one place make a step. */
export interface Ramp {
  atMm: readonly number[];
  weight: readonly number[];
}

/** Weight at each pixel centre of a line. */
export function rampAtPixels(ramp: Ramp, lengthMm: number, lengthPx: number): Float32Array {
  const out = new Float32Array(lengthPx);
  let k = 0;
  for (let i = 0; i < lengthPx; i++) {
    const at = ((i + 0.5) * lengthMm) / lengthPx;
    while (k < ramp.atMm.length - 2 && at >= ramp.atMm[k + 1]!) k++;
    const a = ramp.atMm[k]!;
    const b = ramp.atMm[k + 1]!;
    const t = b > a ? Math.min(1, Math.max(0, (at - a) / (b - a))) : 1;
    out[i] = ramp.weight[k]! + (ramp.weight[k + 1]! - ramp.weight[k]!) * t;
  }
  return out;
}

/** A sample at the density of the repeat's pixels, and the size of its area. */
export interface PlacedSource {
  picture: ColourPicture;
  pxPerMm: { x: number; y: number };
}

/**
 * Applies a placement map.
 *
 * Where only one layer has weight, its pixels are copied (interpolated with a cubic kernel when they fall between
 * pixels). Where several overlap they are mixed in `space`, which keeps the sample's own histogram and contrast.
 *
 * @param map the placement map
 * @param sources samples at the density wanted
 * @param widthPx width of the repeat in pixels
 * @param heightPx height of the repeat in pixels
 * @param space how overlapping layers are mixed
 * @param evened what is added to even out copies that meet, of the shape of the cells
 * @param exact whether copies lie to a part of a pixel, see `applyCells`
 */
export function applyPlacement(
  map: PlacementMap,
  sources: readonly PlacedSource[],
  widthPx: number,
  heightPx: number,
  space: BlendSpace,
  evened?: ColourPicture | null,
  exact = true,
): ColourPicture {
  if (map.cells)
    return applyCells(map.cells, map.repeatMm, sources, widthPx, heightPx, evened ?? null, {}, exact);
  const out = makeColourPicture(widthPx, heightPx);
  const mmX = map.repeatMm.width / widthPx;
  const mmY = map.repeatMm.height / heightPx;
  const layers = map.layers.map((layer) => {
    const source = sources[layer.placement.sourceIndex]!;
    const p = layer.placement;
    return {
      source,
      wx: rampAtPixels(layer.across, map.repeatMm.width, widthPx),
      wy: rampAtPixels(layer.up, map.repeatMm.height, heightPx),
      // Source pixel of repeat pixel i: first + i·step, with pixel centres at whole numbers.
      firstX: (p.offsetXMm + p.signX * 0.5 * mmX) * source.pxPerMm.x - 0.5,
      stepX: p.signX * mmX * source.pxPerMm.x,
      firstY: (p.offsetYMm + p.signY * 0.5 * mmY) * source.pxPerMm.y - 0.5,
      stepY: p.signY * mmY * source.pxPerMm.y,
    };
  });
  const active: number[] = [];
  const weights = new Float64Array(layers.length);
  const values = new Float64Array(3 * layers.length);
  const one = new Float64Array(3);
  for (let y = 0; y < heightPx; y++) {
    active.length = 0;
    for (let k = 0; k < layers.length; k++) if (layers[k]!.wy[y]! > 0) active.push(k);
    for (let x = 0; x < widthPx; x++) {
      let count = 0;
      for (const k of active) {
        const layer = layers[k]!;
        const w = layer.wx[x]! * layer.wy[y]!;
        if (w <= 0) continue;
        sampleCubic(
          layer.source.picture,
          layer.firstX + x * layer.stepX,
          layer.firstY + y * layer.stepY,
          one,
        );
        weights[count] = w;
        values[3 * count] = one[0]!;
        values[3 * count + 1] = one[1]!;
        values[3 * count + 2] = one[2]!;
        count++;
      }
      const i = y * widthPx + x;
      if (count > 1) space.mix(values, weights, count, one);
      else {
        one[0] = values[0]!;
        one[1] = values[1]!;
        one[2] = values[2]!;
      }
      out.r[i] = one[0]!;
      out.g[i] = one[1]!;
      out.b[i] = one[2]!;
    }
  }
  return out;
}
