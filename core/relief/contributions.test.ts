import fc from 'fast-check';
import { makeColourPicture, makePlane, percentiles, type Plane } from '../raster';
import { namedPart, RenderContext, type MapOfSet, type Pending, type Surface } from '../surface';
import { figure } from '../units';
import { combineSteps } from './compose';
import { curvatureSteps } from './curvature';
import { directionSentence } from './direction';
import { generatedReliefSteps } from './generated';
import { bandsOfPlaneSteps, heightOfBandsSteps, summedBandsSteps } from './height';
import { reliefOfPartSteps } from './parts';
import { reliefSchema, type ReliefContribution, type ReliefSettings } from './settings';
import { reliefStage } from './stage';
import { atOnce } from '../steps';

const SIDE = 64;
const MM = { x: 0.5, y: 0.5 };
const now = <T>(key: string, value: T): Pending<T> => ({ key, get: async () => value });

/** A plane by its place, px. */
function planeOf(at: (x: number, y: number) => number, side = SIDE): Plane {
  const plane = makePlane(side, side);
  for (let y = 0; y < side; y++) for (let x = 0; x < side; x++) plane.data[y * side + x] = at(x, y);
  return plane;
}
/** A joint of 8 px across the middle. */
const joint = planeOf((x) => (x >= 28 && x < 36 ? 1 : 0));

function surfaceOf(parts: [string, Plane][] = [], height?: Plane): Surface {
  const picture = makeColourPicture(SIDE, SIDE);
  for (const c of ['r', 'g', 'b'] as const)
    picture[c].forEach(
      (_, i) => (picture[c][i] = 0.4 + 0.2 * Math.sin((2 * Math.PI * 4 * (i % SIDE)) / SIDE)),
    );
  const grey = height && { ...makeColourPicture(SIDE, SIDE), r: height.data, g: height.data, b: height.data };
  return {
    sizeMm: { width: SIDE * MM.x, height: SIDE * MM.y },
    px: { width: SIDE, height: SIDE },
    detailMm: MM,
    fields: { picture: now('picture', picture) },
    maps: new Map(grey ? [['height', now<MapOfSet>('height', { picture: grey, greenRuns: 'up' })]] : []),
    parts: new Map(parts.map(([id, plane]) => [id, namedPart(id.toUpperCase(), now(`part ${id}`, plane))])),
    pieces: now('none', null),
  };
}
const mm = (value: number) => figure(value, 'mm', 'measured');
const picture: ReliefContribution = {
  kind: 'picture',
  id: 'picture',
  name: 'Picture',
  depthMm: mm(1),
  broad: 1,
  middle: 1,
  fine: 1,
  broadFromMm: 20,
  fineBelowMm: 2,
  smoothMm: 0,
  invert: false,
};
const part = (change: Partial<ReliefContribution> = {}): ReliefContribution =>
  ({
    kind: 'part',
    id: 'joints',
    name: 'Joints',
    depthMm: mm(3),
    part: 'joint',
    raised: false,
    edgeMm: 0,
    ...change,
  }) as ReliefContribution;

async function made(surface: Surface, ...contributions: ReliefContribution[]) {
  const settings: ReliefSettings = { contributions, zero: 'top' };
  const ctx = new RenderContext(
    { info: jest.fn(), level: jest.fn(), data: jest.fn() },
    { widthPx: SIDE, way: null, category: null },
  );
  const out = reliefStage.run(ctx, settings, surface);
  const { data } = await out.fields.height!.get();
  return { data, reported: await reliefStage.report(ctx, settings, out), fields: out.fields };
}
const at = (data: Float32Array, x: number, y = 10) => data[y * SIDE + x]!;

