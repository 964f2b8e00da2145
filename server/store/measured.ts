import type { Measured } from '@jossel/core/finish';
import type { Database } from './database';

/** What finishes measure, by the state of their recipe. */

export async function measuredOf(
  database: Database,
  keys: readonly string[],
): Promise<ReadonlyMap<string, Measured>> {
  const rows = await database('measured')
    .whereIn('key', [...keys])
    .select<(Measured & { key: string })[]>('*');
  return new Map(rows.map(({ key, lrv, lab }) => [key, { lrv, lab }]));
}

export const keepMeasured = (database: Database, key: string, { lrv, lab }: Measured) =>
  database('measured')
    .insert({ key, lrv, lab: JSON.stringify(lab) })
    .onConflict('key')
    .ignore();
