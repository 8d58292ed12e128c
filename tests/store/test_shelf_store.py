"""Goods in versions, bottles as sums of their bookings, weighings append-only: the rows behind the Shelf and
the scale.
"""

import threading
import uuid

import psycopg
import pytest

from cavatum.core.common.errors import DomainError
from cavatum.core.mix.weigh_events import EndWeighing, Taken, Undo, Zero
from cavatum.core.piece.colour import Colourant, Recipe
from cavatum.core.purchase.stock import Bottle
from cavatum.store import pieces, shelf_items, stock, weighings
from cavatum.store.pool import NotFound
from cavatum.store.workshops import implied_workshop
from tests.core.test_weighing import task
from tests.samples import box_piece

MICA = Colourant.model_validate(
    {"id": "mica", "name": "Mica", "kind": "mica powder", "density_kg_m3": "2.8 g/mL", "most": "5 %"}
)
RUST = Recipe.model_validate(
    {"id": "rust", "name": "Rust", "parts": [{"colourant_id": "mica", "share": "2 %"}]}
)
FULL = Bottle.model_validate({"goods": "system", "goods_id": "s", "part": "A", "lot": "L", "full_kg": "1 kg"})


@pytest.fixture
def shop(connection) -> int:
    return implied_workshop(connection)


@pytest.fixture
def weighing(connection, shop):
    piece = pieces.create(connection, shop, box_piece())
    return weighings.start(connection, shop, piece.id, 1, 1, task())


def add(connection, shop, weighing, event, after):
    return weighings.append(connection, shop, weighing.id, uuid.uuid4(), event, after)


def test_a_good_that_is_taken_off_the_shelf_keeps_its_versions_and_comes_back(connection, shop):
    shelf_items.add_version(connection, shop, "colourant", MICA)
    shelf_items.add_version(connection, shop, "colourant", MICA.model_copy(update={"name": "Mica, finer"}))
    shelf_items.add_version(connection, shop, "colourant", MICA, retired=True)
    assert (
        shelf_items.newest(connection, shop).colourants == {}
        and shelf_items.newest_of(connection, shop, "colourant", "mica")[1]
    )
    assert [one.version for one in shelf_items.versions(connection, shop, "colourant", "mica")] == [3, 2, 1]
    assert (
        shelf_items.add_version(connection, shop, "colourant", MICA).version == 4
        and "mica" in shelf_items.newest(connection, shop).colourants
    )


def test_goods_of_one_kind_do_not_hide_those_of_another(connection, shop):
    shelf_items.add_version(connection, shop, "colourant", MICA)
    shelf_items.add_version(connection, shop, "recipe", RUST.model_copy(update={"id": "mica"}))
    found = shelf_items.newest(connection, shop)
    assert found.colourants["mica"].kind == "mica powder" and found.recipes["mica"].name == "Rust"
    with pytest.raises(NotFound):
        shelf_items.versions(connection, shop, "material", "mica")
    with pytest.raises(NotFound):
        shelf_items.newest_of(connection, shop, "material", "mica")


def test_goods_of_another_workshop_are_not_seen(connection, shop):
    other = connection.execute(
        "insert into workshop (settings) select settings from workshop where id = %s returning id", (shop,)
    ).fetchone()[0]
    shelf_items.add_version(connection, other, "colourant", MICA)
    there = stock.add(connection, other, FULL, 1.0)
    assert shelf_items.newest(connection, shop).colourants == {} and stock.listed(connection, shop) == []
    with pytest.raises(NotFound):
        stock.read(connection, shop, there.id)
    with pytest.raises(NotFound):
        stock.take(connection, shop, there.id, 0.1, "not mine")


def test_a_bottle_is_the_sum_of_its_bookings(connection, shop):
    one = stock.add(connection, shop, FULL, 0.8)
    stock.take(connection, shop, one.id, 0.25, "a pour", 7)
    stock.weigh_anew(connection, shop, one.id, 0.5, "weighed anew")
    assert stock.read(connection, shop, one.id).left_kg == pytest.approx(0.5)
    assert [(round(move.kg, 6), move.weighing_id) for move in stock.moves(connection, shop, one.id)] == [
        (-0.05, None),
        (-0.25, 7),
        (0.8, None),
    ]


