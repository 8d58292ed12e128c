-- Who let whom in: putting a person out ends all they made. made_by is empty for the shop's own screen and the server's keeper;
-- maker_kept is false for what was made before this was kept.
alter table invitation add column made_by bigint references account on delete set null, add column maker_kept boolean not null default false;
alter table api_token add column made_by bigint references account on delete set null, add column maker_kept boolean not null default false;
alter table pairing add column made_by bigint references account on delete set null, add column maker_kept boolean not null default false;
alter table invitation alter column maker_kept set default true;
alter table api_token alter column maker_kept set default true;
alter table pairing alter column maker_kept set default true;
-- Whose browser entered the code, where somebody was logged in with it.
alter table pairing add column taken_by bigint references account on delete set null;

-- Each their own address of the calendar feed. of_all: made when there was one for everybody; it ends with the first who is put out.
alter table calendar_feed drop constraint calendar_feed_pkey;
alter table calendar_feed
    add column account_id bigint references account on delete cascade,
    add column token_id bigint references api_token on delete cascade,
    add column of_all boolean not null default false;
update calendar_feed set of_all = true;
alter table calendar_feed add constraint calendar_feed_of unique nulls not distinct (workshop_id, account_id, token_id);

-- The address in its normal form (store/addresses.py), by which accounts are found and tries are counted; filled in by the program.
alter table account add column address text;
create index account_address on account (address);
