import { wholePower } from '../../exact';
import { halve, mapChannels } from '../../raster';
import type { ComposeSource } from './atlas';
import type { Lattice } from './composer';

/** Coarse to fine: how often things are halved, and what they are then. */

interface ToHalve {
  sources: readonly ComposeSource[];
  widthPx: number;
  heightPx: number;
  patchPx: { w: number; h: number };
}

/** The search begins at no more than about this many pixels of the longer side of repeat and sample. */
const COARSE_PX = 192;
/** Copies stay at least so large, so that they have an outline. */
const SMALLEST_COPY_PX = 10;
const MOST_HALVINGS = 3;

/** How often everything is halved before the search begins. */
export function halvings({ sources, widthPx, heightPx, patchPx }: ToHalve): number {
  const sides = sources.flatMap((s) => [s.picture.widthPx, s.picture.heightPx]);
  const long = Math.max(widthPx, heightPx, ...sides);
  const short = Math.min(patchPx.w, patchPx.h, ...sides);
  let level = 0;
  while (
    level < MOST_HALVINGS &&
    long / wholePower(2, level) > COARSE_PX &&
    short / wholePower(2, level + 1) >= SMALLEST_COPY_PX
  )
    level++;
  return level;
}

export const halved = ({ picture, keptOut, held, jointed }: ComposeSource): ComposeSource => ({
  picture: mapChannels(picture, halve),
  keptOut: keptOut && halve(keptOut),
  held: held && halve(held),
  ...(jointed
    ? {
        jointed: {
          ...jointed,
          joints: halve(jointed.joints),
          pieces: jointed.pieces && halve(jointed.pieces),
        },
      }
    : {}),
});

/** A lattice at another resolution. */
export const latticeAt = (lattice: Lattice | undefined, scale: number): Lattice => ({
  acrossPx: lattice?.acrossPx ? lattice.acrossPx * scale : null,
  upPx: lattice?.upPx ? lattice.upPx * scale : null,
  stagger: lattice?.stagger ?? 0,
});
