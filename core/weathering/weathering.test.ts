import { initialLayout } from '../layout';
import { generatedRecipe, openRecipe, renderFinish, type Recipe } from '../finish';
import { makePlane } from '../raster';
import { NO_PICTURES } from '../surface';
import { figure } from '../units';
import {
  coverOf,
  runOff,
  USUAL_LAYERS,
  usualLayer,
  wetReflectance,
  type FlakingPlace,
  type WeatheringLayer,
} from './index';

const MAPS = ['colour', 'height', 'roughness', 'metalness'] as const;
const render = (recipe: Recipe, widthPx = 128) => renderFinish(recipe, NO_PICTURES, { widthPx, maps: MAPS });

/** Bricks with recessed joints, 450 × 300 mm. */
function wall(...weathering: WeatheringLayer[]): Recipe {
  const layout = initialLayout('english');
  const recipe = generatedRecipe('clay', { repeatMm: { width: 300, height: 300 } });
  return {
    ...recipe,
    layout: {
      ...layout,
      joint: { ...layout.joint, depthMm: figure(6, 'mm', 'measured'), profile: 'recessed' },
      arris: { ...layout.arris, form: 'round', sizeMm: figure(4, 'mm', 'measured') },
      repeatMm: { width: 450, height: 300 },
    },
    weathering,
  };
}
const layer = (name: string, change: object = {}): WeatheringLayer =>
  ({ ...usualLayer(name, 'x'), ...change }) as WeatheringLayer;

test('every usual layer is a valid one, and lies on a wall', async () => {
  for (const { name } of USUAL_LAYERS) {
    const place = usualLayer(name, 'x').place;
    const low = place.fromMm ? { place: { ...place, fromMm: 50, toMm: 200 } } : {};
    const recipe = openRecipe(JSON.parse(JSON.stringify(wall(layer(name, low)))));
    const { report } = await render(recipe, 64);
    expect({ name, laid: report.weathering!.layers.length }).toEqual({ name, laid: 1 });
  }
});

describe('coverage', () => {
  const ground = { sizeMm: { width: 400, height: 300 }, px: { width: 160, height: 120 } };
  const rising = Float32Array.from({ length: 160 * 120 }, (_, i) => (i % 160) / 160);

  test.each([0, 3, 20, 50, 85, 100])('%d %% of a place is covered', async (coverPercent) => {
    for (const first of [null, rising])
      for (const soft of [0, 1]) {
        const { data } = await coverOf({ coverPercent, scaleMm: 60, soft, seed: 3 }, ground, {
          within: null,
          first,
        });
        const mean = data.reduce((sum, v) => sum + v, 0) / data.length;
        expect(Math.abs(100 * mean - coverPercent)).toBeLessThan(0.5);
      }
  });

  test('it lies first where its place is strongest', async () => {
    const { data } = await coverOf({ coverPercent: 30, scaleMm: 60, soft: 0.3, seed: 3 }, ground, {
      within: null,
      first: rising.map((v) => 3 * v),
    });
    const mean = (from: number, to: number) => {
      const some = data.filter((_, i) => i % 160 >= from && i % 160 < to);
      return some.reduce((sum, v) => sum + v, 0) / some.length;
    };
    expect(mean(120, 160)).toBeGreaterThan(0.8);
    expect(mean(0, 60)).toBeLessThan(0.02);
  });
});

test('on a finish every layer covers what was asked', async () => {
  const { report } = await render(
    wall(
      { ...layer('Dust in hollows', { coverPercent: 24 }), id: 'a' },
      { ...layer('Worn arrises', { coverPercent: 9 }), id: 'b' },
      {
        ...layer('Algae', { coverPercent: 50, place: { at: 'foot', reachMm: 10, fromMm: 0, toMm: 150 } }),
        id: 'c',
      },
    ),
  );
  const covers = Object.fromEntries(
    report.weathering!.layers.map(({ id, covers: share }) => [id, 100 * share]),
  );
  expect(Math.abs(covers['a']! - 24)).toBeLessThan(2);
  expect(Math.abs(covers['b']! - 9)).toBeLessThan(2);
  // Half of the lower half.
  expect(Math.abs(covers['c']! - 25)).toBeLessThan(2);
});

