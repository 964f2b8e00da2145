import { execFileSync } from 'node:child_process';
import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { freePort } from './serve';

/** A PostgreSQL of a test's own, which it may stop without harm to tests that run beside it. */
export interface OwnDatabase {
  url: string;
  /** Stops it at once, as a power failure would. */
  crash(): void;
  start(): void;
  end(): void;
}

/** PostgreSQL refuses to run as root: then it runs as Debian's postgres user. */
function asPostgres(command: string, ...args: string[]): void {
  const isRoot = process.getuid?.() === 0;
  const [file, given] = isRoot ? ['runuser', ['-u', 'postgres', '--', command, ...args]] : [command, args];
  execFileSync(file, given, { cwd: '/', stdio: ['ignore', 'ignore', 'inherit'] });
}

/** @throws Error where npm test has not said where PostgreSQL's programs are */
export async function ownDatabase(): Promise<OwnDatabase> {
  const bin = process.env['JOSSEL_TEST_PG_BIN'];
  if (!bin)
    throw new Error(
      'These tests need the folder of PostgreSQL’s programs in JOSSEL_TEST_PG_BIN; npm test sets it.',
    );
  const folder = mkdtempSync(join(tmpdir(), 'jossel-database-'));
  chmodSync(folder, 0o777);
  const data = join(folder, 'data');
  const port = await freePort();
  const settings = `-c listen_addresses=127.0.0.1 -c port=${port} -c unix_socket_directories='' -c shared_buffers=32MB`;
  const database: OwnDatabase = {
    url: `postgres://jossel@127.0.0.1:${port}/postgres`,
    crash: () => asPostgres(`${bin}/pg_ctl`, '-D', data, '-m', 'immediate', '-w', 'stop'),
    start: () => asPostgres(`${bin}/pg_ctl`, '-D', data, '-w', '-l', '/dev/null', '-o', settings, 'start'),
    end() {
      asPostgres(`${bin}/pg_ctl`, '-D', data, '-m', 'fast', '-w', 'stop');
      asPostgres('rm', '-rf', data);
      rmSync(folder, { recursive: true });
    },
  };
  asPostgres(`${bin}/initdb`, '-D', data, '-U', 'jossel', '--auth=trust', '-E', 'UTF8', '--locale=C.UTF-8');
  database.start();
  return database;
}
