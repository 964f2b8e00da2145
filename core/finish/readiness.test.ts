import { parseColour } from '../light';
import { makeColourPicture } from '../raster';
import type { Pictures } from '../surface';
import {
  checkColourways,
  checkPermission,
  defaultRecipe,
  pictureSource,
  withoutPermission,
  type Recipe,
} from './index';

const SHAPE = { widthPx: 64, heightPx: 64 };
const rights = (id: string, permission: string) => ({ id, fileName: `${id}.png`, permission });

describe('permission', () => {
  const recipe: Recipe = defaultRecipe(['a'], 'stone', SHAPE);
  recipe.sources.push(pictureSource('second', 'b'));

  test('every picture that the finish is computed from needs one, others do not', () => {
    const bare = withoutPermission(recipe, [rights('a', '  '), rights('b', ''), rights('c', '')]);
    expect(bare.map((p) => p.id)).toEqual(['a']);
    expect(withoutPermission(recipe, [rights('a', 'sample box')])).toEqual([]);
  });

  test('it is an open check of the sample, by the name of the file', () => {
    expect(checkPermission(recipe, [rights('a', '')])).toEqual([
      expect.objectContaining({ section: 'sample', weight: 'open', code: 'permission-a' }),
    ]);
  });
});

test('colourways that are clipped or cannot be had are named; others are not', async () => {
  const pictures: Pictures = {
    data: async () => {
      throw new Error('No map is asked for here.');
    },
    info: async () => ({ ...SHAPE, sha256: 'dots' }),
    level: async () => {
      // A tenth of it is three times as light as the rest.
      const p = makeColourPicture(SHAPE.widthPx, SHAPE.heightPx);
      for (let i = 0; i < p.r.length; i++) p.r[i] = p.g[i] = p.b[i] = (i * 7919) % 10 === 0 ? 0.6 : 0.2;
      return p;
    },
  };
  const recipe = defaultRecipe(['a'], 'stone', SHAPE);
  const way = (name: string, colour: string) => ({
    id: name.toLowerCase(),
    name,
    code: '',
    target: { lab: [...parseColour(colour).lab] as [number, number, number], basis: 'assumed' as const },
  });
  recipe.colour.ways = [
    way('Dark', 'Lab 30 0 0'),
    way('Light', 'Lab 72 0 0'),
    way('Neon', 'Lab 60 140 -140'),
  ];
  recipe.repeat.across = recipe.repeat.up = { closing: 'abut', overlapMm: 0 };
  const checks = await checkColourways(recipe, pictures, 64);
  expect(checks.map((c) => [c.code, c.weight])).toEqual([
    ['way-clipped-light', 'open'],
    ['way-refused-neon', 'wrong'],
  ]);
  expect(checks[0]!.text).toMatch(/^Colourway Light: 10(\.\d)? % of it is brighter than white/);
});
