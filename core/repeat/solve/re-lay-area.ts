import { hashOf, turn, type RenderContext } from '../../surface';
import { recomposeArea, type Pitch, type RecomposeTask } from '../compose';
import type { Redone } from '../settings';
import {
  type UseOfJoints,
  makeSolvedRepeat,
  sourcesToCompose,
  run,
  type SolvedCopies,
  type SolvedRepeat,
} from './solved-repeat';
import { areasOver, takenOf } from './areas';
import type { RepeatSource } from './places';

/** A repeat with one area more laid anew. */
export async function reLaidArea(
  ctx: RenderContext,
  from: readonly RepeatSource[],
  before: SolvedRepeat,
  copies: SolvedCopies,
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
    const { map, pxPerMm } = before;
    const { widthPx, heightPx, closed } = map.cells;
    const { dense, toCompose } = await sourcesToCompose(ctx, from, pxPerMm, use);
    const taken = dense.map(({ picture: { widthPx: w, heightPx: h } }, k) => takenOf(item, from[k]!, w, h));
    const area = areasOver(item.areas, widthPx, heightPx, closed);
    await turn(ctx.options);
    const outcome = await run(
      recomposeArea(copies.torus, {
        sources: toCompose,
        area,
        taken,
        seed: item.seed,
        ...task,
      }),
      step,
    );
    const now = { torus: outcome.torus, repeatMm: map.repeatMm, pxPerMm, dense, pitchMm };
    return makeSolvedRepeat(key, now, new Map(copies.laid), outcome.free);
  });
}
