import { useState } from 'react';
import type { Recipe } from '@jossel/core/finish';
import type { Sample } from '../../../app/api';
import { useAppDispatch } from '../../../app/store';
import type { ShownMethod } from '../../../workers/render.worker';
import { gestureNow } from '../../gesture';
import { infoOf, renderWorker } from '../../use-drawn';
import { withSuggestion } from './suggested';

/** The method that suits a sample, looked for when asked; it takes some seconds, and can be stopped. */
export function useAdvice(recipe: Recipe, samples: readonly Sample[]) {
  const dispatch = useAppDispatch();
  const [looking, setLooking] = useState(false);
  const [fault, setFault] = useState('');
  const [tried, setTried] = useState<readonly ShownMethod[]>([]);
  async function suggest() {
    setLooking(true);
    setFault('');
    try {
      const advice = await renderWorker().advice(recipe, samples.map(infoOf));
      if (!advice) return;
      setTried(advice.tried);
      setFault(dispatch(withSuggestion(recipe, advice.settings, 'repeat method suggested', gestureNow())));
    } catch (error) {
      setFault((error as Error).message);
    } finally {
      setLooking(false);
    }
  }
  return { looking, fault, tried, suggest, stop: () => void renderWorker().stopAdvice() };
}
