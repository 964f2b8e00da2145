import knex from 'knex';
import { callThrough, openQueue } from './jobs/worker';
import { grainAs } from './test/pictures';
import { serve, type TestServer } from './test/serve';

/** Calls that come twice, late, or beside others. */

interface Finish {
  id: string;
  state: string;
  detailsEtag: string;
  detail: string;
  draft: { recipe: { colour: object }; etag: string };
  revisions: { letter: string }[];
}

let jossel: TestServer;
let sampleId: string;
beforeAll(async () => {
  jossel = await serve();
  sampleId = (await jossel.upload('grain.png', await grainAs('png', 64, 64))).body.id;
});
afterAll(() => jossel.end());

const finishCalled = async (name: string) =>
  (
    await jossel.call<Finish>('POST', '/api/finishes', {
      ...{ name, category: 'timber', sampleIds: [sampleId] },
    })
  ).body;
const issue = (id: string, headers: Record<string, string>) =>
  jossel.call<{ revision: string; detail: string }>('POST', `/api/finishes/${id}/revisions`, {}, headers);
const show = async (id: string) => (await jossel.call<Finish>('GET', `/api/finishes/${id}`)).body;

test('twenty calls of one name issue one revision', async () => {
  const { id, draft } = await finishCalled('Pressed twice');
  const headers = { 'if-match': draft.etag, 'idempotency-key': 'press 1' };
  const answers = await Promise.all(Array.from({ length: 20 }, () => issue(id, headers)));
  expect(answers.map(({ status, body }) => [status < 300, body.revision])).toEqual(
    Array(20).fill([true, 'A']),
  );
  expect((await show(id)).revisions.map(({ letter }) => letter)).toEqual(['A']);
  expect((await issue(id, { ...headers, 'idempotency-key': 'press 2' })).body.revision).toBe('B');
});

test('what was changed since it was read is not issued; nor is what was withdrawn', async () => {
  const { id, draft, detailsEtag } = await finishCalled('Read long ago');
  const colour = { ...draft.recipe.colour, lrv: { value: 40, unit: 'LRV', basis: 'assumed' } };
  const put = await jossel.call<{ etag: string }>(
    'PUT',
    `/api/finishes/${id}/draft`,
    { recipe: { ...draft.recipe, colour } },
    { 'if-match': draft.etag },
  );
  expect((await issue(id, { 'if-match': draft.etag })).status).toBe(412);
  expect((await issue(id, { 'if-match': '*' })).status).toBe(412);
  await jossel.call('PATCH', `/api/finishes/${id}`, { state: 'withdrawn' }, { 'if-match': detailsEtag });
  const refused = await issue(id, { 'if-match': put.body.etag });
  expect([refused.status, refused.body.detail]).toEqual([409, expect.stringMatching(/is withdrawn/)]);
  expect((await show(id)).revisions).toEqual([]);
});

test('the same save again, because its answer was lost, is no conflict; another one is', async () => {
  const { id, draft } = await finishCalled('Saved twice');
  const save = (value: number) =>
    jossel.call<{ etag: string }>(
      'PUT',
      `/api/finishes/${id}/draft`,
      {
        recipe: {
          ...draft.recipe,
          colour: { ...draft.recipe.colour, lrv: { value, unit: 'LRV', basis: 'assumed' } },
        },
      },
      { 'if-match': draft.etag },
    );
  const first = await save(40);
  const again = await save(40);
  expect([again.status, again.body.etag]).toEqual([200, first.body.etag]);
  expect((await save(41)).status).toBe(412);
});

test('of two who rename from the same reading, one does; the other is told what it is now', async () => {
  const { id, detailsEtag } = await finishCalled('Two names');
  const rename = (name: string) =>
    jossel.call<Finish>('PATCH', `/api/finishes/${id}`, { name }, { 'if-match': detailsEtag });
  const answers = await Promise.all([rename('One'), rename('Other')]);
  expect(answers.map(({ status }) => status).sort()).toEqual([200, 412]);
  const lost = answers.find(({ status }) => status === 412)!;
  expect(lost.body.detail).toMatch(/now it is “(One|Other)”, draft/);
  // A program that does not say what it read changes what is there.
  expect((await jossel.call('PATCH', `/api/finishes/${id}`, { name: 'Third' })).status).toBe(200);
});

test('a draft is rendered as it was when it was ordered', async () => {
  const { id, draft } = await finishCalled('Ordered early');
  // The first orders keep all threads busy until the draft is another one.
  const orders = [];
  for (let k = 0; k < 4; k++)
    orders.push(
      (await jossel.call<{ id: string }>('POST', '/api/renders', { finishId: id, widthPx: 1024 })).body.id,
    );
  await jossel.call(
    'PUT',
    `/api/finishes/${id}/draft`,
    {
      recipe: {
        ...draft.recipe,
        colour: {
          ...draft.recipe.colour,
          ruling: 'lrv',
          lrv: { value: 70, unit: 'LRV', basis: 'assumed' },
        },
      },
    },
    { 'if-match': draft.etag },
  );
  const ended = await Promise.all(orders.map((order) => jossel.ended('renders', order)));
  for (const { report } of ended) expect(report.lrv).toBeCloseTo(ended[0]!.report.lrv, 6);
  expect(ended[0]!.report.lrv).toBeLessThan(60);
});

test('a task that waits is in its queue once, however often it is called', async () => {
  // A queue of its own, which no worker empties.
  const idle = await serve({ JOSSEL_THREADS: '0' });
  const boss = await openQueue(idle.databaseUrl, () => undefined);
  const call = callThrough(boss);
  const id = '1b9d6bcd-bbfd-4b2d-9b5d-ab8dfbbd4bed';
  for (let k = 0; k < 10; k++) await call('render', id);
  const database = knex({ client: 'pg', connection: idle.databaseUrl, pool: { min: 0, max: 1 } });
  const jobs = (await database.raw(`select state from pgboss.job where data ->> 'id' = ?`, [id])) as {
    rows: unknown[];
  };
  expect(jobs.rows).toEqual([{ state: 'created' }]);
  await database.destroy();
  await boss.stop({ graceful: false });
  await idle.end();
});

test('a shutdown spends no attempt of a task that it interrupts', async () => {
  const { id } = await finishCalled('Interrupted');
  const order = await jossel.call<{ id: string }>('POST', '/api/renders', { finishId: id, widthPx: 4096 });
  const state = async () =>
    (await jossel.call<{ state: string }>('GET', `/api/renders/${order.body.id}`)).body.state;
  await jossel.until('it runs', async () => (await state()) === 'running');
  await jossel.kill('SIGTERM');
  const database = knex({ client: 'pg', connection: jossel.databaseUrl, pool: { min: 0, max: 1 } });
  const row = await database('tasks')
    .where({ id: order.body.id })
    .first<{ state: string; attempt: number }>();
  await database.destroy();
  expect(row).toMatchObject({ state: 'waiting', attempt: 0 });
  await jossel.restart();
  await jossel.until('it is taken up again', async () => (await state()) !== 'waiting');
  await jossel.call('DELETE', `/api/renders/${order.body.id}`);
});
