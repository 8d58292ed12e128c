-- A camera over a piece of a run. told: where the piece lies in its pictures, how large it is, how often one comes. unfollowed: sides
-- without a wet edge to follow; silent_at: when it was said that no picture comes any more.
create table watch (
    id          bigint generated always as identity primary key,
    workshop_id bigint not null references workshop on delete cascade,
    run_id      bigint not null references run on delete cascade,
    told        jsonb not null,
    begun_at    timestamptz not null,
    ended_at    timestamptz,
    why         text not null default '',
    pictures    integer not null default 0,
    last_at     timestamptz,
    unfollowed  jsonb,
    problem     text not null default '',
    silent_at   timestamptz
);
create index watch_of_run on watch (workshop_id, run_id, id desc);
create index watch_open on watch (id) where ended_at is null;

-- Its pictures, as many as the rule keeps (services/watching.py). number: in the order they came.
create table watch_frame (
    workshop_id bigint not null references workshop on delete cascade,
    watch_id    bigint not null references watch on delete cascade,
    number      integer not null,
    at          timestamptz not null,
    size        integer not null,
    content     bytea not null,
    looked_at   timestamptz,
    primary key (watch_id, number)
);
alter table watch_frame alter column content set storage external;
create index watch_frame_new on watch_frame (watch_id, number) where looked_at is null;

-- What was told of it. wrong_at: somebody looked, and there was nothing.
create table watch_seen (
    id          bigint generated always as identity primary key,
    workshop_id bigint not null references workshop on delete cascade,
    watch_id    bigint not null references watch on delete cascade,
    event_id    uuid not null,
    number      integer not null,
    kind        text not null,
    at          timestamptz not null,
    told        jsonb not null,
    words       text not null,
    wrong_at    timestamptz,
    wrong_by    text not null default ''
);
create index watch_seen_of on watch_seen (watch_id, id);