describe('a part', () => {
  test('lies as deep below the rest as is asked, and goes down over the width of its edge', () => {
    const { data } = atOnce(reliefOfPartSteps(joint, MM, { depthMm: 3, raised: false, edgeMm: 2 }));
    expect(at(data, 5) - at(data, 32)).toBeCloseTo(3, 6);
    // Centred on the outline: a quarter of a millimetre inside it, less than half the way.
    expect(at(data, 28) - at(data, 32)).toBeGreaterThan(0);
    expect(at(data, 26) - at(data, 32)).toBeLessThan(3);
    expect(at(data, 24)).toBeCloseTo(at(data, 5), 6);
  });
  test('stands out where it is raised; one that is everywhere or nowhere is level', () => {
    const { data } = atOnce(reliefOfPartSteps(joint, MM, { depthMm: 3, raised: true, edgeMm: 0 }));
    expect(at(data, 32) - at(data, 5)).toBeCloseTo(3, 6);
    for (const weight of [0, 1]) {
      const level = atOnce(
        reliefOfPartSteps(makePlane(SIDE, SIDE, weight), MM, { depthMm: 3, raised: true, edgeMm: 0 }),
      );
      expect(Math.max(...level.data) - Math.min(...level.data)).toBe(0);
    }
  });
  test('that the finish does not have is left out, and said with those it has', async () => {
    const surface = surfaceOf([['knot', joint]]);
    const alone = await made(surface, picture);
    for (const gone of [
      part(),
      part({
        part: 'knot',
        mask: { place: 'part', part: 'joint', reachMm: 5, softenMm: 0, except: false },
      } as Partial<ReliefContribution>),
    ]) {
      const without = await made(surface, picture, gone);
      expect([...without.data]).toEqual([...alone.data]);
      expect(without.reported.checks.map((c) => c.text).join()).toMatch(
        /“Joints” uses a part that this finish does not have, so it is left out. Choose one of: KNOT\./,
      );
    }
  });
});

describe('combining', () => {
  const values = fc.array(fc.float({ min: -5, max: 5, noNaN: true }), { minLength: 4, maxLength: 4 });
  const plane = (data: readonly number[]): Plane => ({
    widthPx: 2,
    heightPx: 2,
    data: Float32Array.from(data),
  });

  test('adding is the sum, replacing the newer, and highest and lowest bound it', () => {
    fc.assert(
      fc.property(values, values, (a, b) => {
        const by = (how: Parameters<typeof combineSteps>[3]) => {
          const sum = plane(a);
          atOnce(combineSteps(sum, plane(b), null, how));
          return [...sum.data];
        };
        const [x, y] = [plane(a).data, plane(b).data];
        by('add').forEach((v, i) => expect(v).toBeCloseTo(x[i]! + y[i]!, 4));
        by('replace').forEach((v, i) => expect(v).toBeCloseTo(y[i]!, 4));
        by('highest').forEach((v, i) => expect(v).toBeCloseTo(Math.max(x[i]!, y[i]!), 4));
        by('lowest').forEach((v, i) => expect(v).toBeCloseTo(Math.min(x[i]!, y[i]!), 4));
      }),
    );
  });

  test('one that replaces on a part leaves the rest as it is', async () => {
    const surface = surfaceOf([['joint', joint]]);
    const mask = { place: 'part', part: 'joint', reachMm: 5, softenMm: 0, except: false } as const;
    const alone = await made(surface, picture);
    const both = await made(surface, picture, part({ combine: 'replace', mask }));
    const shift = at(both.data, 5) - at(alone.data, 5);
    for (const x of [2, 10, 20, 45]) expect(at(both.data, x) - at(alone.data, x)).toBeCloseTo(shift, 5);
    expect(new Set(Array.from({ length: 6 }, (_, k) => at(both.data, 29 + k).toFixed(5))).size).toBe(1);
  });

  test('one that is switched off counts for nothing, and what it needs need not be there', async () => {
    const alone = await made(surfaceOf(), picture);
    const off = await made(surfaceOf(), picture, part({ off: true }));
    expect([...off.data]).toEqual([...alone.data]);
  });

  test('what is kept to hollows lies in the hollows of what is below it', async () => {
    const grain: ReliefContribution = {
      kind: 'generated',
      id: 'grain',
      name: 'Grain',
      depthMm: mm(0.2),
      longestMm: 4,
      shortestMm: 1,
      stretch: 1,
      along: 'width',
      falloff: 0.5,
      seed: 3,
      mask: { place: 'hollows', reachMm: 16, softenMm: 0, except: false },
    };
    const surface = surfaceOf([['joint', joint]]);
    const without = await made(surface, part());
    const withGrain = await made(surface, part(), grain);
    const change = withGrain.data.map((v, i) => v - without.data[i]!);
    const spread = (from: number, to: number) => {
      const all = Array.from(
        { length: SIDE * (to - from) },
        (_, k) => change[Math.floor(k / (to - from)) * SIDE + from + (k % (to - from))]!,
      );
      const mean = all.reduce((sum, v) => sum + v, 0) / all.length;
      return Math.sqrt(all.reduce((sum, v) => sum + (v - mean) ** 2, 0) / all.length);
    };
    expect(spread(29, 35)).toBeGreaterThan(0.02);
    expect(spread(45, 60)).toBeLessThan(0.2 * spread(29, 35));
  });
});

