import { defaultRecipe, type Recipe } from '@jossel/core/finish';
import { initialLayout } from '@jossel/core/layout';
import { USUAL_LAYERS, usualLayer } from '@jossel/core/weathering';
import { recipeShown } from './recipe-shown';

const PLAIN = { section: null, alone: null, beforeWeathering: false } as const;

function laidAndWorn(): Recipe {
  const recipe = defaultRecipe(['s'], 'brick', { widthPx: 900, heightPx: 600 });
  recipe.layout = initialLayout('running');
  recipe.weathering = [usualLayer(USUAL_LAYERS[0]!.name, 'worn')];
  const [first] = recipe.relief.contributions;
  recipe.relief.contributions = [first!, { ...first!, id: 'second', off: true, combine: 'highest' } as never];
  return recipe;
}

test('a section that leaves nothing out draws the recipe itself, so that nothing is drawn again', () => {
  const recipe = laidAndWorn();
  for (const section of [null, 'sample', 'colour', 'layout', 'response'] as const)
    expect(recipeShown(recipe, { ...PLAIN, section, alone: 'second', beforeWeathering: true })).toBe(recipe);
});

test('the repeat is drawn before pieces are cut from it', () => {
  const recipe = laidAndWorn();
  expect(recipeShown(recipe, { ...PLAIN, section: 'repeat' }).layout).toBeNull();
  expect(recipe.layout).not.toBeNull();
});

test('weathering can be looked past only while it is worked on', () => {
  const recipe = laidAndWorn();
  const shown = recipeShown(recipe, { ...PLAIN, section: 'weathering', beforeWeathering: true });
  expect(shown.weathering).toEqual([]);
  expect({ ...shown, weathering: recipe.weathering }).toEqual(recipe);
  expect(recipeShown(recipe, { ...PLAIN, section: 'weathering' })).toBe(recipe);
});

test('a contribution alone is drawn in full: switched on, not masked, not combined', () => {
  const recipe = laidAndWorn();
  const alone = recipeShown(recipe, { ...PLAIN, section: 'relief', alone: 'second' }).relief.contributions;
  expect(alone).toHaveLength(1);
  expect(alone[0]).toMatchObject({ id: 'second', depthMm: recipe.relief.contributions[1]!.depthMm });
  for (const key of ['off', 'combine', 'mask']) expect(alone[0]).not.toHaveProperty(key);
  // One that was deleted meanwhile hides nothing.
  expect(recipeShown(recipe, { ...PLAIN, section: 'relief', alone: 'gone' })).toBe(recipe);
});
