import { squared } from '../exact';
import { blurWrapped, halve, makePlane, type Plane } from '../raster';
import type { Steps } from '../steps';
import { atScaleOf } from './joints';

/** Planes smaller than this are not divided further. */
const LEAST_PX = 8;
/** Standard deviation of the blur before a plane is halved, px. */
const BEFORE_HALVING_PX = 1;

/**
 * Holds the slope of every octave of detail below a bound: a height is divided into octaves of wavelength (Laplacian pyramid,
 * Burt, Adelson 1983), and each that stands steeper is scaled down to it. What is longer than the last octave is held as one.
 * @param height one repeat, mm
 * @param mmPerPx size of a pixel
 * @param steepestDeg root mean square slope that every octave may have
 */
export function* boundedSlopesSteps(
  height: Plane,
  mmPerPx: { x: number; y: number },
  steepestDeg: number,
): Steps<Plane> {
  if (steepestDeg >= 90) return height;
  const { widthPx: w, heightPx: h } = height;
  const most = Math.tan((steepestDeg * Math.PI) / 180);
  /** Scales an octave down to the bound where it is steeper. */
  const hold = (octave: Plane): void => {
    const slope = slopeOf(octave, mmPerPx);
    if (!(slope > most)) return;
    const gain = most / slope;
    for (let i = 0; i < octave.data.length; i++) octave.data[i]! *= gain;
  };
  if (Math.min(w, h) < 2 * LEAST_PX) {
    const whole = { ...height, data: height.data.slice() };
    hold(whole);
    return whole;
  }
  yield;
  const longer = halve(blurWrapped(height, BEFORE_HALVING_PX, BEFORE_HALVING_PX));
  yield;
  const without = atScaleOf(longer, w, h).data;
  const fine = makePlane(w, h);
  yield;
  for (let i = 0; i < without.length; i++) fine.data[i] = height.data[i]! - without[i]!;
  hold(fine);
  yield;
  const mm = { x: (mmPerPx.x * w) / longer.widthPx, y: (mmPerPx.y * h) / longer.heightPx };
  const bounded = atScaleOf(yield* boundedSlopesSteps(longer, mm, steepestDeg), w, h).data;
  for (let i = 0; i < bounded.length; i++) fine.data[i]! += bounded[i]!;
  return fine;
}

/** Root mean square slope of a height that closes on itself, as a tangent. */
function slopeOf({ widthPx: w, heightPx: h, data }: Plane, mm: { x: number; y: number }): number {
  let sum = 0;
  for (let y = 0; y < h; y++) {
    const row = y * w;
    const next = y + 1 < h ? row + w : 0;
    for (let x = 0; x < w; x++) {
      const v = data[row + x]!;
      sum +=
        squared((data[x + 1 < w ? row + x + 1 : row]! - v) / mm.x) + squared((data[next + x]! - v) / mm.y);
    }
  }
  return Math.sqrt(sum / (w * h));
}
