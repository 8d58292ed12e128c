-- What a request may do in the database, laid down again after every migration and restore (a backup holds no rights).
-- Two roles log in, own nothing, and are members of nothing: whatever is said on their connections, they stay what they are.
--   cavatum_shop  one workshop's work: row-level security shows the one named by cavatum.workshop, and nothing while none is named
--   cavatum_door  who may come in: accounts, secrets' hashes, roles, the trail; of the work only how much of it there is
do $$
declare
    one record;
    of_people constant text[] := array['membership', 'invitation', 'entry', 'api_token', 'pairing', 'calendar_feed'];
    at_the_door constant text[] := of_people || array['account', 'passkey', 'challenge', 'failed_try'];
begin
    for one in
        select c.relname as name, exists (
            select 1 from information_schema.columns k where k.table_schema = 'public' and k.table_name = c.relname and k.column_name = 'workshop_id') as has_workshop
        from pg_class c join pg_namespace n on n.oid = c.relnamespace
        where n.nspname = 'public' and c.relkind = 'r' and c.relname not like 'procrastinate%' and c.relname not like '\_yoyo%' and c.relname not like 'yoyo%'
    loop
        execute format('revoke all on %I from cavatum_shop, cavatum_door, public', one.name);
        execute format('alter table %I enable row level security', one.name);
        execute format('drop policy if exists at_the_door on %I', one.name);
        if one.has_workshop and not exists (select 1 from pg_policies where schemaname = 'public' and tablename = one.name and policyname = 'of_the_workshop') then
            execute format(
                'create policy of_the_workshop on %I using (workshop_id = (select nullif(current_setting(''cavatum.workshop'', true), '''')::bigint))', one.name);
        end if;
        if one.name = any (at_the_door) then
            execute format('create policy at_the_door on %I to cavatum_door using (true) with check (true)', one.name);
            execute format('grant select, insert, update on %I to cavatum_door', one.name);
        elsif one.has_workshop and one.name <> 'audit' then
            execute format('grant select, insert, update, delete on %I to cavatum_shop', one.name);
        end if;
    end loop;
end $$;

drop policy if exists this_workshop on workshop;
create policy this_workshop on workshop using (id = (select nullif(current_setting('cavatum.workshop', true), '')::bigint));
grant select, update on workshop to cavatum_shop;
create policy at_the_door on workshop to cavatum_door using (true) with check (true);
grant select, insert on workshop to cavatum_door;
drop policy if exists people_of_the_workshop on account;

-- The trail is read and added to, by both.
grant select, insert on audit to cavatum_shop, cavatum_door;
create policy at_the_door on audit to cavatum_door using (true) with check (true);
grant delete on passkey, challenge, failed_try, calendar_feed to cavatum_door;
-- The server's own figures: counts, no contents.
create policy at_the_door on job for select to cavatum_door using (true);
grant select (state) on job to cavatum_door;
create policy at_the_door on run for select to cavatum_door using (true);
grant select (ended_at, rehearsal) on run to cavatum_door;
grant select on _yoyo_migration to cavatum_door;
-- A device that was put out hands in what it still held.
create policy at_the_door on handed_in to cavatum_door using (true) with check (true);
grant select, insert on handed_in to cavatum_door;
-- Word to the workers that a job waits.
grant select, insert on procrastinate_jobs, procrastinate_events to cavatum_door;
grant usage on all sequences in schema public to cavatum_shop, cavatum_door;

-- On the computer's own address: the server's first workshop, found in the same round trip that names it.
create or replace function first_workshop() returns bigint language sql stable security definer set search_path = public as 'select min(id) from workshop';
revoke all on function first_workshop() from public;
grant execute on function first_workshop() to cavatum_shop;
