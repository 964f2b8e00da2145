import { squared } from '../../exact';
import { blurWrapped, halve, luminancePlane, makePlane, type ColourPicture, type Plane } from '../../raster';

/** What of a picture is compared with itself: lightness without broad changes, and edges. */
export interface Features {
  /** Of mean 0 over what is usable, and 0 elsewhere. */
  lightness: Plane;
  edges: Plane;
  /** 1 where the picture counts, 0 elsewhere. */
  usable: Plane;
}

/** Lightness without broad changes and with even local contrast. @param keptOut 1 where the picture does not count */
export function featuresOf(picture: ColourPicture, keptOut: Plane | undefined): Features {
  const l = luminancePlane(picture);
  const { widthPx: w, heightPx: h, data } = l;
  const usable = makePlane(w, h, 1);
  if (keptOut) for (let i = 0; i < data.length; i++) usable.data[i] = keptOut.data[i]! > 0.5 ? 0 : 1;
  for (let i = 0; i < data.length; i++) data[i] = Math.cbrt(Math.max(0, data[i]!));
  const side = Math.min(w, h);
  // Means over the usable pixels of a neighbourhood: blurred values over blurred mask.
  const mask = keptOut ? blurWrapped(usable, side / 5, side / 5).data : usable.data;
  const mean = blurWrapped(
    { widthPx: w, heightPx: h, data: data.map((v, i) => v * usable.data[i]!) },
    side / 5,
    side / 5,
  ).data;
  const high = makePlane(w, h);
  for (let i = 0; i < data.length; i++)
    high.data[i] = (data[i]! - mean[i]! / Math.max(1e-6, mask[i]!)) * usable.data[i]!;
  const edges = makePlane(w, h);
  for (let y = 1; y < h - 1; y++)
    for (let x = 1; x < w - 1; x++) {
      const i = y * w + x;
      if (usable.data[i]! < 1) continue;
      edges.data[i] = Math.hypot(data[i + 1]! - data[i - 1]!, data[i + w]! - data[i - w]!);
    }
  return { lightness: limited(high, usable), edges: limited(edges, usable), usable };
}

/** Features at half the scale. A pixel is usable where all four are. */
export const halvedFeatures = ({ lightness, edges, usable }: Features): Features => ({
  lightness: halve(lightness),
  edges: halve(edges),
  usable: halve(usable),
});

/** Takes the mean away, and holds what lies beyond three deviations, so that single strong marks do not rule. */
export function limited(plane: Plane, usable: Plane): Plane {
  let [n, sum, square] = [0, 0, 0];
  for (let i = 0; i < plane.data.length; i++) {
    if (usable.data[i]! < 1) continue;
    n++;
    sum += plane.data[i]!;
    square += squared(plane.data[i]!);
  }
  const mean = sum / Math.max(1, n);
  const deviation = Math.sqrt(Math.max(1e-20, square / Math.max(1, n) - mean * mean));
  const out = makePlane(plane.widthPx, plane.heightPx);
  let left = 0;
  for (let i = 0; i < out.data.length; i++) {
    out.data[i] = usable.data[i]! < 1 ? 0 : Math.min(3, Math.max(-3, (plane.data[i]! - mean) / deviation));
    left += out.data[i]!;
  }
  left /= Math.max(1, n);
  for (let i = 0; i < out.data.length; i++) if (usable.data[i]! >= 1) out.data[i]! -= left;
  return out;
}

/** What runs along a row or a column is taken away over so much of it, as a share of the picture: lines may bend a little. */
const ALONG = 0.18;

/** A plane without what runs along its rows and along its columns. */
export function apartFromLines(plane: Plane, usable: Plane): Plane {
  const { widthPx: w, heightPx: h, data } = plane;
  const rest = makePlane(w, h);
  takeRunningMeans(plane, usable, rest, {
    lines: h,
    length: w,
    step: 1,
    next: w,
    reach: Math.ceil(ALONG * w),
  });
  takeRunningMeans(plane, usable, rest, {
    lines: w,
    length: h,
    step: w,
    next: 1,
    reach: Math.ceil(ALONG * h),
  });
  for (let i = 0; i < rest.data.length; i++)
    rest.data[i] = usable.data[i]! >= 1 ? data[i]! + rest.data[i]! : 0;
  return limited(rest, usable);
}

/** Takes the mean of the usable pixels on both sides, along one axis, off another plane. */
function takeRunningMeans(
  { data }: Plane,
  usable: Plane,
  from: Plane,
  {
    lines,
    length,
    step,
    next,
    reach,
  }: { lines: number; length: number; step: number; next: number; reach: number },
): void {
  const [sums, counts] = [new Float64Array(length + 1), new Int32Array(length + 1)];
  for (let line = 0; line < lines; line++) {
    const start = line * next;
    for (let k = 0; k < length; k++) {
      const i = start + k * step;
      const counted = usable.data[i]! >= 1;
      sums[k + 1] = sums[k]! + (counted ? data[i]! : 0);
      counts[k + 1] = counts[k]! + (counted ? 1 : 0);
    }
    for (let k = 0; k < length; k++) {
      const [a, b] = [Math.max(0, k - reach), Math.min(length, k + reach + 1)];
      const n = counts[b]! - counts[a]!;
      if (n > 0) from.data[start + k * step]! -= (sums[b]! - sums[a]!) / n;
    }
  }
}

/** Means of a plane over its rows, from the top, or over its columns, from the left. */
export function lineMeans(
  { widthPx: w, heightPx: h, data }: Plane,
  usable: Plane,
  of: 'rows' | 'columns',
): Float64Array {
  const out = new Float64Array(of === 'rows' ? h : w);
  const counts = new Float64Array(out.length);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const i = y * w + x;
      if (usable.data[i]! < 1) continue;
      const k = of === 'rows' ? y : x;
      out[k]! += data[i]!;
      counts[k]!++;
    }
  return out.map((v, k) => v / Math.max(1, counts[k]!));
}
