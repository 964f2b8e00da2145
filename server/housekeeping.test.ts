import knex, { type Knex } from 'knex';
import { grainAs } from './test/pictures';
import { serve, type TestServer } from './test/serve';
import { clearExpired, keepDerived, sizesOf } from './store';

/** What expires, what never does, and what is told of its size. */

let jossel: TestServer;
let database: Knex;
beforeAll(async () => {
  jossel = await serve();
  database = knex({ client: 'pg', connection: jossel.databaseUrl, pool: { min: 0, max: 3 } });
});
afterAll(async () => {
  await database.destroy();
  await jossel.end();
});

/** As if all of it had happened so many days ago. */
const agedBy = async (days: number) => {
  const back = `interval '${days} days'`;
  await database.raw(`
    update blobs set stored_at = stored_at - ${back};
    update swatches set used_at = used_at - ${back};
    update solved_repeats set used_at = used_at - ${back};
    update tasks set finished_at = finished_at - ${back};
    update finishes set removed_at = removed_at - ${back};
    update samples set removed_at = removed_at - ${back};`);
};
const sampleOf = async (name: string, seed: number) =>
  (await jossel.upload(name, await grainAs('png', 64 + seed, 64), { permission: 'own picture' })).body.id;
const finishOf = async (name: string, sampleId: string) =>
  (
    await jossel.call<{ id: string }>('POST', '/api/finishes', {
      ...{ name, category: 'timber', sampleIds: [sampleId] },
    })
  ).body.id;

test('what nothing uses goes in time; what an issued revision uses never does', async () => {
  const [used, unused, drafted] = [
    await sampleOf('a.png', 1),
    await sampleOf('b.png', 2),
    await sampleOf('c.png', 3),
  ];
  const issued = await finishOf('Issued', used);
  const draft = await finishOf('Draft', drafted);
  await jossel.call('POST', `/api/finishes/${issued}/revisions`, {});
  await fetch(`${jossel.url}/api/finishes/${issued}/swatch.png?widthPx=64`);
  const render = await jossel.render(issued, { widthPx: 64, maps: ['colour'] });
  await keepDerived(
    database,
    'solved_repeats',
    '0'.repeat(64),
    new Uint8Array(8),
    'application/octet-stream',
  );

  // A sample that a finish on the rack uses is refused, by the name of that.
  const refused = await jossel.call<{ detail: string }>('DELETE', `/api/samples/${drafted}`);
  expect([refused.status, refused.body.detail]).toEqual([409, expect.stringMatching(/used in Draft/)]);
  for (const path of [`finishes/${issued}`, `finishes/${draft}`, `samples/${unused}`, `samples/${used}`])
    expect((await jossel.call('DELETE', `/api/${path}`)).status).toBe(204);
  const listed = async (query: string) =>
    (await jossel.call<{ items: { id: string }[] }>('GET', `/api/samples${query}`)).body.items.map(
      (s) => s.id,
    );
  expect(await listed('')).toEqual([drafted]);
  expect((await listed('?removed=true')).sort()).toEqual([used, unused].sort());
  expect((await jossel.call('POST', `/api/samples/${unused}/restore`)).status).toBe(200);
  await jossel.call('DELETE', `/api/samples/${unused}`);

  expect(await clearExpired(database)).toMatchObject({ samples: 0, finishes: 0, renders: 0, blobs: 0 });
  await agedBy(31);
  expect(await clearExpired(database)).toEqual({
    ...{
      renders: 1,
      swatches: expect.any(Number),
      solvedRepeats: 1,
      reliefDetails: 0,
      projects: 0,
      finishes: 1,
      samples: 1,
    },
    blobs: expect.any(Number),
  });
  expect((await jossel.call('GET', `/api/finishes/${draft}`)).status).toBe(404);
  expect((await jossel.call('GET', `/api/samples/${unused}`)).status).toBe(404);
  expect((await jossel.call('GET', `/api/renders/${render.id}`)).status).toBe(404);
  // The issued one comes back whole, with its picture.
  expect((await jossel.call('POST', `/api/finishes/${issued}/restore`)).status).toBe(200);
  const again = await jossel.render(issued, { widthPx: 64, maps: ['colour'] });
  expect(again.state).toBe('done');
  const file = await fetch(`${jossel.url}/api/samples/${used}/file`);
  expect(Number(file.headers.get('content-length'))).toBe((await file.arrayBuffer()).byteLength);
  expect(await clearExpired(database)).toMatchObject({ blobs: 0 });
});

test('a file that cannot be imported leaves no bytes', async () => {
  const before = (await sizesOf(database)).blobs;
  expect((await jossel.upload('text.png', Buffer.from('no picture'))).status).toBe(422);
  expect((await sizesOf(database)).blobs).toEqual(before);
});

test('size and age of everything can be read, also by monitoring', async () => {
  const { body } = await jossel.call<{ stored: Record<string, unknown>; memoryBytes: number }>(
    'GET',
    '/api/health?full',
  );
  expect(body.memoryBytes).toBeGreaterThan(1e7);
  expect(body.stored).toMatchObject({
    samples: { count: expect.any(Number), bytes: expect.any(Number) },
    finishes: { inBin: expect.any(Number), revisions: 1 },
    renders: { waiting: 0, running: 0 },
  });
  const text = await (await fetch(`${jossel.url}/metrics`)).text();
  expect(text).toMatch(/^jossel_things\{kind="finishes"\} \d+$/m);
  expect(text).toMatch(
    /^jossel_http_seconds_count\{method="GET",route="\/api\/samples\/:id\/file",status="200"\} 1$/m,
  );
});

test('a full disk is said to be one', async () => {
  // A table that cannot grow stands for a disk that cannot.
  await database.raw(`
    create function full_disk() returns trigger language plpgsql as $$
      begin raise exception 'could not extend file: No space left on device' using errcode = '53100'; end $$;
    create trigger full_disk before insert on projects for each row execute function full_disk();`);
  const refused = await jossel.call<{ detail: string }>('POST', '/api/projects', { name: 'House' });
  expect([refused.status, refused.body.detail]).toEqual([
    507,
    expect.stringMatching(/disk.*is full.*can still be read/s),
  ]);
  expect((await jossel.call('GET', '/api/projects')).status).toBe(200);
  await database.raw('drop trigger full_disk on projects');
});
