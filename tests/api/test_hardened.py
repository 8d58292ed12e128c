"""What an attack from outside broke, each as a test that fails without its mending: halves of characters,
another site's page, tables for spreadsheets, many logins at once, endless plans, recursive drawings, flipped
bits.
"""

import csv
import io
import json
import random
import threading
import time
import zipfile

import ezdxf
import psycopg
import pytest

from cavatum.api import who
from cavatum.api.logbook import _safe
from cavatum.core.common import patience
from cavatum.core.common.errors import DomainError
from cavatum.core.plan import make_plan
from cavatum.formats import sandbox
from cavatum.network import passwords
from cavatum.store import archive, backup
from cavatum.store.workshops import implied_workshop
from tests.api.test_asked import DOCUMENT
from tests.samples import NOW, box_piece, box_void, system, workshop

HALVES = ["\ud800", "a\udfffb", "\udc00\ud800", "fine\ud83d"]


def places(schema: dict, path: tuple = (), depth: int = 0):
    """Where a text may stand in a body: (path of keys)."""
    while "$ref" in schema:
        schema = DOCUMENT["components"]["schemas"][schema["$ref"].rpartition("/")[2]]
    for one in schema.get("anyOf", []) + schema.get("oneOf", []) + schema.get("allOf", []):
        yield from places(one, path, depth)
    if schema.get("type") == "string":
        yield path
    if depth < 3:
        for name, one in schema.get("properties", {}).items():
            yield from places(one, (*path, name), depth + 1)


def with_text(path: tuple, text: str):
    return {path[0]: with_text(path[1:], text)} if path else text


def changes():
    for path, methods in DOCUMENT["paths"].items():
        for method, one in methods.items():
            content = one.get("requestBody", {}).get("content", {})
            for kind, told in content.items():
                if "json" in kind:
                    yield one["operationId"], method.upper(), path, told["schema"]


def test_half_a_character_in_any_text_is_refused_in_words(client):
    """Every operation that takes JSON, every text in it: 500 where the database or an answer met it."""
    asked = 0
    for name, method, path, schema in changes():
        address = path.removeprefix("/api/v1").replace("{", "").replace("}", "")
        for part in ["piece_id", "run_id", "weighing_id", "bottle_id", "job_id", "account_id"]:
            address = address.replace(part, "1")
        for number, place in enumerate(dict.fromkeys(places(schema))):
            text = HALVES[number % len(HALVES)]
            answer = client.call(method, address, with_text(place, text))
            asked += 1
            assert answer.status_code in (404, 422), (name, place, answer.status_code)
            if answer.status_code == 422:
                assert answer.json["problems"][0]["code"] == "broken-text", (name, place, answer.json)
    assert asked > 150


@pytest.mark.parametrize("whole", ["\U0001f600", "Ünïcödé", "木", "\\ud800 as typed"])
def test_whole_characters_stay(client, whole):
    made = client.call("POST", "/pieces", {**box_piece().model_dump(mode="json"), "name": whole})
    assert made.status_code == 201 and made.json["piece"]["name"] == whole


@pytest.mark.parametrize(
    "site, let_in", [("cross-site", 403), ("same-site", 403), ("same-origin", 200), ("none", 200)]
)
def test_another_sites_page_gets_nothing_going(client, site, let_in):
    """Such as an export of everything, by an image in a page of somebody else's."""
    for path in ("/workshop/export.zip", "/pieces", "/logbook.csv"):
        answer = client.http.get(f"/api/v1{path}", headers={"Sec-Fetch-Site": site})
        assert answer.status_code == let_in, path


@pytest.mark.parametrize(
    "text",
    ["=1+1", "+1", "-2+3", "@SUM(A1)", "\t=1", "\r=1", " =1", "\u00a0=1", "\n@x", "\uff1d1", "|calc", "%x"],
)
def test_no_cell_of_the_table_becomes_a_formula(text):
    assert _safe(text).startswith("'")


@pytest.mark.parametrize("text", ["Planter rings", "a = b", "5-10 mm", "", "(x)"])
def test_other_words_stay_as_they_are(text):
    assert _safe(text) == text


def test_every_cell_is_quoted_whatever_stands_in_it(client):
    table = client.get("/logbook.csv").get_data(as_text=True)
    head = table.splitlines()[0]
    assert all(cell.startswith('"') and cell.endswith('"') for cell in head.split(","))
    assert next(csv.reader(io.StringIO(table)))[0] == "run"


