import type { Measured } from '@jossel/core/finish';
import type { Database } from './database';
import { noteMeasured } from './headlines';

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

/** Keeps what a recipe measures; finishes whose draft it is show it from then on. */
export async function keepMeasured(database: Database, key: string, { lrv, lab }: Measured): Promise<void> {
  await database('measured')
    .insert({ key, lrv, lab: JSON.stringify(lab) })
    .onConflict('key')
    .ignore();
  await noteMeasured(database, key, lrv);
}
