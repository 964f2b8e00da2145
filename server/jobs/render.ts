import * as store from '../store';
import { neededSamples } from '@jossel/core/finish';
import type { Context } from '../services/context';
import { planFittingMaps } from '../services/estimates';
import { recipeOf, storedRecipe } from '../services/recipes';
import { sampleBytes } from '../services/samples';
import type { RenderRequest, RenderResult, StoredMap } from '../services/tasks';
import type { Run } from './run';

/** Computes the maps of a finish and keeps them as PNG files. */
export async function runRender(context: Context, run: Run): Promise<RenderResult> {
  const request = run.task.request as RenderRequest;
  const { row, issued, ...found } = await store.withRetry(() =>
    recipeOf(context, request.finishId, request.revision),
  );
  const recipe = request.recipe ? storedRecipe(request.recipe, `The draft of ${row.name}`) : found.recipe;
  const { widthPx } = request;
  await planFittingMaps(context, { name: row.name, recipe, issued, size: { widthPx } }, run.stopped);
  const samples = await store.withRetry(() => sampleBytes(context, neededSamples(recipe)));
  const { report, files } = await context.pool.render(
    {
      recipe,
      issued,
      samples,
      widthPx,
      maps: request.maps,
      way: request.way ?? null,
      category: row.category,
    },
    { stopped: run.stopped, onProgress: run.report },
  );
  const maps: Record<string, StoredMap> = {};
  for (const file of files) {
    run.report(0.97, `Keeping the ${file.map} map`);
    const sha256 = await store.withRetry(() => store.putBlob(context.database, file.bytes, 'image/png'));
    maps[file.map] = {
      sha256,
      widthPx: file.widthPx!,
      heightPx: file.heightPx!,
      bitDepth: file.bitDepth!,
      colourSpace: file.colourSpace!,
    };
  }
  return { report, maps };
}
