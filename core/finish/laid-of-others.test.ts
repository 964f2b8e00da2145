import { initialLayout, type LaidFinish, type LayoutSettings } from '../layout';
import { fractalNoise, halve, makeColourPicture, mapChannels, mean, type ColourPicture } from '../raster';
import { sizeKnownBy } from '../size';
import type { Pictures } from '../surface';
import { figure } from '../units';
import {
  defaultRecipe,
  issueFinish,
  lead,
  namedSamples,
  neededSamples,
  openRecipe,
  renderFinish,
  STAGE_VERSIONS,
  type Recipe,
} from './index';

/** Pieces and joints that are made of other finishes. */

const [W, H] = [160, 120];

function grey(tone: readonly [number, number, number], seed: number): ColourPicture {
  const p = makeColourPicture(W, H);
  for (let i = 0; i < p.r.length; i++) {
    const v = 1 + 0.25 * fractalNoise((i % W) / W, Math.floor(i / W) / H, 20, 16, 3, 0.6, seed);
    [p.r[i], p.g[i], p.b[i]] = tone.map((t) => t * v) as [number, number, number];
  }
  return p;
}
const SAMPLES: Record<string, ColourPicture> = {
  brick: grey([0.3, 0.12, 0.08], 1),
  glazed: grey([0.05, 0.12, 0.3], 2),
  mortar: grey([0.45, 0.42, 0.36], 3),
};
const PICTURES: Pictures = {
  info: async (id) => ({ widthPx: W, heightPx: H, sha256: id }),
  level: async (id, level) => {
    let p = SAMPLES[id]!;
    for (let k = 0; k < level; k++) p = mapChannels(p, halve);
    return p;
  },
  data: async () => {
    throw new Error('None of them has maps.');
  },
};

function recipeOf(id: string, widthMm: number, change: (r: Recipe) => void = () => undefined): Recipe {
  const recipe = defaultRecipe([id], 'brick', { widthPx: W, heightPx: H });
  lead(recipe).size = sizeKnownBy({ overall: figure(widthMm, 'mm', 'measured', 1) }, 'follows');
  recipe.colour.ruling = 'picture';
  change(recipe);
  return recipe;
}
const revision = (id: string, widthMm: number, change?: (r: Recipe) => void): LaidFinish => ({
  finishId: `finish-${id}`,
  letter: 'B',
  name: id,
  recipe: structuredClone(recipeOf(id, widthMm, change)),
  versions: STAGE_VERSIONS,
});
const GLAZED = revision('glazed', 300, (r) => (r.response.glossGu = figure(85, 'GU', 'measured', 1)));
const MORTAR = revision('mortar', 200, (r) => (r.response.glossGu = figure(2, 'GU', 'measured', 1)));

function wall(change: (l: LayoutSettings) => void): Recipe {
  return recipeOf('brick', 400, (r) => {
    r.response.glossGu = figure(6, 'GU', 'measured', 1);
    const layout = initialLayout('running');
    layout.repeatMm = { width: 900, height: 600 };
    change(layout);
    r.layout = layout;
  });
}
const insert = (share: number, finish: LaidFinish | null): LayoutSettings['blend']['others'][number] => ({
  id: 'g',
  name: 'Glazed',
  share,
  kind: null,
  lab: null,
  finish,
  shift: [0, 0, 0],
});
const withInserts = wall((l) => (l.blend.others = [insert(25, GLAZED)]));

const drawn = (recipe: Recipe, widthPx = 300) =>
  renderFinish(recipe, PICTURES, { widthPx, maps: ['colour', 'height', 'roughness', 'part'] });

/** Means of a plane by whether a pixel lies in blue pieces, red ones, or joints. */
async function byKind(recipe: Recipe) {
  const { maps, laid, report } = await drawn(recipe);
  const piece = (await laid!.pieces.get())!;
  const { colour, roughness, height } = maps;
  const kindAt = (i: number) =>
    piece[i]! < 0 ? 'joint' : colour.b[i]! > colour.r[i]! ? ('glazed' as const) : ('brick' as const);
  const of = { joint: [] as number[], glazed: [] as number[], brick: [] as number[] };
  for (const i of piece.keys()) of[kindAt(i)].push(i);
  const rough = (kind: keyof typeof of) =>
    mean(
      Float32Array.from(of[kind], (i) => (typeof roughness === 'number' ? roughness : roughness.data[i]!)),
    );
  return { of, rough, piece, colour, height, report };
}

