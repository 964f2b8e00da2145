import { initialLayout, type LayoutSettings } from '../layout';
import { fractalNoise, makeColourPicture, mapChannels, halve, mean, type ColourPicture } from '../raster';
import { unprepared } from '../sample';
import { sizeKnownBy } from '../size';
import type { Pictures } from '../surface';
import { figure } from '../units';
import {
  defaultRecipe,
  finishSizeMm,
  issueFinish,
  lead,
  neededSamples,
  openRecipe,
  renderFinish,
  unlaid,
  type Recipe,
} from './index';

/** A finish that is laid of pieces, from its recipe to its maps. */

const [W, H] = [240, 160];

/** Two boards, a light one above and a dark one below, with grain along them. */
function boards(): ColourPicture {
  const p = makeColourPicture(W, H);
  for (let i = 0; i < p.r.length; i++) {
    const [x, y] = [i % W, Math.floor(i / W)];
    const v = (y < H / 2 ? 0.5 : 0.2) * (1 + 0.2 * fractalNoise(x / W, y / H, 6, 40, 2, 0.5, 3));
    p.r[i] = v;
    p.g[i] = 0.8 * v;
    p.b[i] = 0.6 * v;
  }
  return p;
}
const PICTURE = boards();
const PICTURES: Pictures = {
  info: async () => ({ widthPx: W, heightPx: H, sha256: 'boards' }),
  level: async (_, level) => {
    let p = PICTURE;
    for (let k = 0; k < level; k++) p = mapChannels(p, halve);
    return p;
  },
  data: async () => {
    throw new Error('This finish has no maps.');
  },
};

function laid(change: (layout: LayoutSettings, recipe: Recipe) => void): Recipe {
  const recipe = defaultRecipe(['boards'], 'timber', { widthPx: W, heightPx: H });
  lead(recipe).size = sizeKnownBy({ overall: figure(480, 'mm', 'measured', 1) }, 'follows');
  const half = (id: string, top: number) => ({
    id,
    name: id,
    leftOut: false,
    corners: [
      [0, top],
      [1, top],
      [1, top + 0.5],
      [0, top + 0.5],
    ] as [[number, number], [number, number], [number, number], [number, number]],
  });
  lead(recipe).preparation = { ...unprepared(), areas: [half('light', 0), half('dark', 0.5)] };
  recipe.layout = {
    ...initialLayout('stack'),
    piece: { lengthMm: figure(400, 'mm', 'published', 1), widthMm: figure(100, 'mm', 'published', 0.5) },
    repeatMm: { width: 820, height: 420 },
  };
  recipe.layout.joint = {
    ...recipe.layout.joint,
    alongMm: figure(5, 'mm', 'published'),
    acrossMm: figure(5, 'mm', 'published'),
    depthMm: figure(2, 'mm', 'published'),
    profile: 'recessed',
    lab: [20, 0, 0],
    grainMm: 0,
  };
  change(recipe.layout, recipe);
  return recipe;
}

test('pieces cut from two picked areas alternate, at true size, with joints of their own', async () => {
  const recipe = laid((l) => (l.faces = { ...l.faces, from: 'areas' }));
  const { maps, report, widthPx, heightPx } = await renderFinish(recipe, PICTURES, {
    widthPx: 405,
    maps: ['colour', 'height', 'roughness', 'piece', 'part'],
  });
  expect([widthPx, heightPx]).toEqual([405, 210]);
  expect(report.repeatMm).toEqual({ width: 810, height: 420 });
  expect(report.repeatToleranceMm.width).toBeCloseTo((810 * 1) / 400);
  expect(report.layout).toMatchObject({
    pieces: 8,
    courses: 4,
    equalNeighbours: 0,
    timesEach: 4,
    continuedMm: 0,
    mirroredMm: 0,
    mirroredShare: 0,
  });
  // Of two by four pieces every one differs from those beside it.
  const tone = (i: number, j: number) => {
    const at = Math.round((52.5 + 105 * j) / 2) * widthPx + Math.round((202.5 + 405 * i) / 2);
    return maps.colour.r[at]! > 0.33 ? 'light' : 'dark';
  };
  expect([0, 1, 2, 3].map((j) => [0, 1].map((i) => tone(i, j)))).toEqual(
    [0, 1, 2, 3].map((j) => [0, 1].map((i) => tone((i + j) % 2, 0))),
  );
  // A joint between the first two courses, dark and recessed.
  const joint = Math.floor(105 / 2) * widthPx + 100;
  expect(maps.colour.r[joint]).toBeLessThan(0.12);
  expect(maps.height.data[joint]! - maps.height.data[joint + 20 * widthPx]!).toBeLessThan(-1.5);
  const roughness = maps.roughness as { data: Float32Array };
  expect(roughness.data[joint]).toBeGreaterThan(roughness.data[joint + 20 * widthPx]!);
});