test('dust settles in joints, wear meets arrises: by what the layout knows of them', async () => {
  const part = async (recipe: Recipe, id: 'joint' | 'face') => {
    const before = (await render({ ...recipe, weathering: [] }, 192)).maps.colour;
    const after = (await renderFinish(recipe, NO_PICTURES, { widthPx: 192, maps: ['colour', 'part'] })).maps;
    // Parts are numbered in their order: that of the clay comes first.
    const number = id === 'joint' ? 2 : 3;
    let [sum, all] = [0, 0];
    const parts = after.part as Uint8Array;
    for (let i = 0; i < parts.length; i++)
      if (parts[i] === number) {
        sum += Math.abs(after.colour.g[i]! - before.g[i]!);
        all++;
      }
    return sum / all;
  };
  const dusty = wall(layer('Dust in hollows', { coverPercent: 15 }));
  expect(await part(dusty, 'joint')).toBeGreaterThan(3 * (await part(dusty, 'face')));
  const worn = wall(layer('Worn arrises', { coverPercent: 10, lighterBy: 20 }));
  expect(await part(worn, 'joint')).toBeLessThan(0.01);
});

test('a coating hides what is under it; the order of layers matters; one that is off does nothing', async () => {
  const paint = { ...layer('Opaque paint'), id: 'paint' };
  const algae = {
    ...layer('Algae', { place: { at: 'everywhere', reachMm: 10 }, coverPercent: 60, hidesPercent: 90 }),
    id: 'algae',
  };
  const over = async (...layers: WeatheringLayer[]) =>
    (await render(wall(...layers))).report.weathering!.layers.at(-1)!.lrv;
  const [plain, below, above] = [await over(paint), await over(algae, paint), await over(paint, algae)];
  expect(Math.abs(plain - below)).toBeLessThan(0.5);
  expect(above).toBeLessThan(plain - 10);
  const off = await render(wall({ ...paint, off: true }));
  expect(off.report.weathering).toBeNull();
  expect(off.maps.colour.r).toEqual((await render(wall())).maps.colour.r);
});

test('reflectance stays that of the finish as supplied; what lies over all stands beside it', async () => {
  const [bare, painted] = [await render(wall()), await render(wall(layer('Opaque paint')))];
  expect(painted.report.lrv).toBe(bare.report.lrv);
  expect(painted.report.weathering!.layers[0]!.lrv).toBeGreaterThan(bare.report.lrv + 20);
});

test('flaking bares the area of its degree of ISO 4628-5', async () => {
  const bared = async (flaking: number) => {
    const white = { lab: [100, 0, 0], basis: 'measured' };
    const { colour } = (await render(wall(layer('Opaque paint', { flaking, colour: white })), 384)).maps;
    return colour.r.reduce((sum, v) => sum + (v < 0.6 ? 1 : 0), 0) / colour.r.length;
  };
  expect(await bared(0)).toBe(0);
  expect(Math.abs((await bared(4)) - 0.03)).toBeLessThan(0.012);
  expect(Math.abs((await bared(5)) - 0.15)).toBeLessThan(0.04);
});

