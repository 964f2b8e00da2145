import { buildApp } from './build-app';
import { config } from './config';
import { startHousekeeping } from './jobs/housekeeping';
import { callThrough, openQueue, startWorker } from './jobs/worker';
import { openPool } from './render/pool';
import { drawAhead } from './services/ahead';
import type { Context } from './services/context';
import { fillHeadlines } from './services/headline';
import { DatabaseUnfit, migrate, openDatabase } from './store';

/** `main.js` serves and works; `main.js worker` only takes tasks from the queue. */

// Whoever reads the log may be gone: what cannot be written is dropped, or saying so would fail again without end.
for (const stream of [process.stdout, process.stderr]) stream.on('error', () => undefined);
const log = (message: string) => process.stderr.write(`${new Date().toISOString()} ${message}\n`);
/** Exit status by which a supervisor knows that it would end again for the same reason. */
const NOT_WORTH_STARTING = 2;
const workerOnly = process.argv[2] === 'worker';

if (!config.databaseUrl) {
  log(
    'DATABASE_URL is not set. Start Jossel with "npm start", or name a PostgreSQL database in DATABASE_URL.',
  );
  process.exit(NOT_WORTH_STARTING);
}
// A connection that breaks while the database restarts is replaced at the next use; it must not end the process.
process.on('unhandledRejection', (error) => log(`not handled: ${(error as Error)?.stack ?? error}`));
process.on('uncaughtException', (error) => log(`not caught: ${error.stack}`));

const database = openDatabase(config.databaseUrl);
await migrate(database).catch((error: Error) => {
  log(error instanceof DatabaseUnfit ? error.message : `The database cannot be used: ${error.message}`);
  process.exit(error instanceof DatabaseUnfit ? NOT_WORTH_STARTING : 1);
});
await fillHeadlines({ database });
const boss = await openQueue(config.databaseUrl, log);
const pool = openPool(config.threads || 1);
const context: Context = { database, pool, call: callThrough(boss) };
const ahead = workerOnly ? null : drawAhead(context, log);
if (ahead) context.changed = ahead.changed;
const endHousekeeping = startHousekeeping(context, log);
const worker = config.threads > 0 || workerOnly ? await startWorker(context, boss, log) : null;

async function end(): Promise<void> {
  setTimeout(() => process.exit(0), 4000).unref();
  ahead?.end();
  endHousekeeping();
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
// Whoever supervises this process is gone: it does not outlive it.
process.on('disconnect', () => void end());
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
    process.exit(code === 'EADDRINUSE' ? NOT_WORTH_STARTING : 1);
  }
} else log('worker ready');
