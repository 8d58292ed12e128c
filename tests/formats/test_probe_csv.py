"""Temperature logs as probes write them: what can be read is, what is left out is said, a unit is asked for
and never guessed.
"""

import pytest

from cavatum.core.common.errors import DomainError
from cavatum.formats.probe_csv import read_probe_csv


@pytest.mark.parametrize(
    ("text", "points"),
    [
        ("time min,temp C\n0,22.0\n15,22.4\n", [(0, 22.0), (900, 22.4)]),
        ("Zeit;Temperatur °C\n0:00;22,0\n0:15;22,4\n", [(0, 22.0), (900, 22.4)]),
        ("2026-11-23T08:00:00Z\t71.6\n2026-11-23T08:15:00Z\t72.5\n", [(0, 71.6), (900, 72.5)]),
        ("time h,probe °F\n0,71.6\n0.25,72.32\n", [(0, 22.0), (900, 22.4)]),
        ("2026-11-23 08:00,22\n2026-11-23 08:15,22.4\n", [(0, 22.0), (900, 22.4)]),
    ],
)
def test_what_loggers_write_is_read(text, points):
    found = read_probe_csv(text)
    assert found.points == [pytest.approx(one) for one in points] and not found.left_out


def test_what_is_left_out_is_said():
    found = read_probe_csv("time min,temp C\n30,23\n0,22\n15,--\n15,999\n30,24\n")
    assert found.points == [(0.0, 22.0), (1800.0, 23.0)]
    said = " ".join(found.left_out)
    assert "1 row without" in said and "impossible" in said and "already" in said and "sorted" in said


@pytest.mark.parametrize(
    ("text", "code"),
    [
        ("0,22\n15,23\n", "no-unit"),
        ("hello", "no-columns"),
        ("time min,temp\nx,y\nx,z\n", "empty"),
        ("", "no-columns"),
        ("a" * 2_200_000, "too-large"),
    ],
)
def test_what_cannot_be_read_is_refused_with_its_reason(text, code):
    with pytest.raises(DomainError) as refused:
        read_probe_csv(text)
    assert refused.value.code == code


def test_dates_without_a_zone_are_read_in_the_workshops_and_doubled_hours_left_out():
    """25 October 2026: the clocks of Berlin go back at 3; what the logger wrote twice is there once, and the
    summer hour is two off UTC.
    """
    found = read_probe_csv(
        "time,temp\n2026-10-25 01:30,22\n2026-10-25 02:30,23\n2026-10-25 02:30,23.5\n2026-10-25 03:30,24\n",
        "Europe/Berlin",
    )
    assert found.begins_at.isoformat() == "2026-10-24T23:30:00+00:00" and not found.has_zone
    assert [at for at, _ in found.points] == [0.0, 3600.0, 3 * 3600.0] and "already" in found.left_out[0]


def test_gaps_are_told_and_not_filled():
    rows = "".join(f"{15 * n},22\n" for n in range(8)) + "".join(f"{15 * n + 600},23\n" for n in range(8, 16))
    found = read_probe_csv("time min,temp C\n" + rows)
    assert len(found.points) == 16 and any("1 gap" in one and "10.2 h" in one for one in found.left_out)


def test_dotted_dates_with_decimal_commas():
    found = read_probe_csv("Zeit;Temp °C\n03.11.2026 08:00;22,0\n03.11.2026 08:15;22,4\n", "UTC")
    assert found.begins_at.isoformat() == "2026-11-03T08:00:00+00:00" and found.points[1] == (900, 22.4)
