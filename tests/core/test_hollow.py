"""Voids by closed form against other routes: Simpson over sections, Pappus, Shapely, SciPy quadrature."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import quad
from shapely.geometry import Polygon

from cavatum.core.common.errors import DomainError, Infeasible
from cavatum.core.common.unit_table import US_FLUID_OUNCE_M3
from cavatum.core.measure.cavity import cavity_of
from cavatum.core.measure.hollow import BowlHollow, BoxHollow, ConeHollow
from cavatum.core.measure.shape_hollow import hollow_of
from cavatum.core.piece.document import Void
from cavatum.core.piece.shapes import Outline
from tests.samples import box_void

SIZE = st.floats(min_value=0.005, max_value=2.0)
SHARE = st.floats(min_value=0.01, max_value=1.0)
QUADRATIC = 1e-9  # all sections are quadratic in height: one Simpson step is exact up to rounding


def simpson(hollow, height):
    return height * (hollow.area(0) + 4 * hollow.area(height / 2) + hollow.area(height)) / 6


@given(SIZE, SIZE, SIZE, SHARE)
def test_frustum_equals_simpson_over_its_sections(bottom, top, depth, share):
    hollow = ConeHollow(bottom, top, depth)
    assert hollow.volume(share * depth) == pytest.approx(simpson(hollow, share * depth), rel=QUADRATIC)


@given(SIZE, SIZE, SHARE)
def test_bowl_equals_simpson_over_its_sections(rim, depth, share):
    hollow = BowlHollow(rim, depth)
    assert hollow.volume(share * depth) == pytest.approx(simpson(hollow, share * depth), rel=1e-6, abs=1e-15)


@given(SIZE, SIZE)
def test_full_bowl_equals_the_cap_formula(rim, depth):
    # pi d (3 a^2 + d^2) / 6, the spherical cap of the handbooks
    assert BowlHollow(rim, depth).volume(depth) == pytest.approx(
        math.pi * depth * (3 * rim**2 + depth**2) / 6, rel=QUADRATIC
    )


def test_hemisphere_is_two_thirds_of_its_cylinder():
    # Archimedes, On the Sphere and Cylinder
    hemisphere, cylinder = BowlHollow(0.1, 0.1), ConeHollow(0.1, 0.1, 0.1)
    assert hemisphere.volume(0.1) / cylinder.volume(0.1) == pytest.approx(2 / 3, rel=QUADRATIC)
    assert hemisphere.wetted(0.1) == pytest.approx(2 * math.pi * 0.01, rel=QUADRATIC)


@given(SIZE, SIZE, SIZE)
def test_frustum_wall_equals_pappus(bottom, top, depth):
    # Pappus: area = path of the centroid of the generating line x its length
    hollow = ConeHollow(bottom, top, depth)
    wall = 2 * math.pi * (bottom + top) / 2 * math.hypot(depth, top - bottom)
    assert hollow.wetted(depth) - math.pi * bottom**2 == pytest.approx(wall, rel=QUADRATIC)


@given(SIZE, SIZE, SIZE, st.floats(min_value=1.1, max_value=4))
def test_scaling_a_void_scales_its_volume_by_the_cube(length, width, depth, factor):
    small, large = BoxHollow(length, width, depth), BoxHollow(length * factor, width * factor, depth * factor)
    assert large.volume(depth * factor) == pytest.approx(small.volume(depth) * factor**3, rel=QUADRATIC)


def test_an_8_by_6_inch_hollow_a_quarter_deep_holds_6_65_fluid_ounces():
    # hand-worked: 12 in3 / 1.8046875 in3 a fluid ounce
    inch = 0.0254
    assert BoxHollow(8 * inch, 6 * inch, inch / 4).volume(inch / 4) / US_FLUID_OUNCE_M3 == pytest.approx(
        6.65, abs=0.005
    )


L_SHAPE = [(0, 0), (0.3, 0), (0.3, 0.1), (0.1, 0.1), (0.1, 0.2), (0, 0.2)]


def outline(points=L_SHAPE, depth="40 mm", **more):
    return Outline.model_validate({"points_m": points, "depth_m": depth, **more})


def test_outline_without_draft_is_shoelace_times_depth():
    # shoelace by hand: 0.3 x 0.1 + 0.1 x 0.1
    assert hollow_of(outline()).volume(0.04) == pytest.approx(0.04 * 0.04, rel=QUADRATIC)


def test_an_outline_with_too_many_points_is_refused():
    many = [(math.cos(i / 160), math.sin(i / 160)) for i in range(1001)]
    with pytest.raises(ValueError, match="3000 are taken at most"):
        outline(many, holes_m=[many, many])


def test_outline_with_a_hole_deducts_it():
    hole = [(0.02, 0.02), (0.06, 0.02), (0.06, 0.06), (0.02, 0.06)]
    assert hollow_of(outline(holes_m=[hole])).area(0.01) == pytest.approx(0.04 - 0.0016, rel=QUADRATIC)


@given(st.floats(min_value=0.5, max_value=30), SHARE)
def test_drafted_square_equals_the_frustum_of_a_pyramid(draft, share):
    # prismoidal formula for a square of side a at the rim, a - 2 d tan(draft) at the floor
    square = [(0, 0), (0.2, 0), (0.2, 0.2), (0, 0.2)]
    hollow = hollow_of(outline(square, draft_deg={"value": draft}))
    height = share * 0.04
    side = lambda h: 0.2 - 2 * (0.04 - h) * math.tan(math.radians(draft))  # noqa: E731
    exact = height * (side(0) ** 2 + side(0) * side(height) + side(height) ** 2) / 3
    assert hollow.volume(height) == pytest.approx(exact, rel=1e-9)


def test_drafted_outline_equals_quadrature_of_its_sections():
    hollow = hollow_of(outline(draft_deg="5 deg"))
    exact, _ = quad(hollow.area, 0, 0.03)
    assert hollow.volume(0.03) == pytest.approx(exact, rel=1e-6)


def test_wall_of_an_upright_outline_is_its_length_times_height():
    hollow = hollow_of(outline())
    assert hollow.wetted(0.02) == pytest.approx(Polygon(L_SHAPE).area + 1.0 * 0.02, rel=QUADRATIC)


def test_wall_of_a_drafted_square_equals_the_pyramids_slant():
    square = [(0, 0), (0.2, 0), (0.2, 0.2), (0, 0.2)]
    hollow = hollow_of(outline(square, draft_deg="45 deg"))
    bottom, slant = 0.2 - 0.08, 0.04 * math.sqrt(2)
    assert hollow.wetted(0.04) == pytest.approx(bottom**2 + 4 * (0.2 + bottom) / 2 * slant, rel=1e-9)


@pytest.mark.parametrize(
    ("points", "code"),
    [
        ([(0, 0), (0.1, 0.1), (0.1, 0), (0, 0.1)], "crosses-itself"),
        ([(0, 0), (0.1, 0), (0.2, 0)], "crosses-itself"),
        ([(0, 0), (1e-4, 0), (0, 1e-4)], "no-area"),
        ([(0, 0), (40, 0), (40, 1), (0, 1)], "out-of-range"),
    ],
)
def test_an_outline_that_makes_no_sense_is_explained(points, code):
    with pytest.raises(DomainError) as refused:
        hollow_of(outline(points))
    assert refused.value.code == code


def test_a_crossing_is_told_by_its_place():
    # the diagonals of a 100 mm square cross in its middle
    with pytest.raises(DomainError, match="near x 50, y 50 mm"):
        hollow_of(outline([(0, 0), (0.1, 0.1), (0.1, 0), (0, 0.1)]))


def test_walls_that_meet_above_the_floor_are_refused():
    with pytest.raises(Infeasible, match="walls meet"):
        hollow_of(outline(draft_deg="60 deg", depth="60 mm"))


def void(**changes) -> Void:
    return Void.model_validate(box_void(**changes))


def heads(**changes):
    return {
        "id": "h",
        "name": "head",
        "count": 4,
        "volume_m3": "10 mL",
        "from_m": "20 mm",
        "to_m": "60 mm",
        **changes,
    }


def test_inclusions_displace_their_own_volume():
    assert cavity_of(void(inclusions=[heads()])).volume(0.09) == pytest.approx(
        0.6 * 0.25 * 0.09 - 40e-6, rel=QUADRATIC
    )


def test_an_inclusion_above_the_fill_displaces_only_what_is_under():
    assert cavity_of(void(inclusions=[heads(to_m="120 mm")])).displaced(0.09) == pytest.approx(
        40e-6 * 0.7, rel=QUADRATIC
    )


def test_overfill_carries_the_opening_straight_up():
    assert cavity_of(void(overfill_m="2 mm")).volume(0.092) == pytest.approx(
        0.6 * 0.25 * 0.092, rel=QUADRATIC
    )


@given(st.floats(min_value=0.001, max_value=0.0919))
def test_height_of_a_volume_is_the_inverse_of_volume_at_a_height(height):
    cavity = cavity_of(void(inclusions=[heads()], overfill_m="2 mm"))
    assert cavity.height_at(cavity.volume(height)) == pytest.approx(height, abs=2e-9)


def test_volume_never_falls_with_height():
    rows = cavity_of(void(inclusions=[heads(volume_m3="1 L")])).table()
    assert all(low[1] < high[1] for low, high in zip(rows, rows[1:], strict=False))


@pytest.mark.parametrize(
    "thing", [heads(to_m="10 mm"), heads(from_m="95 mm", to_m="99 mm"), heads(volume_m3="3 L")]
)
def test_inclusions_that_cannot_be_are_refused(thing):
    with pytest.raises(DomainError):
        cavity_of(void(inclusions=[thing]))
