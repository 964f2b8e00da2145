import {
  defaultRecipe,
  lead,
  piecesOfFinish,
  recipeSchema,
  relayBrokenPieces,
  type Recipe,
} from '@jossel/core/finish';
import { arrangementOf } from '@jossel/core/repeat';
import { sizeKnownBy } from '@jossel/core/size';
import { StageCache, Stopped } from '@jossel/core/surface';
import { onePicture } from '@jossel/core/test-pictures';
import { figure } from '@jossel/core/units';
import { laidScene } from './laid/scenes';

/** Stones of a composed repeat that are broken, re-laid. */

const { picture, shot } = laidScene('cobbles', 1, 280);
const pictures = onePicture(picture);
const cache = new StageCache(5e8);

function composed(): Recipe {
  const recipe = defaultRecipe(['sample'], 'stone', picture);
  lead(recipe).size = sizeKnownBy({ overall: figure(shot.widthMm, 'mm', 'measured', 1) }, 'follows');
  recipe.repeat = { ...recipe.repeat, method: 'composed' };
  return recipe;
}

test('some come out whole, by areas that can be taken back', async () => {
  const recipe = composed();
  const before = (await piecesOfFinish(recipe, pictures, { cache }))!;
  expect(before.broken.length).toBeGreaterThan(0);
  const relaid = await relayBrokenPieces(pictures, recipe, { cache });
  expect(relaid.brokenBefore).toBe(before.broken.length);
  expect(relaid.broken).toBeLessThan(relaid.brokenBefore);
  const next = { ...recipe, repeat: { ...recipe.repeat, arrangements: relaid.arrangements } };
  expect(recipeSchema.safeParse(next).success).toBe(true);
  const after = (await piecesOfFinish(next, pictures, { cache }))!;
  expect([after.pieces, after.broken.length]).toEqual([relaid.pieces, relaid.broken]);
  expect(arrangementOf(next.repeat).redone.length).toBeGreaterThan(0);
});

test('what is not composed, or shows no pieces, is refused in words; stopping leaves nothing', async () => {
  const recipe = composed();
  const blended: Recipe = { ...recipe, repeat: { ...recipe.repeat, method: 'edges' } };
  await expect(relayBrokenPieces(pictures, blended, { cache })).rejects.toThrow(/Compose the repeat first/);
  const plain = {
    ...picture,
    r: picture.r.map(() => 0.4),
    g: picture.g.map(() => 0.4),
    b: picture.b.map(() => 0.4),
  };
  await expect(relayBrokenPieces(onePicture(plain), recipe)).rejects.toThrow(/shows no pieces/);
  const stopped = relayBrokenPieces(pictures, recipe, { cache: new StageCache(), signal: { aborted: true } });
  await expect(stopped).rejects.toBeInstanceOf(Stopped);
});
