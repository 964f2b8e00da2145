import fc from 'fast-check';
import { makeColourPicture, makePlane, mean, seededRandom, type Plane } from '../raster';
import { withZeroSteps } from '../relief';
import { atOnce } from '../steps';
import { namedPart, RenderContext, type Pending, type Surface } from '../surface';
import { figure } from '../units';
import {
  glossOfRoughness,
  glossSpread,
  highestGloss,
  responseStage,
  VARIES_WITH,
  type GlossVariation,
  type ResponseSettings,
} from './index';

const SIDE = 64;
const GLASS = { kind: 'dielectric', index: 1.5 } as const;
const now = <T>(key: string, value: T): Pending<T> => ({ key, get: async () => value });

/** Boards 16 mm wide with a dark groove between them, and noise over all; 1 mm pixels. */
function boards(): Surface {
  const random = seededRandom(5);
  const [height, knot] = [makePlane(SIDE, SIDE), makePlane(SIDE, SIDE)];
  const colour = makeColourPicture(SIDE, SIDE);
  for (let i = 0; i < SIDE * SIDE; i++) {
    const [x, y] = [i % SIDE, Math.floor(i / SIDE)];
    const groove = x % 16 < 2;
    height.data[i] = (groove ? -1 : 0) + 0.05 * random.normal();
    colour.r[i] = colour.g[i] = colour.b[i] = (groove ? 0.05 : 0.3) + 0.02 * random.next();
    knot.data[i] = Math.hypot(x - 40, y - 30) < 9 ? 1 : 0;
  }
  return {
    sizeMm: { width: SIDE, height: SIDE },
    px: { width: SIDE, height: SIDE },
    detailMm: { x: 1, y: 1 },
    fields: {
      colour: now('boards', colour),
      height: now('boards height', atOnce(withZeroSteps(height, 'mean'))),
    },
    maps: new Map(),
    parts: new Map([['knot', namedPart('Knots', now('knot', knot))]]),
    pieces: now('none', null),
  };
}
const SURFACE = boards();
const settings = (more: Partial<ResponseSettings>, gu = 18): ResponseSettings => ({
  base: { kind: 'dielectric', index: figure(1.5, '1', 'assumed') },
  glossGu: figure(gu, 'GU', 'measured'),
  ...more,
});
const variation = (from: GlossVariation['from'], byGu: number, reachMm = 6): GlossVariation => ({
  ...{ id: from, from, byGu, reachMm, seed: 1 },
});
async function respond(of: ResponseSettings, surface = SURFACE) {
  const pictures = { info: jest.fn(), level: jest.fn(), data: jest.fn() };
  const ctx = new RenderContext(pictures, { widthPx: SIDE, way: null, category: null });
  const made = responseStage.run(ctx, of, surface);
  const field = made.fields.roughness!;
  const roughness = typeof field === 'number' ? field : await field.get();
  return { roughness, ...(await responseStage.report(ctx, of, made)) };
}
const glossOf = ({ data }: Plane) => Array.from(data, (r) => glossOfRoughness(r, GLASS));

test('whatever the gloss varies with, its mean is what was asked for', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.double({ min: 6, max: 80, noNaN: true }),
      fc.array(
        fc.record({
          from: fc.constantFrom(...VARIES_WITH),
          byGu: fc.integer({ min: -60, max: 60 }).filter((v) => v !== 0),
          reachMm: fc.double({ min: 2, max: 40, noNaN: true }),
        }),
        { minLength: 1, maxLength: 3 },
      ),
      async (gu, kinds) => {
        const all = kinds.map((kind, k) => ({ ...kind, id: `${k}`, seed: k }));
        const { roughness, report } = await respond(settings({ variation: all }, gu));
        expect(Math.abs(mean(Float32Array.from(glossOf(roughness as Plane))) - gu)).toBeLessThan(1);
        expect(Math.abs(report.glossSpread!.meanGu - gu)).toBeLessThan(1);
        // As a file of 8 bits holds it.
        const rounded = (roughness as Plane).data.map((r) => Math.round(255 * r) / 255);
        expect(
          Math.abs(mean(Float32Array.from(glossOf({ ...(roughness as Plane), data: rounded }))) - gu),
        ).toBeLessThan(1);
      },
    ),
    { numRuns: 25 },
  );
});

test.each([
  ['hollows', -12],
  ['dark', -12],
  ['arrises', 12],
  ['light', 12],
] as const)(
  'grooves, which are %s to their surroundings or not, are the more matt part',
  async (from, byGu) => {
    const { roughness } = await respond(settings({ variation: [variation(from, byGu)] }));
    const gloss = glossOf(roughness as Plane);
    const meanOf = (groove: boolean) =>
      mean(Float32Array.from(gloss.filter((_, i) => (i % SIDE) % 16 < 2 === groove)));
    expect(meanOf(true)).toBeLessThan(meanOf(false) - 3);
  },
);

