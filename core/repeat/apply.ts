import { applyCells } from './cells';
import { cubicReader } from './sampling';
import type { BlendSpace } from './histogram';
import type { PlacedSource, PlacementMap, Ramp } from './placement';
import { makeColourPicture, type ColourPicture } from '../raster';

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
  const readCubic = cubicReader();
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
        readCubic(layer.source.picture, layer.firstX + x * layer.stepX, layer.firstY + y * layer.stepY, one);
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
