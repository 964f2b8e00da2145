import { makeColourPicture, type ColourPicture } from '../raster';
import { RenderContext, type MapOfSet, type Pending, type Surface } from '../surface';
import type { MapRole } from '../sample';
import { figure } from '../units';
import { reliefStage } from './stage';
import type { ReliefContribution, ReliefSettings } from './settings';

const SIDE = 64;
const now = <T>(key: string, value: T): Pending<T> => ({ key, get: async () => value });

/** Waves along x, `count` of them over the side, of values 0.2 to 0.8. */
function waves(count: number): ColourPicture {
  const p = makeColourPicture(SIDE, SIDE);
  for (const c of ['r', 'g', 'b'] as const)
    p[c].forEach(
      (_, i) => (p[c][i] = 0.5 + 0.3 * Math.sin((2 * Math.PI * count * ((i % SIDE) + 0.5)) / SIDE)),
    );
  return p;
}
function surfaceOf(maps: [MapRole, ColourPicture][] = []): Surface {
  return {
    sizeMm: { width: 64, height: 64 },
    px: { width: SIDE, height: SIDE },
    detailMm: { x: 1, y: 1 },
    fields: { picture: now('waves', waves(4)) },
    maps: new Map(
      maps.map(([role, picture]) => [role, now<MapOfSet>(`map ${role}`, { picture, greenRuns: 'up' })]),
    ),
    parts: new Map(),
    pieces: now('none', null),
  };
}
const contribution = (change: Partial<ReliefContribution> = {}): ReliefContribution =>
  ({
    kind: 'picture',
    id: 'c1',
    name: 'Picture',
    depthMm: figure(2, 'mm', 'measured'),
    broad: 1,
    middle: 1,
    fine: 1,
    broadFromMm: 40,
    fineBelowMm: 4,
    smoothMm: 0,
    invert: false,
    ...change,
  }) as ReliefContribution;
const relief = (...contributions: ReliefContribution[]): ReliefSettings => ({ contributions, zero: 'mean' });

const context = () =>
  new RenderContext(
    { info: jest.fn(), level: jest.fn(), data: jest.fn() },
    { widthPx: SIDE, way: null, category: null },
  );
const heightOf = async (settings: ReliefSettings, surface = surfaceOf()) => {
  const made = reliefStage.run(context(), settings, surface);
  return (await made.fields.height!.get()).data;
};

test('contributions add up: two alike are twice as deep, one turned over takes the other away', async () => {
  const one = await heightOf(relief(contribution()));
  const two = await heightOf(relief(contribution(), contribution({ id: 'c2', name: 'Again' })));
  const none = await heightOf(relief(contribution(), contribution({ id: 'c2', invert: true })));
  one.forEach((mm, i) => expect(two[i]).toBeCloseTo(2 * mm, 4));
  expect(Math.max(...one) - Math.min(...one)).toBeCloseTo(2, 1);
  expect(Math.max(...none.map(Math.abs))).toBeLessThan(1e-4);
});

test('what is light stands higher, unless turned over', async () => {
  const { g } = waves(4);
  const lightest = g.indexOf(Math.max(...g));
  const plain = await heightOf(relief(contribution()));
  const over = await heightOf(relief(contribution({ invert: true })));
  expect(plain[lightest]).toBeCloseTo(Math.max(...plain), 6);
  expect(over[lightest]).toBeCloseTo(Math.min(...over), 6);
});

test('no contribution is a flat finish, with normals straight up', async () => {
  const made = reliefStage.run(context(), relief(), surfaceOf());
  expect((await made.fields.height!.get()).data.every((mm) => mm === 0)).toBe(true);
  expect((await made.fields.normal!.get()).z.every((z) => z === 1)).toBe(true);
});

test('a map of the set tells the height of its contribution, the picture that of another', async () => {
  const surface = surfaceOf([['height', waves(8)]]);
  const map = contribution({ kind: 'map' } as Partial<ReliefContribution>);
  const fromMap = await heightOf(relief(map), surface);
  const fromBoth = await heightOf(relief(map, contribution({ id: 'c2' })), surface);
  const fromPicture = await heightOf(relief(contribution({ id: 'c2' })), surface);
  fromBoth.forEach((mm, i) => expect(mm).toBeCloseTo(fromMap[i]! + fromPicture[i]!, 4));
  // Eight waves and no four.
  const share = (data: Float32Array, count: number) =>
    Math.abs(data.reduce((sum, v, i) => sum + v * waves(count).g[i % SIDE]!, 0)) / data.length;
  expect(share(fromMap.subarray(0, SIDE), 8)).toBeGreaterThan(20 * share(fromMap.subarray(0, SIDE), 4));
});

test('a relief from a map that is not there is refused by its place in the recipe', async () => {
  const map = contribution({ kind: 'map' } as Partial<ReliefContribution>);
  expect(() => reliefStage.run(context(), relief(map), surfaceOf())).toThrow(
    expect.objectContaining({ code: 'no-height-map', where: 'relief.contributions' }),
  );
});

test('the report tells depth and slope, and what is only assumed', async () => {
  const settings = relief(contribution({ depthMm: figure(30, 'mm', 'assumed') }));
  const ctx = context();
  const { report, checks } = await reliefStage.report(
    ctx,
    settings,
    reliefStage.run(ctx, settings, surfaceOf()),
  );
  expect(report.heightMm.max - report.heightMm.min).toBeCloseTo(30, 0);
  // A sine of 30 mm over 16 mm is as steep as atan(π · 30 / 16).
  expect(report.slopeDeg.p99).toBeGreaterThan(78);
  expect(report.slopeDeg.p99).toBeLessThan(81);
  expect(checks.map((c) => c.code)).toEqual(['too-steep', 'depth-assumed']);
});
