import type { Knex } from 'knex';

/** Headline figures and search words of finishes as columns, so that no recipe is read for a list. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create extension if not exists pg_trgm;
    -- Recipes are stored beside the rows, so that those that a list goes through are small.
    alter table finishes set (toast_tuple_target = 128, fillfactor = 70);
    alter table finishes
      -- By which edition of the code the columns below were filled; null: they are not, and are at the next start.
      add column headline_edition char(64),
      add column fault text,
      add column lead_sample_id uuid,
      add column measured_key char(64),
      add column repeat_width_mm double precision,
      add column repeat_height_mm double precision,
      add column size_basis text,
      add column lrv double precision,
      add column lrv_measured boolean not null default false,
      add column lrv_basis text,
      add column lrv_given jsonb,
      add column passes_percent double precision,
      add column gloss_gu double precision,
      add column depth_mm double precision,
      add column letters text[] not null default '{}',
      add column category_words text not null default '',
      add column origin_words text not null default '',
      add column search text not null
        generated always as (lower(name || ' ' || state || ' ' || category_words || ' ' || origin_words)) stored;
    update finishes f set letters = coalesce(
      (select array_agg(letter order by length(letter), letter) from revisions r where r.finish_id = f.id), '{}');
    alter table finishes
      alter column name set storage main,
      alter column search set storage main,
      alter column origin_words set storage main;
    create index finishes_search on finishes using gin (search gin_trgm_ops);
    create index finishes_order on finishes (lower(name), id) where removed_at is null;
    create index finishes_measured on finishes (measured_key) where not lrv_measured;
    create index finishes_lrv on finishes (lrv) where removed_at is null;
    create index on samples (supplier) where supplier <> '';
  `);
}

export async function down(knex: Knex): Promise<void> {
  await knex.raw(`
    drop index finishes_order;
    drop index samples_supplier_idx;
    alter table finishes reset (toast_tuple_target, fillfactor);
    alter table finishes
      drop column search, drop column headline_edition, drop column fault, drop column lead_sample_id,
      drop column measured_key, drop column repeat_width_mm, drop column repeat_height_mm, drop column size_basis,
      drop column lrv, drop column lrv_measured, drop column lrv_basis, drop column lrv_given,
      drop column passes_percent, drop column gloss_gu, drop column depth_mm, drop column letters,
      drop column category_words, drop column origin_words;
  `);
}
