"""The plan's cells against runs in three dimensions of the same body: rivers in wood,
deep long bodies, rings, squares; and the rows of three dimensions against the layers. Rule 4.1.
"""

from __future__ import annotations

import math

import numpy as np
import pytest
import shapely

from cavatum.core.calibration.of_system import cure_of
from cavatum.core.heat.around import body_of, surround_of
from cavatum.core.heat.body import Body
from cavatum.core.heat.cast import Cast, Rows
from cavatum.core.heat.column import Stack, column_grid
from cavatum.core.heat.grid import Room
from cavatum.core.heat.materials import Surround
from cavatum.core.heat.quarter import block_of, plan_of
from cavatum.core.heat.voxels import voxels_of
from cavatum.core.layers.course import Course
from cavatum.core.layers.three import in_three
from cavatum.core.measure.cavity import cavity_of
from cavatum.core.piece.document import Void
from tests.samples import SHEETS, box_void


def both(
    system_id: str, layers: tuple[float, ...] = (1.0,), **void
) -> tuple[list[float], list[float], float]:
    """Peaks of each layer by the column and in three dimensions [degC], and how far the latter stands [K]."""
    shape = Void.model_validate({**box_void(), **void})
    cavity, cure = cavity_of(shape), cure_of(SHEETS[system_id])
    course = Course.empty(body_of(cavity), surround_of(shape)[0], Room.steady(23.0))
    low = 0.0
    for share in layers:
        high = low + share * cavity.fill_m / sum(layers)
        course = course.pour(low, high, cure).until_ready()
        low = high
    three = in_three(shape.shape, None, course, cavity.fill_m)
    return three.plan_peak_c, three.peak_c, three.within_k


def box(length, width, depth):
    return {"kind": "box", "length_m": length, "width_m": width, "depth_m": depth}


RING = {
    "kind": "nested",
    "outer": {"kind": "cylinder", "diameter_m": "160 mm", "depth_m": "60 mm"},
    "inner": {"kind": "cylinder", "diameter_m": "112 mm", "depth_m": "60 mm"},
    "inner_from_m": "0 mm",
}
RIVER = {"wall": "wood", "around": {"wall_m": "30 mm", "floor_m": "40 mm"}}


@pytest.mark.parametrize(
    ("system_id", "void"),
    [
        ("casting-epoxy-25", {"shape": box("600 mm", "40 mm", "60 mm"), **RIVER}),
        ("slow-casting-epoxy", {"shape": box("600 mm", "40 mm", "60 mm"), **RIVER}),
        ("slow-casting-epoxy", {"shape": box("300 mm", "60 mm", "200 mm"), "wall": "silicone"}),
        ("slow-casting-epoxy", {"shape": box("600 mm", "60 mm", "60 mm"), "wall": "board"}),
        ("slow-casting-epoxy", {"shape": box("80 mm", "80 mm", "80 mm"), "wall": "board"}),
        ("slow-casting-epoxy", {"shape": box("600 mm", "250 mm", "40 mm"), "wall": "wood"}),
        ("casting-epoxy-25", {"shape": RING, "wall": "silicone"}),
    ],
)
def test_the_plan_is_near_three_dimensions_and_hardly_colder(system_id, void):
    """Off by at most 3 K or 5 % of the rise, cold by at most 2 K: a river in wood was 30 K too hot, a deep
    long body 10 K too cold, a ring read as a solid.
    """
    plan, three, stands = both(system_id, **void)
    for column, real in zip(plan, three, strict=True):
        assert -2.0 - stands <= column - real <= max(3.0, 0.05 * (real - 23.0)) + stands


