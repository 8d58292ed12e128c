"""Readings: text and value agree, bounds of sense, origins kept."""

import pytest
from pydantic import ValidationError

from cavatum.core.common import readings
from cavatum.core.piece.document import Piece
from tests.samples import box_void


def test_a_text_alone_is_read():
    assert readings.Length.model_validate({"as_typed": "3/16 in"}).value == pytest.approx(0.0047625)


def test_a_plain_string_is_read_and_measured():
    reading = readings.Length.model_validate("42 mm")
    assert (reading.value, reading.origin) == (0.042, "measured")


def test_text_and_value_that_disagree_are_refused():
    with pytest.raises(ValidationError, match="must agree"):
        readings.Length.model_validate({"as_typed": "42 mm", "value": 0.42})


@pytest.mark.parametrize(
    ("kind", "text"),
    [
        (readings.Length, "0 mm"),
        (readings.Length, "-3 mm"),
        (readings.Length, "40 m"),
        (readings.Fraction, "60 %"),
        (readings.Density, "0.01 g/mL"),
        (readings.Humidity, "0 %"),
        (readings.RatioReading, "1000:1"),
        (readings.Temperature, "900 C"),
        (readings.Angle, "80 deg"),
        (readings.ArealVolume, "9000 mL/m2"),
        (readings.Duration, "400 days"),
        (readings.Volume, "20000 L"),
        (readings.Mass, "20000 kg"),
        (readings.Offset, "-1 mm"),
    ],
)
def test_values_out_of_sense_are_refused(kind, text):
    with pytest.raises(ValidationError):
        kind.model_validate(text)


@pytest.mark.parametrize("value", [float("nan"), float("inf")])
def test_no_nan_gets_into_a_document(value):
    with pytest.raises(ValidationError):
        readings.Length.model_validate({"value": value})


def test_an_id_that_stands_twice_is_refused():
    with pytest.raises(ValidationError, match="each id stands once"):
        Piece.model_validate({"name": "x", "voids": [box_void(), box_void()]})


def test_names_lose_line_breaks_and_may_not_be_empty():
    assert Piece.model_validate({"name": " a \n b "}).name == "a b"
    with pytest.raises(ValidationError):
        Piece.model_validate({"name": "   "})


def test_unknown_keys_are_refused():
    with pytest.raises(ValidationError):
        Piece.model_validate({"name": "x", "depht": 3})
