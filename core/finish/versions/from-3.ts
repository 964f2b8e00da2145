import type { StoredRecipe } from './from-1';

/** Version 3 knew closing at the edges only. */
export const from3 = (recipe: StoredRecipe): StoredRecipe => ({
  ...recipe,
  schema: 'jossel.finish/4',
  repeat: {
    way: 'edges',
    structure: { across: null, up: null, stagger: 0 },
    compose: {
      widthMm: null,
      heightMm: null,
      closed: 'both',
      copyMm: null,
      turning: 'none',
      mirrored: false,
    },
    arrangements: [{ number: 1, seed: 1 }],
    arrangement: 1,
    ...(recipe['repeat'] as object),
  },
});
