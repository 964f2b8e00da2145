import type { Knex } from 'knex';

/** Where the surfaces of a project are for its camera, and what meshes leave out of the relief of finishes. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    alter table projects add column camera jsonb;
    alter table surfaces add column camera jsonb;
    create table relief_details (
      key char(64) primary key,
      detail jsonb not null,
      used_at timestamptz not null default now()
    );
  `);
}

export async function down(knex: Knex): Promise<void> {
  await knex.raw(`
    drop table relief_details;
    alter table projects drop column camera;
    alter table surfaces drop column camera;
  `);
}