def test_the_rows_of_three_dimensions_follow_the_layers():
    """Three layers of 35.5, 27.3 and 27.3 mm: none is read colder for rows that straddle two of them."""
    plan, three, stands = both("slow-casting-epoxy", (35.5, 27.3, 27.3), wall="board")
    assert stands <= 1.0
    assert three == pytest.approx(plan, abs=2.0)
    ring = [[(-0.1, -0.05), (0.1, -0.05), (0.1, 0.05), (-0.1, 0.05)]]
    voxels = voxels_of(lambda height: ring, (0.2, 0.1), [0.0, 0.0355, 0.0628, 0.0901], 4000)
    edges = np.concatenate([[0.0], np.cumsum(voxels.deep)])
    for edge in (0.0355, 0.0628, 0.0901):
        assert np.abs(edges - edge).min() < 1e-12
    assert voxels.open.all() and voxels.round == pytest.approx(1.0)


def test_a_circles_stairs_count_no_longer_than_the_circle():
    """Cells along a circle have 4/pi times its girth."""
    turn = np.linspace(0, 2 * math.pi, 400, endpoint=False)
    ring = [[(0.1 * math.cos(one), 0.1 * math.sin(one)) for one in turn]]
    voxels = voxels_of(lambda height: ring, (0.2, 0.2), [0.0, 0.05], 30_000)
    assert voxels.round == pytest.approx(math.pi / 4, rel=0.02)


def middle_of(length: float, width: float, cells: int) -> float:
    """Of an evenly heated bar whose long faces are held at nought: c in T = c q w^2 / k, by the quarter's own
    conductances.
    """
    body = Body(
        width=lambda h: width, area=lambda h: length * width, wetted=lambda h: 2 * (length + width) * h
    )
    rows = Rows(low=np.array([0.0]), depth=np.array([1.0]), first=1)
    plan = plan_of(body, rows, np.zeros(0), cells)
    held = Surround(wall_m=0.0, side_times=1e9, underside_times=1e-12, top_w_m2k=1e-12)
    k = np.full((1, plan.across.shape[1], plan.along.shape[1]), 0.2)
    block = block_of(plan, np.array([1.0]), k, held, thin=(0.0, 0.0))
    n = k.size
    matrix = np.diag(block.groom.ravel())
    for g, stride in ((block.gy, k.shape[2]), (block.gx, 1)):
        for i in np.flatnonzero(g.ravel()):
            pair = g.ravel()[i] * np.array([[1, -1], [-1, 1]])
            matrix[np.ix_([i, i + stride], [i, i + stride])] += pair
    assert matrix.shape == (n, n)
    return float(np.linalg.solve(matrix, block.volume.ravel())[0] * 0.2 / width**2)


@pytest.mark.parametrize(("slender", "c"), [(1.0, 0.07367), (2.0, 0.1139), (40.0, 0.125)])
def test_the_middle_of_an_evenly_heated_bar_is_as_the_handbook_has_it(slender, c):
    """Timoshenko and Goodier, Theory of Elasticity, torsion of rectangular bars (the stress function of
    Poisson's equation; from memory). The plan's three cells read a mean, a twentieth lower.
    """
    assert middle_of(slender * 0.05, 0.05, 24) == pytest.approx(c, rel=0.005)
    assert c * 0.9 < middle_of(slender * 0.05, 0.05, 3) < c


def test_a_ring_has_no_ends_and_a_strip_has():
    rows = Rows(low=np.array([0.0, 0.03]), depth=np.full(2, 0.03), first=2)
    walls = np.array([0.01])

    def plan(girth_m: float):
        body = Body(width=lambda h: 0.02, area=lambda h: 0.5 * 0.02, wetted=lambda h: girth_m * h)
        return plan_of(body, rows, walls)

    ring, strip = plan(2 * 0.5), plan(2 * 0.52)
    assert not ring.has_ends and ring.along == pytest.approx(0.25) and ring.stretch == pytest.approx(1.0)
    assert strip.has_ends and strip.along.sum(axis=1) == pytest.approx(0.25 + 0.01)
    assert strip.stretch == pytest.approx(1.0)
    # A wall half as long again, as of a wavy edge, leads half as much again.
    assert plan(3 * 0.52).stretch == pytest.approx(1.5)


