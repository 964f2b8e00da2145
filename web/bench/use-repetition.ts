import { useMemo } from 'react';
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
  recipe: Recipe,
  samples: readonly Sample[],
  drawing: Drawing,
  fieldMm: number,
  wanted: boolean,
): RepetitionSearch {
  const of = JSON.stringify([recipe.sources, recipe.colour, recipe.repeat, recipe.layout, fieldMm]);
  const ready = wanted && drawing.drawn && !drawing.working && !drawing.early && !drawing.sentence;
  const { value, sentence } = useLatest(ready ? of : null, async () => ({
    of,
    found: await renderWorker().repetition(recipe, samples.map(infoOf), fieldMm),
  }));
  const current = value && value.of === of ? value.found : null;
  const busy = wanted && !current && !sentence && !drawing.sentence;
  return useMemo(() => ({ found: current, busy, sentence }), [current, busy, sentence]);
}
