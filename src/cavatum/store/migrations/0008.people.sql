-- Who may come in. Secrets are kept as hashes only: argon2id of passwords, SHA-256 of random tokens.
create table account (
    id            bigint generated always as identity primary key,
    email         text not null,
    name          text not null,
    password_hash text,
    made_at       timestamptz not null default now(),
    ended_at      timestamptz
);
create unique index account_email on account (lower(email));

create table membership (
    workshop_id bigint not null references workshop on delete cascade,
    account_id  bigint not null references account on delete cascade,
    role        text not null check (role in ('owner', 'maker', 'viewer')),
    made_at     timestamptz not null default now(),
    ended_at    timestamptz,
    primary key (workshop_id, account_id)
);
create index membership_of on membership (account_id);

-- account_id: a new way in for somebody who is a member already; else whoever takes it makes an account or joins with theirs.
-- by_keeper: given at the server's own command line, which stands above workshops.
create table invitation (
    id          bigint generated always as identity primary key,
    workshop_id bigint not null references workshop on delete cascade,
    token_hash  text not null unique,
    role        text not null check (role in ('owner', 'maker', 'viewer')),
    name        text not null default '',
    account_id  bigint references account on delete cascade,
    by_keeper   boolean not null default false,
    made_at     timestamptz not null default now(),
    expires_at  timestamptz not null,
    used_at     timestamptz,
    ended_at    timestamptz
);

-- A browser somebody is logged in with, in one workshop at a time.
create table entry (
    id          bigint generated always as identity primary key,
    workshop_id bigint not null references workshop on delete cascade,
    account_id  bigint not null references account on delete cascade,
    token_hash  text not null unique,
    agent       text not null default '',
    made_at     timestamptz not null,
    seen_at     timestamptz not null,
    until_at    timestamptz not null,
    ended_at    timestamptz
);
create index entry_of on entry (account_id) where ended_at is null;

create table api_token (
    id          bigint generated always as identity primary key,
    workshop_id bigint not null references workshop on delete cascade,
    token_hash  text not null unique,
    role        text not null check (role in ('maker', 'viewer')),
    name        text not null,
    made_at     timestamptz not null default now(),
    until_at    timestamptz not null,
    seen_at     timestamptz,
    ended_at    timestamptz
);

create table passkey (
    id            bigint generated always as identity primary key,
    account_id    bigint not null references account on delete cascade,
    credential_id bytea not null unique,
    public_key    bytea not null,
    sign_count    bigint not null,
    name          text not null default '',
    made_at       timestamptz not null default now(),
    used_at       timestamptz
);

-- What a passkey has to sign: each once, for minutes.
create table challenge (
    id         bigint generated always as identity primary key,
    value      bytea not null unique,
    account_id bigint references account on delete cascade,
    expires_at timestamptz not null
);

-- Tries that failed, by what was tried and from where, as hashes; old ones are swept.
create table failed_try (
    id      bigint generated always as identity primary key,
    key     text not null,
    at      timestamptz not null
);
create index failed_try_of on failed_try (key, at);

-- What was done about who may come in, and by whom. Only added to. workshop_id: none where nobody was known.
create table audit (
    id          bigint generated always as identity primary key,
    workshop_id bigint references workshop on delete cascade,
    at          timestamptz not null default clock_timestamp(),
    what        text not null,
    who         text not null,
    about       text not null default '',
    address     text not null default '',
    request_id  text not null default ''
);
create index audit_newest on audit (workshop_id, id desc);

alter table file_reading add constraint file_reading_workshop foreign key (workshop_id) references workshop on delete cascade;
