import { unlaid, type Recipe } from '@jossel/core/finish';
import type { BenchState } from '../bench-slice';

/** The recipe that is drawn while a section is open. */
export function recipeShown(
  recipe: Recipe,
  { section, alone, beforeWeathering }: Pick<BenchState, 'section' | 'alone' | 'beforeWeathering'>,
): Recipe {
  // The repeat is worked on as it is before pieces are cut from it.
  if (section === 'repeat') return unlaid(recipe);
  if (section === 'weathering' && beforeWeathering) return { ...recipe, weathering: [] };
  return section === 'relief' && alone ? withAlone(recipe, alone) : recipe;
}

/** A recipe whose relief is one contribution, and what laying makes, without the others; as it is where there is none of that name. */
function withAlone(recipe: Recipe, id: string): Recipe {
  const one = recipe.relief.contributions.find((c) => c.id === id);
  if (!one) return recipe;
  const { off: _, combine: __, mask: ___, ...plain } = one;
  return { ...recipe, relief: { ...recipe.relief, contributions: [plain as typeof one] } };
}
