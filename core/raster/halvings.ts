import { wholePower } from '../exact';

/** How often pictures are halved before they are resampled or looked at. */

const MOST = 12;

/** The most halvings that leave at least as many pixels, or as dense ones, as are wanted. */
export function halvingsKeeping(full: number, wanted: number): number {
  let level = 0;
  while (level < MOST && full / wholePower(2, level + 1) >= wanted) level++;
  return level;
}

/** The fewest halvings after which a picture's longer side has at most so many pixels. */
export function halvingsToFit(picture: { widthPx: number; heightPx: number }, mostPx: number): number {
  let level = 0;
  while (Math.max(picture.widthPx, picture.heightPx) / wholePower(2, level) > mostPx) level++;
  return level;
}
