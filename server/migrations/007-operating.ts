import type { Knex } from 'knex';

/** Calls that are repeated, what is used when, and a bin for pictures. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    -- Of name, category and state, which change beside the draft.
    alter table finishes add column details_version int not null default 1;
    alter table revisions add column idempotency_key text;
    create unique index revisions_idempotency on revisions (finish_id, idempotency_key);
    -- What nothing refers to is collected, but not while it may still be written about.
    alter table blobs add column stored_at timestamptz not null default now();
    alter table swatches add column used_at timestamptz not null default now();
    alter table samples add column removed_at timestamptz;
    create index on swatches (sha256);
    create index on samples (sha256);
    create index on tasks (finished_at) where finished_at is not null;
  `);
}

export async function down(knex: Knex): Promise<void> {
  await knex.raw(`
    drop index tasks_finished_at_idx, samples_sha256_idx, swatches_sha256_idx, revisions_idempotency;
    alter table samples drop column removed_at;
    alter table swatches drop column used_at;
    alter table blobs drop column stored_at;
    alter table revisions drop column idempotency_key;
    alter table finishes drop column details_version;
  `);
}
