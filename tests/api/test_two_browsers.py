"""Two browsers at the same settings, sheet, bottle, colourant or recipe: what each changed stays; what both
changed is asked about, and nothing is overwritten without a word.
"""

import json

import psycopg
import pytest

from cavatum.store import revisions, workshops
from tests.conftest import Client
from tests.samples import NOW, system

COLOURANT = {
    "id": "mica",
    "name": "Mica",
    "kind": "mica powder",
    "density_kg_m3": "2800 kg/m3",
    "most_share": "5 %",
}


@pytest.fixture
def two(fixed_app, database_url):
    from tests.conftest import _empty

    yield Client(fixed_app), Client(fixed_app)
    _empty(database_url)


class Settings:
    changes = ({"name": "Shed"}, {"room_c": "19 degC"}, {"name": "Barn"})

    def __init__(self, client):
        self.client = client

    def read(self):
        found = self.client.get("/session").json
        return found["workshop"], found["revision"]

    def save(self, thing, made_on):
        return self.client.call("PUT", f"/workshop?made_on={made_on}", thing)


class Sheet:
    changes = ({"name": "Slow one"}, {"note": "keep it warm"}, {"name": "Slowest one"})

    def __init__(self, client):
        self.client = client
        if not client.get("/systems").json["sheets"]:
            client.call("POST", "/systems", system().model_dump(mode="json"))

    def read(self):
        found = self.client.get("/systems").json["sheets"][0]["system"]
        return found, found["version"]

    def save(self, thing, made_on):
        return self.client.call("PUT", f"/systems/{thing['id']}", {**thing, "version": made_on})


class BottleOnShelf:
    changes = ({"lot": "L7"}, {"opened_on": "2026-01-02"}, {"lot": "L9"})

    def __init__(self, client):
        self.client = client
        Sheet(client)
        if not client.get("/stock").json["bottles"]:
            bottle = {
                "goods": "system",
                "goods_id": system().id,
                "part": "A",
                "lot": "L1",
                "full_kg": "600 g",
            }
            made = client.call("POST", "/stock", {"bottle": bottle, "left": "600 g"})
            assert made.status_code == 201, made.json

    def read(self):
        found = self.client.get("/stock").json["bottles"][0]["standing"]
        self.id = found["id"]
        return found["bottle"], found["revision"]

    def save(self, thing, made_on):
        return self.client.call("PUT", f"/stock/{self.id}?made_on={made_on}", thing)


class Colour:
    changes = ({"name": "Gold mica"}, {"note": "shake it"}, {"name": "Brass mica"})

    def __init__(self, client):
        self.client = client
        if not client.get("/goods").json["colourants"]:
            kinds = client.get("/goods/classes").json["colourants"]
            made = client.call("PUT", "/goods/colourant/mica", {**kinds[0], "id": "mica", "version": 1})
            assert made.status_code == 200, made.json

    def read(self):
        found = self.client.get("/goods").json["colourants"]["mica"]
        return found, found["version"]

    def save(self, thing, made_on):
        return self.client.call("PUT", "/goods/colourant/mica", {**thing, "version": made_on})


THINGS = [Settings, Sheet, BottleOnShelf, Colour]


def without(thing: dict) -> str:
    return json.dumps({name: value for name, value in thing.items() if name != "version"}, sort_keys=True)


