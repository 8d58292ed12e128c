"""The store on the real server: revisions, undo, versions, conflicts, what belongs to whom."""

import threading
from datetime import timedelta

import psycopg
import pytest

from cavatum.core.clock.hours import open_spans
from cavatum.core.plan import make_plan
from cavatum.demo import scenario
from cavatum.store import pieces, plans, systems, workshops
from cavatum.store.migrate import migrate
from cavatum.store.pool import Conflict, NotFound
from tests.samples import NOW, SHEETS, box_piece, system, workshop

DAY = timedelta(days=1)


@pytest.fixture
def shop(connection):
    return workshops.implied_workshop(connection)


def renamed(name):
    return box_piece(name=name)


def test_there_is_one_implied_workshop(connection, shop):
    assert workshops.implied_workshop(connection) == shop


def test_settings_come_back_as_they_were_kept(connection, shop):
    workshops.write(connection, shop, workshop(name="Elsewhere"))
    assert workshops.read(connection, shop).name == "Elsewhere"


def test_a_piece_comes_back_as_it_was_made(connection, shop):
    stored = pieces.create(connection, shop, box_piece())
    assert pieces.read(connection, shop, stored.id).piece == box_piece()


def test_a_search_folds_case_takes_signs_as_they_are_and_follows_a_new_name(connection, shop):
    first = pieces.create(connection, shop, box_piece(name="ÉTAGÈRE 100 %", for_whom="Wren_Oak"))
    pieces.create(connection, shop, box_piece(name="Plain tray"))

    def names(words, limit=50, offset=0):
        rows, total = pieces.listed(connection, shop, words, limit, offset)
        return [one.name for one in rows], total

    for words in ("étagère", "100 %", "wren_o", "WREN_"):
        assert names(words) == (["ÉTAGÈRE 100 %"], 1), words
    assert names("100_%") == ([], 0) and names("nowhere") == ([], 0)
    assert names("a", limit=1, offset=5) == ([], 2)  # past the end it still says how many there are
    assert names("", limit=1)[1] == 2
    pieces.save(connection, shop, first.id, 1, box_piece(name="Shelf"), "edit")
    assert names("étagère") == ([], 0) and names("SHELF") == (["Shelf"], 1)


def test_undo_and_redo_walk_the_edits(connection, shop):
    id_ = pieces.create(connection, shop, renamed("one")).id
    pieces.save(connection, shop, id_, 1, renamed("two"), "edit")
    pieces.save(connection, shop, id_, 2, renamed("three"), "edit")
    names = []
    for step, base in (
        (pieces.step_back, 3),
        (pieces.step_back, 4),
        (pieces.step_forward, 5),
        (pieces.step_forward, 6),
    ):
        names.append(step(connection, shop, id_, base).piece.name)
    assert names == ["two", "one", "two", "three"]


def test_an_edit_after_undo_starts_a_new_branch(connection, shop):
    id_ = pieces.create(connection, shop, renamed("one")).id
    pieces.save(connection, shop, id_, 1, renamed("two"), "edit")
    pieces.step_back(connection, shop, id_, 2)
    pieces.save(connection, shop, id_, 3, renamed("other"), "edit")
    undone = pieces.step_back(connection, shop, id_, 4)
    assert (undone.piece.name, undone.can_redo) == ("one", True)
    assert pieces.step_forward(connection, shop, id_, 5).piece.name == "other"


def test_there_is_nothing_to_undo_in_a_new_piece(connection, shop):
    stored = pieces.create(connection, shop, box_piece())
    assert not stored.can_undo and not stored.can_redo
    with pytest.raises(NotFound):
        pieces.step_back(connection, shop, stored.id, 1)


def test_revisions_are_only_appended(connection, shop):
    id_ = pieces.create(connection, shop, renamed("one")).id
    pieces.save(connection, shop, id_, 1, renamed("two"), "edit")
    pieces.step_back(connection, shop, id_, 2)
    assert [pieces.revision_document(connection, shop, id_, n)["name"] for n in (1, 2, 3)] == [
        "one",
        "two",
        "one",
    ]


def test_saving_what_is_there_already_makes_no_revision(connection, shop):
    id_ = pieces.create(connection, shop, box_piece()).id
    assert pieces.save(connection, shop, id_, 1, box_piece(), "nothing").revision == 1


def test_edits_of_different_fields_from_an_old_revision_are_joined(connection, shop):
    id_ = pieces.create(connection, shop, box_piece()).id
    pieces.save(connection, shop, id_, 1, box_piece(note="theirs"), "edit")
    joined = pieces.save(connection, shop, id_, 1, box_piece(for_whom="yours"), "edit")
    assert joined.merged and (joined.piece.note, joined.piece.for_whom) == ("theirs", "yours")


def test_edits_of_one_field_are_a_conflict_and_save_nothing(connection, shop):
    id_ = pieces.create(connection, shop, box_piece()).id
    pieces.save(connection, shop, id_, 1, renamed("theirs"), "edit")
    with pytest.raises(Conflict) as conflict:
        pieces.save(connection, shop, id_, 1, renamed("yours"), "edit")
    assert conflict.value.clashes[0]["theirs"] == "theirs" and conflict.value.clashes[0]["yours"] == "yours"
    assert pieces.read(connection, shop, id_).revision == 2


def test_undo_on_an_old_revision_is_a_conflict(connection, shop):
    id_ = pieces.create(connection, shop, box_piece()).id
    pieces.save(connection, shop, id_, 1, renamed("two"), "edit")
    with pytest.raises(Conflict):
        pieces.step_back(connection, shop, id_, 1)


