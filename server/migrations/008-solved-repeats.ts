import type { Knex } from 'knex';

/** Repeats that were solved for drafts, by the key of all they depend on, so that whoever opens them need not solve them. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create table solved_repeats (
      key char(64) primary key,
      sha256 char(64) not null references blobs (sha256),
      used_at timestamptz not null default now()
    );
    create index on solved_repeats (sha256);
  `);
}

export async function down(knex: Knex): Promise<void> {
  await knex.raw('drop table solved_repeats');
}