describe('a coating flakes first', () => {
  /** Share that is bare and mean height, by rows or columns of a painted wall. */
  async function flaked(bond: 'english' | 'stack', flakesFirst: FlakingPlace[], by: 'rows' | 'columns') {
    const white = { lab: [100, 0, 0], basis: 'measured' };
    const paint = layer('Opaque paint', { flaking: 5, colour: white, flakesFirst });
    const recipe = wall(paint);
    const { colour, height } = (
      await render({ ...recipe, layout: { ...recipe.layout!, bond: initialLayout(bond).bond } }, 384)
    ).maps;
    const { widthPx: w, heightPx: h } = colour;
    const lines = by === 'rows' ? h : w;
    const out = Array.from({ length: lines }, () => ({ bare: 0, mm: 0 }));
    for (let i = 0; i < w * h; i++) {
      const line = out[by === 'rows' ? Math.floor(i / w) : i % w]!;
      line.bare += ((colour.r[i]! < 0.6 ? 1 : 0) * lines) / (w * h);
      line.mm += (height.data[i]! * lines) / (w * h);
    }
    return out;
  }
  /** Mean of what is bare on lines that lie from a to b px after, or before, every joint. */
  function beside(lines: { bare: number; mm: number }[], [a, b]: [number, number], way: 1 | -1): number {
    const sorted = lines.map(({ mm }) => mm).sort((p, q) => p - q);
    const deep = (sorted[0]! + sorted.at(-1)!) / 2;
    const at = (k: number) => lines[(k + lines.length) % lines.length]!;
    const ends = lines.flatMap((l, k) => (l.mm < deep && at(k + way).mm >= deep ? [k] : []));
    const some = ends.flatMap((k) => Array.from({ length: b - a }, (_, n) => at(k + way * (a + n)).bare));
    expect(some.length).toBeGreaterThan(0);
    return some.reduce((sum, v) => sum + v, 0) / some.length;
  }

  test('below joints, which hold water, and not above them', async () => {
    const rows = await flaked('english', ['below-joints'], 'rows');
    expect(beside(rows, [2, 8], 1)).toBeGreaterThan(4 * beside(rows, [2, 8], -1));
    const arrises = await flaked('english', ['arrises'], 'rows');
    expect(beside(arrises, [2, 8], 1)).toBeLessThan(2 * beside(arrises, [2, 8], -1));
  });

  test('at the ends of pieces, on both sides of their joints', async () => {
    const columns = await flaked('stack', ['ends'], 'columns');
    const middle = beside(columns, [60, 80], 1);
    for (const way of [1, -1] as const) expect(beside(columns, [2, 8], way)).toBeGreaterThan(4 * middle);
  });

  test('by the same share, wherever it is', async () => {
    for (const first of [['arrises'], ['below-joints', 'ends'], []] as FlakingPlace[][]) {
      const rows = await flaked('english', first, 'rows');
      expect(Math.abs(rows.reduce((sum, r) => sum + r.bare, 0) / rows.length - 0.15)).toBeLessThan(0.05);
    }
  });
});

test('metal is bare only where nothing lies on it', async () => {
  const sheet = generatedRecipe('brushed-metal', { repeatMm: { width: 60, height: 40 } });
  const rust = {
    ...layer('Rust', {
      place: { at: 'everywhere', reachMm: 5 },
      coverPercent: 40,
      hidesPercent: 100,
      soft: 0,
    }),
    id: 'rust',
  };
  const { metalness, roughness } = (await render({ ...sheet, weathering: [rust] })).maps;
  const mean = (metalness as { data: Float32Array }).data.reduce((sum, v) => sum + v, 0) / (128 * 85);
  expect(Math.abs(mean - 0.6)).toBeLessThan(0.12);
  expect(typeof roughness).not.toBe('number');
});

describe('wet', () => {
  test.each([0.08, 0.15, 0.3, 0.5, 0.7])(
    'a porous material of reflectance %d becomes darker as measured ones do',
    (dry) => {
      // Wet over dry of soils, sand, brick, stone and timber lies between 0.4 and 0.8 (Lekner, Dorf 1988; Twomey, Bohren, Mergenthaler 1986).
      const ratio = wetReflectance(dry) / dry;
      expect(ratio).toBeGreaterThan(0.4);
      expect(ratio).toBeLessThan(0.8);
    },
  );

  test('nothing becomes lighter, white stays nearly white, and more saturated is what was saturated', () => {
    for (let k = 0; k <= 20; k++) expect(wetReflectance(k / 20)).toBeLessThanOrEqual(k / 20);
    expect(wetReflectance(1)).toBeGreaterThan(0.85);
    expect(wetReflectance(0.5) / wetReflectance(0.25)).toBeGreaterThan(2);
  });

  test('a porous finish becomes darker and glossier, a dense one only glossier', async () => {
    const wet = async (porousPercent: number) => {
      const { report } = await render(wall(layer('Wet', { porousPercent })));
      return { lrv: report.weathering!.layers[0]!.lrv, gu: report.glossSpread!.meanGu };
    };
    const dry = await render(wall());
    const [porous, dense] = [await wet(100), await wet(0)];
    const before = (await render(wall(layer('Wet', { coverPercent: 0 })))).report.weathering!.layers[0]!.lrv;
    expect(porous.lrv / before).toBeLessThan(0.75);
    expect(Math.abs(dense.lrv - before)).toBeLessThan(0.01);
    expect(dense.gu).toBeGreaterThan(dry.report.glossGu + 20);
  });
});

