import { squared } from '../exact';
import { luminancePlane } from '../raster';
import { anglesOf, incident } from './lights';
import type { MeasuredSurface } from './measure';
import type { LitPicture } from './lit-picture';
import { isClipped } from './pixel-reader';

/** What of a light set speaks against it, each as a sentence; places are counted from 1. */

/** Of more of a picture than this nothing is known. */
const MOST_CLIPPED = 0.02;
/** A light that is of use in less of the picture disagrees with the others. */
const LEAST_USED = 0.35;
/** Pictures lie over each other within this, px. */
const MOST_MOVED_PX = 0.8;

/** Before measuring: pictures that are overexposed. */
export const doubtsOfPictures = (set: readonly LitPicture[]): string[] =>
  set.flatMap(({ picture }, k) => {
    let clipped = 0;
    for (let i = 0; i < picture.r.length; i++) if (isClipped(picture, i)) clipped++;
    const share = clipped / picture.r.length;
    return share > MOST_CLIPPED
      ? [
          `Picture ${k + 1} is overexposed in ${Math.round(100 * share)} % of its area, which is left out. Expose it less.`,
        ]
      : [];
  });

/** After measuring: pictures that are shifted, and lights that disagree with the others. */
export function doubtsOfMeasured(
  set: readonly LitPicture[],
  measured: Pick<MeasuredSurface, 'ofLights' | 'colour' | 'normal'>,
  mmPerPx: { x: number; y: number },
): string[] {
  return measured.ofLights.flatMap(({ used, gain }, k) => {
    const { azimuthDeg, elevationDeg } = anglesOf(set[k]!.light);
    const where = `Light ${k + 1} (azimuth ${azimuthDeg.toFixed(0)}°, elevation ${elevationDeg.toFixed(0)}°)`;
    const [x, y] = shiftOf(set[k]!, gain, measured, mmPerPx);
    const moved = Math.sqrt(squared(x) + squared(y));
    if (moved > MOST_MOVED_PX)
      return [
        `Picture ${k + 1} lies about ${moved.toFixed(1)} px away from the others: the camera or the sample moved. Take the set again without touching either.`,
      ];
    if (used < LEAST_USED)
      return [
        `${where} disagrees with the others in ${Math.round(100 * (1 - used))} % of the picture. Is its picture the right one, and its place?`,
      ];
    return Math.abs(gain - 1) > MOST_BRIGHTER
      ? [
          `${where} is ${Math.round(100 * Math.abs(gain - 1))} % ${gain > 1 ? 'brighter' : 'darker'} than stated. Check its strength and its place.`,
        ]
      : [];
  });
}

/** Lights are as bright as was said within this share. */
const MOST_BRIGHTER = 0.25;
const DAMPING = 0.05;
/** Readings that are off by more than this share say shadow or glare, not a shift. */
const OUTLIER = 0.4;

/**
 * How far a picture lies from where the surface that was measured from all pictures would show it, px: one step of least squares
 * on the gradient of what is predicted (Lucas, Kanade 1981).
 */
function shiftOf(
  { picture, light }: LitPicture,
  gain: number,
  { colour, normal }: Pick<MeasuredSurface, 'colour' | 'normal'>,
  mmPerPx: { x: number; y: number },
): readonly [number, number] {
  const { widthPx: w, heightPx: h } = picture;
  const s = new Float64Array(3);
  const predicted = luminancePlane(colour).data;
  for (let y = 0, i = 0; y < h; y++)
    for (let x = 0; x < w; x++, i++) {
      incident(light, (x + 0.5 - w / 2) * mmPerPx.x, (h / 2 - y - 0.5) * mmPerPx.y, 0, gain, s, 0);
      predicted[i]! *= Math.max(0, normal.x[i]! * s[0]! + normal.y[i]! * s[1]! + normal.z[i]! * s[2]!);
    }
  const seen = luminancePlane(picture).data;
  let [xx, xy, yy, xr, yr] = [0, 0, 0, 0, 0];
  for (let y = 1; y < h - 1; y++)
    for (let x = 1; x < w - 1; x++) {
      const i = y * w + x;
      const p = predicted[i]!;
      const off = seen[i]! - p;
      if (isClipped(picture, i) || Math.abs(off) > OUTLIER * p) continue;
      const gx = (predicted[i + 1]! - predicted[i - 1]!) / 2;
      const gy = (predicted[i + w]! - predicted[i - w]!) / 2;
      xx += gx * gx;
      xy += gx * gy;
      yy += gy * gy;
      xr -= gx * off;
      yr -= gy * off;
    }
  // Across what runs one way a shift is told, along it it is not: damped, it counts as none.
  const damping = DAMPING * (xx + yy);
  xx += damping;
  yy += damping;
  const det = xx * yy - xy * xy;
  return det > 0 ? [(yy * xr - xy * yr) / det, (xx * yr - xy * xr) / det] : [0, 0];
}
