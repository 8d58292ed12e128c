"""The piece file: what goes out comes in, and every complaint points at its field."""

import json

import pytest
from jsonschema import Draft202012Validator
from jsonschema.exceptions import ValidationError as SchemaError
from pydantic import ValidationError

from cavatum.core.common.errors import DomainError
from cavatum.demo.scenario import demo_pieces
from cavatum.formats.piece_file import MOST_BYTES, explain, read_piece, schema, write_piece
from tests.samples import NOW, SHEETS, box_piece, box_void, workshop

DEMO = demo_pieces(NOW)


def document(**changes):
    return json.dumps({"format": "cavatum-piece", "version": 1, "name": "x", **changes}).encode()


@pytest.mark.parametrize("piece", DEMO, ids=lambda piece: piece.name)
def test_every_demo_piece_comes_back_as_it_went(piece):
    complete = piece.model_copy(update={"systems": list(SHEETS.values()), "workshop": workshop()})
    assert read_piece(write_piece(complete)) == complete


@pytest.mark.parametrize("piece", DEMO, ids=lambda piece: piece.name)
def test_every_demo_piece_obeys_the_schema(piece):
    Draft202012Validator(schema()).validate(json.loads(write_piece(piece)))


def test_the_schema_refuses_what_the_reader_refuses():
    with pytest.raises(SchemaError):
        Draft202012Validator(schema()).validate({"name": "x", "layering": "by feel"})


def test_a_byte_order_mark_is_no_obstacle():
    assert read_piece(b"\xef\xbb\xbf" + document()).name == "x"


@pytest.mark.parametrize(
    ("data", "code"),
    [
        (b"", "broken"),
        (b"null", "other-format"),
        (b"{}", "other-format"),
        (document(version=3), "newer-version"),
        (document(version="1"), "newer-version"),
        (b'{"format": "cavatum-piece", "version": 1, "name": Infinity}', "broken"),
        (b"x" * (MOST_BYTES + 1), "too-large"),
        (b"\x00\xff", "broken"),
    ],
)
def test_what_is_no_piece_file_is_told_apart(data, code):
    with pytest.raises(DomainError) as refused:
        read_piece(data)
    assert refused.value.code == code and refused.value.way_out


@pytest.mark.parametrize(
    ("changes", "pointer"),
    [
        ({"name": ""}, "/name"),
        ({"colour": "red"}, "/colour"),
        ({"due": "soon"}, "/due"),
        ({"first_pour_at": "2026-03-02T08:00:00"}, "/first_pour_at"),
        ({"voids": [box_void(depth="40 m")]}, "/voids/0/shape/depth_m"),
        ({"voids": [box_void(count=0)]}, "/voids/0/count"),
        ({"voids": [box_void(portions=[])]}, "/voids/0/portions"),
        ({"voids": [box_void(shape={"kind": "egg"})]}, "/voids/0/shape"),
        ({"systems": [{"id": "mine"}]}, "/systems/0/name"),
        ({"reserve": "90 %"}, "/reserve"),
    ],
)
def test_a_complaint_points_at_its_field_with_a_way_out(changes, pointer):
    with pytest.raises(ValidationError) as refused:
        read_piece(document(**changes))
    first = explain(refused.value)[0]
    assert first["pointer"] == pointer and first["message"] and first["way_out"]


def test_a_long_value_is_shortened_in_its_complaint():
    with pytest.raises(ValidationError) as refused:
        read_piece(document(tint="#" * 500))
    assert len(explain(refused.value)[0]["value"]) == 80


def test_values_are_si_and_texts_are_kept():
    kept = json.loads(write_piece(box_piece(voids=[box_void(depth="3 1/2 in")])))["voids"][0]["shape"][
        "depth_m"
    ]
    assert kept == {
        "value": pytest.approx(0.0889),
        "as_typed": "3 1/2 in",
        "origin": "measured",
        "spread": None,
    }
