import { readColour } from '../colour';
import { ruledByLrv } from '../light';
import { fractalNoise, halve, makeColourPicture, mapChannels, type ColourPicture } from '../raster';
import { sizeKnownBy } from '../size';
import { figure } from '../units';
import {
  CannotRender,
  canonicalJson,
  defaultRecipe,
  encodeMap,
  hashOf,
  levelFor,
  openRecipe,
  renderFinish,
  StageCache,
  Stopped,
  type Recipe,
  type Sources,
} from './index';

/** A grainy wall, 300 × 200 px. */
function wall(): ColourPicture {
  const p = makeColourPicture(300, 200);
  for (let i = 0; i < p.r.length; i++) {
    const v = 0.3 + 0.08 * fractalNoise((i % 300) / 311, Math.floor(i / 300) / 311, 31, 31, 3, 0.6, 4);
    p.r[i] = v * 1.1;
    p.g[i] = v;
    p.b[i] = v * 0.8;
  }
  return p;
}
const WALL = wall();

function sourcesOf(picture: ColourPicture): Sources & { asked: number[] } {
  const asked: number[] = [];
  return {
    asked,
    data: async () => {
      throw new Error('No map is asked for here.');
    },
    info: async () => ({ widthPx: picture.widthPx, heightPx: picture.heightPx, sha256: 'wall' }),
    level: async (_id, level) => {
      asked.push(level);
      let p = picture;
      for (let i = 0; i < level; i++) p = mapChannels(p, halve);
      return p;
    },
  };
}

function recipe(change: (r: Recipe) => void = () => undefined): Recipe {
  const r = defaultRecipe(['s'], 'plaster', { widthPx: 300, heightPx: 200 });
  r.size = sizeKnownBy({ overall: figure(600, 'mm', 'measured', 1) }, 'follows');
  r.repeat = {
    ...r.repeat,
    across: { closing: 'blend', overlapMm: 120 },
    up: { closing: 'blend', overlapMm: 100 },
  };
  change(r);
  return openRecipe(r);
}

test('a finish has the asked reflectance, depth and proportions at any size', async () => {
  const asked = recipe((r) => {
    r.colour = ruledByLrv(r.colour, figure(44, 'LRV', 'published'));
    r.relief.depthMm = figure(1.3, 'mm', 'measured');
  });
  for (const widthPx of [64, 180, 512]) {
    const finish = await renderFinish(asked, sourcesOf(WALL), { widthPx });
    expect(finish.report.repeatMm).toEqual({ width: 480, height: 300 });
    expect(finish.heightPx).toBe(Math.round((widthPx * 300) / 480));
    expect(finish.report.lrv).toBeCloseTo(44, 3);
    expect(finish.report.heightMm.max - finish.report.heightMm.min).toBeCloseTo(1.3, 5);
    // One size for all maps: half a pixel over the whole repeat at most.
    expect(Math.abs(finish.report.pxPerMm.x * 480 - widthPx)).toBeLessThan(1e-9);
    expect(Math.abs(finish.report.pxPerMm.y / finish.report.pxPerMm.x - 1)).toBeLessThan(
      0.51 / (finish.heightPx - 0.5),
    );
  }
});

test('the same recipe gives the same bytes, with or without a cache', async () => {
  const cache = new StageCache();
  const bytes = async (c?: StageCache) => {
    const finish = await renderFinish(recipe(), sourcesOf(WALL), {
      widthPx: 128,
      ...(c ? { cache: c } : {}),
    });
    return (['colour', 'height', 'normal', 'occlusion', 'roughness'] as const).map((n) =>
      Buffer.from(encodeMap(finish, n).data.buffer).toString('base64'),
    );
  };
  const fresh = await bytes();
  await bytes(cache);
  expect(await bytes(cache)).toEqual(fresh);
});

test('a change of gloss or reflectance does not touch the sample again', async () => {
  const cache = new StageCache();
  const sources = sourcesOf(WALL);
  await renderFinish(recipe(), sources, { widthPx: 128, cache });
  const before = sources.asked.length;
  const other = await renderFinish(
    recipe((r) => {
      r.response.glossGu.value = 40;
      r.colour = ruledByLrv(r.colour, figure(20, 'LRV', 'measured'));
    }),
    sources,
    { widthPx: 128, cache },
  );
  expect(sources.asked).toHaveLength(before);
  expect(other.report.lrv).toBeCloseTo(20, 3);
});

