-- A run carries out one frozen plan. rehearsal: the clock of one that is only practised. probe_pour, ended_at: read off the events, for lists.
create table run (
    id          bigint generated always as identity primary key,
    workshop_id bigint not null references workshop on delete cascade,
    piece_id    bigint references piece on delete set null,
    revision    integer not null,
    plan        jsonb not null,
    script      jsonb not null,
    rehearsal   jsonb,
    room_c      double precision not null,
    begun_at    timestamptz not null,
    made_at     timestamptz not null default now(),
    ended_at    timestamptz,
    probe_pour  integer,
    is_demo     boolean not null default false
);
create index run_open on run (workshop_id, id desc) where ended_at is null;
create index run_of_piece on run (workshop_id, piece_id, id desc);

-- Append-only. event_id and (device, seq) are made by the device: a repeat changes nothing. at: the moment it counts at.
create table run_event (
    workshop_id bigint not null references workshop on delete cascade,
    run_id      bigint not null references run on delete cascade,
    number      integer not null check (number >= 1),
    event_id    uuid not null,
    device      uuid not null,
    seq         bigint not null,
    event       jsonb not null,
    who         text not null default '',
    at          timestamptz not null,
    device_at   timestamptz not null,
    received_at timestamptz not null,
    doubted     boolean not null default false,
    primary key (run_id, number),
    unique (workshop_id, event_id)
);
create index run_event_device on run_event (run_id, device, seq desc);

-- What instruments log by themselves. at: the run's own time.
create table run_reading (
    workshop_id bigint not null references workshop on delete cascade,
    run_id      bigint not null references run on delete cascade,
    what        text not null,
    pour        integer,
    at          timestamptz not null,
    value       double precision not null,
    source      text not null
);
create unique index run_reading_once on run_reading (run_id, what, at);

-- The secret address of the workshop's calendar; a new one makes the old one useless.
create table calendar_feed (
    workshop_id bigint primary key references workshop on delete cascade,
    token       text not null unique,
    made_at     timestamptz not null default now()
);

-- Phones that were let in by a code from the shop's own screen, until a moment. Only hashes are kept.
create table pairing (
    id          bigint generated always as identity primary key,
    workshop_id bigint not null references workshop on delete cascade,
    code_hash   text not null unique,
    token_hash  text unique,
    name        text not null default '',
    expires_at  timestamptz not null,
    until_at    timestamptz not null,
    used_at     timestamptz,
    ended_at    timestamptz,
    seen_at     timestamptz,
    made_at     timestamptz not null default now()
);
