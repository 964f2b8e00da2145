import { proxy } from 'comlink';
import { useEffect, useRef } from 'react';
import type { FinishPieces, Recipe } from '@jossel/core/finish';
import type { Sample } from '../app/api';
import { infoOf, renderWorker, type Drawing } from './use-drawn';
import { sampleWorker, useLatest } from './use-sample';

/** Pieces are counted when nothing has changed for so long. */
const STILL_MS = 2500;

/** The pieces of the finish in hand and which are broken, once it is drawn; null: not known, or it has none. */
export function usePieces(recipe: Recipe, samples: readonly Sample[], drawing: Drawing): FinishPieces | null {
  const of = JSON.stringify([recipe.sources, recipe.repeat]);
  const ready = drawing.drawn?.recipe === recipe && !drawing.working && !drawing.early && !drawing.sentence;
  const wanted = useRef<string | null>(null);
  useEffect(() => {
    wanted.current = ready ? of : null;
    return () => {
      wanted.current = null;
    };
  }, [ready, of]);
  const { value } = useLatest(ready ? of : null, async () => {
    await new Promise((resolve) => setTimeout(resolve, STILL_MS));
    if (wanted.current !== of) return null;
    const infos = samples.map(infoOf);
    const draw = proxy((widthPx: number) => renderWorker().repeatToJudge(recipe, infos, widthPx));
    return { of, judged: await sampleWorker().pieces(recipe, infos, draw) };
  });
  return value && value.of === of ? value.judged : null;
}
