import sharp from 'sharp';
import { ciede2000, labToXyz, type Triple } from '@jossel/core/colour';
import { lead, type Recipe } from '@jossel/core/finish';
import type { GlarePlace, PaletteColour } from '@jossel/core/light';
import { plainColour, plainLight, ruledByLrv } from '@jossel/core/light';
import { NO_SIZE } from '@jossel/core/size';
import type { FoundCard, Quad } from '@jossel/core/straighten';
import { figure } from '@jossel/core/units';
import { grainAs } from './test/pictures';
import type { PackageEstimate } from './services/estimates';
import { serve, startStandins, truthOfCapture, type TestServer } from './test/serve';

/** Light and colour over HTTP: from a photograph in bad light to figures that can be defended. */
let standins: { url: string; end: () => void };
let jossel: TestServer;
beforeAll(async () => {
  standins = await startStandins();
  jossel = await serve({ JOSSEL_STANDINS_URL: standins.url });
});
afterAll(async () => {
  await jossel?.end();
  standins?.end();
});

const post = <T>(path: string, body?: unknown) => jossel.call<T>('POST', path, body);
interface Made {
  id: string;
  draft: { recipe: Recipe; etag: string };
}
interface Read {
  repeat: { lrv: number; lab: Triple; meanLinear: Triple };
  spots: { lrv: number; lab: Triple }[];
  detail: string;
}

/** A finish of a picture with some colour settings. */
async function finishOf(sampleId: string, shape: (recipe: Recipe) => void): Promise<string> {
  const made = await post<Made>('/api/finishes', { name: 'Lit', category: 'plaster', sampleIds: [sampleId] });
  const { recipe, etag } = made.body.draft;
  recipe.repeat = {
    ...recipe.repeat,
    across: { closing: 'abut', overlapMm: 0 },
    up: { closing: 'abut', overlapMm: 0 },
  };
  shape(recipe);
  const saved = await jossel.call<{ detail: string }>(
    'PUT',
    `/api/finishes/${made.body.id}/draft`,
    { recipe },
    { 'if-match': etag },
  );
  expect(saved.body.detail).toBeUndefined();
  return made.body.id;
}
const flat = (rgb: readonly number[], w = 96, h = 96) =>
  sharp({ create: { width: w, height: h, channels: 3, background: { r: rgb[0]!, g: rgb[1]!, b: rgb[2]! } } })
    .png()
    .toBuffer();
const uploaded = async (name: string, bytes: Buffer) =>
  (await jossel.upload(name, bytes, { permission: 'own' })).body.id;

