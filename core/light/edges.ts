import { blurWrapped, distanceTo, maskWhere, type ColourPicture, type Plane } from '../raster';

/** A part of a picture with the colour of its edge pixels split between what lies on either side. */
export interface SplitPart {
  /** Share of each pixel that the part covers, 0–1. */
  share: Plane;
  /** Light of the part alone: what is left of the picture is the light of all else. */
  light: ColourPicture;
}

/** Local colours come from so far around an edge, as a multiple of its band. */
const AROUND = 2.5;
/** Weight of pure pixels below which a local colour is not known from them, as a share of a full surround. */
const LEAST_PURE = 0.02;
/** Two colours closer than this, in linear light, cannot be told apart in a mixture. */
const ALIKE = 0.01;

/**
 * Splits the colour of mixed pixels. A pixel at the edge of a part shows a·P + (1 − a)·Q of the colours on both sides.
 * P and Q are taken from pure pixels near it; a is the share that explains the pixel best (least squares in linear
 * light). In each channel the pixel is then divided as the mixture is, so that the sum is the pixel exactly and no side has
 * less than nothing, however far the pixel is from the mixture.
 *
 * @param picture linear light, wrapping
 * @param weight of the part, 0–1: where it is 0 or 1 further than the band from its edge, it stands
 * @param bandPx how far from the edge pixels may be mixed
 */
export function splitPart(picture: ColourPicture, weight: Plane, bandPx: number): SplitPart {
  const { widthPx, heightPx } = weight;
  const n = widthPx * heightPx;
  const inside = maskWhere(weight.data, (w) => w >= 0.5);
  const depth = depthInside(inside, widthPx, heightPx, Math.ceil(bandPx) + 2);
  const soft = maskWhere(weight.data, (w) => w > 0.001 && w < 0.999);
  const mixed = (i: number) => Math.abs(depth[i]!) <= bandPx || soft[i]! > 0;
  const near = {
    part: localColour(picture, (i, pure) => depth[i]! > pure * bandPx, bandPx),
    rest: localColour(picture, (i, pure) => -depth[i]! > pure * bandPx, bandPx),
  };
  const share: Plane = { widthPx, heightPx, data: new Float32Array(n) };
  const light: ColourPicture = {
    widthPx,
    heightPx,
    r: new Float32Array(n),
    g: new Float32Array(n),
    b: new Float32Array(n),
  };
  for (let i = 0; i < n; i++) {
    const a = mixed(i) ? shareAt(picture, near, i, inside[i]!) : inside[i]!;
    share.data[i] = a;
    for (const c of ['r', 'g', 'b'] as const) {
      const [p, q] = [near.part[c][i]!, near.rest[c][i]!];
      const mixture = a * p + (1 - a) * q;
      // A pixel of one side is that side's alone, whatever lies around it.
      const ofPart = a === 0 || a === 1 || !(mixture > 0) ? a : (a * p) / mixture;
      light[c][i] = ofPart * picture[c][i]!;
    }
  }
  return { share, light };
}

/**
 * How deep each pixel lies inside a set, px: positive inside, negative outside, wrapping; beyond the margin, at least the
 * margin.
 */
function depthInside(inside: Uint8Array, widthPx: number, heightPx: number, margin: number): Float32Array {
  const [w, h] = [widthPx + 2 * margin, heightPx + 2 * margin];
  const padded = new Uint8Array(w * h);
  const wrapped = (v: number, length: number) => (((v - margin) % length) + length) % length;
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++)
      padded[y * w + x] = inside[wrapped(y, heightPx) * widthPx + wrapped(x, widthPx)]!;
  const square = { x: 1, y: 1 };
  const toSet = distanceTo(padded, w, h, square).data;
  const toRest = distanceTo(
    padded.map((v) => 1 - v),
    w,
    h,
    square,
  ).data;
  const depth = new Float32Array(widthPx * heightPx);
  for (let y = 0; y < heightPx; y++)
    for (let x = 0; x < widthPx; x++) {
      const at = (y + margin) * w + x + margin;
      // Distances run between pixel centres; the edge lies half a pixel from either.
      depth[y * widthPx + x] = toSet[at]! > 0 ? 0.5 - toSet[at]! : toRest[at]! - 0.5;
    }
  return depth;
}

