-- Colourants, recipes and form materials in versions, as sheets are.
create table good_version (
    workshop_id bigint not null references workshop on delete cascade,
    kind        text not null check (kind in ('colourant', 'recipe', 'material')),
    good_id     text not null,
    version     integer not null check (version >= 1),
    content     jsonb not null,
    made_at     timestamptz not null default now(),
    is_retired  boolean not null default false,
    primary key (workshop_id, kind, good_id, version)
);

-- A bottle's weight is the sum of what was booked to it; nothing is overwritten.
create table bottle (
    id          bigint generated always as identity primary key,
    workshop_id bigint not null references workshop on delete cascade,
    content     jsonb not null,
    made_at     timestamptz not null default now(),
    gone_at     timestamptz
);
create index bottle_list on bottle (workshop_id) where gone_at is null;

create table bottle_move (
    id          bigint generated always as identity primary key,
    workshop_id bigint not null references workshop on delete cascade,
    bottle_id   bigint not null references bottle on delete cascade,
    kg          double precision not null,
    why         text not null,
    weighing_id bigint,
    made_at     timestamptz not null default now()
);
create index bottle_move_of on bottle_move (bottle_id, id);

-- A batch on the scale: the task as it was frozen, and what happened, append-only. event_id is made by the device: a repeat changes nothing.
create table weighing (
    id          bigint generated always as identity primary key,
    workshop_id bigint not null references workshop on delete cascade,
    piece_id    bigint references piece on delete set null,
    pour        integer not null,
    batch       integer not null,
    task        jsonb not null,
    made_at     timestamptz not null default now(),
    ended_at    timestamptz
);
create index weighing_of_piece on weighing (workshop_id, piece_id, id);

create table weighing_event (
    workshop_id bigint not null references workshop on delete cascade,
    weighing_id bigint not null references weighing on delete cascade,
    number      integer not null check (number >= 1),
    event_id    uuid not null,
    event       jsonb not null,
    received_at timestamptz not null default now(),
    primary key (weighing_id, number),
    unique (workshop_id, event_id)
);

-- What a page asks of an instrument (tare); the process that owns the port takes it from here.
create table device_command (
    id          bigint generated always as identity primary key,
    workshop_id bigint not null references workshop on delete cascade,
    kind        text not null,
    command     text not null,
    made_at     timestamptz not null default now()
);
