-- What settings and bottles were before each change, so that two browsers that changed the same thing are joined and lose nothing.
-- revision: of the content that stands here; the one in force is one higher.
create table earlier (
    workshop_id bigint not null references workshop on delete cascade,
    what        text not null check (what in ('workshop', 'bottle')),
    id          bigint not null,
    revision    integer not null check (revision >= 1),
    content     jsonb not null,
    made_at     timestamptz not null default now(),
    primary key (workshop_id, what, id, revision)
);
