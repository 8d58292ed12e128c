"""Many layers: cured ones far below keep a few rows. The reference is the same column with all its rows."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from cavatum.core.calibration.of_system import cure_of
from cavatum.core.heat.around import body_of, surround_of
from cavatum.core.heat.body import Body
from cavatum.core.heat.cast import Cast, merged_rows
from cavatum.core.heat.grid import Room
from cavatum.core.heat.materials import Surround
from cavatum.core.layers.course import Course
from cavatum.core.measure.cavity import cavity_of
from cavatum.core.piece.document import Void

from ..samples import SHEETS, box_void

COLUMN = {"kind": "cylinder", "diameter_m": "92 mm", "depth_m": "480 mm"}
VOIDS = {
    "box": Void.model_validate(box_void("300 mm", "100 mm", "480 mm")),
    "column": Void.model_validate({**box_void(wall="plastic"), "shape": COLUMN}),
}
FORMS = ["wide", "box", "column"]


def filled(system_id: str, depth_m: float, layers: int, *, form: str, room_c: float, merges: bool) -> Course:
    body, around = Body.wide(), Surround()
    if form in VOIDS:
        body, around = body_of(cavity_of(VOIDS[form])), surround_of(VOIDS[form])[0]
    course = Course.empty(body, around, Room.steady(room_c))
    course = replace(course, stack=replace(course.stack, merges=merges))
    for i in range(layers):
        course = course.pour(i * depth_m, (i + 1) * depth_m, cure_of(SHEETS[system_id])).until_ready()
    return course


@pytest.mark.parametrize("room_c", [18.0, 22.0, 28.0])
@pytest.mark.parametrize("form", FORMS)
@pytest.mark.parametrize(
    ("system_id", "depth_m"),
    [("slow-casting-epoxy", 0.04), ("casting-epoxy-25", 0.02), ("fast-casting-polyurethane", 0.02)],
)
def test_merging_moves_no_layer(system_id: str, depth_m: float, form: str, room_c: float) -> None:
    """No peak by a kelvin, no pour by 3 % of its time."""
    merged, own = (
        filled(system_id, depth_m, 6, form=form, room_c=room_c, merges=merges) for merges in (True, False)
    )
    for i in range(6):
        assert merged.curve(i)[1].max() == pytest.approx(own.curve(i)[1].max(), abs=1.0)
        assert merged.layers[i].at_s == pytest.approx(own.layers[i].at_s, rel=0.03)
    assert merged.stack.grid is not None and own.stack.grid is not None
    assert merged.stack.grid.cells < own.stack.grid.cells or merged.stack.a.min() < 0.9


@pytest.mark.parametrize("form", FORMS)
def test_a_column_of_many_layers_has_hardly_more_cells(form: str) -> None:
    """A row or two more a layer, of ten or twenty; no heat is lost on the way."""
    shape, cells = None, []
    for layers in (8, 12):
        course = filled("slow-casting-epoxy", 0.03, layers, form=form, room_c=24.0, merges=True)
        assert course.stack.grid is not None
        shape, _ = course.stack.grid.shape, cells.append(course.stack.grid.shape[0])
        assert len(course.stack.heights) == shape[0] and (np.diff(course.stack.heights) > 0).all()
    assert cells[1] - cells[0] <= 2 * 4


def test_merged_rows_keep_what_there_was() -> None:
    """Their weights are averages: 1 in all for each new row, and heat stays the same to the last digit."""
    fine = Cast(from_m=0.0, to_m=0.03, kinetics=cure_of(SHEETS["slow-casting-epoxy"]).kinetics)
    before, after = (fine, fine, fine), (replace(fine, fewer=10), replace(fine, fewer=3), fine)
    rows = merged_rows(before, after, floor=3)
    assert rows.shape == (3 + 1 + 3 + 10, 3 + 30) and rows.sum(axis=1) == pytest.approx(1.0)
    warmth = np.random.default_rng(5).uniform(290, 340, 33)
    thick = np.concatenate([np.ones(3), *[np.full(one.cells, 10 / one.cells) for one in after]])
    assert (rows @ warmth) @ thick == pytest.approx(warmth.sum(), rel=1e-12)
