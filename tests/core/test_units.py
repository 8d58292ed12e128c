"""Spoken quantities against NIST SP 811 figures and against Pint's registry, a second route."""

import math

import pint
import pytest
from hypothesis import given
from hypothesis import strategies as st

from cavatum.core.common import units
from cavatum.core.common.errors import DomainError
from cavatum.core.common.plain_numbers import plainly
from cavatum.core.common.wording import Wording
from tests.samples import workshop

EXACT = 1e-12  # the factors are exact by definition; only float rounding remains


@pytest.mark.parametrize(
    ("text", "kind", "value"),
    [
        ("42 mm", "length", 0.042),
        ("12,5 cm", "length", 0.125),
        ("0,125 m", "length", 0.125),
        (".5 m", "length", 0.5),
        ("3/16 in", "length", 0.0047625),
        ('1 1/2"', "length", 0.0381),
        ("1-1/2 in", "length", 0.0381),
        ("1½ in", "length", 0.0381),
        ("2 ft 3", "length", 0.6858),
        ("2' 3 1/4\"", "length", 0.69215),
        ("10 mil", "length", 0.000254),
        ("-5 mm", "length", -0.005),
        ("-1 ft 6 in", "length", -0.4572),
        ("1e-3 m", "length", 0.001),
        ("1 qt", "volume", 0.946352946e-3),
        ("8 fl oz", "volume", 0.2365882365e-3),
        ("8 fl. oz", "volume", 0.2365882365e-3),
        ("1 gal", "volume", 3.785411784e-3),
        ("1 imp fl oz", "volume", 28.4130625e-6),
        ("500 mL", "volume", 5e-4),
        ("1 in3", "volume", 16.387064e-6),
        ("1 lb 4 oz", "mass", 0.56699046250),
        ("8 oz wt", "mass", 0.226796185),
        ("250 g", "mass", 0.25),
        ("2.5 lb", "mass", 1.133980925),
        ("70 F", "temperature", 190 / 9),
        ("21.4 °C", "temperature", 21.4),
        ("-40 F", "temperature", -40.0),
        ("1 h 30", "duration", 5400),
        ("3 days", "duration", 259200),
        ("40 min", "duration", 2400),
        ("5 %", "fraction", 0.05),
        ("1.12 g/mL", "density", 1120),
        ("100 mL/m2", "areal_volume", 1e-4),
        ("3 deg", "angle", 3),
        ("400 mPa s", "viscosity", 0.4),
        ("0.4 Pa.s", "viscosity", 0.4),
        ("3:1", "ratio", 3),
        ("100 : 83", "ratio", 100 / 83),
        ("2 to 1", "ratio", 2),
        ("0.83", "ratio", 0.83),
        ("14", "count", 14),
    ],
)
def test_spoken_text_is_read_into_si(text, kind, value):
    # NIST SP 811 (2008) appendix B; BIPM SI brochure for the Fahrenheit scale
    assert units.parse(text, kind).value == pytest.approx(value, rel=EXACT)


REGISTRY = pint.UnitRegistry()
PINT_NAMES = {
    "in": "inch",
    "ft": "foot",
    "mil": "thou",
    "fl oz": "US_fluid_ounce",
    "imp fl oz": "imperial_fluid_ounce",
    "qt": "US_liquid_quart",
    "pt": "US_pint",
    "gal": "US_liquid_gallon",
    "imp gal": "imperial_gallon",
    "cup": "US_liquid_cup",
    "in3": "inch**3",
    "ft3": "foot**3",
    "lb": "pound",
    "oz wt": "avoirdupois_ounce",
    "cl": "centiliter",
    "dl": "deciliter",
    "lb/gal": "pound/US_liquid_gallon",
}


@pytest.mark.parametrize("unit", PINT_NAMES)
def test_factor_equals_pint_registry(unit):
    kind = next(kind for kind, table in units.UNITS.items() if unit in table)
    theirs = REGISTRY.Quantity(1, PINT_NAMES[unit]).to_base_units().magnitude
    assert units.parse(f"1 {unit}", kind).value == pytest.approx(theirs, rel=1e-9)  # Pint's own digits