test('water runs down and gathers in a groove', () => {
  const height = makePlane(60, 80);
  for (let y = 0; y < 80; y++) for (let x = 28; x < 32; x++) height.data[y * 60 + x] = -1;
  const { data } = runOff(height, { x: 1, y: 1 });
  const column = (x: number) =>
    Array.from({ length: 80 }, (_, y) => data[y * 60 + x]!).reduce((a, b) => a + b, 0) / 80;
  expect(column(30)).toBeGreaterThan(2 * column(5));
  expect(data.reduce((a, b) => a + b, 0) / data.length).toBeCloseTo(1, 4);
  // Beside the groove the wall is drier than far from it.
  expect(column(26)).toBeLessThan(column(5));
});

test('a zone at a height says that the repeat does not close upwards, and for what wall it is', async () => {
  const { report } = await render(
    wall(
      layer('Splash zone', { name: 'Splashes', place: { at: 'foot', reachMm: 10, fromMm: 0, toMm: 180 } }),
    ),
  );
  expect(report.weathering!.wallMm).toBeCloseTo(report.repeatMm.height, 6);
  const said = report.checks.find((c) => c.code === 'not-upwards')!.text;
  expect(said).toMatch(/“Splashes” lies from 0 to 180\u2009mm above the floor/);
  expect(said).toMatch(/for a wall 300\u2009mm high/);
  const high = await render(wall(layer('Splash zone')));
  expect(high.report.checks.map((c) => c.code)).toContain('over-the-top-x');
  // Everything above the zone stays as it was.
  const [before, after] = [
    (await render(wall())).maps.colour,
    (await render(wall(layer('Splash zone', { place: { at: 'foot', reachMm: 10, fromMm: 0, toMm: 100 } }))))
      .maps.colour,
  ];
  const rows = Math.floor(before.heightPx / 2) * before.widthPx;
  expect(after.r.slice(0, rows)).toEqual(before.r.slice(0, rows));
});

test('a traffic path runs up the repeat between two distances, closes over all edges, and says how often it lies', async () => {
  const floor = generatedRecipe('variation', { repeatMm: { width: 800, height: 600 } });
  const path = (fromMm: number, toMm: number) =>
    layer('Traffic path, scuffed', {
      place: { at: 'path', reachMm: 12, fromMm, toMm },
      lighterBy: 30,
      coverPercent: 100,
    });
  const { maps: before } = await render({ ...floor, weathering: [] }, 160);
  const lighter = async (fromMm: number, toMm: number) => {
    const { maps, report } = await render({ ...floor, weathering: [path(fromMm, toMm)] }, 160);
    const { widthPx: w, heightPx: h } = maps.colour;
    const column = (x: number) => {
      let sum = 0;
      for (let y = 0; y < h; y++) sum += maps.colour.g[y * w + x]! - before.colour.g[y * w + x]!;
      return sum / h;
    };
    return { report, columns: Array.from({ length: w }, (_, x) => column(x)) };
  };
  const { report, columns } = await lighter(200, 400);
  expect(columns[60]!).toBeGreaterThan(0.02);
  expect(Math.max(...columns.slice(100, 160), ...columns.slice(0, 30))).toBeLessThan(1e-6);
  expect(report.checks.find((c) => c.code === 'path-repeats-x')!.text).toMatch(/lies every 800\u2009mm/);
  expect(report.weathering!.wallMm).toBeNull();
  // One that runs over an edge goes on at the other.
  const over = (await lighter(700, 900)).columns;
  expect([over[0]! > 0.02, over[159]! > 0.02, over[80]! < 1e-6]).toEqual([true, true, true]);
});

