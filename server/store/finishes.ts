import { namedSamples, type Category, type Recipe } from '@jossel/core/finish';
import type { Database } from './database';
import { headlineUpdate, refreshOriginWords, type HeadlineColumns } from './headlines';

export const STATES = ['draft', 'checked', 'issued', 'withdrawn'] as const;
export type FinishState = (typeof STATES)[number];

export interface FinishRow {
  id: string;
  name: string;
  category: Category;
  state: FinishState;
  draft: Recipe;
  version: number;
  /** Of name, category and state. */
  details_version: number;
  created_at: Date;
  updated_at: Date;
  /** When it was put into the bin; null: it is not there. */
  removed_at: Date | null;
}

export interface RevisionRow {
  finish_id: string;
  letter: string;
  recipe: Recipe;
  sample_hashes: Record<string, string>;
  note: string;
  /** Version of every stage when it was issued; null: before they were written down. */
  stage_versions: Record<string, number> | null;
  /** What the call that issued it named itself; null: nothing. */
  idempotency_key: string | null;
  /** What was solved for it; null: nothing had to be, or it was issued before that was kept. */
  solved_sha256: string | null;
  issued_at: Date;
}

/** Writes down which pictures the draft of a finish names. */
async function linkSamples(trx: Database, id: string, draft: Recipe): Promise<void> {
  const ids = namedSamples(draft);
  const linked = (await trx('finish_samples').where({ finish_id: id }).pluck('sample_id')) as string[];
  // Most changes of a draft are not of its pictures.
  if (linked.length === ids.length && ids.every((sample) => linked.includes(sample))) return;
  await trx('finish_samples').where({ finish_id: id }).delete();
  if (ids.length > 0)
    await trx('finish_samples').insert(ids.map((sample_id) => ({ finish_id: id, sample_id })));
  await refreshOriginWords(trx, [id]);
}

export async function addFinish(
  database: Database,
  row: { name: string; category: Category; draft: Recipe },
  headline: HeadlineColumns,
): Promise<FinishRow> {
  return database.transaction(async (trx) => {
    const [added] = await trx('finishes')
      .insert({ ...row, draft: JSON.stringify(row.draft), ...headlineUpdate(headline) })
      .returning('*');
    await linkSamples(trx, (added as FinishRow).id, row.draft);
    return added as FinishRow;
  });
}

export const getFinishes = (database: Database, ids: readonly string[]) =>
  database('finishes')
    .whereIn('id', [...ids])
    .select<FinishRow[]>('*');
/** Finishes whose columns were never filled, or by another edition of the code. */
export const staleHeadlines = (database: Database, edition: string, most: number) =>
  database('finishes')
    .whereRaw('headline_edition is distinct from ?', [edition])
    .orderBy('id')
    .limit(most)
    .select<FinishRow[]>('*');

export const getFinish = (database: Database, id: string) =>
  database('finishes').where({ id }).first<FinishRow | undefined>();

/** A finish as lists show it: all of it but its recipe. */
export type ListedFinish = Omit<FinishRow, 'draft'> &
  HeadlineColumns & { letters: string[]; supplier: string | null; line: string | null; code: string | null };

const LISTED = [
  ...[
    'id',
    'name',
    'category',
    'state',
    'version',
    'details_version',
    'created_at',
    'updated_at',
    'removed_at',
    'letters',
  ],
  ...['fault', 'lead_sample_id', 'repeat_width_mm', 'repeat_height_mm', 'size_basis', 'lrv', 'lrv_measured'],
  ...['lrv_basis', 'lrv_given', 'passes_percent', 'gloss_gu', 'depth_mm'],
].map((column) => `finishes.${column}`);

export async function listFinishes(
  database: Database,
  query: {
    search?: string | undefined;
    state?: string | undefined;
    category?: string | undefined;
    supplier?: string | undefined;
    issued?: boolean | undefined;
    /** Those in the bin instead of those on the rack. */
    removed?: boolean | undefined;
    limit: number;
    offset: number;
  },
): Promise<{ items: ListedFinish[]; total: number }> {
  const filtered = database('finishes').modify((q) => {
    if (query.removed) q.whereNotNull('finishes.removed_at');
    else q.whereNull('finishes.removed_at');
    for (const word of (query.search ?? '').toLowerCase().split(/\s+/).filter(Boolean))
      q.whereLike('finishes.search', `%${word.replace(/[%_\\]/g, '\\$&')}%`);
    if (query.supplier)
      q.whereIn(
        'finishes.id',
        database('samples')
          .join('finish_samples', 'finish_samples.sample_id', 'samples.id')
          .where({ 'samples.supplier': query.supplier })
          .select('finish_samples.finish_id'),
      );
    if (query.state) q.where({ 'finishes.state': query.state });
    if (query.category) q.where({ 'finishes.category': query.category });
    if (query.issued) q.whereRaw(`finishes.letters <> '{}'`);
  });
  const order = 'lower(finishes.name), finishes.id';
  const page = filtered
    .clone()
    .orderByRaw(order)
    .limit(query.limit)
    .offset(query.offset)
    .select(...LISTED);
  const [counted, items] = await Promise.all([
    filtered.clone().count<{ count: string }[]>(),
    database
      .from(page.as('finishes'))
      .leftJoin('samples as lead', 'lead.id', 'finishes.lead_sample_id')
      .orderByRaw(order)
      .select<ListedFinish[]>('finishes.*', 'lead.supplier', 'lead.line', 'lead.code'),
  ]);
  return { items, total: Number(counted[0]!.count) };
}

