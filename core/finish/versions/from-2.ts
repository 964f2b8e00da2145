import type { StoredRecipe } from './from-1';

/** Version 2 knew a light reflectance value only; where one was given, it ruled. */
export function from2(recipe: StoredRecipe): StoredRecipe {
  const lrv = ((recipe['colour'] ?? {}) as { lrv?: unknown }).lrv ?? null;
  return {
    ...recipe,
    schema: 'jossel.finish/3',
    colour: {
      levelling: null,
      fills: [],
      balance: 'none',
      grey: null,
      target: { reference: null, leftOut: [], offset: false },
      ruling: lrv === null ? 'picture' : 'lrv',
      lrv,
      colour: null,
      reference: null,
      hand: {
        lightness: 0,
        contrast: 1,
        hueDeg: 0,
        saturation: 1,
        tint: [0, 0],
        sharpness: 0,
        sharpMm: 1,
        keepReflectance: true,
      },
      recoloured: null,
      ways: [],
    },
  };
}
