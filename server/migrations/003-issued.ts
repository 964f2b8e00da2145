import type { Knex } from 'knex';

/** What a revision was made by, what was solved for it, and what finishes measure. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    alter table revisions add column stage_versions jsonb;
    alter table revisions add column solved_sha256 char(64) references blobs;
    create table measured (
      key char(64) primary key,
      lrv double precision not null,
      lab jsonb not null
    );
  `);
}

export async function down(knex: Knex): Promise<void> {
  await knex.raw(
    'alter table revisions drop column stage_versions, drop column solved_sha256; drop table measured',
  );
}