test('pieces of another finish have its colour, its gloss and its relief; shares are met to a piece', async () => {
  const { of, rough, piece, report } = await byKind(withInserts);
  const glazed = new Set(of.glazed.map((i) => piece[i]!));
  expect(Math.abs(glazed.size - report.layout!.pieces * 0.25)).toBeLessThanOrEqual(1);
  // What is glazed is far smoother than brick.
  expect(rough('glazed')).toBeLessThan(0.6 * rough('brick'));
  expect(report.layout!.takeOff.shares[1]).toBeCloseTo(glazed.size / report.layout!.pieces, 1);
});

test('joints of another finish have its colour and grain, and lie as deep as they are set', async () => {
  const recipe = wall((l) => {
    l.joint = { ...l.joint, finish: MORTAR, lab: [5, 0, 0], depthMm: figure(4, 'mm', 'measured') };
    l.joint.profile = 'recessed';
  });
  const { of, colour, height, rough } = await byKind(recipe);
  const red = Float32Array.from(of.joint, (i) => colour.r[i]!);
  // Not the dark grey that is set for joints of no finish.
  expect(mean(red)).toBeGreaterThan(0.3);
  expect(Math.max(...red) / Math.min(...red)).toBeGreaterThan(1.15);
  const heights = (indices: number[]) => mean(Float32Array.from(indices, (i) => height.data[i]!));
  expect(heights(of.brick) - heights(of.joint)).toBeGreaterThan(3);
  expect(rough('joint')).toBeGreaterThan(rough('brick'));
});

test('the pictures of other finishes belong to those that are needed and named', () => {
  expect(neededSamples(withInserts)).toEqual(['brick', 'glazed']);
  expect(namedSamples(withInserts)).toEqual(['brick', 'glazed']);
  const both = wall((l) => {
    l.blend.others = [insert(10, GLAZED)];
    l.joint = { ...l.joint, finish: MORTAR };
  });
  expect(neededSamples(both)).toEqual(['brick', 'glazed', 'mortar']);
});

test('a recipe keeps other finishes when it is stored, and is issued with them', async () => {
  expect(openRecipe(structuredClone(withInserts))).toEqual(withInserts);
  const issued = await issueFinish(withInserts, PICTURES, 200);
  // Reflectance is that of the finish itself.
  expect(issued.measured.lrv).toBeCloseTo(
    (await issueFinish(recipeOf('brick', 400), PICTURES, 200)).measured.lrv,
    0,
  );
});

test('a finish that is itself laid of others is refused with its name, and so is a recipe that cannot be read', () => {
  const nested = wall((l) => {
    l.blend.others = [
      insert(10, { ...GLAZED, name: 'Chequered wall', recipe: structuredClone(withInserts) }),
    ];
  });
  expect(() => openRecipe(structuredClone(nested))).toThrow(
    /Chequered wall is itself made of other finishes/,
  );
  const broken = wall((l) => (l.blend.others = [insert(10, { ...GLAZED, recipe: { schema: 'other' } })]));
  expect(() => openRecipe(structuredClone(broken))).toThrow(/recipe of glazed cannot be read/);
});

test('a finish of other finishes is the same on every run, and follows its own tones', async () => {
  const once = await drawn(withInserts);
  const twice = await drawn(withInserts);
  expect(twice.maps.colour.b).toEqual(once.maps.colour.b);
  const toned = wall((l) => {
    l.blend.others = [insert(25, GLAZED)];
    l.shade = { lightness: 6, chroma: 0, hueDeg: 0, drift: 0 };
  });
  const { of, piece, colour } = await byKind(toned);
  const tones = new Map<number, number[]>();
  for (const i of of.glazed) tones.set(piece[i]!, [...(tones.get(piece[i]!) ?? []), colour.b[i]!]);
  const means = [...tones.values()].map((v) => mean(Float32Array.from(v)));
  expect(Math.max(...means) / Math.min(...means)).toBeGreaterThan(1.15);
});
