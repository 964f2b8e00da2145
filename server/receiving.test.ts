import { readFileSync } from 'node:fs';
import sharp from 'sharp';
import { lead, SCHEMA_ID, type Recipe } from '@jossel/core/finish';
import { NO_SIZE, resolveSize, sizeKnownBy, type FoundStructure } from '@jossel/core/size';
import { makeFrame, type FoundCard } from '@jossel/core/straighten';
import { unprepared, type PickedArea } from '@jossel/core/sample';
import { figure } from '@jossel/core/units';
import { grainAs, slopingWall } from './test/pictures';
import { serve, startStandins, truthOfCapture, type TestServer } from './test/serve';

/** Receiving from the supplier and the capture bench, and what is done to samples, over HTTP against real processes. */
let standins: { url: string; end: () => void };
let jossel: TestServer;
beforeAll(async () => {
  standins = await startStandins();
  jossel = await serve({ JOSSEL_STANDINS_URL: standins.url, JOSSEL_OUTSIDE_HOSTS: '127.0.0.1:9' });
});
afterAll(async () => {
  await jossel?.end();
  standins?.end();
});

interface Sample {
  id: string;
  fileName: string;
  widthPx: number;
  heightPx: number;
  focalPx: number | null;
  cameFrom: string;
  sheet: Record<string, number>;
  origin: Record<string, string>;
  benchSampleId: string | null;
  detail: string;
}
const post = <T = Sample>(path: string, body?: unknown) => jossel.call<T>('POST', path, body);
const CAPTURE = { sampleId: 'boards-oak', widthPx: 1200, tiltDeg: 18, panDeg: -10, noise: 0.004 };

const truthOf = (settings: object) => truthOfCapture(standins.url, settings);

describe('supplier', () => {
  test('the catalogue has at least 24 products of seven suppliers, some with gaps in their sheets', async () => {
    const { body } = await jossel.call<{ items: { supplier: string; sheet: object }[] }>(
      'GET',
      '/api/suppliers/products',
    );
    expect(body.items.length).toBeGreaterThanOrEqual(24);
    expect(new Set(body.items.map((p) => p.supplier)).size).toBe(7);
    expect(body.items.some((p) => !('permission' in p.sheet))).toBe(true);
  });

  test('a plank comes with its sheet; the figures are published in the finish made of it', async () => {
    const { status, body: sample } = await post('/api/suppliers/products/vt-2145-sm/receive');
    expect(status).toBe(201);
    expect(sample).toMatchObject({
      cameFrom: 'supplier',
      origin: { supplier: 'Velthrask Timber', code: 'VT-2145-SM' },
      sheet: { widthMm: 1180, heightMm: 145, lrv: 24, glossGu: 14 },
    });
    expect(sample.origin['permission']).not.toBe('');
    const { body: finish } = await post<{ draft: { recipe: Recipe } }>('/api/finishes', {
      name: 'Plank',
      category: 'timber',
      sampleIds: [sample.id],
    });
    const { recipe } = finish.draft;
    // The swatch is one plank, cut to its edges: its proportions are those of the sheet.
    expect(lead(recipe).size!.ruling).toEqual({ across: 'overall', up: 'overall' });
    expect(lead(recipe).size!.overall.across).toMatchObject({ value: 1180, basis: 'published' });
    expect(recipe.colour.lrv).toMatchObject({ value: 24, basis: 'published' });
    expect(recipe.response.glossGu).toMatchObject({ value: 14, basis: 'published' });
    expect(recipe.relief.contributions[0]!.depthMm).toMatchObject({ value: 0.3, basis: 'published' });
  });

  test('a sample without permission is taken in and has none', async () => {
    const { status, body } = await post('/api/suppliers/products/ww-tw-sl/receive');
    expect(status).toBe(201);
    expect(body.origin['permission']).toBe('');
  });

  test.each([
    ['a page in place of a picture', 'ts-sa-ro', 422, /not a picture/],
    ['a picture cut short', 'rb-215-cl', 422, /damaged or cut short/],
    ['a product that is not there', 'no-such', 404, /no product/],
  ])('%s is refused with a sentence, and nothing is taken in', async (_name, id, status, sentence) => {
    const count = async () =>
      (await jossel.call<{ items: unknown[] }>('GET', '/api/samples')).body.items.length;
    const before = await count();
    const answer = await post(`/api/suppliers/products/${id}/receive`);
    expect(answer.status).toBe(status);
    expect(answer.body.detail).toMatch(sentence);
    expect(await count()).toBe(before);
  });

  test('a failing and an unreachable supplier are said to be so, and asking again works', async () => {
    const mood = (body: object) =>
      fetch(`${standins.url}/supplier/mood`, {
        method: 'PUT',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify(body),
      });
    await mood({ failing: true });
    const failing = await jossel.call<Sample>('GET', '/api/suppliers/products');
    expect([failing.status, failing.body.detail]).toEqual([
      502,
      expect.stringMatching(/being worked on.*Try again/),
    ]);
    await mood({});
    expect((await jossel.call('GET', '/api/suppliers/products')).status).toBe(200);

    const { body: before } = await jossel.call<{ supplier: string }>('GET', '/api/settings/addresses');
    expect(
      (await jossel.call<Sample>('PUT', '/api/settings/addresses', { supplier: 'nowhere' })).body.detail,
    ).toMatch(/Give an address/);
    // Nothing else of the network is called, whoever asks.
    for (const supplier of ['http://169.254.169.254', 'http://127.0.0.1:5432', 'file:///etc/passwd'])
      expect((await jossel.call('PUT', '/api/settings/addresses', { supplier })).status).toBe(400);
    await jossel.call('PUT', '/api/settings/addresses', { supplier: 'http://127.0.0.1:9' });
    const away = await jossel.call<Sample>('GET', '/api/suppliers/products');
    expect([away.status, away.body.detail]).toEqual([
      502,
      expect.stringMatching(/cannot be reached.*correct its address/),
    ]);
    await jossel.call('PUT', '/api/settings/addresses', before);
    expect((await jossel.call('GET', '/api/suppliers/products')).status).toBe(200);
  });
});