/** Replaces the draft if it is still at `version`; nothing is returned when it is not. */
export async function replaceDraft(
  database: Database,
  id: string,
  version: number,
  draft: Recipe,
  headline: HeadlineColumns,
): Promise<FinishRow | undefined> {
  return database.transaction(async (trx) => {
    const rows = await trx('finishes')
      .where({ id, version })
      .update({
        draft: JSON.stringify(draft),
        version: version + 1,
        updated_at: trx.fn.now(),
        ...headlineUpdate(headline),
      })
      .returning('*');
    if (rows.length > 0) await linkSamples(trx, id, draft);
    return rows[0] as FinishRow | undefined;
  });
}

/** Puts a finish into the bin, or takes it out again. */
export const setFinishRemoved = async (database: Database, id: string, removed: boolean) =>
  (
    await database('finishes')
      .where({ id })
      .update({ removed_at: removed ? database.fn.now() : null })
      .returning('*')
  )[0] as FinishRow | undefined;

/** Suppliers of all finishes on the rack, in order. */
export const suppliersOfFinishes = async (database: Database): Promise<string[]> =>
  database('samples')
    .where('supplier', '<>', '')
    .whereExists(
      database('finish_samples')
        .join('finishes', 'finishes.id', 'finish_samples.finish_id')
        .whereRaw('finish_samples.sample_id = samples.id')
        .whereNull('finishes.removed_at')
        .select(database.raw('1')),
    )
    .distinct('supplier')
    .orderBy('supplier')
    .pluck('supplier');

/** Finishes on the rack that use each of several pictures. */
export const finishesOfSamples = (database: Database, sampleIds: readonly string[]) =>
  database('finish_samples')
    .join('finishes', 'finishes.id', 'finish_samples.finish_id')
    .whereIn('finish_samples.sample_id', [...sampleIds])
    .whereNull('finishes.removed_at')
    .orderByRaw('lower(finishes.name)')
    .select<{ sample_id: string; id: string; name: string }[]>(
      'finish_samples.sample_id',
      'finishes.id',
      'finishes.name',
    );

/** Changes name, category or state; nothing is returned when they were changed since they were read. */
export const changeFinish = async (
  database: Database,
  id: string,
  /** Version that was read; null: whatever it is. */
  version: number | null,
  change: Partial<Pick<FinishRow, 'name' | 'category' | 'state'> & Pick<HeadlineColumns, 'category_words'>>,
) =>
  (
    await database('finishes')
      .where({ id, ...(version === null ? {} : { details_version: version }) })
      .update({
        ...change,
        details_version: database.raw('details_version + 1'),
        updated_at: database.fn.now(),
      })
      .returning('*')
  )[0] as FinishRow | undefined;

export const listRevisions = (database: Database, finishIds: string[]) =>
  database('revisions')
    .whereIn('finish_id', finishIds)
    .orderByRaw('finish_id, length(letter), letter')
    .select<RevisionRow[]>('*');

export const getRevision = (database: Database, finishId: string, letter: string) =>
  database('revisions').where({ finish_id: finishId, letter }).first<RevisionRow | undefined>();

/** The revision that a call has issued, by what the call named itself. */
export const revisionOfCall = (database: Database, finishId: string, key: string) =>
  database('revisions').where({ finish_id: finishId, idempotency_key: key }).first<RevisionRow | undefined>();

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
    sample_ids: readonly string[];
    note: string;
    stage_versions: Readonly<Record<string, number>>;
    solved_sha256: string | null;
    idempotency_key: string | null;
  },
): Promise<RevisionRow | undefined> {
  return database.transaction(async (trx) => {
    const finish = (await trx('finishes').where({ id: finishId }).forUpdate().first()) as
      FinishRow | undefined;
    if (!finish) return undefined;
    const before = row.idempotency_key ? await revisionOfCall(trx, finishId, row.idempotency_key) : undefined;
    if (before) return before;
    if (finish.version !== version || finish.state === 'withdrawn') return undefined;
    // Its pictures stay as long as this transaction is open, and as long as the revision after it.
    const samples = await trx('samples')
      .whereIn('id', [...row.sample_ids])
      .forShare()
      .select<{ id: string; sha256: string }[]>('id', 'sha256');
    if (samples.length < row.sample_ids.length) return undefined;
    const letters = await trx('revisions').where({ finish_id: finishId }).pluck('letter');
    const [added] = await trx('revisions')
      .insert({
        finish_id: finishId,
        letter: next(letters),
        recipe: JSON.stringify(finish.draft),
        sample_hashes: JSON.stringify(Object.fromEntries(samples.map((s) => [s.id, s.sha256]))),
        note: row.note,
        stage_versions: JSON.stringify(row.stage_versions),
        solved_sha256: row.solved_sha256,
        idempotency_key: row.idempotency_key,
      })
      .returning('*');
    await trx('finishes')
      .where({ id: finishId })
      .update({ state: 'issued', letters: trx.raw('array_append(letters, ?)', [next(letters)]) });
    return added as RevisionRow;
  });
}

/** Names what the draft of a finish measures; null: there is no such finish, or it has no picture. */
export const measuredKeyOf = async (database: Database, id: string): Promise<string | null> =>
  (
    await database('finishes')
      .where({ id })
      .first<{ measured_key: string | null } | undefined>('measured_key')
  )?.measured_key ?? null;
