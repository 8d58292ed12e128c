-- Lists, search and the bench of a workshop with tens of thousands of pieces. sought: what a search looks in, folded once, not for every row of every search.
alter table piece add column sought text not null default '';
create function fold_sought() returns trigger language plpgsql as $$
begin
    new.sought := lower(new.name || E'\n' || new.for_whom);
    return new;
end
$$;
create trigger piece_sought before insert or update of name, for_whom, sought on piece
    for each row execute function fold_sought();
update piece set sought = '';
-- Pieces with a first pour somebody set: what plans reserve of the shelf is asked of these alone.
create index piece_revision_started on piece_revision (workshop_id, piece_id, revision)
    where document->>'first_pour_at' is not null;