describe('a photograph under a yellow lamp that falls off', () => {
  const CAPTURE = {
    sampleId: 'plaster-board',
    widthPx: 1300,
    tiltDeg: 9,
    panDeg: -7,
    unevenness: 0.45,
    cast: 0.7,
    exposure: -0.5,
  };
  let sampleId: string;
  let card: FoundCard;
  let corners: Quad;
  const calibrated = (recipe: Recipe) => {
    lead(recipe).preparation = { ...lead(recipe).preparation, frame: corners.map((p) => [...p]) as never };
    lead(recipe).size = {
      ...NO_SIZE,
      ruling: { across: 'card', up: 'card' },
      card: { marks: card.marks.map((p) => [...p]) as never },
    };
    recipe.colour = plainColour();
    lead(recipe).light = {
      ...plainLight(),
      levelling: { radiusMm: null, shading: 0, shadingMm: 1 },
      balance: 'card',
    };
  };
  beforeAll(async () => {
    sampleId = (await post<{ id: string }>('/api/capture/pictures', CAPTURE)).body.id;
    card = (await post<{ card: FoundCard }>(`/api/samples/${sampleId}/card`)).body.card;
    corners = (await truthOfCapture(standins.url, CAPTURE)).sampleCorners;
  });

  test('levelled and balanced, it measures what the meter reads, and the target says what is left', async () => {
    const id = await finishOf(sampleId, calibrated);
    const done = await jossel.render(id, { widthPx: 256, maps: ['colour'] });
    expect(done.error).toBeUndefined();
    const { target, light } = done.report.calibration;
    expect(light!.fallPercent).toBeGreaterThan(20);
    expect(target!.meanError).toBeLessThan(1.5);
    expect(target!.expected.worst).toBeLessThan(4);
    const placesMm = Array.from({ length: 9 }, (_, k) => ({
      x: 100 + 200 * (k % 3),
      y: 80 + 140 * Math.floor(k / 3),
    }));
    const meter = await post<{
      figure: { value: number; tolerance: number };
      colour: { lab: Triple; basis: string; tolerance: number };
    }>('/api/meters/reflectance', { sampleId, placesMm });
    expect(Math.abs(done.report.lrv - meter.body.figure.value)).toBeLessThan(meter.body.figure.tolerance + 1);
    expect(meter.body.colour.basis).toBe('measured');
    const read = (await post<Read>(`/api/finishes/${id}/colour`, { spots: [] })).body;
    expect(ciede2000(read.repeat.lab, meter.body.colour.lab)).toBeLessThan(meter.body.colour.tolerance + 1);
    // As received it was far off.
    const raw = (await jossel.call<Read['repeat']>('GET', `/api/samples/${sampleId}/colour`)).body;
    expect(ciede2000(raw.lab, meter.body.colour.lab)).toBeGreaterThan(8);
  });

  test('four colourways share the finish, reach their targets, and are handed over with it', async () => {
    const targets: Triple[] = [
      [74, 2, 18],
      [52, 14, 22],
      [44, -8, -12],
      [66, -10, 16],
    ];
    const id = await finishOf(sampleId, (recipe) => {
      calibrated(recipe);
      recipe.colour.ways = targets.map((lab, k) => ({
        id: `w${k}`,
        name: `Way ${k + 1}`,
        code: `C-${k}`,
        target: { lab: [...lab], basis: 'published' },
      }));
    });
    for (const [k, lab] of targets.entries()) {
      const read = (await post<Read>(`/api/finishes/${id}/colour`, { way: `w${k}`, spots: [] })).body;
      expect(ciede2000(read.repeat.lab, lab)).toBeLessThan(0.6);
    }
    const unknown = await post<{ detail: string }>('/api/renders', { finishId: id, widthPx: 64, way: 'zz' });
    expect([unknown.status, unknown.body.detail]).toEqual([
      404,
      expect.stringMatching(/no colourway “zz” here; there are Way 1 \(w0\)/),
    ]);
    await jossel.call('PATCH', `/api/samples/${sampleId}`, { permission: 'own' });
    expect((await post(`/api/finishes/${id}/revisions`, { note: 'first' })).status).toBe(201);
    const wanted = { items: [{ finishId: id }], colourways: true, profile: 'draft-1024' };
    // Its light is taken out of the picture, which has to be looked at for an estimate too.
    const estimate = await post<PackageEstimate>('/api/handovers/estimate', wanted);
    expect(estimate).toMatchObject({ status: 200, body: { sets: 5, tooLarge: null } });
    const { body } = await post<{ id: string; items: { way: { name: string } | null }[] }>(
      '/api/handovers',
      wanted,
    );
    expect(body.items.map((i) => i.way?.name ?? null)).toEqual([null, 'Way 1', 'Way 2', 'Way 3', 'Way 4']);
    const done = (await jossel.ended('handovers', body.id)) as unknown as {
      error?: string;
      manifest: {
        finishes: {
          colourway: string | null;
          folder: string;
          measured: { lrv: number; meanLab: Triple };
          target: { mean: number } | null;
          repeatMm: { width: number };
        }[];
      };
    };
    expect(done.error).toBeUndefined();
    const { finishes } = done.manifest;
    expect(new Set(finishes.map((f) => f.folder)).size).toBe(5);
    expect(new Set(finishes.map((f) => f.repeatMm.width)).size).toBe(1);
    finishes.slice(1).forEach((f, k) => {
      expect(f.colourway).toBe(`Way ${k + 1}`);
      expect(ciede2000(f.measured.meanLab, targets[k]!)).toBeLessThan(0.6);
    });
    expect(finishes[0]!.target!.mean).toBeLessThan(1.5);
  });

  test('a grey patch of the card brings white and exposure', async () => {
    const at = (n: number): [number, number] => {
      const [a, b] = [card.marks[0]!, card.marks[1]!];
      // The third grey lies along the upper marks' line.
      return [a[0] + (b[0] - a[0]) * n, a[1] + (b[1] - a[1]) * n];
    };
    // Middle of "Grey 3": 18 + 2 · 12.2 + 5.4 mm along, between marks at 9 and 111 mm; 4 mm below their line.
    const [x, y] = at((47.8 - 9) / 102);
    const down = (card.marks[3]![1] - card.marks[0]![1]) / 62;
    const id = await finishOf(sampleId, (recipe) => {
      calibrated(recipe);
      lead(recipe).light = {
        ...lead(recipe).light,
        balance: 'grey',
        grey: { at: [x, y + 4 * down], radius: 0.004, lrv: figure(38, 'LRV', 'published') },
      };
    });
    const done = await jossel.render(id, { widthPx: 128, maps: ['colour'] });
    expect(done.error).toBeUndefined();
    const { gains } = done.report.calibration.grey!;
    // A yellow cast: blue needs the most.
    expect(gains[2]).toBeGreaterThan(1.2 * gains[1]);
    expect(gains[1]).toBeGreaterThan(gains[0]);
  });
});

