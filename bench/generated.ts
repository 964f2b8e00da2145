import {
  encodeMap,
  generatedRecipe,
  mapsOf,
  renderFinish,
  sizeOfFinishMm,
  type Recipe,
} from '@jossel/core/finish';
import { GENERATED_FAMILIES } from '@jossel/core/generate';
import { NO_PICTURES, StageCache } from '@jossel/core/surface';
import { DEMO_GENERATED } from '../demo/studio';

type Print = (what: string, value: string, reach?: string) => void;

async function timed(recipe: Recipe, longSidePx: number, cache: StageCache): Promise<number> {
  const size = await sizeOfFinishMm(recipe, NO_PICTURES);
  const widthPx = Math.round(longSidePx * Math.min(1, size.width / size.height));
  const maps = longSidePx > 1024 ? mapsOf(recipe) : (['colour', 'height', 'normal', 'roughness'] as const);
  const started = performance.now();
  const finish = await renderFinish(recipe, NO_PICTURES, { widthPx, maps, cache });
  if (longSidePx > 1024) for (const name of mapsOf(recipe)) encodeMap(finish as never, name);
  return performance.now() - started;
}

const other = (recipe: Recipe): Recipe => ({
  ...recipe,
  generated: { ...recipe.generated!, seed: recipe.generated!.seed + 1 },
});

/** Drafts after a change of a setting, and full sets. */
export async function benchGenerated(print: Print): Promise<void> {
  for (const { kind } of GENERATED_FAMILIES) {
    const recipe = generatedRecipe(kind);
    const cache = new StageCache();
    await timed(recipe, 512, cache);
    const draft = await timed(other(recipe), 512, cache);
    const full = await timed(recipe, 4096, new StageCache(0));
    print(
      `generated, ${kind}`,
      `draft of 512 px ${Math.round(draft)} ms, full set of 4096 px ${(full / 1000).toFixed(0)} s`,
      `≤ ${kind === 'terrazzo' ? 1000 : 400} ms, ≤ 40 s`,
    );
  }
  const wall = DEMO_GENERATED.find(({ name }) => name.startsWith('Limewashed'))!.recipe();
  const cache = new StageCache();
  await timed(wall, 512, cache);
  const changed = {
    ...wall,
    weathering: wall.weathering.map((l, k) => (k === 1 ? { ...l, coverPercent: 10 } : l)),
  };
  print(
    'a layer of a laid wall of five layers changed, draft of 512 px',
    `${Math.round(await timed(changed, 512, cache))} ms`,
  );
}