@pytest.mark.parametrize(
    ("text", "kind", "code"),
    [
        ("", "length", "empty"),
        ("   ", "length", "empty"),
        ("3/0 in", "length", "zero-denominator"),
        ("1 1/0 in", "length", "zero-denominator"),
        ("8 oz", "volume", "bare-ounce"),
        ("8 oz", "mass", "bare-ounce"),
        ("8 oz", "length", "other-kind"),
        ("42", "length", "no-unit"),
        ("NaN mm", "length", "not-a-number"),
        ("inf mm", "length", "not-a-number"),
        ("mm", "length", "not-a-number"),
        ("12 g", "length", "other-kind"),
        ("12 furlongs", "length", "unknown-unit"),
        ("1,250 mm", "length", "ambiguous-comma"),
        ("3 in 2 ft", "length", "not-a-number"),
        ("2 ft -3 in", "length", "not-a-number"),
        ("20 C 3 C", "temperature", "not-a-number"),
        ("0:1", "ratio", "out-of-range"),
        ("1:0", "ratio", "out-of-range"),
        ("1:2:3", "ratio", "not-a-number"),
        ("a:b", "ratio", "not-a-number"),
        ("2.5", "count", "not-a-number"),
        ("-1", "count", "not-a-number"),
        ("1" * 61, "length", "too-long"),
        ("1 m", "weight", "unknown-kind"),
        ("5 mm 3", "length", "no-unit"),
        ("1e400 m", "length", "no-unit"),
    ],
)
def test_what_cannot_be_read_is_refused_with_a_reason(text, kind, code):
    with pytest.raises(DomainError) as refused:
        units.parse(text, kind)
    assert refused.value.code == code


@pytest.mark.parametrize(
    ("kind", "choice", "value"),
    [("volume", "8 fl oz", 8 * 29.5735295625e-6), ("mass", "8 oz wt", 8 * 28.349523125e-3)],
)
def test_a_bare_ounce_offers_what_its_field_takes(kind, choice, value):
    with pytest.raises(DomainError) as refused:
        units.parse("8 oz", kind)
    assert refused.value.choices == [choice]
    assert units.parse(choice, kind).value == pytest.approx(value)


def test_every_choice_that_is_offered_is_taken_by_its_field():
    for text, kind in [("8 oz", "mass"), ("8 oz", "volume"), ("60", "temperature"), ("1,250 mm", "length")]:
        with pytest.raises(DomainError) as refused:
            units.parse(text, kind)
        assert refused.value.choices, text
        for choice in refused.value.choices:
            assert math.isfinite(units.parse(choice, kind).value)


def test_an_ambiguous_comma_offers_both_readings():
    with pytest.raises(DomainError) as refused:
        units.parse("1,250 mm", "length")
    assert refused.value.choices == ["1250 mm", "1.250 mm"]


def test_a_bare_number_takes_the_workshops_unit_and_says_so():
    understood = units.parse("42", "length", "mm")
    assert (understood.value, understood.as_typed) == (0.042, "42 mm")
    assert "workshop" in understood.notes[0]


def test_a_default_unit_of_another_kind_is_refused():
    with pytest.raises(DomainError):
        units.parse("42", "length", "g")


@given(st.floats(min_value=0.001, max_value=9999, allow_nan=False))
def test_text_written_in_a_unit_reads_back(value):
    assert units.parse(f"{value:.6f} mm", "length").value == pytest.approx(round(value, 6) / 1000, rel=EXACT)


@given(st.text(max_size=40), st.sampled_from(units.KINDS))
def test_any_text_is_read_or_refused_never_crashes(text, kind):
    try:
        understood = units.parse(text, kind)
    except DomainError as refused:
        assert refused.way_out
    else:
        assert math.isfinite(understood.value)


def test_points_are_read_one_a_line_with_any_separator():
    points = units.parse_points("0 0\n230; 0\n\n230\t170,5\n", "mm")
    assert points == [(0.0, 0.0), (0.23, 0.0), (0.23, pytest.approx(0.1705))]


@pytest.mark.parametrize(
    ("text", "unit"),
    [("0 0\n1 x\n2 2", "mm"), ("0 0\n1 1", "mm"), ("0 0 0\n1 1\n2 2", "mm"), ("0 0\n1 0\n1 1", "kg")],
)
def test_points_that_cannot_be_read_are_refused(text, unit):
    with pytest.raises(DomainError):
        units.parse_points(text, unit)


def test_an_error_says_argument_value_range_and_way_out():
    error = DomainError(argument="depth", value="40 m", allowed="at most 10 m", way_out="Check the unit.")
    assert str(error) == "depth is 40 m; at most 10 m. Check the unit."


