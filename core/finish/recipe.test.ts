import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import { ZodError } from 'zod';
import { Refusal, type Pictures } from '../surface';
import { figure } from '../units';
import {
  defaultRecipe,
  reliefFrom,
  leadGeometry,
  lead,
  neededSamples,
  openRecipe,
  pictureSource,
  renderMaps,
  SCHEMA_ID,
  withMapsOfSet,
  type Category,
  type Recipe,
} from './index';

type Loose = Record<string, Record<string, unknown>> & { schema: string };

/** A recipe as it was stored by a former version. These files never change. */
const stored = (version: number) =>
  JSON.parse(readFileSync(join(__dirname, 'versions/stored', `${version}.json`), 'utf8')) as Loose;
/**
 * Layouts, generated finishes, weathering and derivation came later than version 6: a recipe without them says that there are
 * none. Where boards end in a composed repeat is not asked any more: they are laid.
 */
const NEWEST: Recipe = (() => {
  const { repeat, ...recipe } = stored(6) as unknown as Recipe;
  const { ends: _, ...composed } = repeat.composed as Recipe['repeat']['composed'] & { ends: string };
  const later = { layout: null, generated: null, weathering: [], derived: null };
  return { ...recipe, repeat: { ...repeat, composed }, ...later };
})();

test.each([1, 2, 3, 4, 5])(
  'a recipe that was stored as version %d says today what it said then',
  (version) => {
    const wanted = structuredClone(NEWEST);
    // Version 4 was the first to number arrangements; its file has a seed of its own.
    if (version === 4) wanted.repeat.arrangements = [{ number: 1, seed: 77, redone: [] }];
    expect(openRecipe(stored(version))).toEqual(wanted);
  },
);

test('opening changes nothing that is up to date, nor what it was given', () => {
  expect(NEWEST.schema).toBe(SCHEMA_ID);
  expect(openRecipe(NEWEST)).toEqual(NEWEST);
  for (const version of [1, 2, 3, 4, 5]) {
    const old = stored(version);
    openRecipe(old);
    expect(old).toEqual(stored(version));
  }
});

test('every step leads to the next version, whatever the newest one is', () => {
  for (const version of [1, 2, 3, 4, 5]) {
    const { schema } = stored(version);
    expect(schema).toBe(`jossel.finish/${version}`);
  }
  // What no step knows is left to the schema, which names it.
  expect(() => openRecipe({ ...NEWEST, schema: 'jossel.finish/7' })).toThrow(ZodError);
});

test('in version 2 no reflectance ruled where none was given', () => {
  const old = stored(2);
  old['colour'] = {};
  expect(openRecipe(old).colour).toMatchObject({ ruling: 'picture', lrv: null });
});

test('joined pictures of version 5 become sources of their own, and what was taken out of them stays taken out', () => {
  const old = stored(5) as unknown as {
    source: { sampleIds: string[] };
    sample: { areas: object[]; used: string | null };
    repeat: { way: string; compose: Record<string, unknown>; arrangements: object[] };
  };
  const corners = [[0, 0], [0.4, 0], [0.4, 0.4], [0, 0.4]]; // prettier-ignore
  old.source.sampleIds = ['one', 'two', 'three'];
  old.sample.areas = ['a', 'b'].map((id) => ({ id, name: id, leftOut: false, corners }));
  old.sample.used = 'a';
  old.repeat.way = 'compose';
  Object.assign(old.repeat.compose, {
    areas: ['b', 'gone'],
    pictures: [{ sampleId: 'three', widthMm: 500 }],
  });
  const points = [[0, 0], [1, 0], [1, 1]]; // prettier-ignore
  old.repeat.arrangements = [
    { number: 1, seed: 1, redone: [{ id: 'x', seed: 1, areas: [points], taken: [{ source: 1, points }] }] },
  ];
  const recipe = openRecipe(old);
  expect(recipe.sources.map(({ id, sampleId }) => [id, sampleId])).toEqual([
    ['p1', 'one'],
    ['p2', 'two'],
    ['p3', 'three'],
  ]);
  expect(recipe.repeat.from).toEqual([
    { source: 'p1', area: 'a' },
    { source: 'p1', area: 'b' },
    { source: 'p3', area: null },
  ]);
  expect(recipe.sources[2]!.size!.overall.across!.value).toBe(500);
  expect(recipe.repeat.arrangements[0]!.redone[0]!.taken[0]!.source).toBe('p3');
  expect(neededSamples(recipe)).toEqual(['one', 'three']);
});

