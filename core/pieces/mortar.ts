import { maskWhere, percentiles, type Plane } from '../raster';
import { growOver, Neighbours } from './neighbours';
import type { Pieces } from './pieces-between';
import { softened, type JointLook } from './segment';

/** Mortar differs from the faces by at least this share of what the joints differ from them by. */
const LEAST_SHARE = 0.5;

/**
 * Mortar: the joints between pieces, and what hangs together with them and has their tone, however wide. Segmentation takes as
 * joints only what is narrower than they are at most, so that a wedge between three stones is left out of them.
 * @param lab the picture that was segmented
 * @param look what its joints look like
 * @param wraps its edges meet
 * @returns 1 where mortar is, else 0
 */
export function mortarOf(
  lab: readonly Plane[],
  look: JointLook,
  { label, widthPx: w, heightPx: h }: Pieces,
  wraps: boolean,
): Uint8Array {
  const { data } = softened(lab, look);
  const mortar = maskWhere(label, (k) => k < 0);
  const toneWhere = (joint: number) =>
    percentiles(
      data.filter((_v, i) => mortar[i] === joint),
      [0.5],
    )[0]!;
  if (!mortar.includes(0) || !mortar.includes(1)) return mortar;
  const [face, joint] = [toneWhere(0), toneWhere(1)];
  const least = look.sign * (face + LEAST_SHARE * (joint - face));
  growOver(mortar, new Neighbours(w, h, wraps), (i) => look.sign * data[i]! > least);
  return mortar;
}
