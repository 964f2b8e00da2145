import type { StoredRecipe } from './from-1';

/** Version 4 composed from one picture, and laid nothing anew. */
export function from4(recipe: StoredRecipe): StoredRecipe {
  const { compose, arrangements, ...repeat } = recipe['repeat'] as {
    compose: object;
    arrangements: readonly object[];
  };
  return {
    ...recipe,
    schema: 'jossel.finish/5',
    repeat: {
      elements: { scale: 1, confirmed: false },
      enlarged: 1,
      why: [],
      ...repeat,
      compose: { stretchMost: 0, areas: [], pictures: [], ...compose },
      arrangements: arrangements.map((a) => ({ redone: [], ...a })),
    },
  };
}
