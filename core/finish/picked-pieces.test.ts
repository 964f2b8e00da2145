import { halve, mapChannels, type ColourPicture } from '../raster';
import { sizeKnownBy } from '../size';
import { StageCache, type Pictures } from '../surface';
import { boardFloor, brickwork, rgb } from '../test-pictures';
import { figure } from '../units';
import {
  defaultRecipe,
  laidOfPicked,
  lead,
  pickPieces,
  renderFinish,
  repetitionOf,
  withReplaced,
  type PickedPieces,
  type Recipe,
} from './index';

/** Pieces picked out of a sample, and finishes laid of them. */

function pictureOf(picture: ColourPicture, name = 'floor'): Pictures {
  const levels = [picture];
  return {
    info: async () => ({ widthPx: picture.widthPx, heightPx: picture.heightPx, sha256: name }),
    data: async () => {
      throw new Error('No map is asked for here.');
    },
    level: async (_, n) => {
      while (levels.length <= n) levels.push(mapChannels(levels.at(-1)!, halve));
      return levels[n]!;
    },
  };
}

/** A floor of boards of 97 mm and joints of 3 mm, cut off on all sides. */
const FLOOR = boardFloor({
  widthMm: 1000,
  heightMm: 550,
  pxPerMm: 0.8,
  seed: 21,
  boardMm: 97,
  jointMm: 3,
  shortestMm: 380,
  longestMm: 800,
  early: rgb('#b39671'),
  late: rgb('#5d452f'),
  ringPorous: true,
  knotsPerM2: 4,
}).colour;
const PICTURES = pictureOf(FLOOR);

const recipeFor = (picture: ColourPicture, widthMm: number, category: 'timber' | 'brick'): Recipe => {
  const recipe = defaultRecipe(['a'], category, picture);
  lead(recipe).size = sizeKnownBy({ overall: figure(widthMm, 'mm', 'measured', 1) }, 'follows');
  recipe.colour.ruling = 'picture';
  return recipe;
};
let names = 0;
const newId = () => `n${names++}`;
const cache = new StageCache();

let picked: PickedPieces;
let laid: Recipe;
beforeAll(async () => {
  const base = recipeFor(FLOOR, 1000, 'timber');
  picked = (await pickPieces(base, PICTURES))!;
  laid = laidOfPicked(base, picked, newId);
});
const drawn = (recipe: Recipe, widthPx = 500) =>
  renderFinish(recipe, PICTURES, { widthPx, maps: ['colour'], cache });

/** Mean green of every piece. */
async function tonesOf({
  maps,
  laid: pieces,
}: Awaited<ReturnType<typeof drawn>>): Promise<Map<number, number>> {
  const piece = (await pieces!.pieces.get())!;
  const sums = new Map<number, [number, number]>();
  maps.colour.g.forEach((v, i) => {
    if (piece[i]! < 0) return;
    const [sum, n] = sums.get(piece[i]!) ?? [0, 0];
    sums.set(piece[i]!, [sum + v, n + 1]);
  });
  return new Map([...sums].map(([id, [sum, n]]) => [id, sum / n]));
}

test('boards of a floor are picked, as wide as they are and without their joints', () => {
  expect(picked.kind).toBe('boards');
  expect(picked.pieceMm.width).toBeGreaterThan(95);
  expect(picked.pieceMm.width).toBeLessThan(98.5);
  expect(picked.jointMm.along).toBeGreaterThan(1.5);
  expect(picked.jointMm.along).toBeLessThan(4.5);
  // Joints are darker than any board.
  expect(picked.jointLab![0]).toBeLessThan(35);
  expect(picked.corners.length).toBeGreaterThan(6);
});

test('a floor is laid of them: no board beside itself, each in its own tone, the same at every size', async () => {
  expect(laid.layout!.bond.kind).toBe('random-length');
  expect(laid.layout!.faces.from).toBe('areas');
  const small = await drawn(laid);
  expect(small.report.layout!.equalNeighbours).toBe(0);
  expect(small.report.layout!.mirroredMm).toBeLessThan(3);
  expect(small.report.seam.acrossWidth).toBeLessThan(1.15);
  // Sharper, and drawn without anything that is known already, it is the same arrangement.
  const large = await renderFinish(laid, PICTURES, { widthPx: 1000, maps: ['colour'] });
  const [tones, same] = [await tonesOf(small), await tonesOf(large)];
  expect(same.size).toBe(tones.size);
  for (const [id, tone] of tones) expect(Math.abs(same.get(id)! / tone - 1)).toBeLessThan(0.02);
});

test('boards differ in tone as they do in the sample', async () => {
  const means = [...(await tonesOf(await drawn(laid))).values()];
  expect(Math.max(...means) / Math.min(...means)).toBeGreaterThan(1.15);
});

