import { readColour } from '../colour';
import { ruledByLrv } from '../light';
import { fractalNoise, halve, makeColourPicture, mapChannels, type ColourPicture } from '../raster';
import { sizeKnownBy } from '../size';
import { Refusal, StageCache, Stopped, type Pictures } from '../surface';
import { figure } from '../units';
import {
  defaultRecipe,
  encodeMap,
  lead,
  openRecipe,
  pictureSource,
  reliefFrom,
  renderFinish,
  renderMaps,
  repetitionOf,
  repeatGeometry,
  withAreasRedone,
  withReplaced,
  type Recipe,
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

function sourcesOf(picture: ColourPicture): Pictures & { asked: number[] } {
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
  lead(r).size = sizeKnownBy({ overall: figure(600, 'mm', 'measured', 1) }, 'follows');
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
    r.relief.contributions[0]!.depthMm = figure(1.3, 'mm', 'measured');
  });
  for (const widthPx of [64, 180, 512]) {
    const finish = await renderFinish(asked, sourcesOf(WALL), { widthPx });
    expect(finish.report.repeatMm).toEqual({ width: 480, height: 300 });
    expect(finish.heightPx).toBe(Math.round((widthPx * 300) / 480));
    expect(finish.report.lrv).toBeCloseTo(44, 3);
    expect(finish.report.heightMm.max - finish.report.heightMm.min).toBeCloseTo(1.3, 3);
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
  const steps: string[] = [];
  const onProgress = (_: number, step: string) => steps.push(step);
  const finish = await renderMaps(recipe(), sourcesOf(WALL), { widthPx: 64, maps: ['colour'], onProgress });
  expect(Object.keys(finish.maps)).toEqual(['colour']);
  expect(steps).toEqual(expect.arrayContaining(['Placing the sample', 'Matching the colour', 'Done']));
  expect(steps.filter((step) => /relief|normals|occlusion/.test(step))).toEqual([]);
  expect(finish.report).toEqual({ checks: [] });
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
      recipe((r) => (r.repeat.from = [])),
      sourcesOf(WALL),
      { widthPx: 64 },
    ),
  ).rejects.toThrow(Refusal);
  const tall = recipe(
    (r) =>
      (lead(r).size = sizeKnownBy(
        { overall: figure(600, 'mm', 'measured', 1) },
        { overall: figure(60000, 'mm', 'measured') },
      )),
  );
  await expect(renderFinish(tall, sourcesOf(WALL), { widthPx: 512 })).rejects.toThrow(/at most 16384 px/);
});

describe('a repeat that is composed', () => {
  const cache = new StageCache();
  const composed = recipe((r) => {
    r.repeat.method = 'composed';
    r.repeat.composed = { ...r.repeat.composed, widthMm: 700, heightMm: 500 };
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
        const of = large.maps.colour.g;
        const four = (of[i]! + of[i + 1]! + of[i + 350]! + of[i + 351]!) / 4;
        const off = small.maps.colour.g[y * 175 + x]! - four;
        sum += off;
        squares += off * off;
      }
    const n = 175 * small.heightPx;
    expect(Math.abs(sum / n)).toBeLessThan(0.002);
    expect(Math.sqrt(squares / n)).toBeLessThan(0.02); // another arrangement differs by 0.06
  });
});

