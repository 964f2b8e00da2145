import { evenOut } from '../repeat';
import { makePlane, mapChannels, type ColourPicture, type Plane } from '../raster';
import type { Arranged } from './arranged';
import type { StageCache } from './cache';
import { allAtDensity, type LaidPicture } from './density';
import { hashOf } from './hash';
import type { Sources } from './result';

/** How far from an outline differences are spread, as a share of the shorter side of the repeat. */
const EVENED_REACH = 1 / 10;

/**
 * What evens out the copies of a solved repeat in one picture of each of its sources.
 * @returns null where copies meet in joints of their own, and nothing is evened out
 * @param pictures the same picture of every source: their colour, or one map
 */
export async function evenedOut(
  sources: Sources,
  cache: StageCache,
  pictures: readonly LaidPicture[],
  { map, key: arrangedKey, pxPerMm, begunFrom, before }: Arranged,
): Promise<ColourPicture | null> {
  if (map.cells.sharp) return null;
  const dense = await allAtDensity(sources, cache, pictures, pxPerMm);
  const key = hashOf(
    'evened',
    dense.map((d) => d.key),
    arrangedKey,
  );
  const known = cache.get<ColourPicture>(key);
  if (known) return known;
  const { widthPx, heightPx } = map.cells;
  if (begunFrom) {
    const asBefore = (await evenedOut(sources, cache, pictures, begunFrom.arranged))!;
    return cache.keep(
      key,
      mapChannels(asBefore, (plane) => rolled(plane, begunFrom)),
    );
  }
  const earlier = before && (await evenedOut(sources, cache, pictures, before.arranged));
  const evened = evenOut(
    map.cells,
    map.repeatMm,
    dense,
    Math.max(6, Math.round(EVENED_REACH * Math.min(widthPx, heightPx))),
    before && earlier ? { free: before.free, evened: earlier } : undefined,
  );
  cache.set(key, evened);
  return evened;
}

/** A plane that closes on itself, begun so many pixels further. */
function rolled({ widthPx: w, heightPx: h, data }: Plane, { x: dx, y: dy }: { x: number; y: number }): Plane {
  const out = makePlane(w, h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) out.data[y * w + x] = data[((y + dy) % h) * w + ((x + dx) % w)]!;
  return out;
}
