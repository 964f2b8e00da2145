import type { Recipe } from '@jossel/core/finish';
import type { Manifest } from '@jossel/core/formats';
import { usualLayer } from '@jossel/core/weathering';
import { figure } from '@jossel/core/units';
import { saveDraft, type FinishAnswer } from './test/finish';
import { unzip } from './test/unzip';
import { serve, type TestServer } from './test/serve';
import type { PackageEstimate } from './services/estimates';

/** Generated finishes, weathering and derivation over HTTP. */
let jossel: TestServer;
beforeAll(async () => {
  jossel = await serve();
});
afterAll(() => jossel.end());

const generate = (body: object) =>
  jossel.call<FinishAnswer>('POST', '/api/finishes', { name: 'Generated', category: 'stone', ...body });

async function rendered(finishId: string, widthPx = 96) {
  const { body } = await jossel.call<{ id: string }>('POST', '/api/renders', { finishId, widthPx });
  for (;;) {
    const { body: task } = await jossel.call<{
      state: string;
      report: { lrv: number; repeatMm: object; weathering: { wallMm: number } | null };
      detail?: string;
    }>('GET', `/api/renders/${body.id}`);
    if (task.state === 'done') return task;
    if (task.state === 'failed') throw new Error(JSON.stringify(task));
    await new Promise((resolve) => setTimeout(resolve, 150));
  }
}

test('everything that can be generated is listed with its settings and initial values, and each can be made', async () => {
  const { body: kinds } = await jossel.call<
    {
      kind: string;
      category: string;
      settings: { properties: Record<string, { description: string }> };
      initial: { kind: string };
    }[]
  >('GET', '/api/generators');
  expect(kinds.length).toBeGreaterThanOrEqual(15);
  for (const { kind, category, settings, initial } of kinds) {
    expect(initial.kind).toBe(kind);
    for (const { description } of Object.values(settings.properties))
      expect(description.length).toBeGreaterThan(5);
    const { status } = await generate({ category, generated: { kind } });
    expect({ kind, status }).toEqual({ kind, status: 201 });
  }
});

test('a generated finish is on the rack with its figures, is rendered, issued and handed over without a sample', async () => {
  const { body: made } = await generate({
    name: 'Terrazzo of the test',
    generated: { kind: 'terrazzo', repeatMm: { width: 150, height: 100 } },
  });
  const recipe: Recipe = { ...made.draft.recipe, weathering: [usualLayer('Splash zone', 'splash')] };
  recipe.weathering[0]!.place = { at: 'foot', reachMm: 10, fromMm: 0, toMm: 60 };
  expect((await saveDraft(jossel, made.id, recipe, made.draft.etag)).status).toBe(200);
  const { report } = await rendered(made.id);
  expect(report.repeatMm).toEqual({ width: 150, height: 100 });
  expect(report.weathering!.wallMm).toBe(100);
  const { body: list } = await jossel.call<{
    items: { name: string; headline: { repeatMm: object; lrv: number; supplier: string } | null }[];
  }>('GET', '/api/finishes?search=terrazzo');
  const listed = list.items.find(({ name }) => name === 'Terrazzo of the test')!.headline!;
  expect(listed.repeatMm).toEqual({ width: 150, height: 100 });
  expect(listed.lrv).toBeGreaterThan(10);
  const swatch = await fetch(`${jossel.url}/api/finishes/${made.id}/swatch.png?widthPx=64`);
  expect([200, 304]).toContain(swatch.status);
  expect(
    (await jossel.call<{ revision: string }>('POST', `/api/finishes/${made.id}/revisions`, {})).body.revision,
  ).toBe('A');
  const wanted = { items: [{ finishId: made.id, revision: 'A' }], profile: 'draft-1024' };
  const estimate = async (more = {}) => {
    const { body } = await jossel.call<PackageEstimate>('POST', '/api/handovers/estimate', {
      ...wanted,
      ...more,
    });
    return body;
  };
  const before = await estimate();
  expect(before).toMatchObject({ sets: 1, tooLarge: null });
  expect((await estimate({ profile: 'close-4096' })).seconds).toBeGreaterThan(8 * before.seconds);
  const ordered = performance.now();
  const { body: order } = await jossel.call<{ id: string }>('POST', '/api/handovers', wanted);
  let state = '';
  for (let k = 0; k < 600 && state !== 'done'; k++) {
    ({ state } = (await jossel.call<{ state: string }>('GET', `/api/handovers/${order.id}`)).body);
    if (state === 'failed') throw new Error('The handover failed.');
    await new Promise((resolve) => setTimeout(resolve, 150));
  }
  // By the first package the machine is known.
  const tookSeconds = (performance.now() - ordered) / 1000;
  const after = await estimate();
  expect(after.seconds).toBeLessThanOrEqual(tookSeconds);
  expect(after.seconds).toBeGreaterThan(tookSeconds / 4);
  const zip = Buffer.from(await (await fetch(`${jossel.url}/api/handovers/${order.id}/file`)).arrayBuffer());
  const manifest = JSON.parse((await unzip(zip)).get('manifest.json')!.toString()) as Manifest;
  const [finish] = manifest.finishes;
  expect(finish!.generated).toMatchObject({ kind: 'terrazzo' });
  expect(finish!.size).toBeNull();
  expect(finish!.origin.permission).toMatch(/generated/);
  expect(finish!.weathering).toMatchObject({ wallMm: 100, layers: [{ name: 'Splash zone' }] });
  expect(finish!.figures.map(({ name }) => name)).toContain('share of stone 1');
  expect(finish!.checks.join(' ')).toMatch(/does not close upwards/);
});

test('what cannot be generated is refused with a sentence that names the setting', async () => {
  const refused = async (generated: object) => {
    const { status, body } = await generate({ generated });
    expect(status).toBe(422);
    return body.detail;
  };
  expect(await refused({ kind: 'velvet' })).toMatch(/Nothing is generated as "velvet"/);
  expect(await refused({ kind: 'timber', ringsPerCm: figure(0, '1/cm', 'assumed') })).toMatch(
    /Annual rings: between 0.5 and 25/,
  );
  expect(await refused({ kind: 'cloth', weftOrder: 'F' })).toMatch(
    /names yarn F, but there are only 2 yarns/,
  );
  const { status, body } = await jossel.call<{ detail: string }>('POST', '/api/finishes', {
    name: 'Nothing',
    category: 'stone',
    generated: 'terrazzo',
  });
  expect(status).toBe(400);
  expect(body.detail).toBeTruthy();
});

test('a finish is derived from a revision, not from a draft, and keeps the link', async () => {
  const { body: made } = await generate({ name: 'Parent', generated: { kind: 'slate' } });
  const early = await jossel.call<{ detail: string }>('POST', `/api/finishes/${made.id}/derive`, {});
  expect(early.status).toBe(409);
  expect(early.body.detail).toMatch(/Parent has no issued revision yet/);
  await jossel.call('POST', `/api/finishes/${made.id}/revisions`, {});
  const { status, body: derived } = await jossel.call<FinishAnswer & { name: string }>(
    'POST',
    `/api/finishes/${made.id}/derive`,
    {},
  );
  expect(status).toBe(201);
  expect(derived.name).toBe('Parent, derived');
  expect(derived.draft.recipe.derived).toMatchObject({ finishId: made.id, letter: 'A', name: 'Parent' });
  expect(derived.draft.recipe.generated).toEqual(made.draft.recipe.generated);
  expect((await jossel.call('POST', `/api/finishes/${made.id}/derive`, { revision: 'C' })).status).toBe(404);
});