@pytest.mark.parametrize(
    ("text", "kind", "unit", "value", "spread", "as_typed"),
    [
        ("127 ± 1 mm", "length", None, 0.127, 0.001, "127 mm ± 1 mm"),
        ("127 mm +/- 1", "length", None, 0.127, 0.001, "127 mm ± 1 mm"),
        ("127 ± 1", "length", "mm", 0.127, 0.001, "127 mm ± 1 mm"),
        ("5 in ± 1/16 in", "length", None, 0.127, 0.0015875, "5 in ± 1/16 in"),
        ("1.2 L ± 2 %", "volume", None, 1.2e-3, 2.4e-5, "1.2 L ± 2 %"),
        ("70 F ± 2", "temperature", None, 190 / 9, 10 / 9, "70 F ± 2 F"),
        ("12 % ± 1 %", "fraction", None, 0.12, 0.01, "12 % ± 1 %"),
    ],
)
def test_a_spread_is_read_beside_its_value(text, kind, unit, value, spread, as_typed):
    found = units.parse(text, kind, unit)
    assert (found.value, found.spread) == (
        pytest.approx(value),
        pytest.approx(spread),
    ) and found.as_typed == as_typed
    assert units.parse(found.as_typed, kind).spread == pytest.approx(spread)


@pytest.mark.parametrize("text", ["127 ±", "± 1 mm", "1 ± 2 ± 3 mm", "127 mm ± 0 mm", "127 mm ± 1 kg"])
def test_a_spread_that_says_nothing_is_refused(text):
    with pytest.raises(DomainError):
        units.parse(text, "length")


@pytest.mark.parametrize(
    ("text", "value"), [("10 sq ft", 10 * 0.09290304), ("4 in2", 4 * 6.4516e-4), ("1200 cm²", 0.12)]
)  # NIST SP 811
def test_areas_are_read(text, value):
    assert units.parse(text, "area").value == pytest.approx(value, rel=1e-12)


@pytest.mark.parametrize(
    ("value", "digits", "said"),
    [(118.11, 2, "120"), (999.6, 3, "1000"), (0.087, 2, "0.087"), (12.345, 3, "12.3"), (99.96, 3, "100")],
)
def test_a_number_is_said_with_its_digits_and_without_an_exponent(value, digits, said):
    assert plainly(value, digits) == said


@given(st.floats(-1e9, 1e9, allow_nan=False), st.integers(1, 6))
def test_no_number_is_said_with_an_exponent_and_each_is_as_near_as_its_digits(value, digits):
    said = plainly(value, digits)
    assert "e" not in said
    assert float(said) == pytest.approx(value, rel=0.51 * 10.0 ** (1 - digits), abs=1e-300)


def test_films_weights_and_volumes_are_said_as_a_person_would():
    metric, us = Wording(workshop()), Wording(workshop(units="us"))
    assert metric.film(0.003) == us.film(0.003) == "3 mm (118 mil)"
    assert (metric.mass(0.9996), metric.mass(0.9994), metric.mass(2.5)) == ("1.00 kg", "999 g", "2.50 kg")
    assert (metric.volume(0.9996e-3), metric.volume(0.05e-3)) == ("1.00 L", "50 mL")
    assert us.volume(0.04) == "1350 fl oz"  # 40 L / 29.5735 mL
    assert (metric.difference(3.0), us.difference(3.0)) == ("3 °C", "5.4 °F")
    assert us.temperatures(22, 24) == "72 to 75 °F"
    # 100 mL/m2 = 3.38 fl oz over 10.764 ft2
    assert us.soak(100e-6, 200e-6) == "0.31 to 0.63 fl oz/ft²"


@pytest.mark.parametrize(
    ("text", "kind", "low", "high"),
    [
        ("6 to 8 h", "duration", 21600, 28800),
        ("6-8 h", "duration", 21600, 28800),
        ("30 min to 1 h", "duration", 1800, 3600),
        ("1-1.5 mm", "length", 0.001, 0.0015),
        ("1,5-2,5 mm", "length", 0.0015, 0.0025),
        ("1/8 to 1/4 in", "length", 0.003175, 0.00635),
        ("20–24 °C", "temperature", 20, 24),
        ("68 to 75 F", "temperature", 20, 215 / 9),
        ("5-10 %", "fraction", 0.05, 0.1),
        ("1:1 to 1:1.05", "ratio", 1 / 1.05, 1),
        ("300-400 mL", "volume", 3e-4, 4e-4),
    ],
)
def test_ranges_as_sheets_print_them_are_read_as_ranges(text, kind, low, high):
    found = units.parse(text, kind)
    assert found.value == pytest.approx((low + high) / 2)
    assert found.spread == pytest.approx((high - low) / 2) and units.has_spread(text)
    again = units.parse(found.as_typed, kind)
    assert (again.value, again.spread) == (found.value, found.spread)


@pytest.mark.parametrize("text", ["8-6 h", "6 to h", "6 h to 8 mm", "to 8 h"])
def test_what_is_no_range_is_refused(text):
    with pytest.raises(DomainError):
        units.parse(text, "duration")


def test_a_bare_range_is_read_in_the_workshops_unit_at_both_ends():
    found = units.parse("6-8", "length", "mm")
    assert (found.value, found.spread, found.as_typed) == (0.007, 0.001, "6-8 mm")