type Sides = { part: ColourPicture; rest: ColourPicture };

function shareAt(picture: ColourPicture, { part, rest }: Sides, i: number, otherwise: number): number {
  const [dr, dg, db] = [part.r[i]! - rest.r[i]!, part.g[i]! - rest.g[i]!, part.b[i]! - rest.b[i]!];
  const square = dr * dr + dg * dg + db * db;
  if (!(square > ALIKE * ALIKE)) return otherwise;
  const [er, eg, eb] = [picture.r[i]! - rest.r[i]!, picture.g[i]! - rest.g[i]!, picture.b[i]! - rest.b[i]!];
  return Math.min(1, Math.max(0, (er * dr + eg * dg + eb * db) / square));
}

/**
 * Colour of one side around each pixel: mean of its pure pixels by a Gaussian. Where none is pure by the whole band,
 * because the side is narrow there, those of half the band count, then all of it.
 * @param isPure whether a pixel lies further than so many bands inside the side
 */
function localColour(
  picture: ColourPicture,
  isPure: (i: number, bands: number) => boolean,
  bandPx: number,
): ColourPicture {
  const { widthPx, heightPx } = picture;
  const n = widthPx * heightPx;
  const out = { ...picture, r: new Float32Array(n), g: new Float32Array(n), b: new Float32Array(n) };
  const known = new Uint8Array(n);
  const sigma = Math.max(1, AROUND * bandPx);
  for (const bands of [1, 0.5, 0]) {
    const pure = Float32Array.from({ length: n }, (_, i) => (isPure(i, bands) ? 1 : 0));
    const blurred = (data: Float32Array) => blurWrapped({ widthPx, heightPx, data }, sigma, sigma).data;
    const weight = blurred(pure);
    const sums = (['r', 'g', 'b'] as const).map(
      (c) => [c, blurred(picture[c].map((v, i) => v * pure[i]!))] as const,
    );
    for (let i = 0; i < n; i++) {
      if (known[i] || weight[i]! < (bands === 0 ? 1e-6 : LEAST_PURE)) continue;
      known[i] = 1;
      for (const [c, sum] of sums) out[c][i] = sum[i]! / weight[i]!;
    }
    if (known.every((k) => k === 1)) break;
  }
  return out;
}

/** A picture whose channels are multiplied in a part of it; all else stays as it is. */
export function timesInSplit(
  picture: ColourPicture,
  [fr, fg, fb]: readonly [number, number, number],
  { light }: SplitPart,
): ColourPicture {
  const times = (data: Float32Array, of: Float32Array, f: number) => data.map((v, i) => v + of[i]! * (f - 1));
  return {
    ...picture,
    r: times(picture.r, light.r, fr),
    g: times(picture.g, light.g, fg),
    b: times(picture.b, light.b, fb),
  };
}

/** Mean in linear light of a part, by the light that is its own. @throws RangeError when the part is empty */
export function meanOfSplit({ share, light }: SplitPart): [number, number, number] {
  const sum = (data: Float32Array) => data.reduce((a, v) => a + v, 0);
  const covered = sum(share.data);
  if (covered < 0.001 * share.data.length)
    throw new RangeError(
      'The part that the colourways recolour covers next to nothing of the repeat. Widen its tolerance under Sample, parts, or recolour the whole finish.',
    );
  return [sum(light.r) / covered, sum(light.g) / covered, sum(light.b) / covered];
}

/** Mean of a part as it is shown, once its light is multiplied: held within 0–1 pixel by pixel. */
export function shownMeanOfSplit(
  { share, light }: SplitPart,
  factors: readonly [number, number, number],
): [number, number, number] {
  const sums = (['r', 'g', 'b'] as const).map((c, k) => {
    let sum = 0;
    for (let i = 0; i < share.data.length; i++) {
      const a = share.data[i]!;
      if (a > 0) sum += a * Math.min(1, Math.max(0, (light[c][i]! * factors[k]!) / a));
    }
    return sum;
  });
  const covered = share.data.reduce((a, v) => a + v, 0);
  return sums.map((sum) => sum / covered) as [number, number, number];
}
