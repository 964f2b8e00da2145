import { halve, mapChannels } from '../raster';
import type { LitPicture } from './lit-picture';

/** A set whose pictures are halved until neither side is above a number of pixels, with the size of a pixel then. */
export function reducedTo(
  set: readonly LitPicture[],
  mmPerPx: { x: number; y: number },
  sidePx: number,
): { set: readonly LitPicture[]; mm: { x: number; y: number } } {
  let small = set;
  let mm = mmPerPx;
  while (Math.max(small[0]!.picture.widthPx, small[0]!.picture.heightPx) > sidePx) {
    const { widthPx, heightPx } = small[0]!.picture;
    small = small.map(({ picture, light }) => ({ picture: mapChannels(picture, halve), light }));
    const next = small[0]!.picture;
    mm = { x: (mm.x * widthPx) / next.widthPx, y: (mm.y * heightPx) / next.heightPx };
  }
  return { set: small, mm };
}
