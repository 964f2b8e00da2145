import {
  NO_PICTURES,
  bytesOf,
  canonicalJson,
  hashOf,
  Pipeline,
  Refusal,
  refusing,
  namedPart,
  RenderContext,
  StageCache,
  Stopped,
  withFields,
  type Stage,
  type Surface,
  type SurfaceStage,
} from './index';

const ASKED = { widthPx: 4, way: null, category: null };

test('settings hash alike whatever the order of their keys', () => {
  expect(canonicalJson({ b: 1, a: [2, { d: 3, c: 4 }] })).toBe('{"a":[2,{"c":4,"d":3}],"b":1}');
  expect(hashOf({ a: 1, b: 2 })).toBe(hashOf({ b: 2, a: 1 }));
  expect(hashOf({ a: 1 })).not.toBe(hashOf({ a: 2 }));
});

test('the cache lets go of what was used least recently', () => {
  const cache = new StageCache(1000);
  cache.set('a', new Float32Array(100));
  cache.set('b', new Float32Array(100));
  cache.get('a');
  cache.set('c', new Float32Array(100));
  expect([cache.get('a') !== undefined, cache.get('b'), cache.get('c') !== undefined]).toEqual([
    true,
    undefined,
    true,
  ]);
});

test('the cache counts what it holds in maps, sets and views, each buffer once', () => {
  const big = new Float32Array(1000);
  const near = (bytes: number) => expect(Math.abs(bytes - 4000)).toBeLessThan(600);
  near(bytesOf(big));
  near(bytesOf({ a: big, b: big }));
  near(bytesOf(new Map([['a', { inside: big }]])));
  near(bytesOf(new Set([big.subarray(0, 10)])));
  const round: { self?: unknown; data: Float32Array } = { data: big };
  round.self = round;
  near(bytesOf(round));
});

test('a cache never holds more than it may, but for the newest entry', () => {
  const cache = new StageCache(10000);
  for (let k = 0; k < 50; k++) {
    cache.set(`map ${k}`, new Map([['plane', new Float32Array(900)]]));
    expect(cache.heldBytes).toBeLessThanOrEqual(10000);
  }
  cache.set('large', new Float32Array(90000));
  expect(cache.get('large')).toBeDefined();
  expect(cache.get('map 49')).toBeUndefined();
});

test('what is small outlasts what is large in a cache, and stays beside what is larger than the cache', () => {
  const cache = new StageCache(64_000);
  cache.set('figures', { lrv: 40 });
  for (let k = 0; k < 20; k++) cache.set(`plane ${k}`, new Float32Array(4000));
  expect(cache.get('figures')).toEqual({ lrv: 40 });
  expect([cache.get('plane 0'), cache.get('plane 19') !== undefined]).toEqual([undefined, true]);
  cache.set('huge', new Float32Array(100_000));
  expect([cache.get('figures'), cache.get('huge') !== undefined, cache.get('plane 19')]).toEqual([
    { lrv: 40 },
    true,
    undefined,
  ]);
  for (let k = 0; k < 2000; k++) cache.set(`small ${k}`, new Float32Array(10));
  expect([cache.get('huge'), cache.get('figures')]).toEqual([undefined, undefined]);
  expect(cache.heldBytes).toBeLessThanOrEqual(64_000);
});

test('what is let go is made again when it is asked for; what was read off it stays known', async () => {
  const ctx = new RenderContext(NO_PICTURES, ASKED, { cache: new StageCache(4000) });
  let made = 0;
  const plane = ctx.releasable(['plane'], () => new Float32Array(5000).fill(++made));
  const first = ctx.excerpt(plane, 'first', (values) => values[0]);
  expect([(await plane.get())[0], await first.get(), (await plane.get())[0]]).toEqual([1, 1, 1]);
  plane.letGo!();
  await ctx.known('other', () => new Float32Array(5000));
  expect([made, await first.get(), made]).toEqual([1, 1, 1]);
  expect([(await plane.get())[0], made]).toEqual([2, 2]);
});

test('a refusal has a code, a sentence and a place; a fault stays a fault', async () => {
  const refuse = (error: Error) => () =>
    refusing('code', 'repeat.from', () => {
      throw error;
    });
  expect(refuse(new RangeError('Too wide.'))).toThrow(Refusal);
  expect(refuse(new TypeError('broken'))).toThrow(TypeError);
  await expect(
    refusing('code', 'here', () => Promise.reject(new RangeError('Too wide.'))),
  ).rejects.toMatchObject({
    name: 'Refusal',
    code: 'code',
    sentence: 'Too wide.',
    where: 'here',
  });
});

