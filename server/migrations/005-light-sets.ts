import type { Knex } from 'knex';

/** Pictures of one sample under several lights, and what was measured from them. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create table light_sets (
      id uuid primary key default gen_random_uuid(),
      lights jsonb not null,
      measured jsonb,
      received_at timestamptz not null default now()
    );
    alter table samples drop constraint samples_came_from_check;
    alter table samples add check (came_from in ('file', 'supplier', 'capture bench', 'light set'));
  `);
}

export async function down(knex: Knex): Promise<void> {
  await knex.raw(`
    drop table light_sets;
    alter table samples drop constraint samples_came_from_check;
    update samples set came_from = 'file' where came_from = 'light set';
    alter table samples add check (came_from in ('file', 'supplier', 'capture bench'));
  `);
}
