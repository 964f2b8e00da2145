import { useState } from 'react';
import type { Recipe } from '@jossel/core/finish';
import type { Sample } from '../../../app/api';
import { useAppDispatch } from '../../../app/store';
import { gestureNow } from '../../gesture';
import { infoOf, renderWorker } from '../../use-drawn';
import { withSuggestion } from './suggested';

/** Broken pieces, re-laid when asked; it takes some seconds, and can be stopped. */
export function useRelaidPieces(recipe: Recipe, samples: readonly Sample[]) {
  const dispatch = useAppDispatch();
  const [isBusy, setBusy] = useState(false);
  const [said, setSaid] = useState('');
  async function relay() {
    setBusy(true);
    setSaid('');
    try {
      const relaid = await renderWorker().relayPieces(recipe, samples.map(infoOf));
      if (!relaid) return;
      const { arrangements, broken, brokenBefore } = relaid;
      if (broken === brokenBefore)
        return setSaid('None came out whole. Press again for other ways, or take another arrangement.');
      setSaid(dispatch(withSuggestion(recipe, { arrangements }, 'broken pieces re-laid', gestureNow())));
    } catch (error) {
      setSaid((error as Error).message);
    } finally {
      setBusy(false);
    }
  }
  return { isBusy, said, relay, stop: () => void renderWorker().stopRelaying() };
}
