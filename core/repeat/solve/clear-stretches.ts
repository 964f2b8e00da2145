import { drawKeepOuts } from '../../sample';
import type { UsedSource } from '../../sources';
import type { FaceFrom } from './places';

/** What of a picked area is left as faces when keep-outs reach into it. */

/** Pixels along the longer side at which keep-outs are looked at. */
const LOOKED_AT_PX = 240;
/** A stretch is at least this share of the area long, and as long as this share of its width. */
const SHORTEST = { ofLength: 0.15, ofWidth: 0.8 };
/** A line across the area of which more is kept out is not used. */
const TOUCHED = 0.02;

/**
 * The stretches along an area's longer side that keep-outs leave alone all across; the whole area where there are none.
 * @param place names the area
 * @param area it, straightened
 */
export function clearStretches(place: FaceFrom, { settings, used, usedMm }: UsedSource): FaceFrom[] {
  const { keepOuts } = settings.preparation;
  if (keepOuts.length === 0) return [place];
  const lying = usedMm.width >= usedMm.height;
  const [long, short] = lying ? [usedMm.width, usedMm.height] : [usedMm.height, usedMm.width];
  const shortPx = Math.max(8, Math.round((LOOKED_AT_PX * short) / long));
  const [w, h] = lying ? [LOOKED_AT_PX, shortPx] : [shortPx, LOOKED_AT_PX];
  const { data } = drawKeepOuts(used, keepOuts, w, h);
  const isKeptOut = (line: number) => {
    for (let k = 0; k < shortPx; k++) if (data[lying ? k * w + line : line * w + k]! > TOUCHED) return true;
    return false;
  };
  const least = Math.max(SHORTEST.ofLength, (SHORTEST.ofWidth * short) / long);
  const out: FaceFrom[] = [];
  let from: number | null = null;
  for (let line = 0; line <= LOOKED_AT_PX; line++) {
    const clear = line < LOOKED_AT_PX && !isKeptOut(line);
    if (clear) from ??= line;
    if (clear || from === null) continue;
    const stretch = [from / LOOKED_AT_PX, line / LOOKED_AT_PX] as const;
    if (from === 0 && line === LOOKED_AT_PX) return [place];
    if (stretch[1] - stretch[0] >= least) out.push({ ...place, stretch });
    from = null;
  }
  return out;
}
