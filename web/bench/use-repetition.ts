import type { Recipe, Repetition } from '@jossel/core/finish';
import type { Sample } from '../app/api';
import { infoOf, renderWorker, type Drawing } from './use-drawn';
import { useLatest } from './use-sample';

export interface RepetitionSearch {
  found: Repetition | null;
  busy: boolean;
  sentence: string;
}

/** Looks for what gives the repetition away, once the repeat is drawn and while it is wanted. */
export function useRepetition(
  recipe: Recipe | null,
  samples: readonly Sample[],
  drawing: Drawing,
  fieldMm: number,
  wanted: boolean,
): RepetitionSearch {
  const of = recipe && JSON.stringify([recipe.sources, recipe.colour, recipe.repeat, recipe.layout, fieldMm]);
  const ready = wanted && of && drawing.drawn && !drawing.working && !drawing.early && !drawing.sentence;
  const { value, sentence } = useLatest(ready ? of : null, async () => ({
    of,
    found: await renderWorker().repetition(recipe!, samples.map(infoOf), fieldMm),
  }));
  const current = value && value.of === of ? value.found : null;
  return { found: current, busy: wanted && !current && !sentence && !drawing.sentence, sentence };
}