test('only the maps asked for are computed', async () => {
  const finish = await renderFinish(recipe(), sourcesOf(WALL), { widthPx: 64, maps: ['colour'] });
  expect([finish.height, finish.normal, finish.occlusion]).toEqual([undefined, undefined, undefined]);
  expect(() => encodeMap(finish, 'occlusion')).toThrow(/was not computed/);
});

test('it stops between stages when asked, and says what is missing', async () => {
  const steps: string[] = [];
  const signal = { aborted: false };
  const running = renderFinish(recipe(), sourcesOf(WALL), {
    widthPx: 64,
    signal,
    onProgress: (_, step) => {
      steps.push(step);
      if (step === 'Reading the relief') signal.aborted = true;
    },
  });
  await expect(running).rejects.toThrow(Stopped);
  expect(steps).not.toContain('Done');
  await expect(
    renderFinish(
      recipe((r) => (r.source.sampleIds = [])),
      sourcesOf(WALL),
      { widthPx: 64 },
    ),
  ).rejects.toThrow(CannotRender);
  const tall = recipe(
    (r) =>
      (r.size = sizeKnownBy(
        { overall: figure(600, 'mm', 'measured', 1) },
        { overall: figure(60000, 'mm', 'measured') },
      )),
  );
  await expect(renderFinish(tall, sourcesOf(WALL), { widthPx: 512 })).rejects.toThrow(/at most 16384 px/);
});

describe('a repeat that is composed', () => {
  const cache = new StageCache();
  const composed = recipe((r) => {
    r.repeat.way = 'compose';
    r.repeat.compose = { ...r.repeat.compose, widthMm: 700, heightMm: 500 };
    r.colour = ruledByLrv(r.colour, figure(44, 'LRV', 'published'));
  });

  test('is shown while it is being solved, in its colour and size; then nothing is solved twice', async () => {
    const seen: number[] = [];
    const steps: string[] = [];
    const options = {
      widthPx: 350,
      cache,
      onProgress: (_share: number, step: string) => steps.push(step),
      onEarly: (early: { colour: ColourPicture; repeatMm: { width: number; height: number } }) => {
        expect(early.repeatMm).toEqual({ width: 700, height: 500 });
        seen.push(readColour(early.colour).lrv);
      },
    };
    const finish = await renderFinish(composed, sourcesOf(WALL), options);
    expect(finish.report).toMatchObject({ repeatMm: { width: 700, height: 500 }, arrangement: 1 });
    expect(seen.length).toBeGreaterThan(0);
    for (const lrv of seen) expect(lrv).toBeCloseTo(44, 1);
    expect(steps).toContain('Composing the repeat');
    steps.length = seen.length = 0;
    await renderFinish(composed, sourcesOf(WALL), { ...options, widthPx: 700 });
    expect(seen).toEqual([]);
    expect(steps).not.toContain('Composing the repeat');
  });

  test('stops while it is being solved', async () => {
    let asked = 0;
    const signal = {
      get aborted() {
        return ++asked > 4;
      },
    };
    await expect(renderFinish(composed, sourcesOf(WALL), { widthPx: 350, signal })).rejects.toThrow(Stopped);
  });

  test('is the same arrangement at every size', async () => {
    const small = await renderFinish(composed, sourcesOf(WALL), { widthPx: 175, maps: ['colour'], cache });
    const large = await renderFinish(composed, sourcesOf(WALL), { widthPx: 350, maps: ['colour'], cache });
    let [sum, squares] = [0, 0];
    for (let y = 0; y < small.heightPx; y++)
      for (let x = 0; x < 175; x++) {
        const i = 2 * y * 350 + 2 * x;
        const of = large.colour.g;
        const four = (of[i]! + of[i + 1]! + of[i + 350]! + of[i + 351]!) / 4;
        const off = small.colour.g[y * 175 + x]! - four;
        sum += off;
        squares += off * off;
      }
    const n = 175 * small.heightPx;
    expect(Math.abs(sum / n)).toBeLessThan(0.002);
    expect(Math.sqrt(squares / n)).toBeLessThan(0.02); // another arrangement differs by 0.06
  });
});