describe('capture bench', () => {
  let sample: Sample;
  beforeAll(async () => {
    sample = (await post('/api/capture/pictures', CAPTURE)).body;
  });

  test('a picture is taken, with the focal length in the file', async () => {
    const truth = await truthOf(CAPTURE);
    expect(sample).toMatchObject({
      cameFrom: 'capture bench',
      benchSampleId: 'boards-oak',
      widthPx: 1200,
      heightPx: 900,
    });
    expect(sample.focalPx! / truth.focalPx).toBeCloseTo(1, 2);
    expect((await post('/api/capture/pictures', { sampleId: 'nothing' })).body.detail).toMatch(
      /No sample "nothing"/,
    );
    expect((await post('/api/capture/pictures', { ...CAPTURE, tiltDeg: 80 })).body.detail).toMatch(
      /from -50 to 50/,
    );
  });

  test('its card is found, its size follows within half a percent, and the boards are counted', async () => {
    const truth = await truthOf(CAPTURE);
    const { body } = await post<{ card: FoundCard | null }>(`/api/samples/${sample.id}/card`);
    const frame = truth.sampleCorners;
    const settings = { ...unprepared(), frame };
    const geometry = makeFrame(
      { widthPx: 1200, heightPx: 900, focalPx: sample.focalPx },
      { bowLines: [], frame },
    );
    const size = resolveSize(
      { ...NO_SIZE, ruling: { across: 'card', up: 'card' }, card: { marks: body.card!.marks as never } },
      geometry,
    );
    expect(Math.abs(size.width.mm / truth.sampleMm.width - 1)).toBeLessThan(0.005);
    expect(Math.abs(size.height.mm / truth.sampleMm.height - 1)).toBeLessThan(0.005);
    const found = (await post<FoundStructure>(`/api/samples/${sample.id}/structure`, settings)).body;
    expect(found.up!.count).toBeCloseTo(5, 1);
    expect(found.across).toBeNull();
  });

  test('how a wall photographed askew is straightened is told by its courses; a frame that cannot be is refused', async () => {
    const [width, height] = [600, 440];
    const png = await sharp(slopingWall(width, height, 1.2), { raw: { width, height, channels: 3 } })
      .png()
      .toBuffer();
    const { id } = (await jossel.upload('wall.png', png)).body;
    const { body } = await post<FoundStructure>(`/api/samples/${id}/structure`);
    expect(body.straighten!.slopeDeg).toBeCloseTo(1.2, 1);
    expect(body).toMatchObject({ across: { period: expect.closeTo(100 / width, 3) }, stagger: 0.5 });
    // The shortest way to the like piece is to the next course.
    const lengths = body.lattice!.map(([x, y]) => Math.hypot(x * width, y * height));
    expect(Math.max(...lengths)).toBeLessThan(100.5);
    const frame = [
      [0, 0],
      [1, 1],
      [1, 0],
      [0, 1],
    ];
    const crossed = await post(`/api/samples/${id}/structure`, { ...unprepared(), frame });
    expect([400, 422]).toContain(crossed.status);
  });

  test('it is straightened as a picture of true proportions; crossed corners are refused', async () => {
    const truth = await truthOf(CAPTURE);
    const call = (frame: unknown) =>
      fetch(`${jossel.url}/api/samples/${sample.id}/straightened.png?widthPx=420`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ ...unprepared(), frame }),
      });
    const meta = await sharp(Buffer.from(await (await call(truth.sampleCorners)).arrayBuffer())).metadata();
    expect(meta.width).toBe(420);
    expect(Math.abs(meta.height! - (420 * truth.sampleMm.height) / truth.sampleMm.width)).toBeLessThan(4);
    const [a, b, c, d] = truth.sampleCorners;
    const crossed = await call([a, b, d, c]);
    expect(crossed.status).toBe(400);
    expect(((await crossed.json()) as { detail: string }).detail).toMatch(/cross/);
  });

  test('three readings of a meter make a measured figure with tolerance', async () => {
    const placesMm = [
      { x: 100, y: 100 },
      { x: 210, y: 180 },
      { x: 330, y: 250 },
    ];
    interface Answer {
      readings: { value: number }[];
      figure: { value: number; unit: string; basis: string; tolerance: number };
      otherAngles: Record<20 | 85, { value: number }>;
      detail: string;
    }
    const { body } = await post<Answer>('/api/meters/reflectance', { sampleId: sample.id, placesMm });
    expect(body.readings).toHaveLength(3);
    expect(body.figure).toMatchObject({ unit: 'LRV', basis: 'measured' });
    expect(body.figure.tolerance).toBeGreaterThan(0.2);
    expect(body.figure.value).toBeGreaterThan(10);
    const gloss = await post<Answer>('/api/meters/gloss', { sampleId: sample.id, placesMm });
    expect(gloss.body.figure).toMatchObject({ unit: 'GU', basis: 'measured' });
    expect(Math.abs(gloss.body.figure.value - 12)).toBeLessThan(4);
    // A satin surface reads far less at 20°.
    const { 20: at20, 85: at85 } = gloss.body.otherAngles;
    expect(at20.value).toBeLessThan(gloss.body.figure.value / 2);
    expect(at85.value).toBeGreaterThan(3 * at20.value);
    expect(
      (await post<Answer>('/api/meters/gloss', { sampleId: sample.id, placesMm: [{ x: 9000, y: 1 }] })).body
        .detail,
    ).toMatch(/does not stand on the sample/);
    const file = await jossel.upload('plain.png', await grainAs('png'));
    expect(
      (await post<Answer>('/api/meters/gloss', { sampleId: file.body.id, placesMm })).body.detail,
    ).toMatch(/came as a file/);
  });

  // This capture is evenly lit: its evenness has one tone.
  test.each([
    ['clipped', 3],
    ['evenness', 1],
    ['sharpness', 3],
  ])('the report is shown as a picture: %s', async (shows, tones) => {
    const response = await fetch(`${jossel.url}/api/samples/${sample.id}/report/${shows}.png`);
    const { data, info } = await sharp(Buffer.from(await response.arrayBuffer()))
      .raw()
      .toBuffer({ resolveWithObject: true });
    expect(info.width).toBe(1200);
    expect(new Set(data).size).toBeGreaterThanOrEqual(tones);
  });

  test('a finish of a picked area has the area’s own size, and renders; keep-outs over all of it stop it with a sentence', async () => {
    const truth = await truthOf(CAPTURE);
    const made = await post<{ id: string; draft: { recipe: Recipe; etag: string } }>('/api/finishes', {
      name: 'Second strip',
      category: 'timber',
      sampleIds: [sample.id],
    });
    const recipe = made.body.draft.recipe;
    const { card } = (await post<{ card: FoundCard }>(`/api/samples/${sample.id}/card`)).body;
    const [a, b, c, d] = truth.sampleCorners;
    const along = (p: readonly number[], q: readonly number[], t: number): [number, number] => [
      p[0]! + (q[0]! - p[0]!) * t,
      p[1]! + (q[1]! - p[1]!) * t,
    ];
    // About the second of five strips.
    const area = [
      along(a, d, 0.21),
      along(b, c, 0.21),
      along(b, c, 0.39),
      along(a, d, 0.39),
    ] as PickedArea['corners'];
    lead(recipe).preparation = {
      ...unprepared(),
      frame: truth.sampleCorners as never,
      areas: [{ id: 'two', name: 'Second strip', corners: area, leftOut: false }],
    };
    recipe.repeat.from = [{ source: 'p1', area: 'two' }];
    lead(recipe).size = {
      ...NO_SIZE,
      ruling: { across: 'card', up: 'card' },
      card: { marks: card.marks as never },
    };
    recipe.repeat = {
      ...recipe.repeat,
      across: { closing: 'abut', overlapMm: 0 },
      up: { closing: 'abut', overlapMm: 0 },
    };
    const save = (etag: string) =>
      jossel.call<{ etag: string; detail: string }>(
        'PUT',
        `/api/finishes/${made.body.id}/draft`,
        { recipe },
        { 'if-match': etag },
      );
    const saved = await save(made.body.draft.etag);
    expect(saved.status).toBe(200);
    const render = () => jossel.render(made.body.id, { widthPx: 256, maps: ['colour'] });
    const done = await render();
    expect(done.state).toBe('done');
    expect(Math.abs(done.report.repeatMm.width - 420)).toBeLessThan(4);
    expect(Math.abs(done.report.repeatMm.height - 0.18 * 360)).toBeLessThan(6);

    lead(recipe).preparation.keepOuts = [
      {
        id: 'k',
        kind: 'outline',
        points: [
          [0, 0],
          [1, 0],
          [1, 1],
          [0, 1],
        ],
        erase: false,
      },
    ];
    expect((await save(saved.body.etag)).status).toBe(200);
    const stopped = await render();
    expect([stopped.state, stopped.error]).toEqual([
      'failed',
      expect.stringMatching(/keep-outs cover the whole sample/),
    ]);
  });

  const counted = (modules: number) =>
    sizeKnownBy(
      { count: { modules, moduleMm: figure(10, 'mm', 'measured'), jointMm: 0, ends: 'flush' } },
      'follows',
    );
  test.each([
    [
      'a ruler of no length',
      (r: Recipe) =>
        (lead(r).size = {
          ...NO_SIZE,
          ruling: { across: 'lines', up: 'follows' },
          lines: [{ id: 'l', from: [0.4, 0.4], to: [0.4, 0.4], lengthMm: figure(10, 'mm', 'measured') }],
        }),
      /no length/,
    ],
    ['a count of a million', (r: Recipe) => (lead(r).size = counted(1e6)), /100 000/],
    ['a count of 0', (r: Recipe) => (lead(r).size = counted(0)), /at least 1/],
    [
      'an area of no extent',
      (r: Recipe) =>
        (lead(r).preparation.areas = [
          {
            id: 'a',
            name: 'A',
            leftOut: false,
            corners: [
              [0.2, 0.2],
              [0.8, 0.2],
              [0.8, 0.2],
              [0.2, 0.2],
            ],
          },
        ]),
      /one place/,
    ],
    [
      'card marks on one line',
      (r: Recipe) =>
        (lead(r).size = {
          ...NO_SIZE,
          ruling: { across: 'card', up: 'follows' },
          card: {
            marks: [
              [0.1, 0.1],
              [0.2, 0.2],
              [0.3, 0.3],
              [0.4, 0.4],
            ],
          },
        }),
      /one line/,
    ],
    [
      'a bow that no lens has',
      (r: Recipe) =>
        (lead(r).preparation.bowLines = [
          [
            [0.05, 0.05],
            [0.5, 0.9],
            [0.95, 0.05],
          ],
        ]),
      /No lens bows/,
    ],
  ] as [string, (r: Recipe) => void, RegExp][])(
    '%s is refused where it is saved, and the draft stays',
    async (_name, spoil, sentence) => {
      const made = await post<{ id: string; draft: { recipe: Recipe; etag: string } }>('/api/finishes', {
        name: 'Spoilt',
        category: 'timber',
        sampleIds: [sample.id],
      });
      const recipe = structuredClone(made.body.draft.recipe);
      spoil(recipe);
      const answer = await jossel.call<{ detail: string }>(
        'PUT',
        `/api/finishes/${made.body.id}/draft`,
        { recipe },
        { 'if-match': made.body.draft.etag },
      );
      expect([answer.status, answer.body.detail]).toEqual([422, expect.stringMatching(sentence)]);
      const after = await jossel.call<{ draft: { recipe: Recipe } }>('GET', `/api/finishes/${made.body.id}`);
      expect(after.body.draft.recipe).toEqual(made.body.draft.recipe);
    },
  );
});