test('a place that is not there is named with the nearest that is, and the layer is left out', async () => {
  const pane = { ...generatedRecipe('variation', { repeatMm: { width: 60, height: 60 } }), layout: null };
  const said = async (change: object) => {
    const { report } = await render({ ...pane, weathering: [layer('Dust in hollows', change)] }, 48);
    expect(report.weathering!.layers).toEqual([]);
    return report.checks.find((c) => c.code === 'place-missing-x')!.text;
  };
  expect(await said({})).toMatch(
    /lies nowhere and is left out: the surface is flat and has no hollows; choose everywhere/,
  );
  expect(await said({ place: { at: 'part', part: 'joint', reachMm: 5 } })).toMatch(
    /its part is not there; there are Second colour/,
  );
  expect(await said({ place: { at: 'hand', reachMm: 5, fromMm: 900, toMm: 1400 } })).toMatch(
    /only 60 mm high, and it begins at 900 mm/,
  );
  expect(await said({ place: { at: 'path', reachMm: 5, fromMm: 90, toMm: 140 } })).toMatch(
    /only 60 mm wide, and the path begins at 90 mm/,
  );
});

test('places and degrees that cannot be are refused in words', () => {
  const fault = (change: object) => {
    try {
      openRecipe(JSON.parse(JSON.stringify(wall(layer('Opaque paint', change)))));
      return '';
    } catch (error) {
      return (error as { issues: { message: string }[] }).issues[0]!.message;
    }
  };
  expect(fault({ flaking: 6 })).toMatch(/Flaking \(ISO 4628-5\): a degree from 0 to 5/);
  expect(fault({ coverPercent: 120 })).toMatch(/between 0 and 100 %/);
  expect(fault({ place: { at: 'part', reachMm: 5 } })).toMatch(/Name the part/);
  expect(fault({ place: { at: 'foot', reachMm: 5, fromMm: 300, toMm: 200 } })).toMatch(
    /must be above 300 mm/,
  );
  expect(fault({ place: { at: 'path', reachMm: 5 } })).toMatch(/distances that it lies between/);
});

test('detail of another finish brings its colour, gloss and relief at its own size, where it lies', async () => {
  const other = generatedRecipe('variation', {
    pattern: 'ripple',
    octaves: figure(1, '1', 'assumed'),
    scaleMm: figure(20, 'mm', 'published'),
    depthMm: figure(2, 'mm', 'published'),
    first: { lab: [20, 60, 40], basis: 'measured' },
    second: { lab: [20, 60, 40], basis: 'measured' },
    repeatMm: { width: 60, height: 60 },
  });
  const finish = { finishId: 'f', letter: 'A', name: 'Ripple', recipe: other, versions: {} };
  const detail = {
    kind: 'detail',
    id: 'd',
    name: 'Ripple',
    place: { at: 'everywhere', reachMm: 5 },
    coverPercent: 100,
    scaleMm: 50,
    soft: 0,
    seed: 1,
    finish,
    colourPercent: 100,
    glossPercent: 100,
    reliefTimes: 1,
  } as const;
  const flat = generatedRecipe('variation', { repeatMm: { width: 120, height: 120 } });
  const { report, maps } = await render({ ...flat, weathering: [detail] }, 120);
  const [, a] = report.weathering!.layers[0]!.meanLab;
  expect(a).toBeGreaterThan(40);
  expect(report.heightMm.max - report.heightMm.min).toBeGreaterThan(1.5);
  // Six ripples of 20 mm over 120 mm: on average over the width the height crosses its mean twelve times.
  const rows = Array.from({ length: 120 }, (_, y) =>
    maps.height.data.slice(y * 120, (y + 1) * 120).reduce((sum, v) => sum + v, 0),
  );
  const middle = rows.reduce((sum, v) => sum + v, 0) / 120;
  const crossings = rows.filter((v, y) => v > middle !== rows[(y + 1) % 120]! > middle).length;
  expect(crossings).toBe(12);
  // One that is itself made of others is refused with its name.
  const nested = {
    ...flat,
    weathering: [{ ...detail, finish: { ...finish, recipe: { ...other, weathering: [detail] } } }],
  };
  expect(() => openRecipe(JSON.parse(JSON.stringify(nested)))).toThrow(
    /Ripple is itself made of other finishes/,
  );
});
