import {
  planProject,
  projectCameraSchema,
  type ProjectPlan,
  type ReliefPlan,
  type ReliefToPlan,
} from '@jossel/core/schedule';
import { readFileSync } from 'node:fs';
import sharp from 'sharp';
import type { Manifest } from '@jossel/core/formats';
import { finishOf } from './test/finish';
import { serve, type TestServer } from './test/serve';
import { unzip } from './test/unzip';

/** What the relief of a finish needs for a camera at a distance, over HTTP. */
let jossel: TestServer;
beforeAll(async () => {
  jossel = await serve();
});
afterAll(() => jossel.end());

const view = { objectMm: { width: 4000, height: 2700 }, cameraDeg: 30, fovDeg: 60, pictureWidthPx: 3840 };
const plan = (id: string, more: object) =>
  jossel.call<ReliefPlan & { detail: string }>('POST', `/api/finishes/${id}/relief-plan`, {
    ...view,
    ...more,
  });

/** A plaster whose relief is 4 mm deep. */
const deepPlaster = () =>
  finishOf(jossel, readFileSync('demo/samples/trowelled-plaster-shell.jpg'), 'plaster', (r) => {
    r.relief.contributions[0]!.depthMm = { value: 4, unit: 'mm', basis: 'measured' };
  });

test('a wall is planned near and far, and a view that cannot be is refused', async () => {
  const { id } = await deepPlaster();
  const near = await plan(id, { distanceMm: 1500 });
  expect(near.status).toBe(200);
  expect(near.body.need).toBe('displacement');
  expect(near.body.triangles).toBeGreaterThan(1000);
  expect(near.body.splitMm).toBeGreaterThan(near.body.spacingMm);
  expect(near.body.choices.length).toBeGreaterThan(4);
  const far = await plan(id, { distanceMm: 60000 });
  expect(['colour', 'normals']).toContain(far.body.need);
  const refused = await plan(id, { distanceMm: -3 });
  expect(refused.status).toBe(400);
  expect(refused.body.detail).toMatch(/at least 1 mm/);
});

/** A budget that allows whatever is planned: surfaces that share one would take from each other. */
const AMPLE_MB = 100_000;

test('a project is planned near and far for its camera, and what one budget allows', async () => {
  const { id } = await deepPlaster();
  await jossel.call('POST', `/api/finishes/${id}/revisions`, {});
  const { body: project } = await jossel.call<{ id: string }>('POST', '/api/projects', { name: 'Court' });
  const { body: room } = await jossel.call<{ id: string }>('POST', `/api/projects/${project.id}/rooms`, {
    name: 'Outside',
  });
  const add = (name: string, more: object) =>
    jossel.call<{ id: string; detail: string }>('POST', `/api/rooms/${room.id}/surfaces`, {
      ...{ name, widthMm: 30000, heightMm: 4000 },
      ...more,
    });
  const camera = { nearestMm: 1500, farthestMm: 30000, cameraDeg: 60 };
  const near = await add('Near and far', { finish: { id }, camera });
  const far = await add('Far', { finish: { id } });
  const bare = await add('Bare', {});
  const wrong = await add('Wrong', { camera: { nearestMm: 5000, farthestMm: 100 } });
  expect(wrong.status).toBe(400);
  expect(wrong.body.detail).toMatch(/cannot be nearer than its nearest place/);

  await jossel.call('PATCH', `/api/projects/${project.id}`, {
    camera: { budgetMb: AMPLE_MB, surface: { nearestMm: 60000 } },
  });
  const planned = (body: object = {}) =>
    jossel.call<{ plan: ProjectPlan; leftOut: { id: string; why: string }[] }>(
      'POST',
      `/api/projects/${project.id}/relief-plan`,
      body,
    );
  const { plan, leftOut } = (await planned()).body;
  expect(leftOut).toEqual([{ id: bare.body.id, name: 'Bare', why: 'No finish lies on it.' }]);
  const of = (surfaceId: string) => plan.surfaces.find((s) => s.id === surfaceId)!;
  expect(of(near.body.id).zones[0]!.need).toBe('displacement');
  expect(of(near.body.id).zones.at(-1)!.toMm).toBe(30000);
  expect(of(far.body.id).zones).toMatchObject([{ need: expect.stringMatching(/colour|normals/) }]);
  // The page plans by the same code from what the server says of the relief.
  const { body: relief } = await jossel.call<ReliefToPlan>(
    'GET',
    `/api/finishes/${id}/relief-detail?revision=A`,
  );
  const alike = { id: near.body.id, widthMm: 30000, heightMm: 4000, relief, camera };
  expect(planProject([alike], projectCameraSchema.parse({ budgetMb: AMPLE_MB })).surfaces[0]).toEqual(
    of(near.body.id),
  );

  const tight = await planned({ camera: { budgetMb: plan.memoryMb / 8, surface: { nearestMm: 60000 } } });
  expect(tight.body.plan.fits).toBe(true);
  expect(tight.body.plan.errorPx).toBeGreaterThan(plan.errorPx);
  const shown = await jossel.call<{ camera: object; rooms: { surfaces: { camera: object | null }[] }[] }>(
    'GET',
    `/api/projects/${project.id}`,
  );
  expect(shown.body.camera).toMatchObject({ errorPx: 0.5, surface: { nearestMm: 60000, farthestMm: null } });
  expect(shown.body.rooms[0]!.surfaces.map((s) => s.camera)).toEqual([camera, null, null]);
});

