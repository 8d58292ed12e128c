-- Who is told of a moment that wants hands, and what became of it. sealed: encrypted with a key that is not in the database (store/sealed.py).
create table voice_setting (
    workshop_id bigint primary key references workshop on delete cascade,
    settings    jsonb not null default '{}',
    sealed      bytea,
    changed_at  timestamptz not null default now()
);

-- In the order they are asked. person: name, kinds, hours of quiet, mail address, topic; sealed: the webhook's address and secret.
create table listener (
    id          bigint generated always as identity primary key,
    workshop_id bigint not null references workshop on delete cascade,
    place       integer not null,
    person      jsonb not null,
    sealed      bytea,
    tried_at    timestamptz,
    made_at     timestamptz not null default now(),
    removed_at  timestamptz
);
create index listener_of on listener (workshop_id, place) where removed_at is null;

-- A browser that takes push messages for a person. address_hash: of its service's address, which is sealed with its keys.
create table listener_browser (
    id           bigint generated always as identity primary key,
    workshop_id  bigint not null references workshop on delete cascade,
    listener_id  bigint not null references listener on delete cascade,
    name         text not null default '',
    address_hash text not null,
    sealed       bytea not null,
    made_at      timestamptz not null default now(),
    unique (workshop_id, address_hash)
);

-- A moment as it stands. first_at: where it stood when this version was made; over_at: it is of no use any more.
create table moment_call (
    id          bigint generated always as identity primary key,
    workshop_id bigint not null references workshop on delete cascade,
    key         text not null,
    version     integer not null,
    run_id      bigint references run on delete cascade,
    piece_id    bigint references piece on delete cascade,
    alarm       text not null default '',
    kind        text not null,
    urgency     text not null,
    title       text not null,
    text        text not null,
    at          timestamptz not null,
    first_at    timestamptz not null,
    latest      timestamptz,
    known_at    timestamptz not null,
    over_at     timestamptz,
    answered_at timestamptz,
    answered_by text not null default '',
    unique (workshop_id, key, version)
);
create index moment_call_open on moment_call (workshop_id) where over_at is null and answered_at is null;

-- One message to one person by one way. Written before it is sent: whoever finds it without an outcome sends it again.
create table moment_sending (
    workshop_id bigint not null references workshop on delete cascade,
    key         text not null,
    call_id     bigint not null references moment_call on delete cascade,
    listener_id bigint not null references listener on delete cascade,
    way         text not null check (way in ('push', 'mail', 'mqtt', 'webhook')),
    turn_at     timestamptz not null,
    late_s      double precision not null,
    tries       integer not null default 0,
    tried_at    timestamptz not null,
    next_try_at timestamptz,
    sent_at     timestamptz,
    failed_at   timestamptz,
    why         text not null default '',
    primary key (workshop_id, key)
);
create index moment_sending_of on moment_sending (call_id);
