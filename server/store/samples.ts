import type { PublishedSheet, ReportWithLikeness } from '@jossel/core/finish';
import type { Database } from './database';
import { refreshOriginWords } from './headlines';

export type CameFrom = 'file' | 'supplier' | 'capture bench' | 'light set';

/** Which physical sample lay on the bench, and how it was taken. */
export interface CaptureRecord {
  benchSampleId: string;
  settings: Record<string, unknown>;
}

export interface SampleRow {
  id: string;
  sha256: string;
  file_name: string;
  media_type: string;
  width_px: number;
  height_px: number;
  bit_depth: number;
  profile: string;
  px_per_mm: number | null;
  lrv: number;
  mean_lab: [number, number, number];
  supplier: string;
  line: string;
  code: string;
  batch: string;
  permission: string;
  note: string;
  report: ReportWithLikeness;
  focal_px: number | null;
  came_from: CameFrom;
  sheet: PublishedSheet;
  capture: CaptureRecord | null;
  received_at: Date;
  /** When it was put into the bin; null: it is not there. */
  removed_at: Date | null;
}

export const ORIGIN_FIELDS = ['supplier', 'line', 'code', 'batch', 'permission', 'note'] as const;

export async function addSample(
  database: Database,
  row: Omit<SampleRow, 'id' | 'received_at' | 'removed_at'>,
): Promise<SampleRow> {
  const [added] = await database('samples')
    .insert({
      ...row,
      mean_lab: JSON.stringify(row.mean_lab),
      report: JSON.stringify(row.report),
      sheet: JSON.stringify(row.sheet),
      capture: row.capture && JSON.stringify(row.capture),
    })
    .returning('*');
  return added as SampleRow;
}

export const getSample = (database: Database, id: string) =>
  database('samples').where({ id }).first<SampleRow | undefined>();
/** Samples in the order of their ids as given; ids that are not there are left out. */
export async function getSamples(database: Database, ids: readonly string[]): Promise<SampleRow[]> {
  const rows = await database('samples')
    .whereIn('id', [...ids])
    .select<SampleRow[]>('*');
  const byId = new Map(rows.map((row) => [row.id, row]));
  return [...new Set(ids)].flatMap((id) => byId.get(id) ?? []);
}
/** A page of the samples that were received, newest first, and how many there are. What was measured from a light set is in its finish instead. */
export async function listSamples(
  database: Database,
  page: { limit: number; offset: number; removed?: boolean | undefined },
) {
  const received = () => {
    const rows = database('samples').whereNot({ came_from: 'light set' });
    return page.removed ? rows.whereNotNull('removed_at') : rows.whereNull('removed_at');
  };
  const [{ count }] = (await received().count()) as [{ count: string }];
  const items = await received()
    .orderByRaw('received_at desc, id')
    .limit(page.limit)
    .offset(page.offset)
    .select<SampleRow[]>('*');
  return { items, total: Number(count) };
}
/** Corrects where a sample came from; finishes that use it are found by the new words from then on. */
export const changeSample = (
  database: Database,
  id: string,
  change: Partial<Pick<SampleRow, (typeof ORIGIN_FIELDS)[number]>>,
): Promise<SampleRow | undefined> =>
  database.transaction(async (trx) => {
    const [row] = await trx('samples').where({ id }).update(change).returning('*');
    const using = await trx('finish_samples').where({ sample_id: id }).pluck('finish_id');
    await refreshOriginWords(trx, using as string[]);
    return row as SampleRow | undefined;
  });

/** Puts a sample into the bin, or takes it out again. */
export const setSampleRemoved = async (database: Database, id: string, removed: boolean) =>
  (
    await database('samples')
      .where({ id })
      .update({ removed_at: removed ? database.fn.now() : null })
      .returning('*')
  )[0] as SampleRow | undefined;
