import { ownDatabase, type OwnDatabase } from './test/database';
import { grainAs } from './test/pictures';
import { serve, type TaskAnswer, type TestServer } from './test/serve';

let database: OwnDatabase;
let jossel: TestServer;
beforeAll(async () => {
  database = await ownDatabase();
  jossel = await serve({ DATABASE_URL: database.url });
}, 120000);
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
  expect((await jossel.ended('renders', body.id, 120000)).state).toBe('done');
}, 180000);
