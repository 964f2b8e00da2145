import type { Knex } from 'knex';

/** A bin for what is removed, which pictures a finish uses, colourways on surfaces, titles of packages. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    alter table finishes add column removed_at timestamptz;
    alter table projects add column removed_at timestamptz;
    alter table rooms add column removed_at timestamptz;
    alter table surfaces add column removed_at timestamptz;
    alter table surfaces add column way text;
    create table finish_samples (
      finish_id uuid not null references finishes on delete cascade,
      sample_id uuid not null references samples on delete cascade,
      primary key (finish_id, sample_id)
    );
    create index on finish_samples (sample_id);
    -- Recipes of every version name their pictures by id.
    insert into finish_samples (finish_id, sample_id)
      select f.id, s.id from finishes f join samples s on position(s.id::text in f.draft::text) > 0;
  `);
}

export async function down(knex: Knex): Promise<void> {
  await knex.raw(`
    drop table finish_samples;
    alter table finishes drop column removed_at;
    alter table projects drop column removed_at;
    alter table rooms drop column removed_at;
    alter table surfaces drop column removed_at, drop column way;
  `);
}
