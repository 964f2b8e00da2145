import type { Knex } from 'knex';

/** Where samples came from, what their sheets say, and the studio's settings. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    alter table samples add column focal_px double precision;
    alter table samples add column came_from text not null default 'file'
      check (came_from in ('file', 'supplier', 'capture bench'));
    alter table samples add column sheet jsonb not null default '{}';
    alter table samples add column capture jsonb;
    create table settings (
      key text primary key,
      value jsonb not null
    );
  `);
}

export async function down(knex: Knex): Promise<void> {
  await knex.raw(
    'alter table samples drop column focal_px, drop column came_from, drop column sheet, drop column capture; drop table settings',
  );
}
