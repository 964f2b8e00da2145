import type { Recipe } from '@jossel/core/finish';
import type { Database } from './database';

export const STATES = ['draft', 'checked', 'issued', 'withdrawn'] as const;
export type FinishState = (typeof STATES)[number];

export interface FinishRow {
  id: string;
  name: string;
  category: string;
  state: FinishState;
  draft: Recipe;
  version: number;
  created_at: Date;
  updated_at: Date;
}

export interface RevisionRow {
  finish_id: string;
  letter: string;
  recipe: Recipe;
  sample_hashes: Record<string, string>;
  note: string;
  /** Version of every stage when it was issued; null: before they were written down. */
  stage_versions: Record<string, number> | null;
  /** What was solved for it; null: nothing had to be, or it was issued before that was kept. */
  solved_sha256: string | null;
  issued_at: Date;
}

export async function addFinish(
  database: Database,
  row: { name: string; category: string; draft: Recipe },
): Promise<FinishRow> {
  const [added] = await database('finishes')
    .insert({ ...row, draft: JSON.stringify(row.draft) })
    .returning('*');
  return added as FinishRow;
}

export const getFinish = (database: Database, id: string) =>
  database('finishes').where({ id }).first<FinishRow | undefined>();

export async function listFinishes(
  database: Database,
  query: {
    search?: string | undefined;
    state?: string | undefined;
    category?: string | undefined;
    issued?: boolean | undefined;
    limit: number;
    offset: number;
  },
) {
  const filtered = database('finishes').modify((q) => {
    if (query.search) q.whereILike('name', `%${query.search.replace(/[%_\\]/g, '\\$&')}%`);
    if (query.state) q.where({ state: query.state });
    if (query.category) q.where({ category: query.category });
    if (query.issued)
      q.whereExists(
        database('revisions').whereRaw('revisions.finish_id = finishes.id').select(database.raw('1')),
      );
  });
  const [{ count }] = (await filtered.clone().count()) as [{ count: string }];
  const items = await filtered
    .clone()
    .orderByRaw('lower(name), id')
    .limit(query.limit)
    .offset(query.offset)
    .select<FinishRow[]>('*');
  return { items, total: Number(count) };
}

/** Replaces the draft if it is still at `version`; nothing is returned when it is not. */
export async function replaceDraft(
  database: Database,
  id: string,
  version: number,
  draft: Recipe,
): Promise<FinishRow | undefined> {
  const rows = await database('finishes')
    .where({ id, version })
    .update({ draft: JSON.stringify(draft), version: version + 1, updated_at: database.fn.now() })
    .returning('*');
  return rows[0] as FinishRow | undefined;
}

export const changeFinish = async (
  database: Database,
  id: string,
  change: Partial<Pick<FinishRow, 'name' | 'category' | 'state'>>,
) =>
  (
    await database('finishes')
      .where({ id })
      .update({ ...change, updated_at: database.fn.now() })
      .returning('*')
  )[0] as FinishRow | undefined;

export const listRevisions = (database: Database, finishIds: string[]) =>
  database('revisions')
    .whereIn('finish_id', finishIds)
    .orderByRaw('finish_id, length(letter), letter')
    .select<RevisionRow[]>('*');

export const getRevision = (database: Database, finishId: string, letter: string) =>
  database('revisions').where({ finish_id: finishId, letter }).first<RevisionRow | undefined>();

/**
 * Adds the next revision of a draft that is still at `version`; nothing is returned when it is not. The finish's row is
 * locked meanwhile so that two at once get two letters.
 */
export async function addRevision(
  database: Database,
  finishId: string,
  version: number,
  next: (letters: string[]) => string,
  row: {
    sample_hashes: Record<string, string>;
    note: string;
    stage_versions: Readonly<Record<string, number>>;
    solved_sha256: string | null;
  },
): Promise<RevisionRow | undefined> {
  return database.transaction(async (trx) => {
    const finish = (await trx('finishes').where({ id: finishId, version }).forUpdate().first()) as
      FinishRow | undefined;
    if (!finish) return undefined;
    const letters = await trx('revisions').where({ finish_id: finishId }).pluck('letter');
    const [added] = await trx('revisions')
      .insert({
        finish_id: finishId,
        letter: next(letters),
        recipe: JSON.stringify(finish.draft),
        sample_hashes: JSON.stringify(row.sample_hashes),
        note: row.note,
        stage_versions: JSON.stringify(row.stage_versions),
        solved_sha256: row.solved_sha256,
      })
      .returning('*');
    await trx('finishes').where({ id: finishId }).update({ state: 'issued' });
    return added as RevisionRow;
  });
}

export async function swatchOf(database: Database, key: string): Promise<string | undefined> {
  return (await database('swatches').where({ key }).first<{ sha256: string } | undefined>())?.sha256;
}
export const keepSwatch = (database: Database, key: string, sha256: string) =>
  database('swatches').insert({ key, sha256 }).onConflict('key').ignore();