test('a blot on a board gives a laid floor away wherever the board is shown; replaced, it is gone and the board is not', async () => {
  // Three blots along a board, so that one is shown wherever a piece is cut from it.
  const [a, b, c, d] = lead(laid).preparation.areas[7]!.corners;
  const along = (t: number) =>
    ([0, 1] as const).map((k) => ((a[k] + d[k]) * (1 - t) + (b[k] + c[k]) * t) / 2) as [number, number];
  const blots = [0.2, 0.5, 0.8].map(along);
  const { widthPx: w, heightPx: h } = FLOOR;
  const nearest = (x: number, y: number) =>
    Math.min(...blots.map((blot) => Math.hypot(x - blot[0] * w, y - blot[1] * h)));
  const blotted = { ...FLOOR, r: FLOOR.r.slice(), g: FLOOR.g.slice(), b: FLOOR.b.slice() };
  for (let i = 0; i < w * h; i++)
    if (nearest(i % w, Math.floor(i / w)) < 13)
      for (const channel of ['r', 'g', 'b'] as const) blotted[channel][i]! *= 0.2;
  const pictures = pictureOf(blotted, 'blotted');
  const look = async (recipe: Recipe) => {
    const finish = await renderFinish(recipe, pictures, { widthPx: 700, maps: ['colour'] });
    const { telltales } = await repetitionOf(finish, 6000);
    return { strong: telltales.filter((t) => t.contrast > 9), report: finish.report.layout! };
  };
  const before = await look(laid);
  expect(before.strong.length).toBeGreaterThan(0);
  for (const { taken } of before.strong)
    for (const [x, y] of taken.flatMap(({ points }) => points))
      expect(nearest(x * w, y * h)).toBeLessThan(40);
  const replaced = withReplaced(laid, before.strong, newId);
  expect(lead(replaced).preparation.keepOuts.length).toBeGreaterThan(0);
  expect(replaced.repeat).toEqual(laid.repeat);
  const after = await look(replaced);
  for (const { taken } of after.strong)
    for (const [x, y] of taken.flatMap(({ points }) => points))
      expect(nearest(x * w, y * h)).toBeGreaterThan(20);
  // What lies beside the blot is cut from still.
  expect(after.report.timesEach!).toBeLessThanOrEqual(before.report.timesEach!);
});

test('a board that a keep-out reaches into is laid nowhere; when it reaches into all, that is refused', async () => {
  const keptOut = (top: number, bottom: number): Recipe => ({
    ...laid,
    sources: laid.sources.map((s) => ({
      ...s,
      preparation: {
        ...s.preparation,
        keepOuts: [
          {
            id: 'k',
            kind: 'outline' as const,
            erase: false,
            points: [
              [0.4, top],
              [0.6, top],
              [0.6, bottom],
              [0.4, bottom],
            ] as [number, number][],
          },
        ],
      },
    })),
  });
  // The middle of a board is lost; what is left of it is used, as long as it is long enough.
  const area = async (recipe: Recipe) =>
    (await drawn(recipe)).placed.sources.reduce((sum, { usedMm }) => sum + usedMm.width * usedMm.height, 0);
  expect(await area(keptOut(0.3, 0.35))).toBeLessThan((await area(laid)) - 10000);
  const everywhere = keptOut(0, 1);
  (everywhere.sources[0]!.preparation.keepOuts[0] as { points: [number, number][] }).points = [
    [0, 0],
    [1, 0],
    [1, 1],
    [0, 1],
  ];
  await expect(drawn(everywhere)).rejects.toThrow(/no face is left|nothing is left/);
});

test('a layout that is there keeps its bond and its sizes when pieces are picked anew', () => {
  const other = { ...laid, layout: { ...laid.layout!, seed: 9, piece: { ...laid.layout!.piece } } };
  other.layout.piece.lengthMm = figure(600, 'mm', 'measured', 1);
  const again = laidOfPicked(other, picked, newId);
  expect(again.layout).toEqual(other.layout);
  expect(lead(again).preparation.areas).toHaveLength(picked.corners.length);
});

test('bricks are picked whole, with their joints and their bond', async () => {
  const wall = brickwork({
    widthMm: 900,
    heightMm: 600,
    pxPerMm: 0.8,
    seed: 4,
    brickWidthMm: 215,
    brickHeightMm: 65,
    jointMm: 10,
    shift: 0.5,
    strayMm: 1.5,
    clay: rgb('#8d4a33'),
    burnt: rgb('#6b3a2c'),
    mortar: rgb('#b9b1a2'),
  }).colour;
  const base = recipeFor(wall, 900, 'brick');
  const found = (await pickPieces(base, pictureOf(wall)))!;
  expect(found.kind).toBe('pieces');
  expect(Math.abs(found.pieceMm.length - 215)).toBeLessThan(6);
  expect(Math.abs(found.pieceMm.width - 65)).toBeLessThan(5);
  expect(found.bond).toMatchObject({ kind: 'running', rising: false });
  expect(laidOfPicked(base, found, newId).layout!.bond).toMatchObject({ kind: 'running', shift: 0.5 });
});
