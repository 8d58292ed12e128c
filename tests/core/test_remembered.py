"""What is remembered of earlier plans never shows in another: all that heat hangs on is in the question."""

from dataclasses import replace
from types import SimpleNamespace

import pytest

from cavatum.core.calibration.of_system import cure_of
from cavatum.core.common.errors import DomainError
from cavatum.core.common.remembered import Remembered, forget_everything
from cavatum.core.heat.body import Body
from cavatum.core.heat.grid import Room
from cavatum.core.heat.materials import Surround
from cavatum.core.layers import search
from cavatum.core.layers.course import Course
from cavatum.core.piece.shelf_items import ShelfItems
from cavatum.core.plan import make_plan
from tests.samples import NOW, SHEETS, box_piece, box_void, system, workshop


def test_an_answer_is_worked_out_once_and_the_oldest_is_forgotten():
    asked: list[str] = []

    def answer(word: str):
        return lambda: asked.append(word) or word.upper()

    kept: Remembered[str] = Remembered(2)
    for word in ("a", "a", "b", "a", "c", "a", "b"):
        assert kept.get(word, answer(word)) == word.upper()
    assert asked == ["a", "b", "c", "b"]  # b was the oldest when c came
    kept.get(None, answer("x"))
    kept.get(None, answer("x"))
    assert asked[-2:] == ["x", "x"]


GREY = {"id": "c", "name": "Grey", "kind": "filler", "density_kg_m3": "2.8 g/mL", "most": "40 %"}


def shelf(share: str) -> ShelfItems:
    recipe = {"id": "r", "name": "Grey", "parts": [{"colourant_id": "c", "share": share}]}
    return ShelfItems.model_validate({"colourants": {"c": GREY}, "recipes": {"r": recipe}})


def thing(made_of: str) -> dict:
    return {
        "id": "t",
        "name": "things",
        "volume_m3": "400 mL",
        "from_m": "0 mm",
        "to_m": "20 mm",
        "held_down": True,
        "made_of": made_of,
    }


def plan_of(void=None, shop=None, sheet=None, share="5 %", now=NOW):
    """A box of 55 mm, near its limit, so that little moves its figures."""
    portion = {"id": "p1", "recipe_id": "r", **((void or {}).pop("portion", {}))}
    hollow = {**box_void("300 mm", "200 mm", "55 mm"), "portions": [portion], **(void or {})}
    sheets = {**SHEETS, "slow-casting-epoxy": system(**(sheet or {}))}
    return make_plan(
        box_piece(voids=[hollow]), sheets, workshop(**(shop or {})), now, shelf_items=shelf(share)
    )


CHANGES = {
    "cover": {"void": {"around": {"covered": "under a cover"}}},
    "blanket": {"void": {"around": {"covered": "blanket on top"}}},
    "wall": {"void": {"wall": "metal"}},
    "several": {"void": {"count": 4, "around": {"spacing_m": "20 mm"}}},
    "warm pour": {"void": {"portion": {"pour_c": "26 C"}}},
    "stones": {"void": {"inclusions": [thing("stone")]}},
    "wood": {"void": {"inclusions": [thing("wood")]}},
    "warm room": {"shop": {"room_c": "25 C"}},
    "small cup": {"shop": {"cup_m3": "300 mL"}},
    "colour": {"share": "30 %"},
    "heat": {"sheet": {"heat_j_kg": {"value": 250e3, "origin": "sheet"}}},
    "limit": {"sheet": {"peak_never_c": {"value": 70.0, "origin": "chosen"}}},
}


def heat_of(plan):
    return [
        (heat.chance, heat.room_to_c, round(heat.peak.value, 9), layer.from_m, layer.to_m)
        for pour in plan.pours
        for layer in pour.layers
        if (heat := layer.heat)
    ]


def made(change: dict):
    """Nothing of a change is used up by making its plan."""
    return heat_of(
        plan_of(**{key: dict(one) if isinstance(one, dict) else one for key, one in change.items()})
    )


@pytest.mark.slow
def test_a_plan_after_others_is_the_plan_worked_out_alone():
    wanted = {"as it is": {}, **CHANGES}
    forget_everything()
    first = {name: made(change) for name, change in wanted.items()}
    again = {name: made(change) for name, change in wanted.items()}
    alone = {}
    for name, change in wanted.items():
        forget_everything()
        alone[name] = made(change)
    assert first == alone and again == alone
    plain = alone.pop("as it is")
    assert [name for name, heat in alone.items() if heat == plain] == []


def test_what_is_remembered_holds_its_own_steps_and_no_buffers():
    course = Course.empty(Body.wide(), Surround(), Room.steady(23)).pour(0.0, 0.02, cure_of(system()))
    done = course.wait(3600.0).marches[0][0]
    assert all(one.base is None for one in (done.times, done.watched, done.kept_t, done.kept_a))


def test_a_refusal_is_remembered_without_the_frames_it_came_through(monkeypatch):
    asked, refusals = [], []

    def refuse(*_):
        asked.append(1)
        raise DomainError(argument="layers", value="1", allowed="2 are", way_out="Split it.")

    monkeypatch.setattr(search, "candidates", refuse)
    course = replace(
        Course.empty(Body.wide(), Surround(), Room.steady(23)), made_from="a piece of this test alone"
    )
    stretch = SimpleNamespace(from_m=0.0, to_m=0.02)
    for _ in range(2):
        with pytest.raises(DomainError, match="2 are") as refused:
            search.known_candidates(stretch, cure_of(system()), course)
        refusals.append(refused.value)
    assert len(asked) == 1 and refusals[0] is not refusals[1]
    forget_everything()
