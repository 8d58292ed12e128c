"""Broken files, spoken quantities and whole archives: refused in words or read, never a crash, a hang, or a
gigabyte; nothing half saved.
"""

import hashlib
import io
import json
import math
import random
import zipfile

import psycopg
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from cavatum.core.common import units
from cavatum.core.common.errors import DomainError
from cavatum.store import archive, backup
from cavatum.store.workshops import implied_workshop
from tests.samples import NOW, box_piece, system
from tests.scenes.hostile import FORMATS, campaign, mutated

pytestmark = pytest.mark.slow


@pytest.mark.parametrize("seed", [11, 12])
def test_broken_files_of_every_format_are_read_or_refused_in_words(seed):
    found = campaign(30 * len(FORMATS), seed)
    assert found.wrong == []
    assert (
        found.files == sum(found.taken.values()) + sum(found.refused.values())
        and sum(found.taken.values()) > 20
    )  # not all are stopped at the door


@pytest.mark.parametrize("one", FORMATS, ids=lambda one: one.name)
def test_what_was_broken_was_sound_before(one):
    assert one.read(one.sound()) is not None


UNIT_WORDS = [
    "mm",
    "cm",
    "in",
    '"',
    "'",
    "ft",
    "oz",
    "fl oz",
    "qt",
    "cup",
    "lb",
    "g",
    "kg",
    "ml",
    "L",
    "%",
    "C",
    "F",
    "min",
    "h",
    "d",
    "to",
    "x",
    "by",
    "and",
    "about",
]


@settings(max_examples=600)
@given(
    st.lists(
        st.one_of(
            st.sampled_from(UNIT_WORDS),
            st.from_regex(r"\A-?\d{1,9}([.,/]\d{1,9})?\Z"),
            st.sampled_from(["½", "3/16", "1 1/2", "−", "±", "1e9", "٣", "  "]),
        ),
        max_size=8,
    ),
    st.sampled_from(units.KINDS),
    st.sampled_from([None, "mm", "in", "g", "oz", "C", "nonsense"]),
)
def test_words_in_any_order_are_a_finite_quantity_or_a_refusal_with_a_way_out(words, kind, unit):
    try:
        found = units.parse(" ".join(words), kind, unit)
    except DomainError as refused:
        assert refused.way_out and refused.allowed
    else:
        assert math.isfinite(found.value) and found.words


@pytest.fixture
def packed(client, database_url):
    client.call("POST", "/systems", system().model_dump(mode="json"))
    client.call("POST", "/pieces", box_piece().model_dump(mode="json"))
    out = io.BytesIO()
    with psycopg.connect(database_url) as connection, zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as pack:
        archive.export(connection, implied_workshop(connection), pack, NOW)
    return out.getvalue()


def _signed_again(rng: random.Random, data: bytes) -> bytes:
    """An archive whose files were changed and whose checksums were put right again: what an ill-meaning
    person would make.
    """
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as pack, zipfile.ZipFile(out, "w") as again:
        names = [name for name in pack.namelist() if name != "manifest.json"]
        chosen, sums = rng.choice(names), {}
        for name in names:
            content = mutated(rng, pack.read(name)) if name == chosen else pack.read(name)
            sums[name] = hashlib.sha256(content).hexdigest()
            again.writestr(name, content)
        again.writestr(
            "manifest.json", json.dumps({**json.loads(pack.read("manifest.json")), "sha256": sums})
        )
    return out.getvalue()


def test_a_broken_archive_of_a_workshop_is_refused_and_leaves_nothing(packed, database_url):
    rng, taken = random.Random(5), 0
    with psycopg.connect(database_url, autocommit=True) as connection:
        connection.execute("truncate workshop cascade")
        for number in range(120):
            data = mutated(rng, packed) if number % 2 else _signed_again(rng, packed)
            try:
                with connection.transaction(), archive.opened(io.BytesIO(data)) as pack:
                    archive.take_in(connection, implied_workshop(connection), pack)
                    taken += 1
                    raise psycopg.Rollback
            except archive.WholeError:
                pass
            assert connection.execute(
                "select (select count(*) from piece) + (select count(*) from system_version) + (select "
                "count(*) from file)"
            ).fetchone() == (0,)
    assert taken < 60


def _damaged(damage: str) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as pack:
        pack.writestr("manifest.json", json.dumps({"format": "x" * 400}))
    data = bytearray(out.getvalue())
    if damage == "stream":
        data[43:60] = b"\xff" * 17  # behind the local header of 30 bytes and the name of 13: what is deflated
    elif damage == "encrypted":
        data[6] |= 1
        data[data.index(b"PK\x01\x02") + 8] |= 1
    elif damage == "newer zip":
        data[data.index(b"PK\x01\x02") + 6] = 205  # asks for a version 20.5 to be read
    elif damage == "directory":
        data[data.index(b"PK\x01\x02")] = 0
    else:
        del data[-40:]
    return bytes(data)


@pytest.mark.parametrize("damage", ["stream", "encrypted", "newer zip", "directory", "cut off"])
def test_a_zip_that_cannot_be_unpacked_is_refused_in_words(damage, database_url, tmp_path):
    """An export of a workshop and a backup alike."""
    data = _damaged(damage)
    with (
        psycopg.connect(database_url) as connection,
        pytest.raises(archive.WholeError, match="no export"),
        archive.opened(io.BytesIO(data)) as pack,
    ):
        archive.take_in(connection, implied_workshop(connection), pack)
    (tmp_path / "broken.backup").write_bytes(data)
    with pytest.raises(backup.BackupError, match="broken.backup"):
        backup.restore(database_url, tmp_path / "broken.backup", tmp_path, NOW)
