import { buildApp } from './build-app';
import { config } from './config';
import { callThrough, openQueue, startWorker } from './jobs/worker';
import { openPool } from './render/pool';
import { drawAhead } from './services/ahead';
import type { Context } from './services/context';
import { fillHeadlines } from './services/headline';
import { migrate, openDatabase } from './store';

/** `main.js` serves and works; `main.js worker` only takes tasks from the queue. */

// Whoever reads the log may be gone: what cannot be written is dropped, or saying so would fail again without end.
for (const stream of [process.stdout, process.stderr]) stream.on('error', () => undefined);
const log = (message: string) => process.stderr.write(`${new Date().toISOString()} ${message}\n`);
const workerOnly = process.argv[2] === 'worker';

if (!config.databaseUrl) {
  log(
    'DATABASE_URL is not set. Start Jossel with "npm start", or name a PostgreSQL database in DATABASE_URL.',
  );
  process.exit(1);
}
// A connection that breaks while the database restarts is replaced at the next use; it must not end the process.
process.on('unhandledRejection', (error) => log(`not handled: ${(error as Error)?.stack ?? error}`));
process.on('uncaughtException', (error) => log(`not caught: ${error.stack}`));

const database = openDatabase(config.databaseUrl);
await migrate(database);
await fillHeadlines({ database });
const boss = await openQueue(config.databaseUrl, log);
const pool = openPool(config.threads || 1);
const context: Context = { database, pool, call: callThrough(boss) };
const ahead = workerOnly ? null : drawAhead(context, log);
if (ahead) context.changed = ahead.changed;
const worker = config.threads > 0 || workerOnly ? await startWorker(context, boss, log) : null;

async function end(): Promise<void> {
  setTimeout(() => process.exit(0), 4000).unref();
  ahead?.end();
  await app?.close();
  await worker?.stop();
  await pool.close();
  await database.destroy();
  process.exit(0);
}

const app = workerOnly
  ? null
  : await buildApp(context, {
      log,
      ready: async () => {
        try {
          await database.raw('select 1');
          return true;
        } catch {
          return false;
        }
      },
    });
process.on('SIGINT', () => void end());
process.on('SIGTERM', () => void end());
if (app) {
  try {
    await app.listen({ host: config.host, port: config.port });
  } catch (error) {
    const { code } = error as { code?: string };
    log(
      code === 'EADDRINUSE'
        ? `Port ${config.port} is taken by another program. Set JOSSEL_PORT to a free one.`
        : String(error),
    );
    process.exit(1);
  }
} else log('worker ready');
