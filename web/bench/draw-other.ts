import { wrap, type Remote } from 'comlink';
import { finishSizeMm, leadingPicture, mapsOf, neededSamples, type Recipe } from '@jossel/core/finish';
import type { Sample } from '../app/api';
import type { Drawn, RenderWorker } from '../workers/render.worker';
import { FULL_PX, infoOf, widthForLongSide } from './use-drawn';

let remote: Remote<RenderWorker> | null = null;
/** A worker of its own: other finishes do not push out the one that is being changed. */
const otherWorker = (): Remote<RenderWorker> =>
  (remote ??= wrap<RenderWorker>(
    new Worker(new URL('../workers/render.worker.ts', import.meta.url), { type: 'module' }),
  ));

/** A finish beside the one in hand. */
export interface OtherFinish {
  name: string;
  recipe: Recipe;
  way: string | null;
  category: string;
  /** Of its stages, where it was issued with others than the newest. */
  versions?: Readonly<Record<string, number>>;
}

/**
 * Draws a finish that is not the one in hand.
 * @returns null when another one was asked for meanwhile
 * @throws Error with a sentence when its sample is gone or it cannot be drawn
 */
export async function drawOther(
  { name, recipe, way, category, versions }: OtherFinish,
  studio: readonly Sample[],
): Promise<Drawn | null> {
  const needed = neededSamples(recipe);
  const samples = studio.filter(({ id }) => needed.includes(id));
  const lead = samples.find(({ id }) => id === leadingPicture(recipe)?.sampleId);
  if (!lead && !recipe.generated) throw new Error(`${name}: its sample is not in this studio any more.`);
  const widthPx = widthForLongSide(finishSizeMm(recipe, lead), FULL_PX);
  return otherWorker().draw(recipe, samples.map(infoOf), widthPx, mapsOf(recipe), category, way, 0, versions);
}