describe('laid anew and replaced', () => {
  const cache = new StageCache();
  /** A wall with one dark stain. */
  const stained = wall();
  for (let y = -14; y <= 14; y++)
    for (let x = -14; x <= 14; x++)
      if (Math.hypot(x, y) < 14)
        for (const c of ['r', 'g', 'b'] as const) stained[c][(90 + y) * 300 + 160 + x]! *= 0.55;
  const sources = sourcesOf(stained);
  const base = recipe((r) => {
    r.repeat.method = 'composed';
    r.colour = { ...r.colour, ruling: 'picture' };
  });
  const drawn = (r: Recipe, widthPx = 300) => renderFinish(r, sources, { widthPx, maps: ['colour'], cache });
  let names = 0;
  const newId = () => `n${names++}`;

  test('outside a marked area not a bit of the colour changes; the area itself does', async () => {
    const before = await drawn(base);
    const area: [number, number][] = [
      [0.3, 0.3],
      [0.55, 0.3],
      [0.55, 0.6],
      [0.3, 0.6],
    ];
    const after = await drawn({ ...base, repeat: withAreasRedone(base.repeat, [area], [], 'a') });
    const { widthPx: w, heightPx: h } = before;
    let [inside, outside] = [0, 0];
    for (let y = 0; y < h; y++)
      for (let x = 0; x < w; x++) {
        const i = y * w + x;
        const differs =
          before.maps.colour.g[i] !== after.maps.colour.g[i] ||
          before.maps.colour.r[i] !== after.maps.colour.r[i];
        const [u, v] = [(x + 0.5) / w, (y + 0.5) / h];
        if (u > 0.3 && u < 0.55 && v > 0.3 && v < 0.6) inside += differs ? 1 : 0;
        else outside += differs ? 1 : 0;
      }
    expect(outside).toBe(0);
    expect(inside / (0.25 * 0.3 * w * h)).toBeGreaterThan(0.7);
  });

  test('a stain is found, and gone once it is replaced; it comes from where it lies in the picture', async () => {
    const before = await drawn(base);
    const { telltales } = await repetitionOf(before, 6000);
    const stain = telltales[0]!;
    expect(stain.contrast).toBeGreaterThan(8);
    for (const { source, points } of stain.taken) {
      expect(source).toBe('p1');
      for (const [x, y] of points) {
        expect(Math.hypot(x * 300 - 160, y * 200 - 90)).toBeLessThan(26);
      }
    }
    const replaced = withReplaced(base, [stain], newId);
    const { telltales: left } = await repetitionOf(await drawn(replaced), 6000);
    expect(left.filter((g) => g.contrast > 6)).toEqual([]);
  });

  test('closed at its edges, what is replaced is kept out of the sample and filled', async () => {
    for (const closing of ['blend', 'mirror', 'cut'] as const) {
      const closed = {
        ...base,
        repeat: {
          ...base.repeat,
          method: 'edges' as const,
          across: { closing, overlapMm: 60 },
          up: { closing, overlapMm: 60 },
        },
      };
      const before = await drawn(closed);
      const stains = (await repetitionOf(before, 6000)).telltales.filter((g) => g.contrast > 6);
      expect(stains.length).toBeGreaterThan(0);
      const replaced = withReplaced(closed, stains, newId);
      expect(lead(replaced).preparation.keepOuts.length).toBeGreaterThan(0);
      const after = await drawn(replaced);
      expect(after.report.keptOut).toBeGreaterThan(0.01);
      // Nothing as dark as the stain is left.
      const darkest = (p: ColourPicture) => Math.min(...p.g);
      expect(darkest(after.maps.colour)).toBeGreaterThan(1.15 * darkest(before.maps.colour));
    }
  });
});

