import type { ReliefToPlan } from '@jossel/core/schedule';
import type { Database } from './database';

/** What meshes leave out of the relief of finishes, kept by the key of all it depends on. */

/** That it was used is noted. @returns null: it was not computed yet, or went */
export async function keptReliefDetail(database: Database, key: string): Promise<ReliefToPlan | null> {
  const [row] = await database('relief_details')
    .where({ key })
    .update({ used_at: database.fn.now() })
    .returning<{ detail: ReliefToPlan }[]>('detail');
  return row?.detail ?? null;
}

export const keepReliefDetail = (database: Database, key: string, detail: ReliefToPlan) =>
  database('relief_details')
    .insert({ key, detail: JSON.stringify(detail) })
    .onConflict('key')
    .ignore();
