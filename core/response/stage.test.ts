import { makeColourPicture, type ColourPicture, type Plane } from '../raster';
import type { MapRole } from '../sample';
import { namedPart, RenderContext, type MapOfSet, type Pending, type Surface } from '../surface';
import { figure } from '../units';
import { glossOfRoughness, responseStage, type ResponseSettings } from './index';

const now = <T>(key: string, value: T): Pending<T> => ({ key, get: async () => value });
function even(value: number): ColourPicture {
  const p = makeColourPicture(8, 8);
  for (const c of ['r', 'g', 'b'] as const) p[c].fill(value);
  return p;
}
const surfaceOf = (lightness: number, maps: [MapRole, ColourPicture][] = []): Surface => ({
  sizeMm: { width: 8, height: 8 },
  px: { width: 8, height: 8 },
  detailMm: { x: 1, y: 1 },
  fields: { colour: now(`even ${lightness}`, even(lightness)) },
  maps: new Map(maps.map(([role, picture]) => [role, now<MapOfSet>(role, { picture, greenRuns: 'up' })])),
  parts: new Map(),
  pieces: now('none', null),
});
const coated = (glossGu: number): ResponseSettings => ({
  base: { kind: 'dielectric', index: figure(1.5, '1', 'assumed') },
  glossGu: figure(glossGu, 'GU', 'measured'),
});
const bare = (glossGu: number): ResponseSettings => ({
  base: { kind: 'metal' },
  glossGu: figure(glossGu, 'GU', 'measured'),
});
async function respond(settings: ResponseSettings, surface: Surface) {
  const ctx = new RenderContext(
    { info: jest.fn(), level: jest.fn(), data: jest.fn() },
    { widthPx: 8, way: null, category: null },
  );
  const made = responseStage.run(ctx, settings, surface);
  const value = async (name: 'roughness' | 'metalness' | 'opacity') => {
    const field = made.fields[name]!;
    return typeof field === 'number' ? field : field.get();
  };
  return { value, made, ...(await responseStage.report(ctx, settings, made)) };
}

test('one roughness everywhere reads the asked gloss', async () => {
  const { value, report, checks } = await respond(coated(30), surfaceOf(0.4));
  const roughness = (await value('roughness')) as number;
  expect(glossOfRoughness(roughness, { kind: 'dielectric', index: 1.5 })).toBeCloseTo(30, 0);
  expect(report.roughness).toBe(roughness);
  expect([await value('metalness'), await value('opacity')]).toEqual([0, 1]);
  expect(checks).toEqual([]);
});

test('a metal reads its gloss by its own reflectance: a darker one has to be smoother', async () => {
  const dark = await respond(bare(200), surfaceOf(0.4));
  const light = await respond(bare(200), surfaceOf(0.8));
  expect(await light.value('roughness')).toBeGreaterThan((await dark.value('roughness')) as number);
  expect(await light.value('metalness')).toBe(1);
});

test('a gloss that cannot be is said with the most that can', async () => {
  const { checks } = await respond(coated(300), surfaceOf(0.4));
  expect(checks.map((c) => [c.code, c.weight])).toEqual([['gloss-out-of-reach', 'wrong']]);
  expect(checks[0]!.text).toMatch(/a perfect mirror of index 1\.5 has \d+ GU/);
});

test('maps of the set stand in place of one value; gloss counts the other way', async () => {
  const rough = await respond(
    coated(30),
    surfaceOf(0.4, [
      ['roughness', even(0.7)],
      ['metalness', even(0.25)],
      ['opacity', even(0.5)],
    ]),
  );
  const shiny = await respond(coated(30), surfaceOf(0.4, [['gloss', even(0.75)]]));
  const first = async (field: Promise<number | Plane>) => ((await field) as Plane).data[0];
  expect(await first(rough.value('roughness'))).toBeCloseTo(0.7, 6);
  expect(await first(rough.value('metalness'))).toBeCloseTo(0.25, 6);
  expect(await first(rough.value('opacity'))).toBeCloseTo(0.5, 6);
  expect(await first(shiny.value('roughness'))).toBeCloseTo(0.25, 6);
});

