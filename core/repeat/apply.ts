import { applyCellsInSteps } from './cells';
import { cubicReader, NEAR_PX } from './sampling';
import type { BlendSpace } from './histogram';
import type { PlacedSource, PlacementMap, Ramp } from './placement';
import { makeColourPicture, type ColourPicture } from '../raster';
import { atOnce, type Steps } from '../steps';

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
export const applyPlacement = (...of: Parameters<typeof applyPlacementInSteps>): ColourPicture =>
  atOnce(applyPlacementInSteps(...of));

/** The same in steps. */
export function* applyPlacementInSteps(
  map: PlacementMap,
  sources: readonly PlacedSource[],
  widthPx: number,
  heightPx: number,
  space: BlendSpace,
  evened?: ColourPicture | null,
  exact = true,
): Steps<ColourPicture> {
  if (map.cells)
    return yield* applyCellsInSteps(
      map.cells,
      map.repeatMm,
      sources,
      widthPx,
      heightPx,
      evened ?? null,
      {},
      exact,
    );
  const out = makeColourPicture(widthPx, heightPx);
  const mmX = map.repeatMm.width / widthPx;
  const mmY = map.repeatMm.height / heightPx;
  const layers = map.layers.map((layer): PixelLayer => {
    const source = sources[layer.placement.sourceIndex]!;
    const p = layer.placement;
    return {
      picture: source.picture,
      wx: rampAtPixels(layer.across, map.repeatMm.width, widthPx),
      wy: rampAtPixels(layer.up, map.repeatMm.height, heightPx),
      x: trackOf(
        (p.offsetXMm + p.signX * 0.5 * mmX) * source.pxPerMm.x - 0.5,
        p.signX * mmX * source.pxPerMm.x,
        widthPx,
      ),
      y: trackOf(
        (p.offsetYMm + p.signY * 0.5 * mmY) * source.pxPerMm.y - 0.5,
        p.signY * mmY * source.pxPerMm.y,
        heightPx,
      ),
    };
  });
  const mixed = mixer(layers.length, space, out);
  for (let y = 0; y < heightPx; y++) {
    yield;
    const active = layers.filter((layer) => layer.wy[y]! > 0);
    for (let x = 0; x < widthPx;) {
      const alone = soleLayer(active, x);
      if (!alone) {
        mixed(active, x, y, y * widthPx + x);
        x++;
        continue;
      }
      let end = x + 1;
      while (end < widthPx && soleLayer(active, end) === alone) end++;
      copyRun(alone, x, end, y, out, y * widthPx + x);
      x = end;
    }
  }
  return out;
}

/** A layer at the pixels of a repeat: its weights, and where in its picture they lie. */
interface PixelLayer {
  picture: ColourPicture;
  wx: Float32Array;
  wy: Float32Array;
  x: Track;
  y: Track;
}

/** Source pixel of repeat pixel i: first + i·step, with pixel centres at whole numbers. */
interface Track {
  first: number;
  step: number;
  /** Pixel for pixel: the source pixel is this one plus or minus i; null: it lies between pixels. */
  whole: number | null;
}

function trackOf(first: number, step: number, length: number): Track {
  const sign = Math.sign(step);
  const base = Math.round(first);
  const last = first + (length - 1) * step;
  // It lies along a line: what is near at both ends is near everywhere.
  const whole = [first - base, last - (base + sign * (length - 1))].every(
    (off) => Math.abs(off) < NEAR_PX / 2,
  );
  return { first, step, whole: whole ? base : null };
}

/** The only layer that has weight at a pixel of a row; undefined: there are several. */
function soleLayer(active: readonly PixelLayer[], x: number): PixelLayer | undefined {
  let found: PixelLayer | undefined;
  for (const layer of active) {
    if (!(layer.wx[x]! > 0)) continue;
    if (found) return undefined;
    found = layer;
  }
  return found;
}

const readCubic = cubicReader();
const one = new Float64Array(3);

/** Copies a run of pixels of one layer. */
function copyRun(
  { picture, x: across, y: up }: PixelLayer,
  from: number,
  end: number,
  y: number,
  out: ColourPicture,
  at: number,
): void {
  const { widthPx: w, heightPx: h, r, g, b } = picture;
  let i = at;
  if (across.whole === null || up.whole === null) {
    const v = up.first + y * up.step;
    for (let x = from; x < end; x++, i++) {
      readCubic(picture, across.first + x * across.step, v, one);
      out.r[i] = one[0]!;
      out.g[i] = one[1]!;
      out.b[i] = one[2]!;
    }
    return;
  }
  const sign = Math.sign(across.step);
  const row = Math.min(h - 1, Math.max(0, up.whole + Math.sign(up.step) * y)) * w;
  for (let x = from; x < end; x++, i++) {
    const u = across.whole + sign * x;
    const k = row + (u < 0 ? 0 : u >= w ? w - 1 : u);
    out.r[i] = r[k]!;
    out.g[i] = g[k]!;
    out.b[i] = b[k]!;
  }
}

/** Mixes all layers that have weight at a pixel. @param most layers there are */
function mixer(most: number, space: BlendSpace, out: ColourPicture) {
  const weights = new Float64Array(most);
  const values = new Float64Array(3 * most);
  return (active: readonly PixelLayer[], x: number, y: number, i: number) => {
    let count = 0;
    for (const { picture, wx, wy, x: across, y: up } of active) {
      const w = wx[x]! * wy[y]!;
      if (w <= 0) continue;
      readCubic(picture, across.first + x * across.step, up.first + y * up.step, one);
      weights[count] = w;
      values.set(one, 3 * count);
      count++;
    }
    if (count > 1) space.mix(values, weights, count, one);
    else one.set(values.subarray(0, 3));
    out.r[i] = one[0]!;
    out.g[i] = one[1]!;
    out.b[i] = one[2]!;
  };
}
