import { lead, type Recipe } from '@jossel/core/finish';
import sharp from 'sharp';
import { serve, startStandins, type TestServer } from './test/serve';

/** Relief measured from pictures under several lights, over HTTP. */
let jossel: TestServer;
let standins: Awaited<ReturnType<typeof startStandins>>;
beforeAll(async () => {
  standins = await startStandins();
  jossel = await serve({ JOSSEL_STANDINS_URL: standins.url });
});
afterAll(async () => {
  await jossel.end();
  standins.end();
});

const SIDE = 120;
const LIGHTS = 8;
/** Grooves of 1.2 mm every 20 mm over 60 mm, by their depth at a place across. */
const grooveMm = (xMm: number) => {
  const off = (((xMm % 20) + 20) % 20) - 10;
  return -1.2 * Math.exp(-(off * off) / 4);
};
const directionOf = (k: number) => {
  const azimuth = (2 * Math.PI * k) / LIGHTS;
  const elevation = ((k % 2 ? 60 : 40) * Math.PI) / 180;
  return [
    Math.cos(elevation) * Math.cos(azimuth),
    Math.cos(elevation) * Math.sin(azimuth),
    Math.sin(elevation),
  ] as const;
};

/** A picture of the grooves under a far light; 16-bit grey of 50 %. */
async function shot(k: number): Promise<Uint8Array> {
  const [lx, , lz] = directionOf(k);
  const data = new Uint16Array(3 * SIDE * SIDE);
  for (let y = 0; y < SIDE; y++)
    for (let x = 0; x < SIDE; x++) {
      const mm = ((x + 0.5) * 60) / SIDE;
      const slope = (grooveMm(mm + 0.25) - grooveMm(mm - 0.25)) / 0.5;
      const lit = Math.max(0, (-slope * lx + lz) / Math.sqrt(1 + slope * slope));
      const linear = 0.5 * lit;
      const code = linear <= 0.0031308 ? 12.92 * linear : 1.055 * linear ** (1 / 2.4) - 0.055;
      data.fill(Math.round(65535 * code), 3 * (y * SIDE + x), 3 * (y * SIDE + x) + 3);
    }
  return new Uint8Array(
    await sharp(data, { raw: { width: SIDE, height: SIDE, channels: 3 } })
      .toColourspace('rgb16')
      .png()
      .toBuffer(),
  );
}

type SetAnswer = { id: string; sampleIds: string[]; detail: string };

async function send(lights: string, files: { name: string; bytes: Uint8Array }[]) {
  const form = new FormData();
  form.append('lights', lights);
  for (const { name, bytes } of files) form.append('file', new Blob([Buffer.from(bytes)]), name);
  const response = await fetch(`${jossel.url}/api/light-sets`, { method: 'POST', body: form });
  return { status: response.status, body: (await response.json()) as SetAnswer };
}

const samplesKept = async () =>
  (await jossel.call<{ total: number }>('GET', '/api/samples?limit=1')).body.total;
const names = Array.from({ length: LIGHTS }, (_, k) => `light-${k + 1}.png`);
const json = (change: (list: Record<string, unknown>[]) => unknown = (list) => list) =>
  JSON.stringify(change(names.map((file, k) => ({ file, directionTo: directionOf(k) }))));
const allShots = () => Promise.all(names.map(async (name, k) => ({ name, bytes: await shot(k) })));

test('a set becomes a finish whose relief, colour and size are measured', async () => {
  const { status, body: set } = await send(json(), await allShots());
  expect(status).toBe(201);
  expect(set.sampleIds).toHaveLength(LIGHTS);
  const made = await jossel.call<{ id: string; draft: { recipe: Recipe }; detail?: string }>(
    'POST',
    '/api/finishes',
    {
      name: 'Grooved board',
      category: 'plaster',
      lightSetId: set.id,
      overallMm: { width: 60 },
    },
  );
  expect(made.body.detail).toBeUndefined();
  expect(made.status).toBe(201);
  const { recipe } = made.body.draft;
  const [measured] = recipe.relief.contributions;
  expect(measured).toMatchObject({ kind: 'measured', depthMm: { basis: 'measured' } });
  expect(Math.abs(measured!.depthMm.value - 1.2)).toBeLessThan(0.25);
  expect(measured!.depthMm.tolerance).toBeGreaterThan(0);
  expect(recipe.colour.lrv).toMatchObject({ basis: 'measured' });
  expect(Math.abs(recipe.colour.lrv!.value - 50)).toBeLessThan(2);
  expect(lead(recipe).size!.overall.across).toMatchObject({ value: 60, basis: 'measured' });
  const { report } = await jossel.render(made.body.id, { widthPx: 120, maps: ['height', 'curvature'] });
  expect(report.heightMm.max - report.heightMm.min).toBeGreaterThan(0.9);
  const told = await jossel.call<{ measured: { lights: unknown[]; doubts: string[] } }>(
    'GET',
    `/api/light-sets/${set.id}`,
  );
  expect(told.body.measured.lights).toHaveLength(LIGHTS);
  expect(told.body.measured.doubts).toEqual([]);
});

