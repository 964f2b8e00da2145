import type { UsedSource } from '../sources';
import { Refusal } from '../surface';
import type { RepeatPlan } from './plan';

/** How many pixels a repeat has. */

const LARGEST_SIDE_PX = 16384;

/** More pixels than a picture has show nothing new; pieces are enlarged as they are laid. */
const FACES_OVER = 1.25;
const LARGEST_FACES_PX = 8192;
const LEAST_FACES_PX = 32;

/** Pixels of faces: at a density, yet no more than their picture has. */
export function pixelsAt(
  repeatMm: { width: number; height: number },
  pxPerMm: number,
  { size }: UsedSource,
  { laidMm }: RepeatPlan,
) {
  const own = (size.pxPerMm.x * size.width.mm) / laidMm.width;
  const longest = Math.max(repeatMm.width, repeatMm.height);
  const density = Math.min(pxPerMm, FACES_OVER * own, LARGEST_FACES_PX / longest);
  return {
    width: Math.max(LEAST_FACES_PX, Math.round(density * repeatMm.width)),
    height: Math.max(LEAST_FACES_PX, Math.round(density * repeatMm.height)),
  };
}

/** Pixels of faces that have no pixels of their own. */
export function pixelsAtDensity(repeatMm: { width: number; height: number }, pxPerMm: number) {
  const density = Math.min(pxPerMm, LARGEST_FACES_PX / Math.max(repeatMm.width, repeatMm.height));
  return {
    width: Math.max(LEAST_FACES_PX, Math.round(density * repeatMm.width)),
    height: Math.max(LEAST_FACES_PX, Math.round(density * repeatMm.height)),
  };
}

/** Pixels of a repeat of a width in pixels. @throws Refusal when there are too many */
export function pixelsOf(repeatMm: { width: number; height: number }, widthPx: number) {
  const heightPx = Math.max(1, Math.round((widthPx * repeatMm.height) / repeatMm.width));
  if (heightPx > LARGEST_SIDE_PX || widthPx > LARGEST_SIDE_PX)
    throw new Refusal(
      'too-many-pixels',
      `At ${widthPx} px of width the repeat of ${repeatMm.width.toFixed(0)} × ${repeatMm.height.toFixed(0)} mm would be ${heightPx} px high; at most ${LARGEST_SIDE_PX} px are possible. Ask for fewer pixels.`,
    );
  return { width: widthPx, height: heightPx };
}
