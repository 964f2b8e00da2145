import type { ReliefPlan } from '@jossel/core/schedule';
import { readFileSync } from 'node:fs';
import { finishOf } from './test/finish';
import { serve, type TestServer } from './test/serve';

/** What the relief of a finish needs for a camera at a distance, over HTTP. */
let jossel: TestServer;
beforeAll(async () => {
  jossel = await serve();
}, 240000);
afterAll(() => jossel.end());

const view = { objectMm: { width: 4000, height: 2700 }, cameraDeg: 30, fovDeg: 60, pictureWidthPx: 3840 };
const plan = (id: string, more: object) =>
  jossel.call<ReliefPlan & { detail: string }>('POST', `/api/finishes/${id}/relief-plan`, {
    ...view,
    ...more,
  });

test('a wall is planned near and far, and a view that cannot be is refused', async () => {
  const { id } = await finishOf(
    jossel,
    readFileSync('demo/samples/trowelled-plaster-shell.jpg'),
    'plaster',
    (r) => {
      r.relief.contributions[0]!.depthMm = { value: 4, unit: 'mm', basis: 'measured' };
    },
  );
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
}, 120000);
