"""The chamber's room, and a coat that may branch."""

import pytest

from cavatum.core.plan import make_plan
from cavatum.services.planning import needs_of
from tests.samples import NOW, SHEETS, box_piece, box_void, workshop

COAT = {
    "id": "top",
    "name": "Top",
    "surface": {"kind": "board", "length_m": "1 m", "width_m": "0.5 m", "thickness_m": "20 mm"},
    "film_m": "1.2 mm",
    "portions": [{"id": "c1"}],
}


def codes(piece, **shop) -> dict[str, str]:
    return {
        one.code: one.weight
        for one in make_plan(piece, SHEETS, workshop(**shop), NOW, in_full=False).verdicts
    }


@pytest.mark.parametrize(
    ("chamber", "code", "weight"),
    [
        ("1 L", "chamber-small", "blocker"),
        ("3 L", "chamber-tight", "warning"),
        ("20 L", None, None),
        (None, "chamber-unknown", "note"),
    ],
)
def test_hollows_against_the_chamber(chamber, code, weight):
    # 200 x 100 x 100 mm is two litres
    piece = box_piece(
        kind_of_work="pressure casting",
        system_id="fast-casting-polyurethane",
        voids=[box_void("200 mm", "100 mm", "100 mm")],
    )
    found = {
        key: value
        for key, value in codes(piece, chamber_m3=chamber).items()
        if key in ("chamber-small", "chamber-tight", "chamber-unknown")
    }
    assert found == ({code: weight} if code else {})


def test_nothing_is_said_of_a_chamber_where_nothing_is_pressed():
    assert not [code for code in codes(box_piece(), chamber_m3="1 L") if code.startswith("chamber")]


def test_a_coat_that_may_be_made_again_reserves_twice_and_is_inspected():
    plans = [
        make_plan(
            box_piece(
                kind_of_work="flood coat", system_id="coating-epoxy", voids=[], coats=[COAT], spare_coat=spare
            ),
            SHEETS,
            workshop(),
            NOW,
            in_full=False,
        )
        for spare in (False, True)
    ]
    once, twice = (needs_of(plan.pours[-1])[0] for plan in plans)
    assert (twice["a_kg"], twice["b_kg"]) == (
        pytest.approx(2 * once["a_kg"]),
        pytest.approx(2 * once["b_kg"]),
    )
    assert "coat-may-branch" in [one.code for one in plans[1].verdicts] and "coat-may-branch" not in [
        one.code for one in plans[0].verdicts
    ]
    assert "inspect" in [step.code for step in plans[0].steps]
    assert (
        plans[0].totals.mass.value == plans[1].totals.mass.value
    )  # what is poured is not doubled, only what is kept for it
