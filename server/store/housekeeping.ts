import type { Database } from './database';

/** What expires, and what nothing refers to. Nothing that an issued revision uses is ever among it. */

/** How long things are kept, days. */
export const KEPT_DAYS = {
  bin: 30,
  renders: 7,
  swatches: 30,
  solvedRepeats: 30,
  reliefDetails: 30,
  unreferenced: 1,
} as const;

/** What was taken away, by kind. */
export interface Cleared {
  renders: number;
  swatches: number;
  solvedRepeats: number;
  reliefDetails: number;
  finishes: number;
  samples: number;
  projects: number;
  blobs: number;
}

const olderThan = (column: string, days: number) => `${column} < now() - interval '${days} days'`;

/** Pictures that a revision, a draft, or a light set uses. */
const USED_SAMPLES = `
  select sample_id::text from finish_samples
  union select jsonb_object_keys(sample_hashes) from revisions
  union select l ->> 'sampleId' from light_sets, jsonb_array_elements(lights) l
  union select measured ->> k from light_sets, unnest(array['colourId', 'heightId', 'confidenceId']) k
    where measured is not null`;

/** Hashes of all bytes that something refers to. */
const USED_BLOBS = `
  select sha256 from samples
  union select sha256 from swatches
  union select sha256 from solved_repeats
  union select solved_sha256 from revisions where solved_sha256 is not null
  union select result ->> 'sha256' from tasks where result ->> 'sha256' is not null
  union select m.value ->> 'sha256' from tasks, jsonb_each(result -> 'maps') m
    where jsonb_typeof(result -> 'maps') = 'object'`;

/** One process clears at a time. */
const LOCK = 7_301_944;

/**
 * Takes away what has expired.
 * @returns how much it was; null when another process is at it
 */
export const clearExpired = (database: Database): Promise<Cleared | null> =>
  database.transaction(async (trx) => {
    const { rows } = await trx.raw<{ rows: { got: boolean }[] }>(
      'select pg_try_advisory_xact_lock(?) as got',
      [LOCK],
    );
    if (!rows[0]!.got) return null;
    const gone = async (sql: string): Promise<number> => (await trx.raw<{ rowCount: number }>(sql)).rowCount;
    return {
      renders: await gone(
        `delete from tasks where kind = 'render' and ${olderThan('finished_at', KEPT_DAYS.renders)}`,
      ),
      swatches: await gone(`delete from swatches where ${olderThan('used_at', KEPT_DAYS.swatches)}`),
      solvedRepeats: await gone(
        `delete from solved_repeats where ${olderThan('used_at', KEPT_DAYS.solvedRepeats)}`,
      ),
      reliefDetails: await gone(
        `delete from relief_details where ${olderThan('used_at', KEPT_DAYS.reliefDetails)}`,
      ),
      projects:
        (await gone(`delete from surfaces where ${olderThan('removed_at', KEPT_DAYS.bin)}`)) +
        (await gone(`delete from rooms where ${olderThan('removed_at', KEPT_DAYS.bin)}`)) +
        (await gone(`delete from projects where ${olderThan('removed_at', KEPT_DAYS.bin)}`)),
      // What was issued stays in the bin for good: packages and schedules name it.
      finishes: await gone(
        `delete from finishes f where ${olderThan('removed_at', KEPT_DAYS.bin)}
          and not exists (select 1 from revisions r where r.finish_id = f.id)
          and not exists (select 1 from surfaces s where s.finish_id = f.id)`,
      ),
      samples: await gone(
        `delete from samples where ${olderThan('removed_at', KEPT_DAYS.bin)} and id::text not in (select id from (${USED_SAMPLES}) used (id) where id is not null)`,
      ),
      blobs: await gone(
        `delete from blobs where ${olderThan('stored_at', KEPT_DAYS.unreferenced)} and sha256 not in (select sha256 from (${USED_BLOBS}) used (sha256) where sha256 is not null)`,
      ),
    };
  });

/** Size and age of everything. */
export interface Sizes {
  databaseBytes: number;
  samples: { count: number; bytes: number; inBin: number };
  finishes: { count: number; inBin: number; revisions: number };
  projects: number;
  swatches: { count: number; bytes: number; oldest: Date | null };
  solvedRepeats: { count: number; bytes: number };
  renders: { waiting: number; running: number; kept: number; oldest: Date | null };
  handovers: { waiting: number; running: number; kept: number; bytes: number; oldest: Date | null };
  blobs: { count: number; bytes: number };
}

export async function sizesOf(database: Database): Promise<Sizes> {
  const one = async <T>(sql: string): Promise<T> => (await database.raw<{ rows: T[] }>(sql)).rows[0]!;
  const numbers = <T extends object>(row: T): T =>
    Object.fromEntries(
      Object.entries(row).map(([name, v]) => [name, typeof v === 'string' ? Number(v) : (v as unknown)]),
    ) as T;
  const tasks = (kind: string) => `
    select count(*) filter (where state = 'waiting') as waiting, count(*) filter (where state = 'running') as running,
      count(*) filter (where finished_at is not null) as kept, min(finished_at) as oldest
      ${kind === 'handover' ? `, coalesce(sum((result ->> 'bytes')::bigint), 0) as bytes` : ''}
    from tasks where kind = '${kind}'`;
  return {
    databaseBytes: Number(
      (await one<{ bytes: string }>('select pg_database_size(current_database()) as bytes')).bytes,
    ),
    samples: numbers(
      await one(`select count(*) as count, coalesce(sum(b.bytes), 0) as bytes,
        count(*) filter (where removed_at is not null) as "inBin" from samples join blobs b using (sha256)`),
    ),
    finishes: numbers(
      await one(`select count(*) as count, count(*) filter (where removed_at is not null) as "inBin",
        (select count(*) from revisions) as revisions from finishes`),
    ),
    projects: numbers(
      await one<{ count: number }>('select count(*) as count from projects where removed_at is null'),
    ).count,
    swatches: numbers(
      await one(`select count(*) as count, coalesce(sum(b.bytes), 0) as bytes, min(made_at) as oldest
        from swatches join blobs b using (sha256)`),
    ),
    solvedRepeats: numbers(
      await one(`select count(*) as count, coalesce(sum(b.bytes), 0) as bytes
        from solved_repeats join blobs b using (sha256)`),
    ),
    renders: numbers(await one(tasks('render'))),
    handovers: numbers(await one(tasks('handover'))),
    blobs: numbers(await one('select count(*) as count, coalesce(sum(bytes), 0) as bytes from blobs')),
  };
}
