import { request } from 'node:http';
import { connect } from 'node:net';
import { CallMutator, operationsOf, type OpenApi } from './test/mutated-calls';
import { grainAs } from './test/pictures';
import { serve, type TestServer } from './test/serve';

let jossel: TestServer;
let ids: string[];
beforeAll(async () => {
  jossel = await serve({ JOSSEL_HOSTS: 'jossel.studio.test' });
  const { body: sample } = await jossel.upload('grain.png', await grainAs('png'));
  const finish = await jossel.call<{ id: string }>('POST', '/api/finishes', {
    ...{ name: 'Grain', category: 'timber', sampleIds: [sample.id] },
  });
  const project = await jossel.call<{ id: string }>('POST', '/api/projects', { name: 'House' });
  ids = [sample.id, finish.body.id, project.body.id];
});
afterAll(() => jossel.end());

/** Answer to a call with headers that `fetch` would not send. */
const raw = (method: string, path: string, headers: Record<string, string>, body = '') =>
  new Promise<{ status: number; text: string }>((resolve, reject) => {
    const { hostname, port } = new URL(jossel.url);
    request({ hostname, port, method, path, headers }, (answer) => {
      let text = '';
      answer.on('data', (chunk: Buffer) => (text += chunk.toString()));
      answer.on('end', () => resolve({ status: answer.statusCode!, text }));
    })
      .on('error', reject)
      .end(body);
  });
const JSON_TYPE = { 'content-type': 'application/json' };

test('mutated calls of every route are answered without a fault, and all that was there still is', async () => {
  const { body: description } = await jossel.call<OpenApi>('GET', '/api/openapi.json');
  const calls = new CallMutator(operationsOf(description), ids, 20);
  const faults: string[] = [];
  for (let i = 0; i < 600; i++) {
    const { method, path, headers, body } = calls.next();
    // Outside services are not there, which is a 502 of theirs.
    const outside = /meters|capture|supplier/.test(path);
    const answer = await fetch(jossel.url + path, {
      method,
      headers: { ...headers, ...(body === undefined ? {} : JSON_TYPE) },
      signal: AbortSignal.timeout(60000),
      ...(body === undefined ? {} : { body }),
    });
    await answer.arrayBuffer();
    if (answer.status >= 500 && !outside) faults.push(`${answer.status} ${method} ${path} ${body}`);
  }
  expect(faults).toEqual([]);
  expect((await jossel.call('GET', '/api/health')).status).toBe(200);
});

test.each([
  ['evil.example', 421],
  ['jossel.studio.test', 200],
  ['localhost:4310', 200],
  ['[::1]:1', 200],
])('reached as %s, it answers %i', async (host, status) => {
  expect((await raw('GET', '/api/health', { host })).status).toBe(status);
});

test('pages of other sites change nothing; its own, and programs, do', async () => {
  const { host, origin } = new URL(jossel.url);
  const post = (headers: Record<string, string>) =>
    raw('POST', '/api/projects', { host, ...JSON_TYPE, ...headers }, '{"name":"House"}');
  const foreign: Record<string, string>[] = [
    { origin: 'http://evil.example' },
    { origin: 'null' },
    { 'sec-fetch-site': 'cross-site' },
    { 'sec-fetch-site': 'same-site' },
  ];
  for (const headers of foreign) expect((await post(headers)).status).toBe(403);
  const own: Record<string, string>[] = [{}, { origin }, { 'sec-fetch-site': 'same-origin' }];
  for (const headers of own) expect((await post(headers)).status).toBe(201);
});

test('pages carry a content security policy, and say what they are', async () => {
  const { headers } = await fetch(jossel.url);
  expect(headers.get('content-security-policy')).toMatch(/default-src 'self'.*frame-ancestors 'none'/);
  expect(headers.get('x-content-type-options')).toBe('nosniff');
  expect(headers.get('referrer-policy')).toBe('no-referrer');
});

describe('what cannot be read is refused with a sentence', () => {
  test.each([
    ['a form without boundary', 'multipart/form-data', 'x', 400],
    [
      'a form that breaks off',
      'multipart/form-data; boundary=b',
      '--b\r\nContent-Disposition: form-data; name="file"; filename="a.png"\r\n\r\nabc',
      400,
    ],
    ['no form', 'application/json', '{}', 415],
  ])('%s', async (_, type, body, status) => {
    const { host } = new URL(jossel.url);
    const answer = await raw('POST', '/api/samples', { host, 'content-type': type }, body);
    expect(answer.status).toBe(status);
    expect((JSON.parse(answer.text) as { detail: string }).detail).toMatch(/form/);
  });

  test('the version of no draft is a conflict, not a fault', async () => {
    const { body } = await jossel.call<{ draft: { recipe: unknown } }>('GET', `/api/finishes/${ids[1]}`);
    for (const etag of ['"2147483648"', '"99999999999"'])
      expect(
        (await jossel.call('PUT', `/api/finishes/${ids[1]}/draft`, body.draft, { 'if-match': etag })).status,
      ).toBe(412);
  });

  test('file names are kept without what cannot be seen', async () => {
    const { body } = await jossel.upload('..\\up\\gra\u0007in \u202egnp.png', await grainAs('png'));
    expect(body['fileName']).toBe('grain gnp.png');
  });
});

test('a call whose headers trickle in is dropped', async () => {
  const { hostname, port } = new URL(jossel.url);
  const socket = connect(Number(port), hostname);
  const gone = new Promise<number>((resolve) => {
    const started = Date.now();
    socket.on('close', () => resolve(Date.now() - started));
  });
  socket.on('error', () => undefined);
  socket.write('GET /api/health HTTP/1.1\r\nHost: localhost\r\n');
  const drip = setInterval(() => socket.write('X-A: b\r\n'), 1000);
  expect(await gone).toBeLessThan(40000);
  clearInterval(drip);
});
