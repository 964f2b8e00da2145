import { luminancePlane, type ColourPicture, type Plane } from '../raster';
import type { FoundStructure } from './found-structure';

/** At most so many periods are looked at: the draft of a weave, or colours of yarns. */
const MOST = 12;
/** A pattern comes back where it differs from itself by hardly more than at its best … */
const NEAR_BEST = 1.15;
/** … and by much less than after one period. */
const MUCH_LESS = 0.75;

/**
 * After how many of its periods a structure comes back as it was: a weave of one yarn's period comes back after its draft,
 * bricks and boards after one.
 *
 * @param picture the frame the structure was found in
 * @param found the structure
 * @param keptOut 1 where the picture must not be looked at
 * @returns whole numbers, 1 where one period is all
 */
export function wholePeriods(
  picture: ColourPicture,
  found: Pick<FoundStructure, 'across' | 'up' | 'stagger'>,
  keptOut?: Plane,
): { across: number; up: number } {
  const light = lightnessOf(picture);
  const [w, h] = [picture.widthPx, picture.heightPx];
  const px = (found.across?.period ?? 0) * w;
  const py = (found.up?.period ?? 0) * h;
  const shift = (found.stagger ?? 0) * px;
  return {
    across: found.across ? comesBack((k) => differsAt(light, keptOut, k * px, 0), w / px) : 1,
    up: found.up
      ? comesBack((k) => differsAt(light, keptOut, px > 0 ? (k * shift) % px : 0, k * py), h / py)
      : 1,
  };
}

/** Near to how lightness is seen. */
function lightnessOf(picture: ColourPicture): Plane {
  const light = luminancePlane(picture);
  for (let i = 0; i < light.data.length; i++) light.data[i] = Math.cbrt(Math.max(0, light.data[i]!));
  return light;
}

function comesBack(differs: (k: number) => number, periods: number): number {
  const most = Math.min(MOST, Math.floor(0.6 * periods));
  if (most < 2) return 1;
  const all = Array.from({ length: most }, (_, k) => differs(k + 1));
  const best = Math.min(...all);
  if (best > MUCH_LESS * all[0]!) return 1;
  return all.findIndex((d) => d <= NEAR_BEST * best) + 1;
}

/** Mean difference of a picture to itself shifted, over every third pixel each way. */
function differsAt(
  { widthPx: w, heightPx: h, data }: Plane,
  keptOut: Plane | undefined,
  dx: number,
  dy: number,
): number {
  const [x0, y0] = [Math.floor(dx), Math.floor(dy)];
  const [fx, fy] = [dx - x0, dy - y0];
  let [sum, count] = [0, 0];
  for (let y = 0; y + y0 + 1 < h; y += 3)
    for (let x = 0; x + x0 + 1 < w; x += 3) {
      const i = y * w + x;
      const j = (y + y0) * w + x + x0;
      if (keptOut && (keptOut.data[i]! > 0.5 || keptOut.data[j]! > 0.5)) continue;
      const there =
        (data[j]! * (1 - fx) + data[j + 1]! * fx) * (1 - fy) +
        (data[j + w]! * (1 - fx) + data[j + w + 1]! * fx) * fy;
      sum += Math.abs(data[i]! - there);
      count++;
    }
  return count > 0 ? sum / count : Infinity;
}