describe('measured height', () => {
  test('is as deep as its map says, however little of it is shown', async () => {
    // A quarter of the range of a map of 4 mm.
    const ramp = planeOf((x) => 0.5 + 0.25 * Math.sin((2 * Math.PI * x) / SIDE) * 0.5);
    const { data } = await made(surfaceOf([], ramp), {
      ...picture,
      kind: 'measured',
      id: 'm',
      depthMm: mm(4),
    } as ReliefContribution);
    expect(Math.max(...data) - Math.min(...data)).toBeCloseTo(1, 2);
  });
  test('needs a measured height', async () => {
    const error = await made(surfaceOf(), { ...picture, kind: 'measured' } as ReliefContribution).catch(
      (e: unknown) => e,
    );
    expect((error as Error).message).toMatch(/no measured height/);
  });
});

describe('generated variation', () => {
  const variation = (change: object = {}) =>
    ({
      kind: 'generated',
      id: 'g',
      name: 'Variation',
      depthMm: mm(0.6),
      longestMm: 16,
      shortestMm: 2,
      stretch: 1,
      along: 'width',
      falloff: 0.5,
      seed: 1,
      ...change,
    }) as Extract<ReliefContribution, { kind: 'generated' }>;
  const size = { width: 64, height: 64 };
  const px = { width: 128, height: 128 };

  test('has its depth, closes on itself, and is the same at every density', () => {
    const { data } = atOnce(generatedReliefSteps(variation(), size, px));
    expect(Math.max(...data) - Math.min(...data)).toBeCloseTo(0.6, 3);
    const step = (a: number, b: number) => {
      let sum = 0;
      for (let y = 0; y < 128; y++) sum += Math.abs(data[y * 128 + a]! - data[y * 128 + b]!);
      return sum / 128;
    };
    expect(step(127, 0)).toBeLessThan(1.6 * step(63, 64));
    const dense = atOnce(generatedReliefSteps(variation(), size, { width: 256, height: 256 })).data;
    const mean = (x: number, y: number) =>
      (dense[2 * y * 256 + 2 * x]! +
        dense[2 * y * 256 + 2 * x + 1]! +
        dense[(2 * y + 1) * 256 + 2 * x]! +
        dense[(2 * y + 1) * 256 + 2 * x + 1]!) /
      4;
    for (const [x, y] of [
      [10, 20],
      [64, 3],
      [100, 99],
    ] as const)
      expect(Math.abs(mean(x, y) - data[y * 128 + x]!)).toBeLessThan(0.03);
  });
  test('is longer along its direction by its stretch', () => {
    const { data } = atOnce(generatedReliefSteps(variation({ stretch: 6 }), size, px));
    const roughness = (dx: number, dy: number) => {
      let sum = 0;
      for (let y = 0; y < 127; y++)
        for (let x = 0; x < 127; x++) sum += (data[(y + dy) * 128 + x + dx]! - data[y * 128 + x]!) ** 2;
      return Math.sqrt(sum);
    };
    expect(roughness(0, 1)).toBeGreaterThan(3 * roughness(1, 0));
  });
});