def test_taking_more_than_there_is_books_nothing(connection, shop):
    one = stock.add(connection, shop, FULL, 0.2)
    with pytest.raises(DomainError):
        stock.take(connection, shop, one.id, 0.3, "too much")
    assert (
        stock.read(connection, shop, one.id).left_kg == pytest.approx(0.2)
        and len(stock.moves(connection, shop, one.id)) == 1
    )


def test_a_bottle_is_changed_removed_and_brought_back_with_what_was_in_it(connection, shop):
    one = stock.add(connection, shop, FULL, 0.7)
    stock.change(connection, shop, one.id, FULL.model_copy(update={"lot": "L2"}), one.revision)
    stock.remove(connection, shop, one.id)
    assert stock.listed(connection, shop) == []
    back = stock.bring_back(connection, shop, one.id)
    assert back.bottle.lot == "L2" and back.left_kg == pytest.approx(0.7)


def test_entries_keep_their_order_and_are_read_back_as_they_were(connection, shop, weighing):
    events = [Zero(gross_kg=0.18), Taken(step="A", mass_kg=0.1, by="scale", gross_kg=0.28), Undo()]
    for after, event in enumerate(events):
        add(connection, shop, weighing, event, after)
    found = weighings.read(connection, shop, weighing.id)
    assert (
        found.plain == events and [one.number for one in found.events] == [1, 2, 3] and found.task == task()
    )


def test_what_may_not_follow_is_not_kept(connection, shop, weighing):
    with pytest.raises(DomainError, match="all of it is in before"):
        add(connection, shop, weighing, EndWeighing(how="mixed"), 0)
    with pytest.raises(DomainError, match="made on 3 entries"):
        add(connection, shop, weighing, Zero(gross_kg=0.0), 3)
    assert weighings.read(connection, shop, weighing.id).events == []


def test_the_same_entry_again_changes_nothing_even_after_others(connection, shop, weighing):
    first = uuid.uuid4()
    weighings.append(connection, shop, weighing.id, first, Zero(gross_kg=0.1), 0)
    add(connection, shop, weighing, Taken(step="A", mass_kg=0.1, by="hand"), 1)
    found, is_new = weighings.append(connection, shop, weighing.id, first, Zero(gross_kg=0.1), 0)
    assert not is_new and len(found.events) == 2


def test_the_end_closes_a_weighing_and_the_next_start_is_a_new_one(connection, shop, weighing):
    add(connection, shop, weighing, EndWeighing(how="given up"), 0)
    again = weighings.start(connection, shop, weighing.piece_id, 1, 1, task())
    assert again.id != weighing.id and weighings.read(connection, shop, weighing.id).ended_at is not None
    assert [one.id for one in weighings.of_piece(connection, shop, weighing.piece_id)] == [
        weighing.id,
        again.id,
    ]
    assert [one.id for one in weighings.newest(connection, shop, 1)] == [again.id]


def test_a_weighing_outlives_its_piece(connection, shop, weighing):
    connection.execute("delete from piece where id = %s", (weighing.piece_id,))
    assert weighings.read(connection, shop, weighing.id).piece_id is None


def test_of_two_devices_at_once_one_entry_is_kept_and_the_other_is_told(database_url):
    with psycopg.connect(database_url) as connection:
        shop = implied_workshop(connection)
        piece = pieces.create(connection, shop, box_piece())
        one = weighings.start(connection, shop, piece.id, 1, 1, task())
    said: list[str] = []
    ready = threading.Barrier(4)

    def device() -> None:
        with psycopg.connect(database_url) as mine:
            ready.wait(90)
            try:
                weighings.append(
                    mine,
                    shop,
                    one.id,
                    uuid.uuid4(),
                    Taken(step="A", mass_kg=0.1, by="scale", gross_kg=0.1),
                    0,
                )
                mine.commit()
                said.append("kept")
            except DomainError as error:
                said.append(error.code)

    devices = [threading.Thread(target=device) for _ in range(4)]
    for thread in devices:
        thread.start()
    for thread in devices:
        thread.join(20)
    with psycopg.connect(database_url) as connection:
        assert (
            sorted(said) == ["kept", "moved-on", "moved-on", "moved-on"]
            and len(weighings.read(connection, shop, one.id).events) == 1
        )
        connection.execute("truncate workshop cascade")
