import type { FinishPieces, Recipe } from '@jossel/core/finish';
import type { Sample } from '../app/api';
import { infoOf, type Drawing } from './use-drawn';
import { sampleWorker, useLatest } from './use-sample';

/** The pieces of the finish in hand and which are broken, once it is drawn; null: not known, or it has none. */
export function usePieces(
  recipe: Recipe | null,
  samples: readonly Sample[],
  drawing: Drawing,
): FinishPieces | null {
  const of = recipe && JSON.stringify([recipe.sources, recipe.repeat]);
  const ready = drawing.drawn?.recipe === recipe && !drawing.working && !drawing.early && !drawing.sentence;
  const { value } = useLatest(ready ? of : null, async () => ({
    of,
    judged: await sampleWorker().pieces(recipe!, samples.map(infoOf)),
  }));
  return value && value.of === of ? value.judged : null;
}
