import {
  defaultRecipe,
  laidOfPicked,
  lead,
  pickPieces,
  type PickedPieces,
  type Recipe,
} from '@jossel/core/finish';
import { layoutSizeMm } from '@jossel/core/layout';
import { halve, mapChannels } from '@jossel/core/raster';
import { sizeKnownBy } from '@jossel/core/size';
import type { Pictures } from '@jossel/core/surface';
import { figure } from '@jossel/core/units';
import { LAYINGS } from './laid/bonds';
import { photograph, type Tones } from './laid/photographed';

/** Pieces picked out of photographs of layings whose bond, sizes and joints are known. */

const WIDTH_MM = 1800;
const BRICK: Tones = {
  face: [0.35, 0.14, 0.09],
  other: [0.3, 0.12, 0.08],
  joint: [0.5, 0.47, 0.42],
  varies: 0.5,
  grain: 0.15,
};
const SLATE: Tones = { ...BRICK, face: [0.35, 0.3, 0.29], other: [0.3, 0.3, 0.28], joint: [0.1, 0.09, 0.08] };

async function picked(
  name: string,
  tones: Tones,
  widthPx = 1200,
): Promise<{ found: PickedPieces; laid: Recipe }> {
  const heightPx = (3 * widthPx) / 4;
  const shot = {
    widthPx,
    heightPx,
    widthMm: WIDTH_MM,
    slopeDeg: 0.2,
    nearer: [0, 0] as const,
    bow: 0,
    fall: 0.15,
    noise: 0.01,
    seed: 3,
  };
  const levels = [photograph(LAYINGS[name]!(3), tones, shot).picture];
  const pictures: Pictures = {
    info: async () => ({ widthPx, heightPx, sha256: name }),
    data: async () => {
      throw new Error('No map is asked for here.');
    },
    level: async (_, n) => {
      while (levels.length <= n) levels.push(mapChannels(levels.at(-1)!, halve));
      return levels[n]!;
    },
  };
  const recipe = defaultRecipe(['a'], 'stone', levels[0]!);
  lead(recipe).size = sizeKnownBy({ overall: figure(WIDTH_MM, 'mm', 'measured', 1) }, 'follows');
  const found = (await pickPieces(recipe, pictures))!;
  let names = 0;
  return { found, laid: laidOfPicked(recipe, found, () => `n${names++}`) };
}

test.each([
  ['garden wall bond', BRICK, { kind: 'english', stretcherCourses: 3 }, [230, 65], 10, 1.5],
  // Joints of less than 2 px.
  ['herringbone', BRICK, { kind: 'herringbone', diagonal: true }, [149, 73], 3, 2.5],
] as const)(
  '%s: pieces, joints and bond are those of the wall',
  async (name, tones, bond, [lengthMm, widthMm], jointMm, withinMm) => {
    const { found, laid } = await picked(name, tones);
    expect(found.kind).toBe('pieces');
    expect(laid.layout!.bond).toMatchObject(bond);
    for (const [is, should] of [
      [found.pieceMm.length, lengthMm],
      [found.pieceMm.width, widthMm],
      [found.jointMm.along, jointMm],
      [found.jointMm.across, jointMm],
    ] as const)
      expect(Math.abs(is - should)).toBeLessThan(withinMm);
    expect(layoutSizeMm(laid.layout!).width).toBeGreaterThan(0);
  },
);

test('crazy paving: stones of any outline, as large and as different as they are', async () => {
  const { found, laid } = await picked('crazy paving', SLATE, 800);
  expect(found.kind).toBe('stones');
  expect(laid.layout!.bond).toMatchObject({ kind: 'crazy-paving' });
  // One stone takes a square of 260 mm.
  const cell = (found.pieceMm.length + found.jointMm.across) * (found.pieceMm.width + found.jointMm.along);
  expect(Math.abs(Math.sqrt(cell) / 260 - 1)).toBeLessThan(0.06);
  // Joints of 15 mm, and wider where three stones leave a gap.
  expect(found.jointMm.along).toBeGreaterThan(12);
  expect(found.jointMm.along).toBeLessThan(20);
  expect(found.corners.length).toBeGreaterThan(12);
});