test('pictures are straightened first where a frame is given, and measured at its size', async () => {
  const { body: set } = await send(json(), await allShots());
  const measure = (frame: unknown, overallMm: object) =>
    jossel.call<Record<string, never> & { detail: string }>('POST', `/api/light-sets/${set.id}/measure`, {
      overallMm,
      straighten: { bowLines: [], frame },
    });
  // The middle third of the width: one groove.
  const third = [[1 / 3, 0.25], [2 / 3, 0.25], [2 / 3, 0.75], [1 / 3, 0.75]]; // prettier-ignore
  const { status, body } = await measure(third, { width: 20, height: 30 });
  expect(status).toBe(200);
  expect(body).toMatchObject({ overallMm: { width: 20, height: 30 }, straightened: { frame: third } });
  expect(Math.abs(Number(body['rangeMm']) - 1.2)).toBeLessThan(0.25);
  expect(Math.abs(Number(body['lrv']) - 50)).toBeLessThan(2);
  const colour = await jossel.call<{ widthPx: number; heightPx: number }>(
    'GET',
    `/api/samples/${String(body['colourId'])}`,
  );
  expect(colour.body).toMatchObject({ widthPx: 40, heightPx: 60 });
  // Asked for again it is told as it was; another frame is measured anew.
  expect((await measure(third, { width: 20, height: 30 })).body['colourId']).toBe(body['colourId']);
  expect((await measure(null, { width: 60 })).body['colourId']).not.toBe(body['colourId']);
  const crossed = [third[0], third[2], third[1], third[3]];
  const refused = await measure(crossed, { width: 20 });
  expect([refused.status, refused.body.detail]).toEqual([400, expect.stringMatching(/cross each other/)]);
});

test('a list as CSV is read as well', async () => {
  const lines = names.map((file, k) => [file, ...directionOf(k), 'direction'].join(','));
  const { status } = await send(['file,x,y,z,kind', ...lines].join('\n'), await allShots());
  expect(status).toBe(201);
});

test('a set that cannot be measured is refused, and says what would do', async () => {
  const shots = await allShots();
  const refused = async (lights: string, files = shots) => {
    const { status, body } = await send(lights, files);
    expect(status).toBeGreaterThanOrEqual(400);
    expect(status).toBeLessThan(500);
    return body.detail;
  };
  expect(await refused('lights')).toMatch(/no column "file"/);
  expect(await refused('[{]')).toMatch(/neither JSON nor CSV/);
  expect(await refused(json((list) => list.slice(1)))).toMatch(/does not name the picture "light-1.png"/);
  expect(await refused(json(), shots.slice(1))).toMatch(/names "light-1.png", but no such picture/);
  expect(await refused(json((list) => list.map((l) => ({ ...l, directionTo: [1, 0, 1] }))))).toMatch(
    /on one side|one plane/,
  );
  expect(
    await refused(
      json((list) => list.slice(0, 2)),
      shots.slice(0, 2),
    ),
  ).toMatch(/2 lights are not enough/);
  expect(await refused(json((list) => list.map(({ file }) => ({ file }))))).toMatch(
    /directionTo or positionMm/,
  );
  const noPicture = { name: names[2]!, bytes: new TextEncoder().encode('no picture') };
  const before = await samplesKept();
  expect(
    await refused(
      json(),
      shots.map((s, k) => (k === 2 ? noPicture : s)),
    ),
  ).toMatch(/light-3.png: This file is not a picture/);
  const other = await sharp(Buffer.from(shots[3]!.bytes)).resize(80, 80).png().toBuffer();
  expect(
    await refused(
      json(),
      shots.map((s, k) => (k === 3 ? { ...s, bytes: other } : s)),
    ),
  ).toMatch(/80 × 80/);
  // Nothing of a set that is refused is kept.
  expect(await samplesKept()).toBe(before);
});

test('a finish of a light set needs a size, and proportions that can be', async () => {
  const { body: set } = await send(json(), await allShots());
  const make = (overallMm?: unknown) =>
    jossel.call<{ detail: string }>('POST', '/api/finishes', {
      name: 'Grooved board',
      category: 'plaster',
      lightSetId: set.id,
      ...(overallMm ? { overallMm } : {}),
    });
  expect(await make()).toMatchObject({ status: 422, body: { detail: expect.stringMatching(/overallMm/) } });
  expect(await make({ width: 60, height: 90 })).toMatchObject({
    status: 422,
    body: { detail: expect.stringMatching(/is 60 mm high, not 90/) },
  });
});

test('the light rig takes a set of a sample', async () => {
  const { status, body } = await jossel.call<SetAnswer & { overallMm: { width: number } }>(
    'POST',
    '/api/capture/light-sets',
    { sampleId: 'tile-single', lights: 6, widthPx: 200 },
  );
  expect(status).toBe(201);
  expect(body.sampleIds).toHaveLength(6);
  expect(body.overallMm.width).toBeGreaterThan(190);
  const unknown = await jossel.call<{ detail: string }>('POST', '/api/capture/light-sets', {
    sampleId: 'nothing',
  });
  expect(unknown.status).toBe(404);
});