def test_a_removed_piece_can_be_brought_back(connection, shop):
    id_ = pieces.create(connection, shop, box_piece()).id
    pieces.remove(connection, shop, id_)
    with pytest.raises(NotFound):
        pieces.read(connection, shop, id_)
    with pytest.raises(NotFound):
        pieces.remove(connection, shop, id_)
    assert pieces.bring_back(connection, shop, id_).piece.name == "Sample block"


def test_another_workshop_sees_nothing(connection, shop):
    id_ = pieces.create(connection, shop, box_piece()).id
    with pytest.raises(NotFound):
        pieces.read(connection, shop + 1, id_)


def test_search_takes_percent_signs_literally(connection, shop):
    pieces.create(connection, shop, renamed("100% ash"))
    pieces.create(connection, shop, renamed("oak"))
    assert [row.name for row in pieces.listed(connection, shop, "0%", 10, 0)[0]] == ["100% ash"]
    assert pieces.listed(connection, shop, "", 1, 0)[1] == 2


def test_a_sheet_never_changes_a_change_is_a_version(connection, shop):
    first = systems.add_version(connection, shop, system())
    second = systems.add_version(connection, shop, system(name="changed"))
    assert (first.version, second.version) == (1, 2)
    assert [sheet.name for sheet in systems.versions(connection, shop, first.id)] == [
        "changed",
        system().name,
    ]
    assert systems.newest(connection, shop)[first.id].version == 2


def test_a_retired_sheet_leaves_the_shelf_and_keeps_its_versions(connection, shop):
    systems.add_version(connection, shop, system())
    systems.add_version(connection, shop, system(), retired=True)
    assert systems.newest(connection, shop) == {}
    assert len(systems.versions(connection, shop, system().id)) == 2
    with pytest.raises(NotFound):
        systems.versions(connection, shop, "never-there")


def test_a_plan_is_kept_with_its_inputs_and_found_by_their_hash(connection, shop):
    id_ = pieces.create(connection, shop, box_piece()).id
    plan = make_plan(box_piece(), SHEETS, workshop(), NOW)
    key = plans.hash_inputs({"a": 1})
    plans.keep(connection, shop, id_, 1, key, {"a": 1}, NOW, plan)
    assert plans.newest(connection, shop, id_, key) == plan
    assert plans.newest(connection, shop, id_, "other") is None


def test_hash_of_inputs_does_not_depend_on_their_order():
    assert plans.hash_inputs({"a": 1, "b": 2}) == plans.hash_inputs({"b": 2, "a": 1})


def test_migrating_again_applies_nothing(database_url):
    assert migrate(database_url) == 0


def test_a_lock_left_by_a_killed_migration_is_broken(database_url):
    with psycopg.connect(database_url, autocommit=True) as connection:
        connection.execute("insert into yoyo_lock (locked, ctime, pid) values (1, now(), 999999)")
    assert migrate(database_url) == 0


def test_two_devices_saving_at_once_lose_nothing(database_url):
    with psycopg.connect(database_url) as connection:
        shop = workshops.implied_workshop(connection)
        id_ = pieces.create(connection, shop, box_piece()).id
    changes = [{"note": "one"}, {"for_whom": "two"}, {"tint": "#112233"}]

    def save(change):
        with psycopg.connect(database_url) as mine:
            pieces.save(mine, shop, id_, 1, box_piece(**change), "edit")

    threads = [threading.Thread(target=save, args=(change,)) for change in changes]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    with psycopg.connect(database_url) as connection:
        last = pieces.read(connection, shop, id_)
        connection.execute("truncate workshop cascade")
    assert (last.revision, last.piece.note, last.piece.for_whom, last.piece.tint) == (
        4,
        "one",
        "two",
        "#112233",
    )


def test_the_demo_is_laid_out_moved_and_then_left_alone(connection, shop):
    assert "laid out" in scenario.ensure(connection, shop, NOW)
    id_ = next(
        one
        for one in pieces.demo_ids(connection, shop)
        if pieces.read(connection, shop, one).piece.first_pour_at
    )
    before = pieces.read(connection, shop, id_).piece.first_pour_at
    assert scenario.ensure(connection, shop, NOW.replace(day=12)) == "moved to today"
    moved = pieces.read(connection, shop, id_)
    assert (moved.piece.first_pour_at - before).days == 10 and moved.revision == 1
    pieces.save(connection, shop, id_, 1, renamed("mine"), "edit")
    assert scenario.ensure(connection, shop, NOW) == "left as you changed it"


def test_the_demo_leaves_a_persons_own_work_alone(connection, shop):
    pieces.create(connection, shop, box_piece())
    assert "own work" in scenario.ensure(connection, shop, NOW)
    with pytest.raises(ValueError, match="only the demo"):
        scenario.lay_out_anew(connection, shop, NOW)


def test_on_no_day_of_the_week_is_a_demo_pour_set_for_when_the_yard_is_shut():
    shop = scenario.workshop()
    for day in range(1, 8):
        now = NOW.replace(day=day, hour=0, minute=30)
        for piece in scenario.demo_pieces(now):
            start = piece.first_pour_at
            if start and start > now:
                assert any(begin <= start < end for begin, end in open_spans(shop, now, start + DAY)), (
                    f"{piece.name} on {now:%A}"
                )


def test_on_any_day_of_the_week_one_demo_piece_waits_for_a_pour(connection, shop):
    for day in range(1, 8):
        plan_of = [
            make_plan(piece, SHEETS, scenario.workshop(), NOW.replace(day=day), in_full=False, chances=False)
            for piece in scenario.demo_pieces(NOW.replace(day=day))
        ]
        waiting = [
            plan
            for plan in plan_of
            if plan.clock
            and plan.start_is_chosen
            and any(pin.kind == "pour" and pin.at > NOW.replace(day=day) for pin in plan.clock.pins)
        ]
        assert waiting, f"nothing to come on {NOW.replace(day=day):%A}"