test('the reflectance that rules is that of the faces, whatever the joints and tones', async () => {
  const recipe = laid((l, r) => {
    r.colour = { ...r.colour, ruling: 'lrv', lrv: figure(40, 'LRV', 'measured', 1) };
    l.joint = { ...l.joint, lab: [5, 0, 0] };
  });
  const { report } = await renderFinish(recipe, PICTURES, { widthPx: 300, maps: ['colour'] });
  expect(report.lrv).toBeCloseTo(40, 0);
  expect(report.layout!.overall.lrv).toBeLessThan(38.5);
  const { measured } = await issueFinish(recipe, PICTURES, 300);
  expect(measured.lrv).toBeCloseTo(40, 0);
});

test('faces are level: dark and light pieces stand equally high; only lippage lifts them', async () => {
  const depths = async (lippageMm: number) => {
    const recipe = laid((l) => {
      l.faces = { ...l.faces, from: 'areas' };
      l.tolerance = { ...l.tolerance, lippageMm };
    });
    const { maps } = await renderFinish(recipe, PICTURES, { widthPx: 405, maps: ['height', 'piece'] });
    const of = maps.piece as Int32Array;
    const means = Array.from({ length: 8 }, (_, id) =>
      mean(Float32Array.from([...maps.height.data].filter((__, i) => of[i] === id))),
    );
    return Math.max(...means) - Math.min(...means);
  };
  expect(await depths(0)).toBeLessThan(0.02);
  expect(await depths(2)).toBeGreaterThan(0.4);
});

test('a draft and a full set are the same layout; without it the finish is its repeat again', async () => {
  const recipe = laid((l) => (l.shade = { lightness: 4, chroma: 0, hueDeg: 0, drift: 0 }));
  const colourAt = async (widthPx: number) => {
    const { maps } = await renderFinish(recipe, PICTURES, { widthPx, maps: ['colour'] });
    const cell = widthPx / 4;
    return [0.5, 1.5, 2.5, 3.5].map((k) => {
      let sum = 0;
      const from = Math.round((k - 0.3) * cell);
      const to = Math.round((k + 0.3) * cell);
      const row = Math.round(0.12 * maps.colour.heightPx) * widthPx;
      for (let x = from; x < to; x++) sum += maps.colour.g[row + x]!;
      return sum / (to - from);
    });
  };
  const [draft, full] = [await colourAt(200), await colourAt(800)];
  draft.forEach((v, k) => expect(v / full[k]!).toBeCloseTo(1, 1));
  const shape = { widthPx: W, heightPx: H };
  expect(finishSizeMm(recipe, shape)).toEqual({ width: 810, height: 420 });
  expect(finishSizeMm(unlaid(recipe), shape).width).toBeLessThanOrEqual(480);
  expect(neededSamples(recipe)).toEqual(['boards']);
  expect(openRecipe(JSON.parse(JSON.stringify(recipe)))).toEqual(recipe);
});

test('what cannot be laid is refused where it is set', async () => {
  const none = laid((l, r) => {
    l.faces = { ...l.faces, from: 'areas' };
    lead(r).preparation = unprepared();
  });
  await expect(renderFinish(none, PICTURES, { widthPx: 100 })).rejects.toMatchObject({
    code: 'no-areas',
    where: 'layout.faces',
  });
  const wide = laid((l) => (l.joint = { ...l.joint, alongMm: figure(120, 'mm', 'assumed') }));
  await expect(renderFinish(wide, PICTURES, { widthPx: 100 })).rejects.toMatchObject({
    code: 'layout',
    message: expect.stringContaining('Make it less than 100 mm.'),
  });
  const long = laid((l) => {
    l.faces = { ...l.faces, from: 'areas' };
    l.piece = { ...l.piece, lengthMm: figure(600, 'mm', 'assumed') };
  });
  const { report } = await renderFinish(long, PICTURES, { widthPx: 100, maps: ['colour'] });
  expect(report.checks.map((c) => c.code)).toContain('piece-continued');
});

test('a gloss that faces worked so do not have is pointed out, until they have one of their own', async () => {
  const codes = async (kind: 'flamed' | 'wire-cut', glossGu: number, ofFaces = false) => {
    const recipe = laid((layout) => (layout.working = { kind, depthMm: 1 }));
    recipe.response.glossGu = figure(glossGu, 'GU', 'published', 2);
    if (ofFaces) recipe.response.parts = [{ part: 'face', glossGu: figure(glossGu, 'GU', 'published', 2) }];
    const { report } = await renderFinish(recipe, PICTURES, { widthPx: 120, maps: ['roughness'] });
    return report.checks.filter(({ code }) => code === 'gloss-of-working').map(({ text }) => text);
  };
  expect(await codes('flamed', 40)).toEqual([
    'Flamed faces usually read 0 to 6 GU at 60°; the finish has 40 GU.',
  ]);
  expect(await codes('flamed', 4)).toEqual([]);
  expect(await codes('flamed', 40, true)).toEqual([]);
  // Clay may be glazed over.
  expect(await codes('wire-cut', 80)).toEqual([]);
});