@pytest.mark.parametrize("kind", THINGS)
def test_two_browsers_lose_nothing(two, kind):
    """The later one took the place of the earlier one's change, without a word."""
    mine, theirs = (kind(client) for client in two)
    (seen, on), (also_seen, also_on) = mine.read(), theirs.read()
    assert (seen, on) == (also_seen, also_on)
    first, second, third = kind.changes
    assert mine.save({**seen, **first}, on).status_code == 200
    answer = theirs.save({**also_seen, **second}, also_on)
    assert answer.status_code == 200, answer.json
    both, head = mine.read()
    wanted, _ = kind(two[0]).read()
    assert all(json.dumps(first[name]).strip('"') in json.dumps(both[name]) for name in first), both
    changed = {name for name in both if name != "version" and both[name] != seen[name]}
    assert changed == {*first, *second} and both == wanted and head == on + 2
    clash = theirs.save({**also_seen, **third}, also_on)  # made on the first one again
    assert clash.status_code == 409 and clash.json["head"] == head
    (told,) = clash.json["clashes"]
    assert told["pointer"] == f"/{next(iter(third))}"
    assert (told["theirs"], told["yours"]) == (next(iter(first.values())), next(iter(third.values())))
    assert without(mine.read()[0]) == without(both)  # nothing was written
    assert theirs.save({**both, **third}, head).status_code == 200  # the person chose theirs
    assert mine.read()[1] == head + 1


@pytest.mark.parametrize("kind", THINGS)
def test_the_same_change_twice_is_no_conflict(two, kind):
    mine, theirs = (kind(client) for client in two)
    seen, on = mine.read()
    assert mine.save({**seen, **kind.changes[0]}, on).status_code == 200
    theirs.read()
    assert theirs.save({**seen, **kind.changes[0]}, on).status_code == 200


def test_a_revision_that_is_not_kept_any_more_asks_about_everything_that_differs(two):
    mine, _ = two
    thing = Settings(mine)
    old, on = thing.read()
    for number in range(revisions.KEPT + 2):
        seen, head = thing.read()
        assert thing.save({**seen, "name": f"Shed {number}"}, head).status_code == 200
    answer = thing.save({**old, "room_c": "12 degC"}, on)
    assert answer.status_code == 409
    assert {one["pointer"] for one in answer.json["clashes"]} >= {"/name", "/room_c"}


def test_without_a_revision_nothing_is_changed(two):
    mine, _ = two
    seen, _ = Settings(mine).read()
    assert mine.call("PUT", "/workshop", {**seen, "name": "Shed"}).status_code == 422
    assert Settings(mine).read()[0]["name"] == seen["name"]


def test_a_sheet_that_was_changed_meanwhile_is_not_confirmed_unseen(two):
    mine, theirs = (Sheet(client) for client in two)
    seen, on = mine.read()
    theirs.save({**seen, "note": "changed"}, on)
    refused = two[0].call("POST", f"/systems/{seen['id']}/confirm?made_on={on}")
    assert refused.status_code == 422 and refused.json["problems"][0]["code"] == "newer-version"
    assert two[0].call("POST", f"/systems/{seen['id']}/confirm?made_on={on + 1}").status_code == 200


def test_a_calendar_taken_in_while_settings_are_typed_undoes_neither(two):
    mine, theirs = two
    seen, on = Settings(mine).read()
    lines = ["BEGIN:VCALENDAR", "VERSION:2.0", "PRODID:-//test//EN", "BEGIN:VEVENT", "UID:1", "SUMMARY:away"]
    lines += [f"DTSTART:{NOW:%Y%m%d}T090000Z", f"DTEND:{NOW:%Y%m%d}T100000Z", "END:VEVENT", "END:VCALENDAR"]
    taken = theirs.call(
        "POST",
        "/calendar/busy",
        data="\r\n".join(lines).encode(),
        headers={"Content-Type": "application/octet-stream"},
    )
    assert taken.status_code == 200, taken.json
    assert Settings(mine).save({**seen, "name": "Shed"}, on).status_code == 200
    both, _ = Settings(mine).read()
    assert both["name"] == "Shed" and len(both["busy"]) == taken.json["taken"]


def test_fifty_are_kept_and_no_more(two, database_url):
    with psycopg.connect(database_url) as connection:
        shop = workshops.implied_workshop(connection)
        settings = workshops.read(connection, shop)
        for number in range(80):
            named = settings.model_copy(update={"name": f"Shed {number}"})
            workshops.save(connection, shop, named, workshops.revision(connection, shop))
        count, newest = connection.execute("select count(*), max(revision) from earlier").fetchone()
    assert count == revisions.KEPT and newest == 80