/** Stages that only count: one makes a surface, the others each add a field. */
const made: Stage<{ side: number }, null, Surface, { side: number }> = {
  name: 'made',
  version: 3,
  work: 3,
  run: (ctx, { side }) => ({
    sizeMm: { width: 10, height: 10 },
    px: { width: side, height: side },
    detailMm: { x: 1, y: 1 },
    fields: {},
    maps: new Map(),
    parts: new Map([
      [
        'joint',
        namedPart(
          'Joints',
          ctx.later(['joint', side], () => ({
            widthPx: side,
            heightPx: side,
            data: new Float32Array(side * side).map((_, i) => (i < side ? 1 : 0)),
          })),
        ),
      ],
    ]),
    pieces: ctx.later(['pieces'], () => null),
  }),
  report: (_, { side }) => ({ report: { side }, checks: [] }),
};
const grey: SurfaceStage<{ light: number }, { light: number }> = {
  name: 'grey',
  version: 1,
  work: 1,
  run: (ctx, { light }, surface) =>
    withFields(surface, {
      colour: ctx.later(['grey', light, surface.px], async () => {
        await ctx.step(0.5, 'Making it grey');
        const plane = new Float32Array(surface.px.width * surface.px.height).fill(light);
        return { widthPx: surface.px.width, heightPx: surface.px.height, r: plane, g: plane, b: plane };
      }),
    }),
  report: (_, { light }) => ({ report: { light }, checks: [] }),
};
const rough: SurfaceStage<number, object> = {
  name: 'rough',
  version: 1,
  work: 4,
  run: (ctx, value, surface) =>
    withFields(surface, {
      roughness: ctx.later(['rough', value], async () => {
        await ctx.step(1, 'Making it rough');
        return value;
      }),
    }),
  report: () => ({ report: {}, checks: [] }),
};
/** All that it takes to add a stage: this, and one line in the list. */
const tint: SurfaceStage<{ part: string; red: number }, object> = {
  name: 'tint',
  version: 1,
  work: 1,
  run: (ctx, { part, red }, surface) => {
    const { colour } = surface.fields;
    const where = surface.parts.get(part)!;
    return withFields(surface, {
      colour: ctx.later(['tint', colour!.key, where.key, red], async () => {
        const [picture, { data }] = [await colour!.get(), await where.get()];
        return { ...picture, r: picture.r.map((v, i) => v + data[i]! * (red - v)) };
      }),
    });
  },
  report: () => ({ report: {}, checks: [] }),
};

interface Settings {
  side: number;
  light: number;
  tint: { part: string; red: number };
}
const PLAIN = Pipeline.of<Settings>()
  .then(made, ({ side }) => ({ side }))
  .on(grey, ({ light }) => ({ light }));
const SETTINGS: Settings = { side: 4, light: 0.5, tint: { part: 'joint', red: 0.9 } };

describe('the pipeline', () => {
  const colourOf = (surface: Surface) => surface.fields.colour!.get();

  test('hands over from stage to stage, and names every version', async () => {
    const { wanted, report } = await PLAIN.run(new RenderContext(NO_PICTURES, ASKED), SETTINGS, colourOf);
    expect([wanted.widthPx, wanted.r[0]]).toEqual([4, 0.5]);
    expect(report).toEqual({ side: 4, light: 0.5 });
    expect(PLAIN.versions).toEqual({ made: 3, grey: 1 });
  });

  test('takes a further stage by one line; it works on parts and leaves all else', async () => {
    const tinted = PLAIN.on(tint, (s) => s.tint);
    const { wanted } = await tinted.run(new RenderContext(NO_PICTURES, ASKED), SETTINGS, colourOf);
    expect(Array.from(wanted.r).map((v) => Number(v.toFixed(3)))).toEqual([
      ...Array(4).fill(0.9),
      ...Array(12).fill(0.5),
    ]);
    expect(wanted.g.every((v) => v === 0.5)).toBe(true);
  });

  test('computes what is asked for and nothing else, and that once', async () => {
    const steps: string[] = [];
    const cache = new StageCache();
    const context = () =>
      new RenderContext(NO_PICTURES, ASKED, { cache, onProgress: (_, step) => steps.push(step) });
    const both = PLAIN.on(rough, () => 0.3);
    await both.run(context(), SETTINGS, colourOf, new Set());
    expect(steps).toEqual(['Making it grey']);
    await both.run(context(), SETTINGS, colourOf, new Set());
    expect(steps).toHaveLength(1);
    await both.run(context(), { ...SETTINGS, light: 0.4 }, colourOf, new Set());
    expect(steps).toHaveLength(2);
  });

  test('one run computes nothing twice, however little the cache holds', async () => {
    const steps: string[] = [];
    const ctx = new RenderContext(NO_PICTURES, ASKED, {
      cache: new StageCache(1),
      onProgress: (_, step) => steps.push(step),
    });
    const { wanted } = await PLAIN.on(rough, () => 0.3).run(ctx, SETTINGS, async ({ fields }) => {
      const first = await fields.colour!.get();
      await (fields.roughness as { get(): Promise<unknown> }).get();
      return [first, await fields.colour!.get()] as const;
    });
    expect(wanted[1]).toBe(wanted[0]);
    expect(steps).toEqual(['Making it grey', 'Making it rough']);
  });

  test('reports progress that never runs backwards, whatever order fields are asked for in', async () => {
    const shares: number[] = [];
    const ctx = new RenderContext(NO_PICTURES, ASKED, { onProgress: (share) => shares.push(share) });
    await PLAIN.on(rough, () => 0.3).run(ctx, SETTINGS, async ({ fields }) => {
      await (fields.roughness as { get(): Promise<unknown> }).get();
      await fields.colour!.get();
    });
    expect(shares).toHaveLength(2);
    expect(shares[1]).toBeGreaterThanOrEqual(shares[0]!);
    expect(shares[0]).toBeCloseTo(1, 9);
  });

  test('stops between steps when asked', async () => {
    const ctx = new RenderContext(NO_PICTURES, ASKED, { signal: { aborted: true } });
    await expect(PLAIN.run(ctx, SETTINGS, colourOf)).rejects.toThrow(Stopped);
  });
});
