import { squared } from '../exact';
import { blurWrapped, luminanceSteps, makePlane, mean, type ColourPicture, type Plane } from '../raster';
import { rowSpans, spans, type Steps } from '../steps';
import { scaleSteps, type PiecesOfRepeat } from './joints';

/** Lightness of a picture without what is colour of the surface, so that what is left may be taken for relief. */
export interface WithoutAlbedo {
  lightness: Plane;
  /** Standard deviation that is left, as a share of that of the whole lightness. */
  left: number;
  /** The same as a share of that within pieces: what is left without chromaticity. */
  leftWithin: number;
}

/** What is darker than this counts more and more as neutral: its chromaticity is noise. Linear light. */
const DARK = 0.01;
/** Standard deviation of chromaticities that is as good as none. */
const CHROMA_NOISE = 0.01;

/**
 * Takes out of the lightness of a picture what differs from piece to piece, and then what goes with chromaticity: shading
 * scales red, green and blue alike and leaves chromaticity as it is, so what changes with it is colour. The share that goes with
 * it is found by least squares over the picture.
 * @param picture one repeat, linear light
 * @param known its pieces; null: it has none
 */
export function* withoutAlbedoSteps(
  picture: ColourPicture,
  known: PiecesOfRepeat | null,
): Steps<WithoutAlbedo> {
  const [lightness, first, second] = yield* lightnessAndChromaticity(picture);
  const whole = yield* deviationOf(lightness.data);
  for (const plane of [lightness, first, second]) yield* takeMeansOff(plane, known);
  const [light, c1, c2] = [lightness.data, first.data, second.data];
  const [ka, kb] = yield* sharesOfChromaticity(light, c1, c2);
  const within = yield* deviationOf(light);
  for (const { from, to } of spans(light.length)) {
    yield;
    for (let i = from; i < to; i++) light[i]! -= ka * c1[i]! + kb * c2[i]!;
  }
  const left = yield* deviationOf(light);
  const shareOf = (deviation: number) => (deviation > 1e-7 ? Math.min(1, left / deviation) : 1);
  return { lightness, left: shareOf(whole), leftWithin: shareOf(within) };
}

/** Lightness of a picture, and the shares of red and of blue in its light. */
function* lightnessAndChromaticity(picture: ColourPicture): Steps<[Plane, Plane, Plane]> {
  const { widthPx: w, heightPx: h, r, g, b } = picture;
  const lightness = yield* luminanceSteps(picture);
  const [first, second] = [makePlane(w, h), makePlane(w, h)];
  const [light, c1, c2] = [lightness.data, first.data, second.data];
  for (const { from, to } of spans(r.length)) {
    yield;
    for (let i = from; i < to; i++) {
      light[i] = Math.cbrt(Math.max(0, light[i]!));
      const sum = r[i]! + g[i]! + b[i]! + DARK;
      c1[i] = (r[i]! + DARK / 3) / sum;
      c2[i] = (b[i]! + DARK / 3) / sum;
    }
  }
  return [lightness, first, second];
}

/** How much of the lightness goes with each of two chromaticities, by least squares. */
function* sharesOfChromaticity(
  light: Float32Array,
  c1: Float32Array,
  c2: Float32Array,
): Steps<[number, number]> {
  // Differences of chromaticity below this are noise, and explain nothing (ridge regression).
  const ridge = light.length * squared(CHROMA_NOISE);
  let [aa, ab, bb, al, bl] = [ridge, 0, ridge, 0, 0];
  for (const { from, to } of spans(light.length)) {
    yield;
    for (let i = from; i < to; i++) {
      aa += squared(c1[i]!);
      ab += c1[i]! * c2[i]!;
      bb += squared(c2[i]!);
      al += c1[i]! * light[i]!;
      bl += c2[i]! * light[i]!;
    }
  }
  const det = aa * bb - ab * ab;
  // Chromaticities that run along one line say no more than one of them.
  return det > 1e-6 * aa * bb ? [(al * bb - bl * ab) / det, (bl * aa - al * ab) / det] : [al / aa, 0];
}

function* deviationOf(data: Float32Array): Steps<number> {
  let [sum, squares] = [0, 0];
  for (const { from, to } of spans(data.length)) {
    yield;
    for (let i = from; i < to; i++) {
      const v = data[i]!;
      sum += v;
      squares += v * v;
    }
  }
  const mean = sum / data.length;
  return Math.sqrt(Math.max(0, squares / data.length - mean * mean));
}

/** Takes off a plane its mean over each piece, and over the joints; its mean over all where there are no pieces. */
function* takeMeansOff({ widthPx, heightPx, data }: Plane, known: PiecesOfRepeat | null): Steps<void> {
  if (!known) {
    yield;
    const off = mean(data);
    yield;
    for (let i = 0; i < data.length; i++) data[i]! -= off;
    return;
  }
  const { label, pieces, widthPx: w, heightPx: h } = known.pieces;
  const joints = pieces.length;
  const [sums, counts] = [new Float64Array(joints + 1), new Float64Array(joints + 1)];
  const [sx, sy] = [w / widthPx, h / heightPx];
  const columns = Int32Array.from({ length: widthPx }, (_, x) => Math.floor((x + 0.5) * sx));
  for (const { from, to } of rowSpans(heightPx, widthPx)) {
    yield;
    for (let y = from, i = from * widthPx; y < to; y++)
      for (let x = 0, row = Math.floor((y + 0.5) * sy) * w; x < widthPx; x++, i++) {
        const k = label[row + columns[x]!]!;
        sums[k < 0 ? joints : k]! += data[i]!;
        counts[k < 0 ? joints : k]!++;
      }
  }
  const means = makePlane(w, h);
  for (let i = 0; i < label.length; i++) {
    const k = label[i]! < 0 ? joints : label[i]!;
    means.data[i] = sums[k]! / Math.max(1, counts[k]!);
  }
  // The outline of a piece in a picture is about a pixel wide.
  const { data: soft } = yield* scaleSteps(blurWrapped(means, 0.7, 0.7), widthPx, heightPx);
  for (const { from, to } of spans(data.length)) {
    yield;
    for (let i = from; i < to; i++) data[i]! -= soft[i]!;
  }
}
