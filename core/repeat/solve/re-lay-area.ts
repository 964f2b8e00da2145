import { fillPolygon, makePlane } from '../../raster';
import { drawKeepOuts, type Mark } from '../../sample';
import { hashOf, type RenderContext } from '../../surface';
import { recomposeArea, type Pitch, type RecomposeTask } from '../compose';
import type { Redone } from '../settings';
import {
  type UseOfJoints,
  makeSolvedRepeat,
  sourcesToCompose,
  run,
  type SolvedRepeat,
} from './solved-repeat';
import type { RepeatSource } from './places';

/** A repeat with one area more laid anew. */
export async function reLaidArea(
  ctx: RenderContext,
  from: readonly RepeatSource[],
  before: SolvedRepeat,
  { id: _, ...item }: Redone,
  {
    pitchMm,
    use,
    ...task
  }: Pick<RecomposeTask, 'patchPx' | 'lattice'> & { pitchMm: Pitch; use: UseOfJoints },
  step: (share: number) => Promise<void>,
): Promise<SolvedRepeat> {
  const key = hashOf('laid anew', before.key, item);
  return ctx.known(key, async () => {
    const { map, pxPerMm, solved } = before;
    const { widthPx, heightPx, closed } = map.cells;
    const { dense, toCompose } = await sourcesToCompose(ctx, from, pxPerMm, use);
    const taken = dense.map(({ picture: { widthPx: w, heightPx: h } }, k) => {
      const marks = item.taken
        .filter((t) => t.source === from[k]!.source.settings.id)
        .map((t, n): Mark => ({ id: String(n), kind: 'outline', points: t.points, erase: false }));
      return marks.length > 0 ? drawKeepOuts(from[k]!.picture.frame, marks, w, h) : null;
    });
    const area = areasOver(item.areas, widthPx, heightPx, closed);
    const outcome = await run(
      recomposeArea(solved.torus, {
        sources: toCompose,
        area,
        taken,
        seed: item.seed,
        ...task,
      }),
      step,
    );
    const now = { torus: outcome.torus, repeatMm: map.repeatMm, pxPerMm, dense, pitchMm };
    return makeSolvedRepeat(key, now, new Map(solved.laid), outcome.free);
  });
}

/**
 * Areas over the cells of a repeat: 1 where a cell lies in one with all its neighbours, so that passing over from one copy
 * to the next stays within as well. What reaches over a closed edge comes in at the other.
 */
function areasOver(
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