test.each<[string, (r: Loose) => unknown, RegExp]>([
  ['a version of the future', (r) => (r.schema = 'jossel.finish/99'), /^schema /],
  ['no version', (r) => delete (r as Partial<Loose>).schema, /^schema /],
  [
    'a repeat of a source that is not there',
    (r) => (r['repeat']!['from'] = [{ source: 'p9', area: null }]),
    /^repeat\.from\.0\.source There is no source "p9"/,
  ],
  [
    'two sources of one name',
    (r) => (r['sources'] as unknown as object[]).push((r['sources'] as unknown as object[])[0]!),
    /^sources\.1\.id Two sources have the name "p1"/,
  ],
  [
    'a leading picture without a size',
    (r) => ((r['sources'] as unknown as { size: unknown }[])[0]!.size = null),
    /^sources\.0\.size The picture that leads the repeat needs a size/,
  ],
  [
    'bands of relief that overlap',
    (r) => ((r['relief']!['contributions'] as { fineBelowMm: number }[])[0]!.fineBelowMm = 1e4),
    /^relief\.contributions\.0\.fineBelowMm Fine detail must end below where broad detail begins/,
  ],
  [
    'a stretch that makes another finish',
    (r) => ((r['repeat']!['composed'] as Record<string, unknown>)['stretchMost'] = 0.3),
    /^repeat\.composed\.stretchMost At most 10 % of stretch/,
  ],
])('what cannot be read says where and why: %s', (_, change, message) => {
  const r = structuredClone(NEWEST) as unknown as Loose;
  change(r);
  let said = '';
  try {
    openRecipe(r);
  } catch (error) {
    expect(error).toBeInstanceOf(ZodError);
    said = (error as ZodError).issues.map((i) => `${i.path.join('.')} ${i.message}`).join('\n');
  }
  expect(said).toMatch(message);
});

test.each([
  null,
  undefined,
  7,
  'a recipe',
  [],
  {},
  { schema: 'jossel.finish/5' },
  { schema: 'jossel.finish/1', size: 3 },
])('%p is no recipe', (value) => {
  expect(() => openRecipe(value)).toThrow(ZodError);
});