def test_what_is_poured_on_top_leaves_the_cells_below_as_they_are():
    """Slender below, wider above: by all its rows it would have ends, by its first layer it has none."""
    body = Body(
        width=lambda h: 0.01 if h < 0.03 else 0.2,
        area=lambda h: (0.01 if h < 0.03 else 0.2) * 1.0,
        wetted=lambda h: 2.0 * min(h, 0.03) + 2.4 * max(h - 0.03, 0.0),
    )
    cure = cure_of(SHEETS["slow-casting-epoxy"])
    low = Stack(body=body, surround=Surround(), room=Room.steady(23.0)).pour(
        Cast(from_m=0.0, to_m=0.03, kinetics=cure.kinetics)
    )
    high = low.wait(3600.0)[0].pour(Cast(from_m=0.03, to_m=0.09, kinetics=cure.kinetics))
    assert high.grid.shape[1:] == low.grid.shape[1:]
    assert (high.grid.layer[: low.grid.cells] == low.grid.layer).all()


def test_a_rings_heat_goes_across_its_gap():
    """(160 - 112) / 2 = 24 mm, by hand; above the inner one it is the whole width again."""
    cavity = cavity_of(Void.model_validate({**box_void(), "shape": RING}))
    assert cavity.hollow.through(0.03) == pytest.approx(0.024)
    low = {**RING, "inner": {**RING["inner"], "depth_m": "20 mm"}}
    assert cavity_of(Void.model_validate({**box_void(), "shape": low})).hollow.through(0.03) == 0.16


def through(height_m: float, **shape: object) -> float:
    return cavity_of(Void.model_validate({**box_void(), "shape": shape})).hollow.through(height_m)


def test_heat_goes_across_the_widest_place():
    """By hand: a pond of two discs of 60 and 200 mm joined by a strip of 20, a bar, a bar with draft, a river
    of 40, 90 and 50 mm. As wide as their area over their length they were read up to 11 K cold.
    """
    small = shapely.Point(0, 0).buffer(0.03)
    large = shapely.Point(0.3, 0).buffer(0.1)
    pond = shapely.union_all([small, large, shapely.box(0, -0.01, 0.3, 0.01)])
    points = [list(one) for one in pond.exterior.coords[:-1]]
    assert through(0.01, kind="outline", points_m=points, depth_m="20 mm") == pytest.approx(0.2, rel=0.01)
    bar = [[0, 0], [0.2, 0], [0.2, 0.05], [0, 0.05]]
    assert through(0.01, kind="outline", points_m=bar, depth_m="20 mm") == pytest.approx(0.05, rel=1e-3)
    leaning = {"kind": "outline", "points_m": bar, "depth_m": "20 mm", "draft_deg": "10 deg"}
    assert through(0.0, **leaning) == pytest.approx(0.05 - 0.04 * math.tan(math.radians(10)), rel=1e-3)
    stations = [{"at_m": f"{at} mm", "width_m": f"{wide} mm"} for at, wide in ((0, 40), (300, 90), (600, 50))]
    assert through(0.01, kind="river", stations=stations, depth_m="20 mm") == pytest.approx(0.09)


@pytest.mark.parametrize("wide_m", [0.05, 0.16, 0.284])
@pytest.mark.parametrize("share", [0.02, 0.05, 0.1, 0.3, 0.5])
@pytest.mark.parametrize("wall", ["glass", "silicone", "wood"])
def test_every_bowl_has_its_floor_under_its_middle(wide_m, share, wall):
    """Its outline is followed closely enough where it is flat: under the middle, where it gets hottest, lies
    what the form is made of.
    """
    shape = {"kind": "bowl", "rim_diameter_m": f"{wide_m} m", "depth_m": f"{wide_m * share} m"}
    void = Void.model_validate({**box_void(), "shape": shape, "wall": wall})
    cavity = cavity_of(void)
    course = Course.empty(body_of(cavity), surround_of(void)[0], Room.steady(23.0))
    grid = course.pour(0.0, cavity.fill_m, cure_of(SHEETS["slow-casting-epoxy"])).stack.grid
    below = grid.capacity.reshape(grid.shape)[:, 0, 0][: int(grid.tops[0] / grid.shape[2])]
    assert (below > 0).all()


