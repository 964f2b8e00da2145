import { execFileSync, spawn, spawnSync, type ChildProcess } from 'node:child_process';
import knex from 'knex';
import { freePort, serve, type TestServer } from './test/serve';

/** Servers that die, start twice, or meet a database that is not theirs. */

let jossel: TestServer;
beforeAll(async () => {
  jossel = await serve();
});
afterAll(() => jossel.end());

const environment = (port: number) => ({
  ...process.env,
  DATABASE_URL: jossel.databaseUrl,
  JOSSEL_PORT: String(port),
  JOSSEL_THREADS: '0',
});
const healthy = (port: number) =>
  fetch(`http://127.0.0.1:${port}/api/health`).then(
    (answer) => answer.ok,
    () => false,
  );
const childOf = (parent: ChildProcess) =>
  Number(
    execFileSync('pgrep', ['-P', String(parent.pid)])
      .toString()
      .trim(),
  );

test('a server that dies is started again; it does not outlive whoever started it', async () => {
  const port = await freePort();
  const supervisor = spawn(process.execPath, ['script/supervise.mjs', 'server/dist/main.js'], {
    env: environment(port),
    stdio: 'ignore',
  });
  await jossel.until('it is up', () => healthy(port));
  const first = childOf(supervisor);
  process.kill(first, 'SIGKILL');
  await jossel.until('it is up again', async () => (await healthy(port)) && childOf(supervisor) !== first);
  supervisor.kill('SIGKILL');
  await jossel.until('it is gone', async () => !(await healthy(port)));
});

test('nothing outlives the shell that has started it', async () => {
  const port = await freePort();
  const shell = spawn('bash', ['-c', 'node script/supervise.mjs server/dist/main.js & wait'], {
    env: environment(port),
    stdio: 'ignore',
  });
  await jossel.until('it is up', () => healthy(port));
  shell.kill('SIGKILL');
  await jossel.until('it is gone', async () => !(await healthy(port)));
});

test('a busy port and a second start are said, and not tried again', async () => {
  const { port } = new URL(jossel.url);
  const again = spawnSync(process.execPath, ['script/supervise.mjs', 'server/dist/main.js'], {
    env: environment(Number(port)),
    timeout: 30000,
  });
  expect([again.status, again.stderr.toString()]).toEqual([2, expect.stringMatching(/Port \d+ is taken/)]);
  const second = spawnSync(process.execPath, ['script/already-running.mjs', port]);
  expect([second.status, second.stderr.toString()]).toEqual([
    1,
    expect.stringMatching(/already runs at http:\/\/127\.0\.0\.1/),
  ]);
  expect(spawnSync(process.execPath, ['script/already-running.mjs', String(await freePort())]).status).toBe(
    0,
  );
});

test('a database of a newer version is left alone; one whose migration broke off is brought up to date', async () => {
  const database = knex({ client: 'pg', connection: jossel.databaseUrl, pool: { min: 0, max: 1 } });
  await database('knex_migrations').insert({ name: '999-later', batch: 9, migration_time: new Date() });
  const newer = spawnSync(process.execPath, ['server/dist/main.js'], {
    env: environment(await freePort()),
    timeout: 30000,
  });
  expect([newer.status, newer.stderr.toString()]).toEqual([
    2,
    expect.stringMatching(/newer version of Jossel \(999-later\).*restore the backup/),
  ]);
  await database('knex_migrations').where({ name: '999-later' }).delete();
  // As a process leaves it that was killed in the middle.
  await database('knex_migrations_lock').update({ is_locked: 1 });
  await database.destroy();
  await jossel.kill();
  await jossel.restart();
  expect((await jossel.call('GET', '/api/health')).status).toBe(200);
});

test('a backup restores', () => {
  const bin = process.env['JOSSEL_TEST_PG_BIN']!;
  const copy = `${jossel.databaseUrl}_copy`;
  const name = copy.slice(copy.lastIndexOf('/') + 1);
  const sh = (command: string) =>
    execFileSync('bash', ['-c', command], { stdio: ['ignore', 'pipe', 'pipe'] });
  sh(`${bin}/psql -q '${jossel.databaseUrl}' -c 'create database ${name}'`);
  sh(
    `${bin}/pg_dump -Fc --dbname='${jossel.databaseUrl}' | ${bin}/pg_restore --dbname='${copy}' --exit-on-error`,
  );
  expect(sh(`node script/compare-databases.mjs '${jossel.databaseUrl}' '${copy}'`).toString()).toMatch(
    /The backup restores/,
  );
  sh(`${bin}/psql -q '${copy}' -c 'alter table blobs rename to gone'`);
  expect(() => sh(`node script/compare-databases.mjs '${jossel.databaseUrl}' '${copy}'`)).toThrow();
  sh(`${bin}/psql -q '${jossel.databaseUrl}' -c 'drop database ${name} with (force)'`);
});