describe('recipes with anything in them', () => {
  const SIDE = 24;
  const pictures: Pictures = {
    info: async (id) => ({ widthPx: SIDE, heightPx: SIDE, sha256: id }),
    level: async (_, level) => {
      const side = Math.max(1, SIDE >> level);
      const data = Float32Array.from({ length: side * side }, (_, i) => 0.2 + 0.3 * ((i * 7) % 5) * 0.1);
      return { widthPx: side, heightPx: side, r: data, g: data, b: data };
    },
    data: (id, level) => pictures.level(id, level),
  };
  /** Mostly what is plain, now and then anything else. */
  const mostly = <T, U>(plain: fc.Arbitrary<T>, else_: fc.Arbitrary<U>) =>
    fc.oneof({ arbitrary: plain, weight: 6 }, { arbitrary: else_, weight: 1 });
  const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
  const lengthMm = mostly(number(1, 400), fc.oneof(number(0, 3000), fc.constantFrom(0, 0.001, -3, 1e5)));
  const closing = fc.constantFrom('blend' as const, 'mirror' as const, 'cut' as const, 'abut' as const);
  const corner = fc.tuple(number(-0.2, 1.2), number(-0.2, 1.2));
  const whole = [{ source: 'p1', area: null }];

  const anything = fc
    .record({
      widthMm: lengthMm,
      closings: fc.tuple(closing, closing),
      overlaps: fc.tuple(lengthMm, lengthMm),
      depthMm: lengthMm,
      glossGu: mostly(number(1, 90), number(-5, 3000)),
      lrv: fc.option(mostly(number(5, 60), number(-3, 120))),
      quad: mostly(fc.constant(null), fc.tuple(corner, corner, corner, corner)),
      from: mostly(
        fc.constantFrom(whole, [...whole, { source: 'p2', area: null }]),
        fc.array(
          fc.record({ source: fc.constantFrom('p1', 'p2'), area: fc.constantFrom(null, 'a', 'gone') }),
        ),
      ),
      kind: mostly(fc.constant('picture' as const), fc.constant('map' as const)),
      method: mostly(fc.constant('edges' as const), fc.constant('composed' as const)),
      contributions: fc.integer({ min: 0, max: 3 }),
    })
    .map((x) => {
      const r = structuredClone(defaultRecipe(['one'], 'stone', { widthPx: SIDE, heightPx: SIDE }));
      lead(r).size!.overall.across = figure(x.widthMm, 'mm', 'measured');
      lead(r).preparation.frame = x.quad as never;
      r.sources.push(pictureSource('p2', 'two'));
      r.repeat.method = x.method;
      r.repeat.from = structuredClone(x.from);
      r.repeat.across = { closing: x.closings[0], overlapMm: x.overlaps[0] };
      r.repeat.up = { closing: x.closings[1], overlapMm: x.overlaps[1] };
      const [first] = reliefFrom(r.relief, x.kind).contributions;
      r.relief.contributions = Array.from({ length: x.contributions }, (_, k) => ({
        ...first!,
        id: `r${k}`,
        depthMm: figure(x.depthMm, 'mm', 'assumed'),
      }));
      r.response.glossGu = figure(x.glossGu, 'GU', 'measured');
      if (x.lrv !== null) Object.assign(r.colour, { ruling: 'lrv', lrv: figure(x.lrv, 'LRV', 'published') });
      return r;
    });

  test('are refused with a sentence, or rendered; nothing else comes of them', async () => {
    let [refused, done] = [0, 0];
    await fc.assert(
      fc.asyncProperty(anything, async (recipe) => {
        try {
          const { maps } = await renderMaps(
            openRecipe(recipe),
            pictures,
            { widthPx: 16, maps: ['colour', 'height', 'roughness'] },
            ['sources', 'repeat', 'colour', 'relief', 'response'],
          );
          expect(maps.colour.g.every(Number.isFinite)).toBe(true);
          expect(maps.height.data.every(Number.isFinite)).toBe(true);
          done++;
        } catch (error) {
          expect(
            [Refusal, ZodError].some((kind) => error instanceof kind) ? '' : String((error as Error).stack),
          ).toBe('');
          expect((error as Error).message.length).toBeGreaterThan(15);
          refused++;
        }
      }),
      { numRuns: 40 },
    );
    expect(refused).toBeGreaterThan(5);
    expect(done).toBeGreaterThan(5);
  });

  test('a picture whose frame cannot be is refused, and the place is named', () => {
    const r = structuredClone(defaultRecipe(['one'], 'stone', { widthPx: SIDE, heightPx: SIDE }));
    lead(r).preparation.frame = [[0, 0], [1, 1], [1, 0], [0, 1]]; // prettier-ignore
    expect(() => leadGeometry(r, { widthPx: SIDE, heightPx: SIDE })).toThrow(Refusal);
  });
});

test('gloss begins lower in hollows, by a share that depends on the category; where a set tells the gloss it is left to it', () => {
  const SHAPE = { widthPx: 800, heightPx: 600 };
  const variationOf = (category: Category) => defaultRecipe(['a'], category, SHAPE).response.variation ?? [];
  expect(variationOf('timber')).toMatchObject([{ from: 'hollows', byGu: -4.8 }]);
  expect(variationOf('ceramic')).toMatchObject([{ from: 'hollows', byGu: -16 }]);
  expect(variationOf('glass')).toEqual([]);
  // A published gloss is what it is a share of.
  const published = defaultRecipe(['a'], 'stone', { ...SHAPE, sheet: { glossGu: 60 } }).response;
  expect(published.variation).toMatchObject([{ byGu: -24 }]);
  const map = (role: 'roughness' | 'height') => [{ role, sampleId: 'm' }] as never;
  const plain = defaultRecipe(['a'], 'stone', SHAPE);
  expect(withMapsOfSet(plain, map('roughness')).response.variation).toEqual([]);
  expect(withMapsOfSet(plain, map('height')).response.variation).toEqual(plain.response.variation);
});
