import { ownDatabase, type OwnDatabase } from './test/database';
import { grainAs } from './test/pictures';
import { serve, type TaskAnswer, type TestServer } from './test/serve';

let database: OwnDatabase;
let jossel: TestServer;
beforeAll(async () => {
  database = await ownDatabase();
  jossel = await serve({ DATABASE_URL: database.url });
});
afterAll(async () => {
  await jossel?.end();
  database?.end();
});

test('the database stopped and started again meanwhile: the render ends well all the same', async () => {
  const sample = await jossel.upload('Interrupted.png', await grainAs('png', 900, 900));
  const made = await jossel.call<{ id: string }>('POST', '/api/finishes', {
    name: 'Interrupted',
    category: 'stone',
    sampleIds: [sample.body.id],
  });
  const order = { finishId: made.body.id, widthPx: 2048 };
  const { body } = await jossel.call<TaskAnswer>('POST', '/api/renders', order);
  const told = () => jossel.call<TaskAnswer & { detail: string }>('GET', `/api/renders/${body.id}`);
  await jossel.until('it runs', async () => (await told()).body.state === 'running');
  database.crash();
  const away = await told();
  expect(away.status).toBeGreaterThanOrEqual(500);
  expect(away.body.detail.length).toBeGreaterThan(10);
  database.start();
  expect((await jossel.ended('renders', body.id)).state).toBe('done');
});

test('an upload that was looked at and a handover wait for a database that is away', async () => {
  const sample = await jossel.upload('Waits.png', await grainAs('png', 700, 700), { permission: 'own' });
  const { body: finish } = await jossel.call<{ id: string }>('POST', '/api/finishes', {
    ...{ name: 'Waits', category: 'stone', sampleIds: [sample.body.id] },
  });
  await jossel.call('POST', `/api/finishes/${finish.id}/revisions`, {});
  const { body: order } = await jossel.call<{ id: string }>('POST', '/api/handovers', {
    ...{ items: [{ finishId: finish.id }], profile: 'draft-1024' },
  });
  const state = async () => (await jossel.call<TaskAnswer>('GET', `/api/handovers/${order.id}`)).body.state;
  await jossel.until('it runs', async () => (await state()) === 'running');
  database.crash();
  const upload = jossel.upload('While away.png', await grainAs('png', 120, 120));
  await new Promise((resolve) => setTimeout(resolve, 6000));
  database.start();
  expect((await upload).status).toBe(201);
  expect((await jossel.ended('handovers', order.id)).state).toBe('done');
  const file = await fetch(`${jossel.url}/api/handovers/${order.id}/file`);
  expect((await file.arrayBuffer()).byteLength).toBe(Number(file.headers.get('content-length')));
});
