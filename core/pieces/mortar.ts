import type { Plane } from '../raster';
import { around, softened, type JointLook, type Pieces } from './segment';
import { median } from './statistics';

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
  const { data } = softened(lab[look.channel]!);
  const mortar = Uint8Array.from(label, (k) => (k < 0 ? 1 : 0));
  const toneWhere = (joint: number) => median([...data].filter((_v, i) => mortar[i] === joint));
  const [face, joint] = [toneWhere(0), toneWhere(1)];
  if (face === undefined || joint === undefined) return mortar;
  const least = look.sign * (face + LEAST_SHARE * (joint - face));
  const open: number[] = [];
  for (let i = 0; i < mortar.length; i++) if (mortar[i]) open.push(i);
  const goOn = (there: number) => {
    if (mortar[there] || !(look.sign * data[there]! > least)) return;
    mortar[there] = 1;
    open.push(there);
  };
  while (open.length > 0) around(open.pop()!, w, h, wraps, goOn);
  return mortar;
}