describe('sets of maps', () => {
  const plane = (w: number, h: number, of: (x: number, y: number) => [number, number, number]) => {
    const data = Buffer.alloc(3 * w * h);
    for (let i = 0; i < w * h; i++) data.set(of(i % w, Math.floor(i / w)), 3 * i);
    return sharp(data, { raw: { width: w, height: h, channels: 3 } })
      .png()
      .toBuffer();
  };
  // Ridges that run slantwise, their normals with green down the picture, and a gloss map.
  const height = (x: number, y: number) =>
    Math.sin(((2 * x + 3 * y) * 2 * Math.PI) / 64) + 0.6 * Math.sin(((3 * x - y) * 2 * Math.PI) / 64);
  const slope = (x: number, y: number) => {
    const dx = (height(x + 1, y) - height(x - 1, y)) / 2;
    const dy = (height(x, y + 1) - height(x, y - 1)) / 2;
    const n = Math.hypot(dx, dy, 1);
    // y down: the green channel counts down the picture.
    return [-dx / n, -dy / n, 1 / n].map((v) => Math.round(127.5 + 127.5 * v)) as [number, number, number];
  };
  const grey = (v: number): [number, number, number] => [v, v, v];

  test('are told by name and content, and go together into one finish of one size', async () => {
    const files: [string, Buffer][] = [
      ['ridge_basecolor.png', await plane(128, 128, (x, y) => [150 + 20 * height(x, y), 120, 90])],
      ['ridge_height.png', await plane(128, 128, (x, y) => grey(128 + 60 * height(x, y)))],
      ['ridge_nrm.png', await plane(128, 128, slope)],
      ['ridge_gloss.png', await plane(128, 128, (x, y) => grey(90 + 30 * height(x, y)))],
      ['ridge_metallic.png', await plane(128, 128, (x) => grey(x < 64 ? 255 : 0))],
      ['ridge_opacity.png', await plane(128, 128, (_x, y) => grey(y < 32 ? 0 : 255))],
    ];
    const ids: string[] = [];
    for (const [name, bytes] of files)
      ids.push((await jossel.upload(name, bytes, { permission: 'own' })).body.id);
    const { body } = await post<{
      maps: { sampleId: string; role: string; orientation?: { greenRuns: string; by: string } }[];
    }>('/api/sample-sets', { sampleIds: ids });
    expect(body.maps.map((m) => m.role)).toEqual([
      'colour',
      'height',
      'normal',
      'gloss',
      'metalness',
      'opacity',
    ]);
    expect(body.maps[2]!.orientation).toMatchObject({ greenRuns: 'down', by: 'height' });

    const made = await post<{ id: string; draft: { recipe: Recipe; etag: string } }>('/api/finishes', {
      name: 'Ridges',
      category: 'other',
      sampleIds: [ids[0]],
      maps: body.maps.slice(1).map((m) => ({
        sampleId: m.sampleId,
        role: m.role,
        ...(m.orientation ? { greenRuns: m.orientation.greenRuns } : {}),
      })),
    });
    expect(made.status).toBe(201);
    const { recipe } = made.body.draft;
    expect(recipe.relief.contributions[0]!.kind).toBe('map');
    recipe.repeat = {
      ...recipe.repeat,
      across: { closing: 'abut', overlapMm: 0 },
      up: { closing: 'abut', overlapMm: 0 },
    };
    Object.assign(recipe.relief.contributions[0]!, { broad: 1, middle: 1, fine: 1 });

    /** Renders with these maps and reads one as raw values. */
    const rendered = async (name: string) => {
      const current = await jossel.call<{ draft: { etag: string } }>('GET', `/api/finishes/${made.body.id}`);
      await jossel.call(
        'PUT',
        `/api/finishes/${made.body.id}/draft`,
        { recipe },
        { 'if-match': current.body.draft.etag },
      );
      const done = await jossel.render(made.body.id, { widthPx: 128, maps: [name] });
      expect(done.error).toBeUndefined();
      const png = await (await fetch(`${jossel.url}/api/renders/${done.id}/maps/${name}.png`)).arrayBuffer();
      const image = sharp(Buffer.from(png));
      const wide = (await image.metadata()).depth === 'ushort';
      const { data, info } = await image
        .raw(wide ? { depth: 'ushort' } : {})
        .toBuffer({ resolveWithObject: true });
      const values = wide ? new Uint16Array(data.buffer, data.byteOffset, data.byteLength / 2) : data;
      return Float64Array.from({ length: info.width * info.height }, (_, i) => values[i * info.channels]!);
    };
    const correlation = (a: ArrayLike<number>, b: (x: number, y: number) => number) => {
      let [ab, aa, bb, ma, mb] = [0, 0, 0, 0, 0];
      for (let i = 0; i < 128 * 128; i++) {
        ma += a[i]! / 16384;
        mb += b(i % 128, Math.floor(i / 128)) / 16384;
      }
      for (let i = 0; i < 128 * 128; i++) {
        const [u, v] = [a[i]! - ma, b(i % 128, Math.floor(i / 128)) - mb];
        ab += u * v;
        aa += u * u;
        bb += v * v;
      }
      return ab / Math.sqrt(aa * bb);
    };
    // Relief by the height map, and by the normals alone, are the same ridges.
    expect(correlation(await rendered('height'), height)).toBeGreaterThan(0.99);
    lead(recipe).maps = lead(recipe).maps.filter((m) => m.role !== 'height');
    expect(correlation(await rendered('height'), height)).toBeGreaterThan(0.97);
    // Metal and openings are where the maps have them.
    expect(correlation(await rendered('metalness'), (x) => (x < 64 ? 1 : 0))).toBeGreaterThan(0.98);
    expect(correlation(await rendered('opacity'), (_x, y) => (y < 32 ? 0 : 1))).toBeGreaterThan(0.98);
    // Gloss became roughness: what was bright is smooth.
    expect(correlation(await rendered('roughness'), height)).toBeLessThan(-0.98);
  });

  test('maps of different shapes are refused, in the set and in a recipe', async () => {
    const a = (await jossel.upload('a_color.png', await plane(64, 64, () => [90, 80, 70]))).body.id;
    const b = (await jossel.upload('a_height.png', await plane(64, 40, (x) => grey(x * 3)))).body.id;
    expect((await post('/api/sample-sets', { sampleIds: [a, b] })).body.detail).toMatch(/another shape/);
    const made = await post('/api/finishes', {
      name: 'x',
      category: 'other',
      sampleIds: [a],
      maps: [{ sampleId: b, role: 'height' }],
    });
    expect([made.status, made.body.detail]).toEqual([422, expect.stringMatching(/another shape/)]);
  });
});

test('a recipe of version 1 is opened, and its one way per axis rules', async () => {
  const sample = await jossel.upload('old.png', await grainAs('png'));
  const stored = JSON.parse(readFileSync('core/finish/versions/stored/1.json', 'utf8')) as object;
  const old = {
    ...stored,
    source: { kind: 'samples', sampleIds: [sample.body.id] },
    size: {
      across: { by: 'follows' },
      up: {
        by: 'count',
        modules: 17,
        moduleMm: { value: 145, unit: 'mm', basis: 'published' },
        jointMm: 3,
        ends: 'flush',
      },
    },
  };
  const { status, body } = await post<{ draft: { recipe: Recipe } }>('/api/finishes', {
    name: 'Old again',
    category: 'timber',
    recipe: old,
  });
  expect(status).toBe(201);
  expect(body.draft.recipe).toMatchObject({
    schema: SCHEMA_ID,
    sources: [
      {
        sampleId: sample.body.id,
        size: { ruling: { across: 'follows', up: 'count' }, count: { up: { modules: 17, jointMm: 3 } } },
        preparation: unprepared(),
      },
    ],
  });
});
