import { squared } from '../exact';
import { linearToLab, type Triple } from '../colour';
import { blurWrapped, distanceTo, makePlane, smoothstep, type ColourPicture, type Plane } from '../raster';
import type { Part } from './settings';

/** Where a part lies: weight 0–1 per pixel, and its share of the usable area. */
export interface PartField {
  weight: Plane;
  share: number;
}

/**
 * Separates a part by colour. A pixel belongs to it when its colour lies within the tolerance (distance in CIELAB) of a
 * colour that was added, and nearer to it than to any that was taken away. Single pixels of texture are calmed by a
 * blur of one pixel before. The area is then grown and its edge softened by true distance in mm.
 *
 * @param picture the straightened sample, linear light
 * @param part its colours and settings
 * @param mmPerPx size of a pixel
 * @param keptOut 1 where the sample is not used; does not count towards the share
 */
export function findPart(
  picture: ColourPicture,
  part: Pick<Part, 'picks' | 'tolerance' | 'growMm' | 'softenMm'>,
  mmPerPx: { x: number; y: number },
  keptOut?: Plane,
): PartField {
  const { widthPx, heightPx } = picture;
  const n = widthPx * heightPx;
  const calm = (data: Float32Array) => blurWrapped({ widthPx, heightPx, data }, 0.8, 0.8).data;
  const [r, g, b] = [calm(picture.r), calm(picture.g), calm(picture.b)];
  const added = part.picks.filter((p) => p.add).map((p) => p.lab);
  const taken = part.picks.filter((p) => !p.add).map((p) => p.lab);
  const nearest = (labs: readonly Triple[], [l, a, bb]: Triple) => {
    let best = Infinity;
    for (const lab of labs) {
      const d = squared(l - lab[0]) + squared(a - lab[1]) + squared(bb - lab[2]);
      if (d < best) best = d;
    }
    return Math.sqrt(best);
  };
  const inside = new Uint8Array(n);
  for (let i = 0; i < n; i++) {
    const lab = linearToLab([Math.max(0, r[i]!), Math.max(0, g[i]!), Math.max(0, b[i]!)]);
    const d = nearest(added, lab);
    inside[i] = d <= part.tolerance && d <= nearest(taken, lab) ? 1 : 0;
  }
  const weight = makePlane(widthPx, heightPx);
  if (part.growMm === 0 && part.softenMm === 0) for (let i = 0; i < n; i++) weight.data[i] = inside[i]!;
  else {
    const out = distanceTo(inside, widthPx, heightPx, mmPerPx);
    for (let i = 0; i < n; i++) inside[i] = inside[i] ? 0 : 1;
    const within = distanceTo(inside, widthPx, heightPx, mmPerPx);
    // Distances run between pixel centres; the edge lies half a pixel from either.
    const half = Math.sqrt(mmPerPx.x * mmPerPx.y) / 2;
    const soft = Math.max(part.softenMm, 1e-6);
    for (let i = 0; i < n; i++) {
      const signed = out.data[i]! > 0 ? out.data[i]! - half : half - within.data[i]!;
      weight.data[i] = smoothstep(soft / 2, -soft / 2, signed - part.growMm);
    }
  }
  let [sum, usable] = [0, 0];
  for (let i = 0; i < n; i++) {
    if (keptOut && keptOut.data[i]! > 0.5) continue;
    sum += weight.data[i]!;
    usable++;
  }
  return { weight, share: usable > 0 ? sum / usable : 0 };
}
