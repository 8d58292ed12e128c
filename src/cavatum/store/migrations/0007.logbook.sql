-- A run in figures for the logbook and for learning, made from its events; made_at against the run's touched_at tells a stale one.
create table run_log (
    run_id       bigint primary key references run on delete cascade,
    workshop_id  bigint not null references workshop on delete cascade,
    begun_at     timestamptz not null,
    ended_at     timestamptz,
    piece        text not null,
    kind_of_work text not null,
    stars        integer,
    troubled     boolean not null,
    words        text not null,
    record       jsonb not null,
    observations jsonb not null,
    made_at      timestamptz not null default clock_timestamp()
);
create index run_log_newest on run_log (workshop_id, begun_at desc);

-- What the person does not want to be used, though it was learned.
create table learned_aside (
    workshop_id bigint not null references workshop on delete cascade,
    code        text not null,
    key         text not null,
    made_at     timestamptz not null default clock_timestamp(),
    primary key (workshop_id, code, key)
);

-- What was learned, as it stood when the logbook last changed; stamp names that state.
create table learned (
    workshop_id bigint primary key references workshop on delete cascade,
    stamp       text not null,
    value       jsonb not null
);

create table trial (
    id          bigint generated always as identity primary key,
    workshop_id bigint not null references workshop on delete cascade,
    trial       jsonb not null,
    made_at     timestamptz not null default now(),
    removed_at  timestamptz
);

-- When a run last got an event: an ended run's entry is made anew when something is added or corrected later.
alter table run add column touched_at timestamptz not null default clock_timestamp();