test('levels clip a height at their ends and shift its middle', () => {
  const ramp = planeOf((x) => x / SIDE);
  const bands = atOnce(bandsOfPlaneSteps(ramp, MM, { broadFromMm: 20, fineBelowMm: 2 }));
  const shape = {
    broad: 1,
    middle: 1,
    fine: 1,
    broadFromMm: 20,
    fineBelowMm: 2,
    smoothMm: 0,
    invert: false,
    depthMm: 2,
  };
  const levels = { low: 0.25, high: 0.75, middle: 0.25 };
  const { data } = atOnce(
    heightOfBandsSteps(atOnce(summedBandsSteps(bands, MM, shape)), { ...shape, levels }),
  );
  const [low, middle, high] = percentiles(data, [0.1, 0.5, 0.9]) as [number, number, number];
  expect(high - low).toBeCloseTo(1, 1);
  expect((middle - low) / (high - low)).toBeCloseTo(0.25, 1);
});

test('curvature of a sphere is one over its radius, of a hollow the same below 0, and of a ramp none', () => {
  const radius = 40;
  const cap = (sign: number) =>
    planeOf((x, y) => {
      const [u, v] = [(x - 31.5) * MM.x, (y - 31.5) * MM.y];
      return sign * Math.sqrt(radius * radius - u * u - v * v);
    });
  const middle = 32 * SIDE + 32;
  for (const sign of [1, -1]) {
    const { data } = atOnce(curvatureSteps(cap(sign), MM));
    for (const i of [middle, middle + 12, middle - 10 * SIDE - 8])
      expect(Math.abs(data[i]! * sign * radius - 1)).toBeLessThan(0.02);
  }
  expect(
    Math.abs(
      atOnce(
        curvatureSteps(
          planeOf((x) => 0.3 * x),
          MM,
        ),
      ).data[middle]!,
    ),
  ).toBeLessThan(1e-5);
});

describe('which way it goes', () => {
  test('joints that are recessed lie below the faces; joints that stand out are questioned', async () => {
    const surface = surfaceOf([['joint', joint]]);
    const down = await made(surface, part({ depthMm: mm(1.5) }));
    expect(down.reported.report.directions).toHaveLength(1);
    expect(directionSentence(down.reported.report.directions[0]!)).toBe(
      'Joints lie 1.5\u2009mm below the faces.',
    );
    expect(down.reported.checks.map((c) => c.code)).not.toContain('joints-raised');
    const up = await made(surface, part({ depthMm: mm(1.5), raised: true } as Partial<ReliefContribution>));
    expect(directionSentence(up.reported.report.directions[0]!)).toMatch(/1.5\u2009mm above/);
    expect(up.reported.checks.map((c) => c.code)).toContain('joints-raised');
  });
  test('without parts it is told by dark and light', async () => {
    const { reported } = await made(surfaceOf(), picture);
    expect(directionSentence(reported.report.directions[0]!)).toMatch(
      /^Dark areas lie 0\.\d+\u2009mm below light ones/,
    );
  });
});

test('a relief that cannot be is refused with what would be', () => {
  const refused = (c: object) =>
    reliefSchema.safeParse({ contributions: [{ ...picture, ...c }], zero: 'top' }).error?.issues[0]?.message;
  expect(refused({ depthMm: { value: -1, unit: 'mm', basis: 'assumed' } })).toMatch(/depth|point/i);
  expect(refused({ depthMm: { value: 5000000, unit: 'mm', basis: 'assumed' } })).toBeDefined();
  expect(refused({ levels: { low: 0.5, high: 0.5, middle: 0.5 } })).toMatch(/must be above the low one/);
  expect(refused({ mask: { place: 'part' } })).toBe('Name the part.');
  expect(refused({})).toBeUndefined();
});
