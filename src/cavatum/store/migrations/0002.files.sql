-- Files by their content: the same photo kept once, however many pieces show it.
create table file (
    workshop_id bigint not null references workshop on delete cascade,
    sha256      text not null check (sha256 ~ '^[0-9a-f]{64}$'),
    kind        text not null,
    name        text not null,
    size        integer not null check (size > 0),
    content     bytea not null,
    made_at     timestamptz not null default now(),
    primary key (workshop_id, sha256)
);
alter table file alter column content set storage external;

-- What was read from a file, once for each question and version of the reader.
create table file_reading (
    workshop_id bigint not null,
    sha256      text not null,
    question    text not null,
    result      jsonb not null,
    made_at     timestamptz not null default now(),
    primary key (workshop_id, sha256, question),
    foreign key (workshop_id, sha256) references file on delete cascade
);
