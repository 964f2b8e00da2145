import { atOnce, spans, type Steps } from '../steps';

/** Pictures as planes of 32-bit floats, row by row, top row first. */

/** One plane: `data[y * widthPx + x]`. */
export interface Plane {
  widthPx: number;
  heightPx: number;
  data: Float32Array;
}

/** Linear-light colour with sRGB primaries (D65); values outside 0–1 are kept. */
export interface ColourPicture {
  widthPx: number;
  heightPx: number;
  r: Float32Array;
  g: Float32Array;
  b: Float32Array;
}

export function makePlane(widthPx: number, heightPx: number, fill = 0): Plane {
  const data = new Float32Array(widthPx * heightPx);
  if (fill !== 0) data.fill(fill);
  return { widthPx, heightPx, data };
}

export function makeColourPicture(widthPx: number, heightPx: number): ColourPicture {
  const n = widthPx * heightPx;
  return { widthPx, heightPx, r: new Float32Array(n), g: new Float32Array(n), b: new Float32Array(n) };
}

/** Applies one operation to each of the three planes of a colour picture. */
export function mapChannels(picture: ColourPicture, change: (plane: Plane) => Plane): ColourPicture {
  const { widthPx, heightPx } = picture;
  const [r, g, b] = [picture.r, picture.g, picture.b].map((data) => change({ widthPx, heightPx, data }));
  return { widthPx: r!.widthPx, heightPx: r!.heightPx, r: r!.data, g: g!.data, b: b!.data };
}

/** A picture changed channel by channel, each in steps. */
export function* channelSteps(
  { widthPx, heightPx, ...channels }: ColourPicture,
  change: (plane: Plane) => Steps<Plane>,
): Steps<ColourPicture> {
  const r = yield* change({ widthPx, heightPx, data: channels.r });
  const g = yield* change({ widthPx, heightPx, data: channels.g });
  const b = yield* change({ widthPx, heightPx, data: channels.b });
  return { widthPx: r.widthPx, heightPx: r.heightPx, r: r.data, g: g.data, b: b.data };
}

/** Luminance Y of linear sRGB primaries (IEC 61966-2-1 / Rec. 709 weights). */
export const luminanceOf = (r: number, g: number, b: number): number => 0.2126 * r + 0.7152 * g + 0.0722 * b;

/** Luminance of every pixel. */
export const luminancePlane = (picture: ColourPicture): Plane => atOnce(luminanceSteps(picture));

/** As `luminancePlane`, left in between. */
export function* luminanceSteps({ widthPx, heightPx, r, g, b }: ColourPicture): Steps<Plane> {
  const data = new Float32Array(r.length);
  for (const { from, to } of spans(data.length)) {
    yield;
    for (let i = from; i < to; i++) data[i] = luminanceOf(r[i]!, g[i]!, b[i]!);
  }
  return { widthPx, heightPx, data };
}

/** Smallest and largest value of a plane. */
export const extent = (data: Float32Array): { min: number; max: number } => atOnce(extentSteps(data));

/** As `extent`, left in between. */
export function* extentSteps(data: Float32Array): Steps<{ min: number; max: number }> {
  let min = Infinity;
  let max = -Infinity;
  for (const { from, to } of spans(data.length)) {
    yield;
    for (let i = from; i < to; i++) {
      const v = data[i]!;
      if (v < min) min = v;
      if (v > max) max = v;
    }
  }
  return { min, max };
}

/** 1 where a value holds, else 0; several times faster than `Uint8Array.from`. */
export function maskWhere(
  values: Float32Array | Int32Array | Uint8Array,
  holds: (value: number) => boolean,
): Uint8Array {
  const mask = new Uint8Array(values.length);
  for (let i = 0; i < mask.length; i++) if (holds(values[i]!)) mask[i] = 1;
  return mask;
}

/** Arithmetic mean, summed in double precision. */
export const mean = (data: Float32Array): number => atOnce(meanSteps(data));

/** As `mean`, left in between. */
export function* meanSteps(data: Float32Array): Steps<number> {
  let sum = 0;
  for (const { from, to } of spans(data.length)) {
    yield;
    for (let i = from; i < to; i++) sum += data[i]!;
  }
  return data.length ? sum / data.length : 0;
}

/**
 * Values below which the given shares of the plane lie, from a histogram of 4096 bins between the extremes
 * (so within 1/4096 of the range).
 * @param shares each 0–1
 */
export const percentiles = (data: Float32Array, shares: readonly number[]): number[] =>
  atOnce(percentileSteps(data, shares));

/** As `percentiles`, left in between. */
export function* percentileSteps(data: Float32Array, shares: readonly number[]): Steps<number[]> {
  const { min, max } = yield* extentSteps(data);
  if (!(max > min)) return shares.map(() => min);
  const bins = new Float64Array(4096);
  const scale = 4096 / (max - min);
  for (const { from, to } of spans(data.length)) {
    yield;
    for (let i = from; i < to; i++) bins[Math.min(4095, Math.floor((data[i]! - min) * scale))]!++;
  }
  return shares.map((share) => {
    const wanted = share * data.length;
    let seen = 0;
    for (let k = 0; k < 4096; k++) {
      if (seen + bins[k]! >= wanted)
        return min + (k + (bins[k]! > 0 ? (wanted - seen) / bins[k]! : 0)) / scale;
      seen += bins[k]!;
    }
    return max;
  });
}