/** The left half of the surface is a part. */
const chips: Plane = {
  widthPx: 8,
  heightPx: 8,
  data: Float32Array.from({ length: 64 }, (_, i) => (i % 8 < 4 ? 1 : 0)),
};
const withChips = (lightness: number): Surface => ({
  ...surfaceOf(lightness),
  parts: new Map([['chip', namedPart('Chips', now('chips', chips))]]),
});

test('a part of gold is bare metal of that colour and reads the gloss as a metal', async () => {
  const { value, made, report } = await respond(
    {
      ...coated(40),
      metals: [{ part: 'chip', of: { from: 'constants', metal: 'gold' } }],
      parts: [{ part: 'chip', glossGu: figure(300, 'GU', 'measured') }],
    },
    withChips(0.2),
  );
  const [roughness, metalness] = [await value('roughness'), await value('metalness')] as [Plane, Plane];
  expect([metalness.data[0], metalness.data[7]]).toEqual([1, 0]);
  const { lrv, linear } = report.metals.parts[0]!.colour!;
  expect(glossOfRoughness(roughness.data[0]!, { kind: 'metal', f0: lrv / 100 })).toBeCloseTo(300, 0);
  expect(glossOfRoughness(roughness.data[7]!, { kind: 'dielectric', index: 1.5 })).toBeCloseTo(40, 0);
  const colour = await made.fields.colour!.get();
  expect(colour.r[0]).toBeCloseTo(linear[0], 4);
  expect([colour.r[7], colour.g[7]]).toEqual([Math.fround(0.2), Math.fround(0.2)]);
  // Half of the surface is gold, as light as it is; the other half stays.
  expect(report.recoloured!.lrv).toBeGreaterThan(40);
  expect(report.recoloured!.lrv).toBeLessThan(50);
});

test.each([
  [
    'film on nothing',
    { films: [{ part: null, thicknessNm: figure(300, 'nm', 'assumed'), index: figure(2, '1', 'assumed') }] },
    'film-on-nothing-all',
  ],
  ['a metal of no part', { metals: [{ part: 'gone', of: { from: 'picture' } }] }, 'metal-part-missing-gone'],
  [
    'more gloss across scratches than along',
    { brushed: { acrossGu: figure(80, 'GU', 'measured'), alongDeg: 0 } },
    'brushed-out-of-reach',
  ],
  [
    'more light through cloth than there is',
    {
      openness: {
        openPercent: figure(60, '%', 'measured'),
        between: 'dark',
        diffusePercent: figure(50, '%', 'measured'),
      },
    },
    'more-light-than-there-is',
  ],
  [
    'glass that is too clear',
    {
      base: {
        kind: 'glass',
        index: figure(1.52, '1', 'published'),
        thicknessMm: figure(6, 'mm', 'published'),
        lightPercent: figure(96, '%', 'published'),
        ofThicknessMm: figure(6, 'mm', 'published'),
        tint: [0, 0],
      },
    },
    'glass-too-clear',
  ],
] as const)('%s is said', async (_, changes, code) => {
  const { checks } = await respond({ ...coated(20), ...changes } as ResponseSettings, withChips(0.4));
  expect(checks.map((check) => check.code)).toContain(code);
});

test('a brushed metal is smoother along its scratches than its gloss alone would say', async () => {
  const even = await respond(bare(250), surfaceOf(0.58));
  const { value, report, checks } = await respond(
    { ...bare(250), brushed: { acrossGu: figure(120, 'GU', 'measured'), alongDeg: 0 } },
    surfaceOf(0.58),
  );
  expect(report.brushed!.readsAlongGu).toBeCloseTo(250, -1);
  expect(report.brushed!.strength).toBeGreaterThan(0.2);
  expect(((await value('roughness')) as Plane).data[0]).toBeLessThan(
    (await even.value('roughness')) as number,
  );
  expect(checks).toEqual([]);
});
