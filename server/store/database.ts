import knex, { type Knex } from 'knex';
import { migrationSource } from '../migrations';

export type Database = Knex;

/** Opens the database; connections that break are replaced at the next use. */
export function openDatabase(url: string): Database {
  const database = knex({
    client: 'pg',
    connection: { connectionString: url, keepAlive: true },
    pool: { min: 0, max: 12 },
    acquireConnectionTimeout: 15000,
    migrations: { migrationSource },
  });
  return database;
}

export const migrate = (database: Database) => database.migrate.latest();

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
