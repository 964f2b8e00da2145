import type { Basis, Figure } from '@jossel/core/units';
import type { Database } from './database';

/** What lists show of finishes, kept as columns beside the recipe that it follows from. */

export interface HeadlineColumns {
  /** Names the code they were filled by. */
  headline_edition: string;
  /** Why the draft cannot be read; null: it can. */
  fault: string | null;
  lead_sample_id: string | null;
  /** Names what the draft measures. */
  measured_key: string | null;
  repeat_width_mm: number | null;
  repeat_height_mm: number | null;
  size_basis: Basis | null;
  lrv: number | null;
  lrv_measured: boolean;
  lrv_basis: Basis | null;
  lrv_given: Figure<'LRV'> | null;
  passes_percent: number | null;
  gloss_gu: number | null;
  depth_mm: number | null;
  category_words: string;
}

/** Columns as they are written. */
export const headlineUpdate = ({ lrv_given, ...columns }: HeadlineColumns) => ({
  ...columns,
  lrv_given: lrv_given && JSON.stringify(lrv_given),
});

/** Origins of all pictures of finishes, as words to search in. */
export const refreshOriginWords = (database: Database, finishIds: readonly string[]) =>
  database('finishes')
    .whereIn('id', [...finishIds])
    .update({
      origin_words: database.raw(`coalesce((
        select string_agg(concat_ws(' ', s.supplier, s.line, s.code), ' ' order by s.id)
        from finish_samples fs join samples s on s.id = fs.sample_id where fs.finish_id = finishes.id), '')`),
    });

/** Fills the columns of a draft that is still at its version. */
export const writeHeadline = (database: Database, id: string, version: number, columns: HeadlineColumns) =>
  database('finishes').where({ id, version }).update(headlineUpdate(columns));

/** Notes what drafts measure whose key it is. */
export const noteMeasured = (database: Database, key: string, lrv: number) =>
  database('finishes').where({ measured_key: key, lrv_measured: false }).update({ lrv, lrv_measured: true });
