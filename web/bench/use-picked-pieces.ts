import { useRef, useState } from 'react';
import { laidOfPicked, withPicked, type Recipe } from '@jossel/core/finish';
import type { Sample } from '../app/api';
import { infoOf } from './use-drawn';
import { sampleWorker } from './use-sample';

const newId = () => Math.random().toString(36).slice(2, 10);

const NONE =
  'No pieces are seen that joints part on all sides, and no boards. Straighten the sample, or draw the areas by hand.';

/** Picks the pieces of a picture; answers the recipe with them as areas, and laid of them. */
export function usePickedPieces(recipe: Recipe, samples: readonly Sample[]) {
  const [picking, setPicking] = useState(false);
  const [said, setSaid] = useState('');
  // The recipe may change while pieces are looked for.
  const latest = useRef(recipe);
  latest.current = recipe;

  async function pick(sourceId: string): Promise<{ before: Recipe; picked: Recipe; laid: Recipe } | null> {
    setPicking(true);
    setSaid('');
    try {
      const found = await sampleWorker().pickedPieces(recipe, samples.map(infoOf), sourceId);
      const before = latest.current;
      const source = before.sources.find((s) => s.id === sourceId);
      setSaid(
        found ? `${found.corners.length} ${found.kind === 'boards' ? 'boards' : 'pieces'} picked.` : NONE,
      );
      return (
        found && {
          before,
          picked: withPicked(before, found, newId, source),
          laid: laidOfPicked(before, found, newId),
        }
      );
    } catch (error) {
      setSaid((error as Error).message);
      return null;
    } finally {
      setPicking(false);
    }
  }

  return { pick, picking, said };
}
