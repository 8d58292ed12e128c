"""Sentences in both unit systems: a person reads no foreign unit, no exponent and no mark."""

import re

import pytest

from cavatum.core.common.wording import MARKED, Wording, rendered
from cavatum.core.finish.cure_record import CureRecord
from cavatum.core.finish.plan import finish_plan
from cavatum.core.piece.document import Piece
from cavatum.core.plan import make_plan
from cavatum.core.practice import finishing, mishaps, readiness, troubles, ways_back, work
from cavatum.core.survey import preparation
from cavatum.demo.scenario import demo_pieces
from tests.samples import NOW, SHEETS, box_piece, box_void, workshop

METRIC = re.compile(r"\d ?(?:°C|K|mm|cm|m|kg|g|mL|L|mL/m²)(?![\w/²³])")
US = re.compile(r"\d ?(?:°F|in|ft|lb|oz wt|fl oz)(?![\w])")
EXPONENT = re.compile(r"\d(?:\.\d+)?e[+-]\d")
BARE = re.compile(r"\d degrees|[Tt]en degrees")
FILM = re.compile(r"[\d.]+ mm \([\d.]+ mil\)")  # a film is said in both: the trade speaks of mm and of mil


def texts(value) -> list[str]:
    if isinstance(value, str):
        return [value]
    if isinstance(value, dict):
        return [text for one in value.values() for text in texts(one)]
    if isinstance(value, list | tuple | set | frozenset):
        return [text for one in value for text in texts(one)]
    if hasattr(value, "__dict__"):
        return texts(vars(value))
    return []


def tables() -> list[str]:
    modules = (finishing, mishaps, readiness, troubles, ways_back, work, preparation)
    return [
        text
        for module in modules
        for name, one in vars(module).items()
        if name.isupper()
        for text in texts(one)
    ]


def complaints(said: list[str], foreign: re.Pattern) -> list[str]:
    plain = [FILM.sub("", one) for one in said]
    return [
        one for one in plain if foreign.search(one) or EXPONENT.search(one) or BARE.search(one) or "⟦" in one
    ]


@pytest.mark.parametrize(("units", "foreign"), [("metric", US), ("us", METRIC)])
def test_every_sentence_of_the_tables_is_said_in_one_unit_system(units, foreign):
    wording = Wording(workshop(units=units))
    known = tables()
    assert len(known) > 300 and sum(bool(MARKED.search(one)) for one in known) >= 12
    assert complaints([wording.words(one) for one in known], foreign) == []


PIECES = [
    *demo_pieces(NOW),
    box_piece(voids=[box_void(depth="320 mm")], name="deep"),
    box_piece(system_id="coating-epoxy", voids=[box_void(depth="30 mm", wall="wood")], name="hot"),
    box_piece(system_id="casting-epoxy-25", layering="thirds", name="thirds"),
]


@pytest.mark.parametrize("piece", PIECES, ids=lambda piece: piece.name)
@pytest.mark.parametrize(("units", "foreign"), [("metric", US), ("us", METRIC)])
@pytest.mark.slow
def test_verdicts_steps_and_limits_of_a_plan_are_said_in_one_unit_system(piece: Piece, units, foreign):
    """In a cold, damp room, so that the air has something to say too. Names of systems and rules of thumb
    stay.
    """
    shop = workshop(units=units, room_c={"value": 15.5}, room_humidity={"value": 0.86})
    plan = make_plan(piece, SHEETS, shop, NOW)
    said = [f"{one.title} {one.text} {one.todo}" for one in plan.verdicts]
    said += [f"{one.title} {one.text} {one.why}" for one in plan.steps]
    said += [layer.limited_by for pour in plan.pours for layer in pour.layers]
    said += [one.reason for one in plan.stages] + plan.heat_notes
    if plan.windows:
        finish = finish_plan(piece, plan, SHEETS, {}, CureRecord(), NOW, Wording(shop))
        said += [one.passes for one in finish.gates] + [f"{one.text} {one.why}" for one in finish.steps]
    names = [
        *(one.name for one in SHEETS.values()),
        *(rule for coat in piece.coats for rule in [coat.favourite_rule]),
    ]
    for name in filter(None, names):
        said = [one.replace(name, "") for one in said]
    assert complaints(said, foreign) == []


def test_what_has_no_mark_is_handed_back_as_it_is():
    plan = make_plan(box_piece(), SHEETS, workshop(), NOW)
    assert rendered(plan.totals, Wording(workshop())) is plan.totals
    us = Wording(workshop(units="us"))
    assert us.words("Keep it ⟦22 to 24 °C⟧, ⟦3 K⟧ over the dew point, ⟦15 cm⟧ away.") == (
        "Keep it 72 to 75 °F, 5 °F over the dew point, 5.9 in away."
    )
    assert Wording(workshop()).words("⟦10 K⟧ cooler") == "10 °C cooler"
