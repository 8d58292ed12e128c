-- What was entered afterwards, with the moment a person typed.
alter table run_event add column entered boolean not null default false;