test('a relief is handed over shared between mesh and normals, and adds up to the whole', async () => {
  const { id } = await deepPlaster();
  await jossel.call('POST', `/api/finishes/${id}/revisions`, {});
  const refused = await jossel.call<{ detail: string }>('POST', '/api/handovers', {
    items: [{ finishId: id, splitMm: -1 }],
    profile: 'draft-1024',
  });
  expect(refused.body.detail).toMatch(/at least 0.01 mm/);
  const { body } = await jossel.call<{ id: string }>('POST', '/api/handovers', {
    items: [{ finishId: id }, { finishId: id, splitMm: 40 }],
    profile: 'draft-1024',
  });
  const done = (await jossel.ended('handovers', body.id)) as unknown as {
    manifest: Manifest;
    contents: { splitMm: number | null; reliefMm: number }[];
  };
  const [whole, shared] = done.manifest.finishes;
  expect(whole!.shared).toBeNull();
  expect(shared!.shared).toMatchObject({ splitMm: 40, wholeMm: { min: whole!.heightMm.min } });
  expect(done.contents.map(({ splitMm }) => splitMm)).toEqual([null, 40]);
  expect(done.contents[1]!.reliefMm).toBeCloseTo(done.contents[0]!.reliefMm, 6);
  const files = await unzip(
    Buffer.from(await (await fetch(`${jossel.url}/api/handovers/${body.id}/file`)).arrayBuffer()),
  );
  const heights = async ({ folder, heightMm: { min, max } }: Manifest['finishes'][number]) => {
    const { data, info } = await sharp(files.get(`${folder}/height.png`)!)
      .toColourspace('grey16')
      .raw({ depth: 'ushort' })
      .toBuffer({ resolveWithObject: true });
    const sixteen = new Uint16Array(data.buffer, data.byteOffset, data.byteLength / 2);
    return { widthPx: info.width, data: Array.from(sixteen, (v) => min + ((max - min) * v) / 65535) };
  };
  const [all, mesh] = [await heights(whole!), await heights(shared!)];
  // From one pixel to the next the mesh changes little, and what it leaves out nearly averages to nothing.
  const step = (data: number[]) =>
    Math.sqrt(data.reduce((sum, v, i) => sum + (v - (data[i + 1] ?? v)) ** 2, 0));
  expect(step(mesh.data)).toBeLessThan(0.5 * step(all.data));
  const left = all.data.map((v, i) => v - mesh.data[i]!);
  expect(Math.abs(left.reduce((a, b) => a + b, 0) / left.length)).toBeLessThan(0.01);
  // The normals of the whole are not those on the mesh, but the flat panel shows the whole relief in both packages.
  const bytes = (folder: string, name: string) => files.get(`${folder}/${name}`)!;
  expect(bytes(shared!.folder, 'normal.png')).not.toEqual(bytes(whole!.folder, 'normal.png'));
  const wholeNormals = bytes(whole!.folder, 'normal.png');
  expect(bytes(shared!.folder, 'panel.glb').includes(wholeNormals)).toBe(true);
});
