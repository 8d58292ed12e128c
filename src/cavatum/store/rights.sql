-- What a request may do in the database, laid down again after every migration and restore (a backup holds no rights).
-- Requests work as the role cavatum_shop, which owns nothing: row-level security shows it one workshop, the one named by cavatum.workshop,
-- and nothing at all while none is named. Coming in (store/door.py) works as the owner.
do $$
declare
    one record;
begin
    for one in
        select c.relname as name, exists (
            select 1 from information_schema.columns k where k.table_schema = 'public' and k.table_name = c.relname and k.column_name = 'workshop_id') as has_workshop
        from pg_class c join pg_namespace n on n.oid = c.relnamespace
        where n.nspname = 'public' and c.relkind = 'r' and c.relname not like 'procrastinate%' and c.relname not like '\_yoyo%' and c.relname not like 'yoyo%'
    loop
        execute format('revoke all on %I from cavatum_shop', one.name);
        execute format('alter table %I enable row level security', one.name);
        if one.has_workshop and not exists (select 1 from pg_policies where schemaname = 'public' and tablename = one.name and policyname = 'of_the_workshop') then
            execute format(
                'create policy of_the_workshop on %I using (workshop_id = (select nullif(current_setting(''cavatum.workshop'', true), '''')::bigint))', one.name);
        end if;
        if one.has_workshop and one.name not in ('entry', 'audit', 'pairing') then
            execute format('grant select, insert, update, delete on %I to cavatum_shop', one.name);
        end if;
    end loop;
end $$;

drop policy if exists this_workshop on workshop;
create policy this_workshop on workshop using (id = (select nullif(current_setting('cavatum.workshop', true), '')::bigint));
grant select, update on workshop to cavatum_shop;

-- Of people only those of this workshop, and of them no password; of the trail only to read and to add.
drop policy if exists people_of_the_workshop on account;
create policy people_of_the_workshop on account for select using (exists (
    select 1 from membership m where m.account_id = account.id and m.workshop_id = (select nullif(current_setting('cavatum.workshop', true), '')::bigint)));
grant select (id, email, name, made_at, ended_at) on account to cavatum_shop;
grant select, insert on audit to cavatum_shop;
grant select, update on entry to cavatum_shop;
grant select, insert, update on pairing to cavatum_shop;
grant usage on all sequences in schema public to cavatum_shop;

-- On the computer's own address: the server's first workshop, found in the same round trip that names it.
create or replace function first_workshop() returns bigint language sql stable security definer set search_path = public as 'select min(id) from workshop';
revoke all on function first_workshop() from public;
grant execute on function first_workshop() to cavatum_shop;
