import type { Knex } from 'knex';

export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create table blobs (
      sha256 char(64) primary key,
      bytes bigint not null,
      media_type text not null
    );
    create table blob_chunks (
      sha256 char(64) not null references blobs on delete cascade,
      n int not null,
      bytes bytea not null,
      primary key (sha256, n)
    );
    alter table blob_chunks alter column bytes set storage external;

    create table samples (
      id uuid primary key default gen_random_uuid(),
      sha256 char(64) not null references blobs,
      file_name text not null,
      media_type text not null,
      width_px int not null,
      height_px int not null,
      bit_depth int not null,
      profile text not null,
      px_per_mm double precision,
      lrv double precision not null,
      mean_lab jsonb not null,
      supplier text not null default '',
      line text not null default '',
      code text not null default '',
      batch text not null default '',
      permission text not null default '',
      note text not null default '',
      report jsonb not null,
      received_at timestamptz not null default now()
    );

    create table finishes (
      id uuid primary key default gen_random_uuid(),
      name text not null,
      category text not null,
      state text not null default 'draft' check (state in ('draft', 'checked', 'issued', 'withdrawn')),
      draft jsonb not null,
      version int not null default 1,
      created_at timestamptz not null default now(),
      updated_at timestamptz not null default now()
    );
    create index on finishes (lower(name));

    create table revisions (
      finish_id uuid not null references finishes,
      letter text not null,
      recipe jsonb not null,
      sample_hashes jsonb not null,
      note text not null default '',
      issued_at timestamptz not null default now(),
      primary key (finish_id, letter)
    );
    create function revisions_never_change() returns trigger language plpgsql as $$
      begin raise exception 'an issued revision never changes'; end $$;
    create trigger revisions_never_change before update or delete on revisions
      for each row execute function revisions_never_change();

    create table swatches (
      key char(64) primary key,
      sha256 char(64) not null references blobs,
      made_at timestamptz not null default now()
    );

    create table tasks (
      id uuid primary key default gen_random_uuid(),
      kind text not null check (kind in ('render', 'handover')),
      request jsonb not null,
      state text not null default 'waiting' check (state in ('waiting', 'running', 'done', 'failed', 'stopped')),
      progress double precision not null default 0,
      step text not null default '',
      error text,
      result jsonb,
      attempt int not null default 0,
      heartbeat_at timestamptz,
      created_at timestamptz not null default now(),
      finished_at timestamptz
    );
    create index on tasks (kind, created_at desc);
    create index on tasks (state) where state in ('waiting', 'running');

    create table projects (
      id uuid primary key default gen_random_uuid(),
      name text not null,
      note text not null default '',
      created_at timestamptz not null default now()
    );
    create table rooms (
      id uuid primary key default gen_random_uuid(),
      project_id uuid not null references projects on delete cascade,
      name text not null,
      position int not null default 0
    );
    create table surfaces (
      id uuid primary key default gen_random_uuid(),
      room_id uuid not null references rooms on delete cascade,
      name text not null,
      width_mm double precision not null check (width_mm > 0),
      height_mm double precision not null check (height_mm > 0),
      direction_deg int not null default 0 check (direction_deg in (0, 90, 180, 270)),
      finish_id uuid references finishes,
      revision text,
      position int not null default 0,
      foreign key (finish_id, revision) references revisions (finish_id, letter)
    );
  `);
}

export async function down(knex: Knex): Promise<void> {
  await knex.raw(
    'drop table surfaces, rooms, projects, tasks, swatches, revisions, finishes, samples, blob_chunks, blobs; drop function revisions_never_change',
  );
}