def test_thirty_at_the_door_at_once_leave_room_for_everybody_else():
    """Each password takes half a second and 64 MB: a few wait, the others are told to come again."""
    told, began = [], time.monotonic()

    def one() -> None:
        try:
            told.append(passwords.holds(None, "seven quiet larch planks"))
        except DomainError as error:
            told.append(error.code)

    threads = [threading.Thread(target=one) for _ in range(30)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(120)
    assert len(told) == 30 and set(told) <= {False, "busy"} and told.count("busy") >= 10
    assert told.count(False) >= 6 and time.monotonic() - began < 120
    assert passwords.holds(None, "seven quiet larch planks") is False  # and the turn goes on


TRY = next(
    path.removeprefix("/api/v1")
    for path, methods in DOCUMENT["paths"].items()
    if methods.get("post", {}).get("operationId") == "tryPlan"
)


def many_voids(count: int):
    return box_piece(
        voids=[
            box_void(id=f"v{n}", portions=[{"id": f"p{n}"}], length=f"{200 + n} mm", depth=f"{60 + n} mm")
            for n in range(count)
        ]
    )


def test_a_plan_ends_when_its_time_is_over():
    piece, sheets = many_voids(40), {system().id: system()}
    began = time.thread_time()
    with pytest.raises(DomainError) as refused, patience.at_most(1.0, time.thread_time):
        make_plan(piece, sheets, workshop(), NOW)
    assert refused.value.code == "too-long" and time.thread_time() - began < 6
    patience.look()  # nobody's patience is at stake any more


def test_every_request_has_a_time_and_leaves_none_behind(client, monkeypatch):
    monkeypatch.setattr(who, "MOST_COMPUTING_S", 0.05)
    client.call("POST", "/systems", system().model_dump(mode="json"))
    answer = client.call("POST", TRY, {"piece": many_voids(30).model_dump(mode="json")})
    assert answer.status_code == 422 and answer.json["problems"][0]["code"] == "too-long", answer.json
    assert patience._ends_s.get() is None


def nested_blocks(levels: int, each: int) -> bytes:
    drawing, out = ezdxf.new(), io.StringIO()
    for number in range(levels):
        block = drawing.blocks.new(f"B{number}")
        if not number:
            block.add_circle((0, 0), 1)
        for place in range(each if number else 0):
            block.add_blockref(f"B{number - 1}", (place, 0))
    drawing.modelspace().add_blockref(f"B{levels - 1}", (0, 0))
    drawing.write(out)
    return out.getvalue().encode()


def circular_blocks() -> bytes:
    drawing, out = ezdxf.new(), io.StringIO()
    for name, other in (("A", "B"), ("B", "A")):
        block = drawing.blocks.new(name)
        block.add_circle((0, 0), 1)
        block.add_blockref(other, (5, 0))
    drawing.modelspace().add_blockref("A", (0, 0))
    drawing.write(out)
    return out.getvalue().encode()


HEAD = '<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="100mm" viewBox="0 0 100 100">'
RECURSIVE = {
    "blocks of blocks": ("dxf", nested_blocks(6, 40)),
    "a deep pile of blocks": ("dxf", nested_blocks(31, 2)),
    "blocks that hold each other": ("dxf", circular_blocks()),
    "clones of clones": (
        "svg",
        (
            HEAD
            + '<rect id="a0" width="1" height="1"/>'
            + "".join(
                f'<g id="a{n}"><use href="#a{n - 1}"/><use href="#a{n - 1}"/></g>' for n in range(1, 31)
            )
            + "</svg>"
        ).encode(),
    ),
    "a path without end": (
        "svg",
        (
            HEAD
            + '<path d="M0 0'
            + "".join(f" A 1 1 0 0 1 {n % 90} {n % 70}" for n in range(60_000))
            + 'z"/></svg>'
        ).encode(),
    ),
}


@pytest.mark.parametrize("name", RECURSIVE)
def test_a_recursive_drawing_is_refused_by_counting_and_not_by_its_childs_limits(name):
    kind, data = RECURSIVE[name]
    with pytest.raises(DomainError) as refused:
        sandbox.ask("outlines", data, {"kind": kind, "unit": "mm", "layers": None})
    assert refused.value.way_out and ("things in it" in refused.value.value or "parts" in refused.value.value)


def test_blocks_that_are_not_many_are_read_six_deep():
    """Below that they are left out; where nothing else is there, it is said."""
    kept = sandbox.ask("outlines", nested_blocks(6, 3), {"kind": "dxf", "unit": "mm", "layers": None})
    assert kept["shapes"] and "blocks more than six deep" not in str(kept)
    with pytest.raises(DomainError) as refused:
        sandbox.ask("outlines", nested_blocks(12, 1), {"kind": "dxf", "unit": "mm", "layers": None})
    assert refused.value.value == "without lines"


def flipped(data: bytes, rng: random.Random) -> bytes:
    """One to four bits, half of the time where the archive keeps its own account."""
    found = bytearray(data)
    for _ in range(rng.choice([1, 1, 2, 4])):
        end = max(len(found) - 3000, 0)
        place = rng.randrange(len(found)) if rng.random() < 0.5 else rng.randrange(end, len(found))
        found[place] ^= 1 << rng.randrange(8)
    return bytes(found)


def test_a_backup_with_flipped_bits_is_refused_in_words_or_whole(tmp_path):
    dump, file = random.Random(3).randbytes(3000), tmp_path / "shop.backup"
    manifest = {
        "format": backup.FORMAT,
        "version": 2,
        "sha256": __import__("hashlib").sha256(dump).hexdigest(),
        "tables": {"piece": [1, "x"]},
    }
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as pack:
        pack.writestr(backup.MANIFEST, json.dumps(manifest))
        pack.writestr(backup.DUMP, dump)
    rng, refused = random.Random(11), 0
    for _ in range(1200):
        file.write_bytes(flipped(out.getvalue(), rng))
        try:
            with backup._unpacked(file) as (_, unpacked):
                assert unpacked.read_bytes() == dump
        except backup.BackupError:
            refused += 1
    assert refused > 1000


def test_an_export_with_flipped_bits_is_refused_in_words_and_leaves_nothing(database_url, tmp_path):
    from tests.conftest import _empty

    file, rng, refused = tmp_path / "shop.zip", random.Random(5), 0
    with psycopg.connect(database_url) as connection:
        shop = implied_workshop(connection)
        connection.commit()
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as pack:
            archive.export(connection, shop, pack, NOW)
        connection.rollback()
        for _ in range(600):
            file.write_bytes(flipped(out.getvalue(), rng))
            try:
                with archive.opened(file) as pack:
                    archive.take_in(connection, shop, pack)
            except archive.WholeError as error:
                assert str(error)
                refused += 1
            connection.rollback()
    assert refused > 300
    _empty(database_url)
