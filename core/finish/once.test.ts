import { initialLayout } from '../layout';
import { figure } from '../units';
import { sizeKnownBy } from '../size';
import { NO_PICTURES, StageCache, type Key } from '../surface';
import { brickwork, onePicture } from '../test-pictures';
import { defaultRecipe, generatedRecipe, lead, renderFinish, type Recipe } from './index';

/** Counts how often each result is made. */
class CountingCache extends StageCache {
  readonly made = new Map<Key, number>();

  override known<T>(key: Key, make: () => T | Promise<T>): Promise<T> {
    return super.known(key, () => {
      this.made.set(key, (this.made.get(key) ?? 0) + 1);
      return make();
    });
  }
}

const WALL = brickwork({
  ...{
    widthMm: 500,
    heightMm: 450,
    pxPerMm: 0.8,
    seed: 3,
    brickWidthMm: 115,
    brickHeightMm: 65,
    jointMm: 10,
  },
  ...{ shift: 0.5, strayMm: 1, clay: [0.45, 0.2, 0.13], burnt: [0.3, 0.12, 0.1], mortar: [0.5, 0.48, 0.44] },
}).colour;

function ofSample(change: (recipe: Recipe) => void): Recipe {
  const recipe = defaultRecipe(['sample'], 'brick', WALL);
  lead(recipe).size = sizeKnownBy({ overall: figure(500, 'mm', 'assumed') }, 'follows');
  recipe.colour = { ...recipe.colour, ruling: 'lrv', lrv: figure(22, 'LRV', 'published') };
  change(recipe);
  return recipe;
}

test.each<[string, Recipe]>([
  ['as it is, relief of its lightness', ofSample(() => undefined)],
  ['laid in another bond', ofSample((r) => (r.layout = initialLayout('herringbone')))],
  ['generated', generatedRecipe('plaster', { repeatMm: { width: 300, height: 300 } })],
])('what a set of maps is made of is made once, though the cache holds none of it: %s', async (_, recipe) => {
  const pictures = recipe.generated ? NO_PICTURES : onePicture(WALL);
  const cache = new CountingCache(100_000);
  await renderFinish(recipe, pictures, {
    widthPx: 256,
    maps: ['colour', 'height', 'normal', 'occlusion', 'roughness'],
    cache,
  });
  expect(cache.made.size).toBeGreaterThan(8);
  expect([...cache.made.values()].filter((times) => times > 1)).toEqual([]);
});