test('what is known beside the ruling way becomes a claim, and a check when it is far off', async () => {
  const sampleId = await uploaded('grain.png', await grainAs('png'));
  const id = await finishOf(sampleId, (recipe) => {
    recipe.colour = {
      ...ruledByLrv(recipe.colour, figure(30, 'LRV', 'published')),
      colour: { lab: [70, 4, 20], basis: 'measured', tolerance: 2 },
    };
  });
  const { report } = await jossel.render(id, { widthPx: 96, maps: ['colour'] });
  expect(report.claims.map((c) => [c.way, Math.round(c.lrv)])).toEqual([
    ['lrv', 30],
    ['colour', Math.round(100 * labToXyz([70, 4, 20])[1])],
  ]);
  expect(report.checks.map((c) => c.code)).toContain('colour-colour');
});

test('another finish gives its mean and spread', async () => {
  const other = (
    await jossel.call<Read['repeat'] & { spread: Triple }>(
      'GET',
      `/api/samples/${await uploaded('o.png', await grainAs('png'))}/colour`,
    )
  ).body;
  const id = await finishOf(await uploaded('p.png', await flat([120, 140, 90])), (recipe) => {
    recipe.colour = {
      ...recipe.colour,
      ruling: 'reference',
      reference: {
        name: 'Other',
        from: { kind: 'sample', id: 'o' },
        meanLinear: [...other.meanLinear],
        spread: [...other.spread],
        takeSpread: 1,
        limit: 2,
      },
    };
  });
  const read = (await post<Read>(`/api/finishes/${id}/colour`, { spots: [] })).body;
  expect(ciede2000(read.repeat.lab, other.lab)).toBeLessThan(0.5);
});

test('spots of the repeat are read, beyond its edge as well', async () => {
  const halves = await sharp(await flat([200, 40, 40], 128, 128))
    .composite([{ input: await flat([40, 40, 200], 64, 128), left: 64, top: 0 }])
    .png()
    .toBuffer();
  const id = await finishOf(await uploaded('halves.png', halves), () => undefined);
  const { spots } = (
    await post<Read>(`/api/finishes/${id}/colour`, {
      spots: [
        { xMm: 250, yMm: 500, radiusMm: 60 },
        { xMm: 750, yMm: 500, radiusMm: 60 },
        { xMm: 1250, yMm: -300, radiusMm: 60 },
      ],
    })
  ).body;
  expect(spots[0]!.lab[1]).toBeGreaterThan(40);
  expect(spots[1]!.lab[2]).toBeLessThan(-40);
  expect(ciede2000(spots[0]!.lab, spots[2]!.lab)).toBeLessThan(0.5);
});

test('a palette has the colours of a picture and their shares; one colour is one', async () => {
  const stripes = await sharp(await flat([210, 180, 60], 100, 60))
    .composite([{ input: await flat([30, 70, 120], 30, 60), left: 70, top: 0 }])
    .png()
    .toBuffer();
  const of = async (bytes: Buffer) =>
    (
      await jossel.call<{ colours: PaletteColour[] }>(
        'GET',
        `/api/samples/${await uploaded('c.png', bytes)}/palette?count=6`,
      )
    ).body.colours;
  expect((await of(stripes)).map((c) => Number(c.share.toFixed(1)))).toEqual([0.7, 0.3]);
  expect(await of(await flat([90, 90, 90]))).toHaveLength(1);
});

test('glare is found, with an outline and from where it can be filled', async () => {
  const lamp = await sharp(await flat([150, 90, 50], 400, 300))
    .composite([
      {
        input: Buffer.from(
          '<svg width="400" height="300"><defs><radialGradient id="g"><stop offset="0.4" stop-color="#fff"/><stop offset="1" stop-color="#fff" stop-opacity="0"/></radialGradient></defs><circle cx="260" cy="110" r="15" fill="url(#g)"/></svg>',
        ),
      },
    ])
    .png()
    .toBuffer();
  const { places } = (
    await post<{ places: GlarePlace[] }>(`/api/samples/${await uploaded('lamp.png', lamp)}/glare`)
  ).body;
  expect(places).toHaveLength(1);
  const xs = places[0]!.points.map((p) => p[0]);
  expect((Math.min(...xs) + Math.max(...xs)) / 2).toBeCloseTo(0.65, 1);
  expect(places[0]!.from).not.toBeNull();
});

