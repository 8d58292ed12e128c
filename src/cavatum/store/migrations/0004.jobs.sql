-- Long work: asked for once by its inputs, carried out once, its result kept. The queue itself belongs to procrastinate.
create table job (
    id           bigint generated always as identity primary key,
    workshop_id  bigint not null references workshop on delete cascade,
    kind         text not null,
    input_hash   text not null,
    inputs       jsonb not null,
    state        text not null default 'waiting' check (state in ('waiting', 'running', 'done', 'failed', 'ended')),
    progress     real not null default 0,
    says         text not null default '',
    attempt      integer not null default 0,
    asked_to_end boolean not null default false,
    result       jsonb,
    made_at      timestamptz not null default now(),
    touched_at   timestamptz not null default now(),
    unique (workshop_id, kind, input_hash)
);
create index job_open on job (touched_at) where state in ('waiting', 'running');
