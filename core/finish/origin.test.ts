import { halve, mapChannels, type ColourPicture } from '../raster';
import { sizeKnownBy } from '../size';
import { StageCache, type Pictures } from '../surface';
import { boardFloor, rgb } from '../test-pictures';
import { figure } from '../units';
import { defaultRecipe, lead, renderFinish, type Recipe } from './index';

/** The face of a plank: rows of pixels along its grain differ much from each other by nature. */
const { colour: PLANK } = boardFloor({
  widthMm: 300,
  heightMm: 100,
  pxPerMm: 2,
  seed: 5,
  boardMm: 100,
  jointMm: 0,
  shortestMm: 300,
  longestMm: 300,
  early: rgb('#b39671'),
  late: rgb('#6b4f36'),
  ringPorous: true,
  knotsPerM2: 0,
  face: true,
});
const sources: Pictures = {
  info: async () => ({ widthPx: PLANK.widthPx, heightPx: PLANK.heightPx, sha256: 'plank' }),
  data: async () => {
    throw new Error('No map is asked for here.');
  },
  level: async (_, n) => {
    let p: ColourPicture = PLANK;
    for (let k = 0; k < n; k++) p = mapChannels(p, halve);
    return p;
  },
};
const RECIPE: Recipe = (() => {
  const r = defaultRecipe(['a'], 'timber', PLANK);
  lead(r).size = sizeKnownBy({ overall: figure(300, 'mm', 'measured', 1) }, 'follows');
  r.colour = { ...r.colour, ruling: 'picture' };
  r.repeat = {
    ...r.repeat,
    method: 'composed',
    composed: { ...r.repeat.composed, widthMm: 300, heightMm: 240 },
  };
  return r;
})();

test('a repeat begins at a line like others at several resolutions, though lines differ by nature', async () => {
  const cache = new StageCache();
  const off: number[] = [];
  for (const widthPx of [450, 600, 840]) {
    const { seam } = (await renderFinish(RECIPE, sources, { widthPx, maps: ['colour'], cache })).report;
    // Along the grain the lines inside are far from alike …
    expect(seam.inside.acrossHeight.to - seam.inside.acrossHeight.from).toBeGreaterThan(0.3);
    // … and the edge is one of them.
    expect(seam.acrossHeight).toBeGreaterThan(seam.inside.acrossHeight.from);
    expect(seam.acrossHeight).toBeLessThan(seam.inside.acrossHeight.to);
    off.push(Math.abs(Math.log(seam.acrossHeight)), Math.abs(Math.log(seam.acrossWidth)));
  }
  // A line taken by chance is off by about 0.15 at each of them.
  expect(off.reduce((a, b) => a + b) / off.length).toBeLessThan(0.1);
});

test('an open edge stays where it is', async () => {
  const open = structuredClone(RECIPE);
  open.repeat.composed.closed = 'across';
  const { placed } = await renderFinish(open, sources, { widthPx: 300, maps: ['colour'] });
  expect(placed.map.cells!.closed).toEqual({ across: true, up: false });
  // What lies in the uppermost row comes from rows of the sample that run on downwards, not from over the edge.
  const { copy, placements, widthPx: W, heightPx: H } = placed.map.cells!;
  const mm = { x: 300 / W, y: 240 / H };
  let beyond = 0;
  for (let p = 0; p < copy.length; p++) {
    const { offsetXMm, offsetYMm } = placements[copy[p]!]!;
    const [x, y] = [offsetXMm + ((p % W) + 0.5) * mm.x, offsetYMm + (Math.floor(p / W) + 0.5) * mm.y];
    if (Math.min(x, y) <= 0 || x >= 300 || y >= 100) beyond++;
  }
  expect(beyond).toBe(0);
});
