"""A batch that goes off in its cup, here or in a warmer room that is only tried: the plan says so, it is not
refused for a temperature that nobody typed.
"""

from __future__ import annotations

import pytest

from cavatum.core.piece.document import Piece
from cavatum.core.plan import make_plan
from cavatum.core.resin.system import System
from cavatum.core.resin.typical import typical_systems

from ..samples import NOW, box_void, workshop


@pytest.mark.parametrize("like", ["casting-epoxy-25", "slow-casting-epoxy"])
@pytest.mark.parametrize("minutes", [30, 15, 8])
def test_a_quick_sheet_of_a_slow_class_gets_a_plan_that_says_it_runs_away(like, minutes):
    sheet = next(one for one in typical_systems() if one.id == like).model_dump()
    sheet["working_time"] = {
        "time_s": {"as_typed": f"{minutes} min", "origin": "sheet"},
        "mass_kg": {"as_typed": "150 g", "origin": "sheet"},
        "temperature_c": {"as_typed": "25 °C", "origin": "sheet"},
    }
    void = box_void("200 mm", "100 mm", "12 mm")
    piece = Piece.model_validate({"name": "Plaque", "system_id": like, "voids": [void]})
    plan = make_plan(piece, {like: System.model_validate(sheet)}, workshop(), NOW)
    stops = {one.code for one in plan.verdicts if one.weight == "blocker"}
    assert "runs-away" in stops or "gone-before-poured" in stops
    assert "out-of-range" not in stops