describe('what a repeat is made from', () => {
  const composed = (change: (r: Recipe) => void = () => undefined) =>
    recipe((r) => {
      r.repeat.method = 'composed';
      r.repeat.composed = { ...r.repeat.composed, widthMm: 500, heightMm: 400 };
      r.colour = { ...r.colour, ruling: 'picture' };
      change(r);
    });
  const render = (r: Recipe, sources: Pictures, widthPx = 200) =>
    renderFinish(r, sources, { widthPx, maps: ['colour'] });
  /** The wall once more, elsewhere in it, as another camera took it: darker, and yellower. */
  const other = mapChannels(WALL, (plane) => plane);
  for (const [c, by] of [
    ['r', 0.62],
    ['g', 0.6],
    ['b', 0.45],
  ] as const)
    other[c] = WALL[c].map((v) => v * by);
  const two: Pictures = {
    ...sourcesOf(WALL),
    info: async (id) => ({ widthPx: 300, heightPx: 200, sha256: id }),
    level: (id, level) => sourcesOf(id === 's' ? WALL : other).level(id, level),
  };
  const joined = (widthMm: number) =>
    composed((r) => {
      const size = sizeKnownBy({ overall: figure(widthMm, 'mm', 'measured') }, 'follows');
      r.sources.push({ ...pictureSource('p2', 't'), size });
      r.repeat.from.push({ source: 'p2', area: null });
    });

  test('two pictures are brought to one tone before they are joined', async () => {
    const { report, maps, placed } = await render(joined(600), two);
    const [r, g, b] = report.joined[1]!.gain;
    expect(r).toBeCloseTo(1 / 0.62, 2);
    expect(g).toBeCloseTo(1 / 0.6, 2);
    expect(b).toBeCloseTo(1 / 0.45, 2);
    expect(new Set(placed.map.cells!.placements.map((p) => p.sourceIndex))).toEqual(new Set([0, 1]));
    // Mean and contrast are those of the first alone.
    const [both, alone] = [readColour(maps.colour), readColour((await render(composed(), two)).maps.colour)];
    expect(both.lrv / alone.lrv).toBeCloseTo(1, 1);
    expect(both.p99 - both.p1).toBeCloseTo(alone.p99 - alone.p1, 1);
  });

  test('an area of the picture is joined with the used part', async () => {
    const areas = composed((r) => {
      const box = (x: number) => [[x, 0.1], [x + 0.4, 0.1], [x + 0.4, 0.9], [x, 0.9]] as never; // prettier-ignore
      lead(r).preparation.areas = [
        { id: 'a', name: 'A', leftOut: false, corners: box(0.02) },
        { id: 'b', name: 'B', leftOut: false, corners: box(0.55) },
      ];
      r.repeat.from = ['a', 'b'].map((area) => ({ source: 'p1', area }));
    });
    const { placed } = await render(areas, sourcesOf(WALL));
    expect(placed.sources.map((s) => s.areaId)).toEqual(['a', 'b']);
    expect(placed.sources[1]!.laidMm.width).toBeCloseTo(240, 3);
    expect(placed.map.cells!.placements.some((p) => p.sourceIndex === 1)).toBe(true);
    areas.repeat.from[1]!.area = 'gone';
    await expect(render(areas, sourcesOf(WALL))).rejects.toThrow(/not there any more/);
  });

  test('a picture that is joined has keep-outs of its own, and its own light taken out', async () => {
    const lit = mapChannels(other, (plane) => ({
      ...plane,
      data: plane.data.map((v, i) => v * (1.3 - (0.6 * (i % 300)) / 300)),
    }));
    const pictures: Pictures = {
      ...two,
      level: (id, n) => sourcesOf(id === 's' ? WALL : lit).level(id, n),
    };
    /** Share of the repeat that comes from the middle third of the second picture. */
    const fromItsMiddle = async (keptOut: boolean) => {
      const recipe = joined(600);
      const second = recipe.sources[1]!;
      second.light.levelling = { radiusMm: null, shading: 0, shadingMm: 1 };
      const points: [number, number][] = [[0.33, 0], [0.67, 0], [0.67, 1], [0.33, 1]]; // prettier-ignore
      if (keptOut) second.preparation.keepOuts = [{ id: 'k', kind: 'outline', erase: false, points }];
      const { placed } = await render(recipe, pictures);
      const [first, joinedOne] = placed.sources;
      expect(first!.calibration.report.light).toBeNull();
      expect(joinedOne!.calibration.report.light!.fallPercent).toBeGreaterThan(20);
      const { widthPx, heightPx, copy, placements } = placed.map.cells!;
      const { width, height } = placed.map.repeatMm;
      const middle = copy.filter((which, i) => {
        const p = placements[which]!;
        if (p.sourceIndex !== 1) return false;
        const xMm = (((i % widthPx) + 0.5) * width) / widthPx;
        const yMm = ((Math.floor(i / widthPx) + 0.5) * height) / heightPx;
        const at = (p.offsetXMm + p.signX * (p.swapped ? yMm : xMm)) / joinedOne!.laidMm.width;
        return at > 0.35 && at < 0.65;
      });
      return middle.length / copy.length;
    };
    expect(await fromItsMiddle(false)).toBeGreaterThan(0.03);
    expect(await fromItsMiddle(true)).toBe(0);
  });

  test('pictures of another kind, and maps that know only the first, are refused in words', async () => {
    const night = { ...two, level: (id: string, n: number) => sourcesOf(id === 's' ? WALL : mapChannels(WALL, (p) => ({ ...p, data: p.data.map((v) => v / 20) }))).level(id, n) }; // prettier-ignore
    await expect(render(joined(600), night)).rejects.toThrow(/times lighter or darker/);
    const withMap = joined(600);
    lead(withMap).maps = [{ sampleId: 'h', role: 'height', greenRuns: 'up' }];
    withMap.relief = reliefFrom(withMap.relief, 'map');
    await expect(
      renderFinish(withMap, { ...two, data: two.level }, { widthPx: 200, maps: ['height'] }),
    ).rejects.toThrow(/not all of them have a height map/);
  });

  test('elements at 150 % are half as large again, and said to be wrong until that is confirmed', async () => {
    const scaled = composed((r) => (r.repeat.elements = { scale: 1.5, confirmed: false }));
    const { report, placed } = await render(scaled, sourcesOf(WALL));
    expect(placed.sources[0]!.laidMm.width).toBeCloseTo(900, 6);
    expect(report.repeatMm).toEqual({ width: 500, height: 400 });
    expect(report.checks.map((c) => c.code)).toContain('elements-scaled');
    scaled.repeat.elements.confirmed = true;
    expect((await render(scaled, sourcesOf(WALL))).report.checks.map((c) => c.code)).not.toContain(
      'elements-scaled',
    );
  });

  test('a structure is stretched within the limit so that it fills what is asked; that counts in the size', () => {
    const stretched = (widthMm: number, stretchMost: number) => {
      const r = composed((x) => {
        x.repeat.structure = { across: { period: 0.1, first: 0.03 }, up: null, stagger: 0 };
        x.repeat.composed = { ...x.repeat.composed, widthMm, stretchMost };
      });
      return repeatGeometry(r, { widthPx: 300, heightPx: 200 });
    };
    // Periods of 60 mm.
    const within = stretched(490, 0.03);
    expect(within.across).toMatchObject({ repeatMm: 490, modules: 8 });
    expect(within.across.stretch).toBeCloseTo(490 / 480 - 1, 9);
    expect(within.pitchMm.across).toBeCloseTo(490 / 8, 9);
    expect(within.laidMm.width).toBeCloseTo((600 * 490) / 480, 9);
    const beyond = stretched(490, 0.01);
    expect(beyond.across).toMatchObject({ repeatMm: 480, modules: 8 });
    expect(beyond.across.stretchNeeded).toBeCloseTo(490 / 480 - 1, 9);
    expect(stretched(480, 0.03).across.stretch).toBeUndefined();
  });

  test('stretch and what the size may be off are added up in the report and said', async () => {
    const r = composed((x) => {
      x.repeat.structure = { across: { period: 0.1, first: 0.03 }, up: null, stagger: 0 };
      x.repeat.composed = { ...x.repeat.composed, widthMm: 490, stretchMost: 0.05 };
    });
    const { report } = await render(r, sourcesOf(WALL));
    expect(report.stretch.across).toBeCloseTo(490 / 480 - 1, 6);
    // ± 1 mm on 600 mm, and the stretch.
    expect(report.repeatToleranceMm.width).toBeCloseTo(490 * (1 / 600 + 490 / 480 - 1), 6);
    expect(report.checks.map((c) => c.code)).toContain('stretched-across');
  });

  test('beyond its pixels detail is made from the sample itself, and said to be inferred', async () => {
    const enlarged = recipe((r) => {
      r.repeat.enlarged = 2;
      r.repeat.across = r.repeat.up = { closing: 'abut', overlapMm: 0 };
      r.colour = { ...r.colour, ruling: 'picture' };
    });
    const plain = { ...enlarged, repeat: { ...enlarged.repeat, enlarged: 1 } };
    const [made, smooth] = [
      await render(enlarged, sourcesOf(WALL), 600),
      await render(plain, sourcesOf(WALL), 600),
    ];
    const fine = (p: ColourPicture) => {
      let sum = 0;
      for (let y = 0; y < p.heightPx; y++)
        for (let x = 1; x < p.widthPx; x++)
          sum += Math.abs(p.g[y * p.widthPx + x]! - p.g[y * p.widthPx + x - 1]!);
      return sum;
    };
    expect(fine(made.maps.colour)).toBeGreaterThan(1.15 * fine(smooth.maps.colour));
    expect(made.report.inferred).toBeCloseTo(2, 6);
    expect(made.report.checks.map((c) => c.code)).toContain('inferred');
    // What the picture shows stays as it is.
    const halved = mapChannels(made.maps.colour, halve);
    let worst = 0;
    for (let i = 0; i < halved.g.length; i++) worst = Math.max(worst, Math.abs(halved.g[i]! - WALL.g[i]!));
    expect(worst).toBeLessThan(0.02);
    expect((await render(plain, sourcesOf(WALL), 600)).report.inferred).toBe(1);
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
        (lead(r).size = sizeKnownBy(
          { overall: figure(600, 'mm', 'measured', 1) },
          { overall: figure(430, 'mm', 'measured') },
        )),
    ],
    [
      'size-assumed',
      (r: Recipe) => (lead(r).size = sizeKnownBy({ overall: figure(600, 'mm', 'assumed') }, 'follows')),
    ],
    ['clipped-high', (r: Recipe) => (r.colour = ruledByLrv(r.colour, figure(85, 'LRV', 'published')))],
    ['too-light', (r: Recipe) => (r.colour = ruledByLrv(r.colour, figure(85, 'LRV', 'published')))],
    ['gloss-out-of-reach', (r: Recipe) => (r.response.glossGu = figure(99, 'GU', 'measured'))],
    [
      'too-steep',
      ({ relief }: Recipe) =>
        Object.assign(relief.contributions[0]!, {
          depthMm: figure(90, 'mm', 'measured'),
          steepestDeg: 90,
        }),
    ],
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

  test('no two checks share a code, also where one axis raises two questions', async () => {
    const unlikely = recipe((r) => {
      lead(r).size = sizeKnownBy({ overall: figure(100000, 'mm', 'assumed') }, 'follows');
      lead(r).size!.count.across = {
        modules: 3,
        moduleMm: figure(33333, 'mm', 'assumed'),
        jointMm: 0,
        ends: 'flush',
        before: 0,
        after: 0,
      };
    });
    const options = { widthPx: 128, category: 'timber' };
    const { report } = await renderFinish(unlikely, sourcesOf(WALL), options);
    const found = report.checks.map((c) => c.code);
    expect(found).toEqual(
      expect.arrayContaining(['unlikely-module-across', 'unlikely-density-across', 'unlikely-density-up']),
    );
    expect(new Set(found).size).toBe(found.length);
  });

  test('a finish whose figures are all founded has none', async () => {
    const founded = await codes((r) => {
      r.colour = ruledByLrv(r.colour, figure(40, 'LRV', 'measured'));
      r.relief.contributions[0]!.depthMm.basis = 'measured';
      r.response.glossGu.basis = 'measured';
    });
    expect(founded).toEqual([]);
  });
});

test('a depth of 0 mm is a flat finish', async () => {
  const flat = await renderFinish(
    openRecipe(recipe((r) => (r.relief.contributions[0]!.depthMm = figure(0, 'mm', 'measured')))),
    sourcesOf(WALL),
    { widthPx: 64 },
  );
  expect(flat.report.heightMm).toEqual({ min: 0, max: 0, zero: 0 });
  expect(flat.report.slopeDeg.p99).toBe(0);
  for (const name of ['height', 'normal'] as const) {
    const { data, channels } = encodeMap(flat, name);
    const pixels = Array.from({ length: data.length / channels }, (_, i) =>
      data.slice(i * channels, (i + 1) * channels).join(),
    );
    expect(new Set(pixels).size).toBe(1);
  }
});

test('metals take their reflectance from the colour and may be glossier than 100 GU', async () => {
  const finish = await renderFinish(
    recipe(
      (r) =>
        (r.response = {
          glossGu: figure(200, 'GU', 'measured'),
          base: { kind: 'metal' },
        }),
    ),
    sourcesOf(WALL),
    { widthPx: 64 },
  );
  expect(finish.maps.metalness).toBe(1);
  expect(finish.report.roughness).toBeGreaterThan(0);
  expect(finish.report.checks.map((c) => c.code)).not.toContain('gloss-out-of-reach');
});