def test_wood_under_and_beside_belongs_to_the_body():
    """Its capacity by hand: a river's floor, under its walls too, and its walls."""
    surround = Surround(wall="wood", wall_m=0.03, floor="wood", floor_m=0.04)
    length, width, deep = 1.0, 0.04, 0.06
    body = Body(
        width=lambda h: width, area=lambda h: length * width, wetted=lambda h: 2 * (length + width) * h
    )
    cast = Cast(from_m=0.0, to_m=deep, kinetics=cure_of(SHEETS["slow-casting-epoxy"]).kinetics)
    grid = column_grid(body, surround, (cast,))
    wood = 4 * grid.capacity[grid.kind < 0].sum() / (600 * 2000)
    from_above = (length + 2 * 0.03) * (width + 2 * 0.03)
    assert wood == pytest.approx(from_above * (0.04 + deep) - length * width * deep, rel=1e-9)


def test_a_body_as_warm_as_its_room_stays_so():
    """No face of the grid leaks: with wood all round and nothing that reacts, nothing moves in a day."""
    kinetics = cure_of(SHEETS["slow-casting-epoxy"]).kinetics.model_copy(update={"heat_j_kg": 1e-6})
    body = Body(width=lambda h: 0.05, area=lambda h: 0.02, wetted=lambda h: 0.9 * h)
    stack = Stack(body=body, surround=Surround(wall="wood", wall_m=0.04), room=Room.steady(21.0)).pour(
        Cast(from_m=0.0, to_m=0.05, kinetics=kinetics)
    )
    moved = np.abs(stack.wait(86400.0)[0].t - 294.15)
    assert moved.max() < 1e-3


@pytest.mark.parametrize(("coarse", "rings", "walls"), [(False, 8, 2), (True, 4, 1)])
def test_a_cylinder_is_cut_into_its_rings(coarse, rings, walls):
    """Eight rings and two cells of silicone; half of them for an ensemble. Their areas add up to the disc."""
    shape = {"kind": "cylinder", "diameter_m": "80 mm", "depth_m": "60 mm"}
    void = Void.model_validate({**box_void(), "shape": shape, "wall": "silicone"})
    cavity = cavity_of(void)
    empty = Course.empty(body_of(cavity), surround_of(void)[0], Room.steady(23.0), coarse=coarse)
    grid = empty.pour(0.0, 0.06, cure_of(SHEETS["slow-casting-epoxy"])).stack.grid
    assert grid.shape[1:] == (1, rings + walls)
    kinetics = cure_of(SHEETS["slow-casting-epoxy"]).kinetics
    resin_j_k = grid.capacity[grid.layer == 0].sum()
    stored = kinetics.density_kg_m3 * kinetics.heat_capacity_j_kg_k * math.pi * 0.04**2 * 0.06
    assert resin_j_k == pytest.approx(stored, rel=1e-6)


def test_a_river_of_widths_alone_lies_on_both_sides_of_its_middle():
    """Half of each width to either side, by hand; where an edge was measured it stays where it is."""
    stations = [{"at_m": f"{at} mm", "width_m": f"{wide} mm"} for at, wide in ((0, 40), (300, 90), (600, 50))]
    river = {"kind": "river", "stations": stations, "depth_m": "20 mm"}
    rim = cavity_of(Void.model_validate({**box_void(), "shape": river})).hollow.rim()
    assert sorted(round(y * 1000) for _, y in rim) == [-45, -25, -20, 20, 25, 45]
