-- The last reading of each instrument: what a page shows now. Readings that belong to a run will be kept with the run.
create table device_reading (
    workshop_id bigint not null references workshop on delete cascade,
    kind        text not null,
    name        text not null,
    reading     jsonb not null,
    read_at     timestamptz not null default now(),
    primary key (workshop_id, kind)
);