test('a part has its own gloss, and all else keeps the one asked for on average', async () => {
  const parts = [{ part: 'knot', glossGu: figure(60, 'GU' as const, 'measured') }];
  const { roughness, checks } = await respond(
    settings({ parts, variation: [variation('generated', 10, 20)] }),
  );
  const gloss = glossOf(roughness as Plane);
  const knot = (await SURFACE.parts.get('knot')!.get()).data;
  const inKnot = gloss.filter((_, i) => knot[i] === 1);
  expect(Math.min(...inKnot)).toBeGreaterThan(59.5);
  expect(Math.max(...inKnot)).toBeLessThan(60.5);
  expect(mean(Float32Array.from(gloss.filter((_, i) => knot[i] === 0)))).toBeCloseTo(18, 0);
  expect(checks).toEqual([]);
});

test('no gloss leaves what the material can have, and the spread says what is there', async () => {
  const { roughness, report } = await respond(settings({ variation: [variation('generated', 150, 20)] }, 50));
  const gloss = glossOf(roughness as Plane);
  expect(Math.max(...gloss)).toBeLessThanOrEqual(highestGloss(GLASS) + 1e-3);
  const { shares, lowGu, highGu, mostGu } = report.glossSpread!;
  expect(shares.reduce((a, b) => a + b)).toBeCloseTo(1, 9);
  expect([lowGu < 25, highGu > 75, mostGu]).toEqual([true, true, highestGloss(GLASS)]);
});

test('the spread of another finish is met in shape, about the gloss asked for; the order of places stays', async () => {
  // A skewed reference: most of it near 12 GU, a tail up to 60.
  const quantilesGu = Array.from({ length: 33 }, (_, k) => 12 + 48 * (k / 32) ** 4);
  const all = [variation('generated', 10, 20)];
  const plain = glossOf((await respond(settings({ variation: all }, 25))).roughness as Plane);
  const { roughness, report } = await respond(
    settings({ variation: all, spreadLike: { name: 'Coped ash', quantilesGu } }, 25),
  );
  const gloss = glossOf(roughness as Plane);
  const steps = quantilesGu.slice(1).map((gu, k) => (gu + quantilesGu[k]!) / 2);
  const shift = report.glossSpread!.meanGu - steps.reduce((sum, gu) => sum + gu, 0) / steps.length;
  expect(Math.abs(report.glossSpread!.meanGu - 25)).toBeLessThan(0.3);
  for (const k of [4, 8, 16, 24, 28, 31])
    expect(Math.abs(report.glossSpread!.quantilesGu[k]! - quantilesGu[k]! - shift)).toBeLessThan(0.8);
  for (let i = 1; i < gloss.length; i++)
    if (plain[i]! > plain[i - 1]! + 0.1) expect(gloss[i]!).toBeGreaterThanOrEqual(gloss[i - 1]! - 0.05);
});

test('a spread without any variation changes nothing, and that is said', async () => {
  const quantilesGu = Array.from({ length: 33 }, (_, k) => k);
  const { roughness, checks } = await respond(settings({ spreadLike: { name: 'Coped ash', quantilesGu } }));
  expect(typeof roughness).toBe('number');
  expect(checks.map(({ code }) => code)).toEqual(['gloss-spread-of-nothing']);
});

test('without variation one value stays one value', async () => {
  const { roughness, report } = await respond(settings({ variation: [variation('hollows', 0)], parts: [] }));
  expect(typeof roughness).toBe('number');
  expect(report.glossSpread).toBeNull();
  const even = { ...makePlane(2, 2), data: new Float32Array(4).fill(roughness as number) };
  expect(atOnce(glossSpread(even, GLASS)).meanGu).toBeCloseTo(18, 0);
});

test('a part that is gone, or a gloss it cannot have, is said; so is a map that stands in place of all', async () => {
  const parts = [
    { part: 'resin', glossGu: figure(60, 'GU' as const, 'measured') },
    { part: 'knot', glossGu: figure(140, 'GU' as const, 'measured') },
  ];
  const { checks } = await respond(settings({ parts }));
  expect(checks.map((c) => c.code)).toEqual(['gloss-part-missing-resin', 'gloss-out-of-reach-knot']);
  expect(checks[0]!.text).toMatch(/a part that this finish does not have.*Choose one of: Knots/);
  const grey = makeColourPicture(SIDE, SIDE);
  const withMap = {
    ...SURFACE,
    maps: new Map([['roughness' as const, now('r', { picture: grey, greenRuns: 'up' as const })]]),
  };
  expect((await respond(settings({ parts: [parts[1]!] }), withMap)).checks.map((c) => c.code)).toContain(
    'gloss-variation-unused',
  );
});
