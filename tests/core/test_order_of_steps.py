"""The order of steps per kind of work, against a table written by hand (common practice, no source)."""

from types import SimpleNamespace

import pytest

from cavatum.core.clock.schedule_model import Mode, Work
from cavatum.core.plan import make_plan
from cavatum.core.schedule.together import _holds
from tests.core.test_steps import COATED, KINDS, TOP, plan
from tests.samples import NOW, box_piece, box_void, system, workshop
from tests.scenes.clocks import BEFORE


def of_kind(kind, **changes):
    return plan(kind, piece={"voids": [], "coats": [TOP]} if kind in COATED else None, **changes)


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize("recoat", ["bond in the window", "cure and sand"])
def test_steps_of_a_kind_stand_in_the_order_of_the_hand_written_table(kind, recoat):
    made = of_kind(kind, recoat=recoat, depth="60 mm")
    last = max((step.pour or 0) for step in made.steps)
    for pour in range(1, last + 1):
        own = [
            step.code
            for step in made.steps
            if step.pour == pour or (step.code == "sand" and step.pour == pour + 1)
        ]
        for one, other in BEFORE:
            if one in own and other in own:
                assert own.index(one) < own.index(other), (pour, one, other, own)


def pressed(kind, depth="60 mm", **changes):
    return plan(kind, depth=depth, system="fast-casting-polyurethane", **changes)


@pytest.mark.parametrize(
    "kind", ["nested mould", "turned work", "block", "small castings", "pressure casting"]
)
def test_a_sheet_that_asks_for_pressure_takes_any_kind_into_the_chamber(kind):
    made = pressed(kind)
    found = [step.code for step in made.steps]
    pours = len(made.pours)
    assert found.count("lid") == pours and found.count("open-chamber") == pours - 1
    assert found.index("release") < found.index("nail")
    closed = {"look-1", "look-2", "look-3", "round-1", "cover", "hands-off", "touch", "heat-visit", "lay-in"}
    assert not closed & set(found)
    said = {one.code for one in made.verdicts}
    assert ("chamber-opens" in said) == (pours > 1)


def test_the_chamber_is_held_by_whatever_goes_into_it():

    made = pressed("nested mould")
    work = Work(id="w", words="", modes=(Mode(name="only", hands_s=60.0),))
    box = plan("nested mould")
    for one, resource in ((made, "chamber"), (box, "shelf")):
        planned = SimpleNamespace(plan=one, piece=_piece("nested mould"))
        assert _holds(planned, [work])[0].resource == resource


def _piece(kind):

    return box_piece(kind_of_work=kind, voids=[box_void()])


def test_the_sheets_own_hours_under_pressure_count_and_not_the_computed_cure():
    sheets = {"chamber_s": {"as_typed": "6 h", "origin": "sheet"}}
    made = _with("fast-casting-polyurethane", sheets)
    poured = made.windows[-1].mix_at.timestamp() + made.windows[-1].mix_s + made.windows[-1].pour_s
    release = next(step for step in made.steps if step.code == "release")
    nail = next(step for step in made.steps if step.code == "nail")
    assert (release.earliest.timestamp() - poured) / 3600 == pytest.approx(6, abs=0.01)
    assert nail.earliest >= release.earliest


def _with(id_, changes):

    sheet = system(id_, **changes)
    piece = box_piece(
        kind_of_work="pressure casting", system_id=id_, voids=[box_void("100 mm", "60 mm", "30 mm")]
    )
    return make_plan(piece, {id_: sheet}, workshop(), NOW, in_full=False)


def test_the_lid_is_down_before_the_closing_time():
    """12 min working, 3 min to close: poured by 9:00 of the first stir."""
    minutes = {"time_s": "12 min", "mass_kg": "100 g", "temperature_c": "23 C", "criterion": "gel"}
    working = {
        key: {"as_typed": value, "origin": "sheet"} if key != "criterion" else value
        for key, value in minutes.items()
    }
    made = _with("fast-casting-polyurethane", {"working_time": working})
    batch = made.pours[0].batches[0]
    poured_by = batch.stir_s + (batch.stir_again_s or 0) + batch.pour_within.value
    assert poured_by <= 9 * 60
    assert any("lid down" in one.name for one in made.workings[batch.pour_within.working].inputs)


def test_what_is_turned_is_turned_as_long_as_the_sheet_says():

    sheet = system("coating-epoxy", turning_s={"as_typed": "5 h", "origin": "sheet"})
    piece = box_piece(kind_of_work="rotator", system_id=sheet.id, voids=[], coats=[TOP])
    made = make_plan(piece, {sheet.id: sheet}, workshop(), NOW, in_full=False)
    window = made.windows[-1]
    poured = window.mix_at.timestamp() + window.mix_s + window.pour_s
    stop = next(step for step in made.steps if step.code == "spin-stop")
    assert (stop.earliest.timestamp() - poured) / 3600 == pytest.approx(5, abs=0.01)


def test_order_of_pairs_has_no_circle():
    after: dict[str, set[str]] = {}
    for one, other in BEFORE:
        after.setdefault(one, set()).add(other)
    assert not any(one in after.get(other, set()) for one, others in after.items() for other in others)
