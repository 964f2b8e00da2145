import knex, { type Knex } from 'knex';
import { migrationSource } from '../migrations';

export type Database = Knex;

/** Opens the database; connections that break are replaced at the next use. */
export function openDatabase(url: string): Database {
  const database = knex({
    client: 'pg',
    connection: { connectionString: url, keepAlive: true },
    pool: { min: 0, max: 24 },
    acquireConnectionTimeout: 15000,
    migrations: { migrationSource },
  });
  return database;
}

/** Said when the database cannot be used by this version; it has to be seen to by whoever runs Jossel. */
export class DatabaseUnfit extends Error {
  override readonly name = 'DatabaseUnfit';
}

/** Held while migrations run; PostgreSQL frees it when whoever holds it dies. */
const MIGRATION_LOCK = 7_301_943;

/**
 * Brings the database up to this version; processes that start at once do it one after the other.
 * @throws DatabaseUnfit when it was written by a newer version, or a migration fails
 */
export async function migrate(database: Database): Promise<void> {
  const lock = (await database.client.acquireConnection()) as { query: (sql: string) => Promise<unknown> };
  try {
    await lock.query(`select pg_advisory_lock(${MIGRATION_LOCK})`);
    await refuseNewer(database);
    // A mark that a process left which died over its migrations: the lock above is the one that counts.
    await database.migrate.forceFreeMigrationsLock();
    await database.migrate.latest().catch((error: Error) => {
      throw new DatabaseUnfit(
        `The database could not be brought up to this version; it is as it was before: ${error.message}`,
      );
    });
  } finally {
    await lock.query(`select pg_advisory_unlock(${MIGRATION_LOCK})`).catch(() => undefined);
    await database.client.releaseConnection(lock);
  }
}

async function refuseNewer(database: Database): Promise<void> {
  if (!(await database.schema.hasTable('knex_migrations'))) return;
  const own = await migrationSource.getMigrations([]);
  const done = (await database('knex_migrations').orderBy('id').pluck('name')) as string[];
  const newer = done.filter((name) => !own.includes(name));
  if (newer.length > 0)
    throw new DatabaseUnfit(
      `The database was written by a newer version of Jossel (${newer.join(', ')}). Start that version, or restore the backup that was made before the upgrade.`,
    );
}

/** True for errors that mean the database is away, not that the question was wrong. */
export function isConnectionError(error: unknown): boolean {
  const { code = '', message = '' } = (error ?? {}) as { code?: string; message?: string };
  return (
    /^(ECONN|57P0|08|EPIPE|ETIMEDOUT)/.test(code) ||
    /Connection terminated|Timeout acquiring|Connection ended|not queryable|the database system is/i.test(
      message,
    )
  );
}

/** True when PostgreSQL has no room left: on its disk (53100), or because it could not extend a file. */
export function isDiskFull(error: unknown): boolean {
  const { code = '', message = '' } = (error ?? {}) as { code?: string; message?: string };
  return code === '53100' || /No space left on device/i.test(message);
}

/** Repeats a write while the database is away, so that a finished result is not lost. */
export async function withRetry<T>(write: () => Promise<T>, patienceMs = 120000): Promise<T> {
  const until = Date.now() + patienceMs;
  for (;;) {
    try {
      return await write();
    } catch (error) {
      if (!isConnectionError(error) || Date.now() > until) throw error;
      await new Promise((resolve) => setTimeout(resolve, 1000));
    }
  }
}
