-- What a device still had to say when it was put out: kept for the owner, who accepts or refuses it. entry: as the device would have sent it.
create table handed_in (
    id          bigint generated always as identity primary key,
    workshop_id bigint not null references workshop on delete cascade,
    pairing_id  bigint not null references pairing on delete cascade,
    what        text not null check (what in ('run', 'weighing')),
    of_id       bigint not null,
    event_id    uuid not null,
    entry       jsonb not null,
    received_at timestamptz not null,
    decided_at  timestamptz,
    accepted    boolean,
    why         text not null default '',
    unique (workshop_id, what, event_id)
);
create index handed_in_waiting on handed_in (workshop_id, id) where decided_at is null;
