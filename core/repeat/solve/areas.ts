import { fillPolygon, makePlane, type Plane } from '../../raster';
import { drawKeepOuts, type Mark } from '../../sample';
import type { Redone } from '../settings';
import type { RepeatSource } from './places';

/** Areas of a repeat that are laid anew, and parts of its pictures that are not used any more, as rasters. */

/** What was taken out of a picture, 1 where; null: nothing was. */
export function takenOf(
  { taken }: Pick<Redone, 'taken'>,
  { source, picture }: RepeatSource,
  widthPx: number,
  heightPx: number,
): Plane | null {
  const marks = taken
    .filter((t) => t.source === source.settings.id)
    .map((t, n): Mark => ({ id: String(n), kind: 'outline', points: t.points, erase: false }));
  return marks.length > 0 ? drawKeepOuts(picture.frame, marks, widthPx, heightPx) : null;
}

/**
 * Areas over the cells of a repeat: 1 where a cell lies in one with all its neighbours, so that passing over from one copy
 * to the next stays within as well. What reaches over a closed edge comes in at the other.
 */
export function areasOver(
  areas: Redone['areas'],
  widthPx: number,
  heightPx: number,
  closed: { across: boolean; up: boolean },
): Uint8Array {
  // Drawn over three repeats each way, where they may reach.
  const wide = makePlane(3 * widthPx, 3 * heightPx);
  for (const points of areas)
    fillPolygon(
      wide,
      points.map(([x, y]) => [(x + 1) * widthPx, (y + 1) * heightPx] as const),
      1,
    );
  const inside = new Uint8Array(widthPx * heightPx);
  for (let y = 0; y < 3 * heightPx; y++)
    for (let x = 0; x < 3 * widthPx; x++) {
      if (wide.data[y * 3 * widthPx + x]! < 0.5) continue;
      const [ownX, ownY] = [x >= widthPx && x < 2 * widthPx, y >= heightPx && y < 2 * heightPx];
      if ((ownX || closed.across) && (ownY || closed.up))
        inside[(y % heightPx) * widthPx + (x % widthPx)] = 1;
    }
  return inside.map((one, p) => {
    const [x, y] = [p % widthPx, Math.floor(p / widthPx)];
    for (let v = -1; v <= 1; v++)
      for (let u = -1; u <= 1; u++) {
        const [qx, qy] = [(x + u + widthPx) % widthPx, (y + v + heightPx) % heightPx];
        if (inside[qy * widthPx + qx] === 0) return 0;
      }
    return one;
  });
}
