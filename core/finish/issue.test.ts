import { goldenSources } from './golden/pictures';
import {
  asIssued,
  defaultRecipe,
  encodeMap,
  issueFinish,
  lead,
  mapsOf,
  renderFinish,
  STAGE_VERSIONS,
  type Recipe,
} from './index';
import { StageCache, type Pictures } from '../surface';

const PICTURES = goldenSources();

async function recipeOf(change: (r: Recipe) => void): Promise<Recipe> {
  const r = structuredClone(defaultRecipe(['wall'], 'stone', await PICTURES.info('wall')));
  change(r);
  return r;
}
const bytesOf = async (recipe: Recipe, widthPx: number, options: object, pictures: Pictures = PICTURES) => {
  const finish = await renderFinish(recipe, pictures, { widthPx, ...options });
  return mapsOf(recipe).map((name) => Buffer.from(encodeMap(finish, name).data.buffer).toString('base64'));
};
const composed = (r: Recipe) => {
  r.repeat.method = 'composed';
  r.repeat.composed = { ...r.repeat.composed, widthMm: 800, heightMm: 560 };
  lead(r).maps = [{ sampleId: 'roughness map', role: 'roughness', greenRuns: 'up' }];
};

test.each<[string, (r: Recipe) => void]>([
  ['composed, with a map of the set', composed],
  ['cut', (r) => (r.repeat.across = r.repeat.up = { closing: 'cut', overlapMm: 150 })],
  [
    'blended, with a place kept out',
    (r) => {
      const points: [number, number][] = [[0.3, 0.3], [0.5, 0.3], [0.4, 0.5]]; // prettier-ignore
      lead(r).preparation.keepOuts = [{ id: 'k', kind: 'outline', erase: false, points }];
    },
  ],
])('what was solved when it was issued gives the same bytes at any size: %s', async (_, change) => {
  const recipe = await recipeOf(change);
  const issued = await issueFinish(recipe, PICTURES, 200);
  expect(issued.versions).toEqual(STAGE_VERSIONS);
  const options = asIssued(issued.versions, issued.solved);
  for (const widthPx of [160, 333])
    expect(await bytesOf(recipe, widthPx, options)).toEqual(await bytesOf(recipe, widthPx, {}));
});

test('nothing is solved again for a revision, and nothing is kept where nothing had to be solved', async () => {
  const recipe = await recipeOf(composed);
  const { solved, versions } = await issueFinish(recipe, PICTURES, 200);
  const steps: string[] = [];
  const onProgress = (_: number, step: string) => steps.push(step);
  await renderFinish(recipe, PICTURES, { widthPx: 200, onProgress, ...asIssued(versions, solved) });
  expect(steps).not.toContain('Composing the repeat');
  expect((await issueFinish(await recipeOf(() => undefined), PICTURES, 200)).solved).toBeNull();
});

test('another way of solving does not change what was issued', async () => {
  const recipe = await recipeOf(composed);
  const { solved, versions } = await issueFinish(recipe, PICTURES, 200);
  const before = await bytesOf(recipe, 200, asIssued(versions, solved));
  // As if a later version solved it otherwise: another seed stands for another method.
  const otherwise = structuredClone(recipe);
  otherwise.repeat.arrangements[0]!.seed = 77;
  expect(await bytesOf(otherwise, 200, {})).not.toEqual(before);
  expect(await bytesOf(otherwise, 200, asIssued(versions, solved))).toEqual(before);
});

test('what is measured is what a render of it reports', async () => {
  const recipe = await recipeOf(composed);
  const { measured } = await issueFinish(recipe, PICTURES, 300);
  const { report } = await renderFinish(recipe, PICTURES, { widthPx: 300, cache: new StageCache() });
  expect([measured.lrv, measured.lab]).toEqual([report.lrv, report.meanLab]);
});

describe('what was solved before', () => {
  /** Remembers everything that is solved, and counts what it is asked for. */
  const memory = () => {
    const known = new Map<string, Uint8Array>();
    const asked: string[] = [];
    const solvedBefore = async (key: string) => {
      asked.push(key);
      return known.get(key) ?? null;
    };
    return { known, asked, solvedBefore };
  };
  const steps = () => {
    const said: string[] = [];
    return { said, onProgress: (_: number, step: string) => said.push(step) };
  };
  const solvedFor = async (recipe: Recipe) =>
    (await renderFinish(recipe, PICTURES, { widthPx: 120, maps: ['colour'] })).solved;

  test('is looked up, and gives the same bytes without solving', async () => {
    const recipe = await recipeOf(composed);
    const { known, asked, solvedBefore } = memory();
    const { key, bytes } = (await solvedFor(recipe))!;
    known.set(key, await bytes());
    const { said, onProgress } = steps();
    const found = await bytesOf(recipe, 240, { solvedBefore, onProgress });
    expect(found).toEqual(await bytesOf(recipe, 240, {}));
    expect(said).not.toContain('Composing the repeat');
    expect(asked).toEqual([key]);
  });

  test('is looked up once where it is not known, and solved then', async () => {
    const recipe = await recipeOf(composed);
    const { asked, solvedBefore } = memory();
    const cache = new StageCache();
    const { said, onProgress } = steps();
    const first = await bytesOf(recipe, 120, { solvedBefore, cache, onProgress });
    expect(said).toContain('Composing the repeat');
    expect(await bytesOf(recipe, 120, { solvedBefore, cache })).toEqual(first);
    expect(asked).toHaveLength(1);
  });

  const cut = (r: Recipe) => (r.repeat.across = r.repeat.up = { closing: 'cut', overlapMm: 150 });
  test.each<[string, boolean, (r: Recipe) => void]>([
    ['the reflectance', true, (r) => (r.colour.hand = { ...r.colour.hand, lightness: 4 })],
    ['the overlap', false, (r) => (r.repeat.up.overlapMm = 140)],
    [
      'a map of the set',
      false,
      (r) => (lead(r).maps = [{ sampleId: 'height map', role: 'height', greenRuns: 'up' }]),
    ],
    ['the levelling', false, (r) => (lead(r).light.levelling = { radiusMm: null, shading: 0, shadingMm: 2 })],
  ])('after a change of %s its key stays: %s', async (_, stays, change) => {
    const before = (await solvedFor(await recipeOf(cut)))!.key;
    const after = (await solvedFor(await recipeOf((r) => (cut(r), change(r)))))!.key;
    expect(after === before).toBe(stays);
  });

  test('is solved again where its bytes are not readable', async () => {
    const { said, onProgress } = steps();
    const solvedBefore = async () => new Uint8Array([1, 2, 3]);
    const recipe = await recipeOf(cut);
    expect(await bytesOf(recipe, 120, { solvedBefore, onProgress })).toEqual(await bytesOf(recipe, 120, {}));
    expect(said).toContain('Composing the repeat');
  });

  test('is nothing where edges are blended', async () => {
    expect(await solvedFor(await recipeOf(() => undefined))).toBeNull();
  });
});