describe('checks', () => {
  const codes = async (change: (r: Recipe) => void, picture = WALL) =>
    (await renderFinish(recipe(change), sourcesOf(picture), { widthPx: 128 })).report.checks.map(
      (c) => c.code,
    );

  test.each([
    ['reflectance-open', () => undefined],
    [
      'axes-differ',
      (r: Recipe) =>
        (r.size = sizeKnownBy(
          { overall: figure(600, 'mm', 'measured', 1) },
          { overall: figure(430, 'mm', 'measured') },
        )),
    ],
    [
      'size-assumed',
      (r: Recipe) => (r.size = sizeKnownBy({ overall: figure(600, 'mm', 'assumed') }, 'follows')),
    ],
    ['clipped-high', (r: Recipe) => (r.colour = ruledByLrv(r.colour, figure(85, 'LRV', 'published')))],
    ['too-light', (r: Recipe) => (r.colour = ruledByLrv(r.colour, figure(85, 'LRV', 'published')))],
    ['gloss-out-of-reach', (r: Recipe) => (r.response.glossGu = figure(99, 'GU', 'measured'))],
    ['too-steep', (r: Recipe) => (r.relief.depthMm = figure(90, 'mm', 'measured'))],
    ['depth-assumed', () => undefined],
    ['gloss-assumed', () => undefined],
  ] as [string, (r: Recipe) => unknown][])('%s', async (code, change) => {
    expect(await codes((r) => void change(r))).toContain(code);
  });

  test('an edge that does not close is told with its figure', async () => {
    const ramp = makeColourPicture(300, 200);
    for (let i = 0; i < ramp.r.length; i++)
      ramp.r[i] = ramp.g[i] = ramp.b[i] = 0.1 + (0.5 * (i % 300)) / 300 + 0.02 * ((i * 7919) % 13) * 0.1;
    const finish = await renderFinish(
      recipe((r) => (r.repeat.across = { closing: 'abut', overlapMm: 0 })),
      sourcesOf(ramp),
      { widthPx: 128 },
    );
    expect(finish.report.checks[0]).toMatchObject({
      code: 'seam-across',
      weight: 'wrong',
      section: 'repeat',
    });
    expect(finish.report.checks[0]!.text).toContain('times the contrast inside');
  });

  test('a finish whose figures are all founded has none', async () => {
    const founded = await codes((r) => {
      r.colour = ruledByLrv(r.colour, figure(40, 'LRV', 'measured'));
      r.relief.depthMm.basis = 'measured';
      r.response.glossGu.basis = 'measured';
    });
    expect(founded).toEqual([]);
  });
});

test('metals take their reflectance from the colour and may be glossier than 100 GU', async () => {
  const finish = await renderFinish(
    recipe(
      (r) =>
        (r.response = {
          glossGu: figure(200, 'GU', 'measured'),
          index: figure(1.5, '1', 'assumed'),
          metal: true,
        }),
    ),
    sourcesOf(WALL),
    { widthPx: 64 },
  );
  expect(finish.metalness).toBe(1);
  expect(finish.report.roughness).toBeGreaterThan(0);
  expect(finish.report.checks.map((c) => c.code)).not.toContain('gloss-out-of-reach');
});

test('settings hash alike whatever the order of their keys', () => {
  expect(canonicalJson({ b: 1, a: [2, { d: 3, c: 4 }] })).toBe('{"a":[2,{"c":4,"d":3}],"b":1}');
  expect(hashOf({ a: 1, b: 2 })).toBe(hashOf({ b: 2, a: 1 }));
  expect(hashOf({ a: 1 })).not.toBe(hashOf({ a: 2 }));
});

test('a sample is halved as often as leaves it dense enough', () => {
  expect([levelFor(10, 10), levelFor(10, 5.1), levelFor(10, 5), levelFor(10, 1), levelFor(10, 40)]).toEqual([
    0, 0, 1, 3, 0,
  ]);
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
