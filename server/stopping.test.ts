import { request } from 'node:http';
import { grainAs } from './test/pictures';
import { serve, type TestServer } from './test/serve';

/** What stops when nobody wants it, and what does not wait for what. */

let jossel: TestServer;
let finishId: string;
let sampleId: string;
beforeAll(async () => {
  jossel = await serve({ JOSSEL_THREADS: '1' });
  sampleId = (await jossel.upload('grain.png', await grainAs('png', 1200, 1200))).body.id;
  const { body } = await jossel.call<{ id: string }>('POST', '/api/finishes', {
    ...{ name: 'Grain', category: 'timber', sampleIds: [sampleId], overallMm: { width: 400 } },
  });
  finishId = body.id;
});
afterAll(() => jossel.end());

/** Calls and leaves after a while. */
const callAndLeave = (path: string, afterMs: number) =>
  new Promise<void>((resolve) => {
    const { hostname, port } = new URL(jossel.url);
    const call = request({
      hostname,
      port,
      method: 'POST',
      path,
      headers: { 'content-type': 'application/json' },
    });
    call.on('error', () => undefined);
    call.end('{}');
    setTimeout(() => {
      call.destroy();
      resolve();
    }, afterMs);
  });
const timed = async <T>(work: () => Promise<T>) => {
  const started = Date.now();
  return { answer: await work(), ms: Date.now() - started };
};

test('what whoever asked has left is stopped, and the thread is free for others', async () => {
  // All of them together would take minutes.
  for (let k = 0; k < 6; k++) await callAndLeave(`/api/finishes/${finishId}/repeat-advice`, 100);
  const { answer, ms } = await timed(() => jossel.call('GET', `/api/samples/${sampleId}/palette`));
  expect(answer.status).toBe(200);
  expect(ms).toBeLessThan(30000);
});

test('a long render does not keep waiting what is looked at, nor what comes in', async () => {
  const { body } = await jossel.call<{ id: string }>('POST', '/api/renders', { finishId, widthPx: 4096 });
  await jossel.until('it runs', async () => {
    const { body: now } = await jossel.call<{ state: string }>('GET', `/api/renders/${body.id}`);
    return now.state === 'running';
  });
  const swatch = await timed(() => fetch(`${jossel.url}/api/finishes/${finishId}/swatch.png?widthPx=64`));
  const upload = await timed(async () => jossel.upload('small.png', await grainAs('png', 64, 64)));
  expect([swatch.answer.status, upload.answer.status]).toEqual([200, 201]);
  const { body: now } = await jossel.call<{ state: string }>('GET', `/api/renders/${body.id}`);
  expect(now.state).toBe('running');
  await jossel.call('DELETE', `/api/renders/${body.id}`);
  expect((await jossel.ended('renders', body.id)).state).toBe('stopped');
});
