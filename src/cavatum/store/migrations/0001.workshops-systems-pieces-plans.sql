-- Workshops own every other row. Documents are checked by the application's schema library before they get here.
create table workshop (
    id          bigint generated always as identity primary key,
    settings    jsonb not null,
    is_demo     boolean not null default false,
    changed_at  timestamptz not null default now()
);

-- A sheet never changes: each edit is a new version.
create table system_version (
    workshop_id bigint not null references workshop on delete cascade,
    system_id   text not null,
    version     integer not null check (version >= 1),
    sheet       jsonb not null,
    made_at     timestamptz not null default now(),
    is_retired  boolean not null default false,
    primary key (workshop_id, system_id, version)
);

-- head is the newest revision; name, for_whom, due, kind and summary are copies for lists.
create table piece (
    id          bigint generated always as identity primary key,
    workshop_id bigint not null references workshop on delete cascade,
    head        integer not null check (head >= 1),
    name        text not null,
    for_whom    text not null,
    kind        text not null,
    due         date,
    summary     jsonb not null default '{}',
    made_at     timestamptz not null default now(),
    changed_at  timestamptz not null default now(),
    removed_at  timestamptz,
    is_demo     boolean not null default false
);
create index piece_list on piece (workshop_id, changed_at desc, id desc) where removed_at is null;

-- Append-only: the undo, the history and the conflict check. content_of names the revision whose
-- content this one repeats (an edit: itself), replaces the content that an edit was made on.
create table piece_revision (
    piece_id    bigint not null references piece on delete cascade,
    workshop_id bigint not null references workshop on delete cascade,
    revision    integer not null check (revision >= 1),
    document    jsonb not null,
    what        text not null,
    content_of  integer not null,
    replaces    integer,
    made_at     timestamptz not null default now(),
    primary key (piece_id, revision)
);

-- A plan with the inputs it came from; input_hash leaves out the moment it was made.
create table plan (
    id          bigint generated always as identity primary key,
    workshop_id bigint not null references workshop on delete cascade,
    piece_id    bigint not null references piece on delete cascade,
    revision    integer not null,
    input_hash  text not null,
    inputs      jsonb not null,
    made_at     timestamptz not null,
    result      jsonb not null,
    unique (piece_id, input_hash, made_at)
);
create index plan_newest on plan (workshop_id, piece_id, input_hash, made_at desc);