test('reference values are read; a list with missing columns is refused with a sentence', async () => {
  const good = await post<{ patches: unknown[]; name: string }>('/api/colour-references', {
    fileName: 'card.csv',
    text: 'Name;L;a;b\nA1;78;4;18\nA2;66;10;26\nA3;55;16;30\n',
  });
  expect([good.status, good.body.patches.length]).toEqual([200, 3]);
  const bad = await post<{ detail: string }>('/api/colour-references', {
    fileName: 'card.csv',
    text: 'Name;L;a;x\nA1;78;4;18\n',
  });
  expect([bad.status, bad.body.detail]).toEqual([422, expect.stringMatching(/LAB_B are missing/)]);
});

test('spectral readings are read under three lights; what is no spectrum is refused with a sentence', async () => {
  const columns = Array.from({ length: 31 }, (_, k) => `${400 + 10 * k} nm`);
  const good = await post<{
    readings: { name: string; under: Record<'D65' | 'A' | 'LED', { lrv: number }> }[];
  }>('/api/spectral-readings', {
    fileName: 'clay.csv',
    text: `Name;${columns.join(';')}\nClay;${columns.map((_, k) => (0.05 + k * 0.01).toFixed(2)).join(';')}\n`,
  });
  expect(good.status).toBe(200);
  const [clay] = good.body.readings;
  expect(clay!.under.A.lrv).toBeGreaterThan(clay!.under.D65.lrv);
  const bad = await post<{ detail: string }>('/api/spectral-readings', {
    fileName: 'clay.csv',
    text: 'Name;400 nm;500 nm;700 nm\nClay;0.1;0.2;0.3\n',
  });
  expect([bad.status, bad.body.detail]).toEqual([422, expect.stringMatching(/not in even steps/)]);
});

describe('what cannot be', () => {
  let sampleId: string;
  beforeAll(async () => {
    sampleId = await uploaded('w.png', await grainAs('png'));
  });
  test.each<[string, (recipe: Recipe) => void, RegExp]>([
    [
      'a reflectance that would clip most of it',
      (r) => (r.colour = ruledByLrv(r.colour, figure(99, 'LRV', 'published'))),
      /would clip \d+ % of the repeat at white/,
    ],
    [
      'a colour outside the gamut',
      (r) =>
        (r.colour = { ...r.colour, ruling: 'colour', colour: { lab: [60, -100, 20], basis: 'published' } }),
      /outside the sRGB gamut \(red/,
    ],
    ['a card that is not there', (r) => (lead(r).light.balance = 'card'), /no card is found in this picture/],
    [
      'levelling with everything kept out',
      (r) => {
        lead(r).light.levelling = { radiusMm: null, shading: 0, shadingMm: 1 };
        lead(r).preparation = {
          ...lead(r).preparation,
          keepOuts: [
            {
              id: 'k',
              kind: 'outline',
              erase: false,
              points: [
                [0, 0],
                [1, 0],
                [1, 0.995],
                [0, 0.995],
              ],
            },
          ],
        };
      },
      /Too little of the sample is left|keep-outs cover the whole sample/,
    ],
  ])('%s: the render fails with a sentence', async (_what, shape, sentence) => {
    const id = await finishOf(sampleId, shape);
    const done = await jossel.render(id, { widthPx: 64, maps: ['colour'] });
    expect([done.state, done.error]).toEqual(['failed', expect.stringMatching(sentence)]);
  });

  test('a grey patch on glare', async () => {
    const bright = await sharp(await flat([180, 170, 150], 200, 200))
      .composite([{ input: await flat([255, 255, 255], 60, 60), left: 20, top: 20 }])
      .png()
      .toBuffer();
    const id = await finishOf(await uploaded('bright.png', bright), (r) => {
      lead(r).light = {
        ...lead(r).light,
        balance: 'grey',
        grey: { at: [0.2, 0.2], radius: 0.05, lrv: figure(18, 'LRV', 'published') },
      };
    });
    const done = await jossel.render(id, { widthPx: 64, maps: ['colour'] });
    expect(done.error).toMatch(/100 % of this patch is clipped, as on glare/);
  });

  test('a way that rules without a figure is refused at its place', async () => {
    const made = await post<Made>('/api/finishes', { name: 'x', category: 'other', sampleIds: [sampleId] });
    const { recipe, etag } = made.body.draft;
    recipe.colour = { ...recipe.colour, ruling: 'colour' };
    const saved = await jossel.call<{ errors: { path: string }[] }>(
      'PUT',
      `/api/finishes/${made.body.id}/draft`,
      { recipe },
      { 'if-match': etag },
    );
    expect([saved.status, saved.body.errors[0]!.path]).toEqual([422, 'colour.ruling']);
  });
});
