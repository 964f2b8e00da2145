import type { RenderReport } from '@jossel/core/finish';
import type { Quad } from '@jossel/core/straighten';
import { spawn, type ChildProcess } from 'node:child_process';
import { createServer } from 'node:net';
import knex from 'knex';

/** What is told of a render or a handover. */
export interface TaskAnswer {
  id: string;
  state: string;
  progress: number;
  step: string;
  error?: string;
  report: RenderReport;
  maps: Record<
    string,
    { url: string; widthPx: number; heightPx: number; bitDepth: number; colourSpace: string }
  >;
}

/** A real Jossel for tests: a database of its own on the test's PostgreSQL, and the built server as a process. */
export interface TestServer {
  url: string;
  databaseUrl: string;
  process: ChildProcess;
  call<T = Record<string, unknown>>(
    method: string,
    path: string,
    body?: unknown,
    headers?: Record<string, string>,
  ): Promise<{ status: number; body: T; headers: Headers }>;
  upload(
    name: string,
    bytes: Uint8Array,
    fields?: Record<string, string>,
  ): Promise<{ status: number; body: Record<string, unknown> & { id: string; detail: string } }>;
  /** Waits until something is so; fails after five minutes. */
  until<T>(what: string, look: () => Promise<T | undefined | false>): Promise<T>;
  /** Waits until a task is done, failed or stopped. */
  ended(kind: 'renders' | 'handovers', id: string): Promise<TaskAnswer>;
  /** Orders a render of a finish and waits for its end. */
  render(finishId: string, order: { widthPx: number; maps?: string[] }): Promise<TaskAnswer>;
  kill(signal?: NodeJS.Signals): Promise<void>;
  restart(): Promise<void>;
  end(): Promise<void>;
  /** Ends, and leaves the database under a name. */
  endAs(database: string): Promise<void>;
}

export const freePort = () =>
  new Promise<number>((resolve) => {
    const server = createServer().listen(0, '127.0.0.1', () => {
      const { port } = server.address() as { port: number };
      server.close(() => resolve(port));
    });
  });

/** The stand-ins as a process of their own; they also tell the truth of what they photograph. */
export async function startStandins(): Promise<{ url: string; end: () => void }> {
  const port = await freePort();
  const child = spawn(process.execPath, ['standins/dist/main.js', String(port)], {
    env: { ...process.env, JOSSEL_STANDINS_TRUTH: '1' },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  await new Promise<void>((resolve, reject) => {
    child.stdout!.once('data', () => resolve());
    child.once('exit', () => reject(new Error('The stand-ins ended.')));
  });
  return { url: `http://127.0.0.1:${port}`, end: () => child.kill('SIGTERM') };
}

/** What is true of a capture, from the stand-in itself. */
export async function truthOfCapture(standinsUrl: string, settings: object) {
  const response = await fetch(`${standinsUrl}/capture/truth`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(settings),
  });
  return (await response.json()) as {
    sampleMm: { width: number; height: number };
    sampleCorners: Quad;
    cardMarks: Quad;
    focalPx: number;
  };
}

/** @param like name of a database that the server's own begins as a copy of; left out: it is empty */
export async function serve(
  environment: Record<string, string> = {},
  like: string | null = null,
): Promise<TestServer> {
  const base = environment['DATABASE_URL'] ?? process.env['DATABASE_URL'];
  if (!base) throw new Error('These tests need PostgreSQL in DATABASE_URL; npm test starts one.');
  const name = `test_${process.pid}_${Math.random().toString(36).slice(2, 8)}`;
  const admin = knex({ client: 'pg', connection: base, pool: { min: 0, max: 1 } });
  await admin.raw(`create database ${name}${like ? ` template ${like}` : ''}`);
  const databaseUrl = base.replace(/\/[^/]*$/, `/${name}`);
  const port = await freePort();
  const url = `http://127.0.0.1:${port}`;

  async function start(): Promise<ChildProcess> {
    const child = spawn(process.execPath, ['server/dist/main.js'], {
      env: { ...process.env, ...environment, DATABASE_URL: databaseUrl, JOSSEL_PORT: String(port) },
      stdio: ['ignore', 'inherit', 'pipe'],
    });
    let said = '';
    child.stderr!.on('data', (chunk: Buffer) => (said += chunk.toString()));
    const end = Date.now() + 150_000;
    while (Date.now() < end) {
      if (child.exitCode !== null) throw new Error(`The server ended: ${said}`);
      if (
        await fetch(`${url}/api/health`).then(
          (r) => r.ok,
          () => false,
        )
      )
        return child;
      await new Promise((r) => setTimeout(r, 100));
    }
    throw new Error(`The server did not become ready: ${said}`);
  }

  const server: TestServer = {
    url,
    databaseUrl,
    process: await start(),
    async call<T>(method: string, path: string, body?: unknown, headers: Record<string, string> = {}) {
      const response = await fetch(url + path, {
        method,
        headers: { ...(body !== undefined ? { 'content-type': 'application/json' } : {}), ...headers },
        ...(body !== undefined ? { body: JSON.stringify(body) } : {}),
      });
      const text = await response.text();
      return {
        status: response.status,
        body: (text ? JSON.parse(text) : null) as T,
        headers: response.headers,
      };
    },
    async upload(name, bytes, fields = {}) {
      const form = new FormData();
      for (const [key, value] of Object.entries(fields)) form.append(key, value);
      form.append('file', new Blob([bytes as Uint8Array<ArrayBuffer>]), name);
      const response = await fetch(`${url}/api/samples`, { method: 'POST', body: form });
      return {
        status: response.status,
        body: (await response.json()) as Record<string, unknown> & { id: string; detail: string },
      };
    },
    ended: (kind, id) =>
      server.until(`${kind} ${id} ends`, async () => {
        const { body } = await server.call<TaskAnswer>('GET', `/api/${kind}/${id}`);
        return ['done', 'failed', 'stopped'].includes(body.state) ? body : undefined;
      }),
    async render(finishId, order) {
      const { body } = await server.call<TaskAnswer>('POST', '/api/renders', { finishId, ...order });
      return server.ended('renders', body.id);
    },
    async until(what, look) {
      const end = Date.now() + 300_000;
      while (Date.now() < end) {
        const seen = await look().catch(() => undefined);
        if (seen) return seen;
        await new Promise((r) => setTimeout(r, 150));
      }
      throw new Error(`It did not come to this within five minutes: ${what}`);
    },
    async kill(signal = 'SIGKILL') {
      if (server.process.exitCode !== null || server.process.signalCode !== null) return;
      const gone = new Promise((r) => server.process.once('exit', r));
      server.process.kill(signal);
      await gone;
    },
    async restart() {
      server.process = await start();
    },
    async end() {
      await server.kill('SIGTERM');
      await admin.raw(`drop database ${name} with (force)`);
      await admin.destroy();
    },
    async endAs(database) {
      await server.kill('SIGTERM');
      await admin.raw(`alter database ${name} rename to ${database}`);
      await admin.destroy();
    },
  };
  return server;
}
