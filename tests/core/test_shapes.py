"""Every kind of void by another route: solids built by manifold3d, SciPy, Pappus, halves and thirds of the
box, union and complement.
"""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter
from scipy.integrate import quad
from scipy.integrate import simpson as scipy_simpson

from cavatum.core.common.errors import DomainError, Infeasible
from cavatum.core.measure.cavity import cavity_of
from cavatum.core.measure.shape_hollow import hollow_of, readings_of, words_of
from cavatum.core.measure.solids import SEGMENTS, dam_of, layer_of, solid_of
from cavatum.core.measure.stations import simpson_weights, trapezoid
from cavatum.core.piece.document import Void
from cavatum.core.piece.shapes import Shape

SHAPE = TypeAdapter(Shape)
POLYGON = (
    2 * math.pi**2 / (3 * SEGMENTS**2)
)  # how much smaller a turned solid of SEGMENTS sides is than the round one
L_POINTS = [(0, 0), (0.3, 0), (0.3, 0.1), (0.1, 0.1), (0.1, 0.2), (0, 0.2)]


def shape(kind, **readings):
    return SHAPE.validate_python({"kind": kind, **readings})


def cone(top, bottom, depth):
    return {"kind": "cone", "top_diameter_m": top, "bottom_diameter_m": bottom, "depth_m": depth}


def rows(*pairs):
    return [{"height_m": f"{h} mm", "diameter_m": f"{d} mm"} for h, d in pairs]


def stations(*rows_):
    names = ("at_m", "width_m", "bottom_width_m")
    return [{name: f"{value} mm" for name, value in zip(names, row, strict=False)} for row in rows_]


SHAPES = {
    "box": shape("box", length_m="230 mm", width_m="170 mm", depth_m="95 mm"),
    "draft": shape(
        "tapered",
        length_m="230 mm",
        width_m="170 mm",
        bottom_length_m="200 mm",
        bottom_width_m="150 mm",
        depth_m="95 mm",
    ),
    "V groove": shape(
        "tapered",
        length_m="230 mm",
        width_m="20 mm",
        bottom_length_m="230 mm",
        bottom_width_m="0 mm",
        depth_m="15 mm",
    ),
    "cylinder": shape("cylinder", diameter_m="92 mm", depth_m="310 mm"),
    "cup": shape(**cone("78 mm", "62 mm", "110 mm")),
    "bowl": shape("bowl", rim_diameter_m="120 mm", depth_m="40 mm"),
    "undercut bowl": shape("bowl", rim_diameter_m="120 mm", depth_m="90 mm"),
    "profile": shape("profile", rows=rows((0, 0), (20, 40), (60, 30), (90, 80))),
    "V crack": shape("crack", form="v", length_m="640 mm", width_m="14 mm", depth_m="48 mm"),
    "round crack": shape("crack", form="round", length_m="640 mm", width_m="14 mm", depth_m="48 mm"),
    "straight crack": shape("crack", form="straight", length_m="640 mm", width_m="14 mm", depth_m="48 mm"),
    "river of straight edges": shape(
        "river", depth_m="42 mm", stations=stations((0, 100, 80), (200, 140, 120), (400, 180, 160))
    ),
    "outline": shape(
        "outline", depth_m="40 mm", points_m=L_POINTS, holes_m=[[(0.02, 0.02), (0.05, 0.02), (0.05, 0.05)]]
    ),
    "drafted outline": shape("outline", depth_m="40 mm", points_m=L_POINTS, draft_deg="5 deg"),
    "nested cones": shape(
        "nested",
        outer=cone("240 mm", "220 mm", "120 mm"),
        inner=cone("196 mm", "180 mm", "150 mm"),
        inner_from_m="8 mm",
    ),
    "body in a block": shape(
        "nested",
        outer={"kind": "box", "length_m": "200 mm", "width_m": "150 mm", "depth_m": "60 mm"},
        inner={"kind": "cylinder", "diameter_m": "80 mm", "depth_m": "30 mm"},
        inner_from_m="10 mm",
    ),
}
TOLERANCE = {
    "bowl": 2e-3,
    "undercut bowl": 2e-3,
    "round crack": 5e-4,
    "V groove": 3e-4,
    "V crack": 3e-4,
}  # facets, and a hair where a floor closes


@pytest.mark.parametrize("name", SHAPES)
def test_volume_equals_that_of_a_solid_built_by_manifold3d(name):
    hollow, solid = hollow_of(SHAPES[name]), solid_of(SHAPES[name])
    assert solid.volume() == pytest.approx(
        hollow.volume(hollow.depth_m), rel=TOLERANCE.get(name, 1.2 * POLYGON + 1e-5)
    )


@pytest.mark.parametrize("name", SHAPES)
def test_a_layer_equals_the_solid_cut_at_two_heights(name):
    hollow = hollow_of(SHAPES[name])
    low, high = 0.3 * hollow.depth_m, 0.7 * hollow.depth_m
    cut = layer_of(solid_of(SHAPES[name]), low, high).volume()
    assert cut == pytest.approx(
        hollow.volume(high) - hollow.volume(low), rel=TOLERANCE.get(name, 1.2 * POLYGON + 1e-5)
    )


@pytest.mark.parametrize("name", SHAPES)
def test_area_is_the_slope_of_volume(name):
    hollow = hollow_of(SHAPES[name])
    breaks = [
        0.008,
        0.010,
        0.02,
        0.04,
        0.06,
        0.128,
    ]  # heights where a profile bends or an inner shape begins or ends
    total, _ = quad(
        hollow.area, 0, hollow.depth_m, points=[b for b in breaks if b < hollow.depth_m], limit=200
    )
    assert total == pytest.approx(hollow.volume(hollow.depth_m), rel=1e-6)


@pytest.mark.parametrize("name", SHAPES)
def test_volume_and_wetted_surface_only_grow(name):
    hollow = hollow_of(SHAPES[name])
    heights = [hollow.depth_m * i / 50 for i in range(51)]
    for low, high in zip(heights, heights[1:], strict=False):
        assert hollow.volume(high) > hollow.volume(low)
        assert hollow.wetted(high) >= hollow.wetted(low) - 1e-12


@pytest.mark.parametrize("name", SHAPES)
def test_height_at_a_volume_gives_the_volume_back(name):
    cavity = cavity_of(
        Void.model_validate({"id": "v", "name": "V", "shape": SHAPES[name], "portions": [{"id": "p"}]})
    )
    whole = cavity.volume(cavity.fill_m)
    for part in (0.02, 0.3, 0.5, 0.97):
        assert cavity.volume(cavity.height_at(part * whole)) == pytest.approx(part * whole, rel=1e-6)


@pytest.mark.parametrize("name", [one for one in SHAPES if one not in ("nested cones", "body in a block")])
@pytest.mark.parametrize("factor", [0.5, 3.0])
def test_scaling_all_lengths_scales_by_the_cube(name, factor):
    document = SHAPES[name].model_dump()

    def scaled(part):
        if isinstance(part, dict) and "value" in part:
            return (
                part
                if part["origin"] == "chosen" or part.get("as_typed", "").endswith("deg")
                else {"value": part["value"] * factor}
            )
        if isinstance(part, dict):
            return {key: scaled(inner) for key, inner in part.items()}
        if isinstance(part, (list, tuple)) and part and isinstance(part[0], float):
            return [one * factor for one in part]
        return [scaled(one) for one in part] if isinstance(part, list) else part

    larger, hollow = hollow_of(SHAPE.validate_python(scaled(document))), hollow_of(SHAPES[name])
    assert larger.volume(larger.depth_m) == pytest.approx(hollow.volume(hollow.depth_m) * factor**3, rel=1e-9)


def test_space_and_body_add_up_to_the_block():
    # complement: block minus body, plus the body, is the block
    space, body = hollow_of(SHAPES["body in a block"]), math.pi * 0.04**2 * 0.03
    assert space.volume(0.06) + body == pytest.approx(0.2 * 0.15 * 0.06, rel=1e-12)


@pytest.mark.parametrize(("form", "share"), [("straight", 1.0), ("v", 1 / 2), ("round", 2 / 3)])
def test_a_crack_is_a_share_of_its_box(form, share):
    # common practice: V half, rounded root two thirds of length x width x depth
    hollow = hollow_of(shape("crack", form=form, length_m="640 mm", width_m="14 mm", depth_m="48 mm"))
    assert hollow.volume(0.048) == pytest.approx(share * 0.640 * 0.014 * 0.048, rel=1e-12)


def test_a_turned_profile_equals_pappus():
    # Pappus: volume = 2 pi x centroid of the half profile x its area, here by the shoelace formula
    readings = ((0, 30), (20, 64), (60, 58), (90, 80))
    points = [(0, 0), *((d / 2000, h / 1000) for h, d in readings), (0, 0.09)]
    cross = [
        (x0 * y1 - x1 * y0, x0 + x1)
        for (x0, y0), (x1, y1) in zip(points, points[1:] + points[:1], strict=True)
    ]
    area = sum(one for one, _ in cross) / 2
    centroid = sum(one * x for one, x in cross) / (6 * area)
    assert hollow_of(shape("profile", rows=rows(*readings))).volume(0.09) == pytest.approx(
        2 * math.pi * abs(centroid * area), rel=1e-12
    )


PLACES = st.lists(st.floats(min_value=0.01, max_value=0.5), min_size=2, max_size=15)


@given(PLACES, st.randoms(use_true_random=False))
def test_simpson_for_any_spacing_equals_scipy(gaps, chance):
    # SciPy's simpson uses the same corrections for irregular spacing and an even number of points (Cartwright
    # 2017)
    xs = [sum(gaps[:i]) for i in range(len(gaps) + 1)]
    ys = [chance.uniform(0.05, 0.2) for _ in xs]
    ours = sum(w * y for w, y in zip(simpson_weights(xs), ys, strict=True))
    assert ours == pytest.approx(float(scipy_simpson(ys, x=xs)), rel=1e-9)


@given(st.lists(st.floats(min_value=0.05, max_value=0.5), min_size=2, max_size=12))
def test_simpson_is_exact_for_parabolas(gaps):
    xs = [sum(gaps[:i]) for i in range(len(gaps) + 1)]
    ours = sum(w * (3 * x * x - x + 2) for w, x in zip(simpson_weights(xs), xs, strict=True))
    assert ours == pytest.approx(xs[-1] ** 3 - xs[-1] ** 2 / 2 + 2 * xs[-1], rel=1e-9)


def test_a_river_keeps_the_trapezoid_beside_it_as_its_spread():
    widths = (104, 118, 131, 127, 139, 152, 148)
    river = hollow_of(
        shape("river", depth_m="42 mm", stations=stations(*((115 * i, w) for i, w in enumerate(widths))))
    )
    straight = trapezoid([0.115 * i for i in range(7)], [w / 1000 for w in widths]) * 0.042
    assert (
        river.between_m3 == pytest.approx(abs(river.volume(0.042) - straight), rel=1e-9)
        and river.between_m3 > 0
    )


def test_very_uneven_stations_fall_back_to_the_trapezoid_and_say_so():
    river = hollow_of(shape("river", depth_m="10 mm", stations=stations((0, 50), (10, 60), (300, 40))))
    assert river.volume(0.01) == pytest.approx(
        trapezoid([0, 0.01, 0.3], [0.05, 0.06, 0.04]) * 0.01, rel=1e-12
    )
    assert "too uneven" in river.formula()[0]


def test_a_fill_test_is_mass_over_density():
    # 998 g of water at 20 degC fill a litre (CRC Handbook: 998.2 kg/m3 at 20 degC, from memory)
    hollow = hollow_of(shape("fill test", mass_kg="998 g", density_kg_m3="998 kg/m3", depth_m="50 mm"))
    assert hollow.volume(0.05) == pytest.approx(1e-3) and hollow.volume(0.025) == pytest.approx(0.5e-3)


def test_an_opening_larger_than_the_mean_narrows_the_hollow_downwards():
    hollow = hollow_of(shape("stated", volume_m3="1 L", depth_m="50 mm", opening_m2="400 cm2"))
    assert hollow.area(0.05) == pytest.approx(0.04) and hollow.area(0.025) == pytest.approx(
        0.02
    )  # here n = 1
    assert quad(hollow.area, 0, 0.05)[0] == pytest.approx(1e-3, rel=1e-6)


@pytest.mark.parametrize(
    ("kind", "readings", "code"),
    [
        ("stated", {"volume_m3": "1 L", "depth_m": "50 mm", "opening_m2": "100 cm2"}, "opening-too-small"),
        ("river", {"depth_m": "10 mm", "stations": stations((0, 50), (0, 60))}, "not-in-order"),
        ("river", {"depth_m": "10 mm", "stations": stations((0, 0), (100, 0))}, "no-area"),
        ("profile", {"rows": rows((5, 20), (20, 40))}, "no-bottom"),
        ("profile", {"rows": rows((0, 20), (20, 0))}, "no-opening"),
        ("profile", {"rows": rows((0, 20), (20, 40), (15, 30))}, "not-in-order"),
        (
            "nested",
            {
                "outer": cone("100 mm", "80 mm", "50 mm"),
                "inner": cone("99 mm", "90 mm", "50 mm"),
                "inner_from_m": "0 mm",
            },
            "no-room",
        ),
        (
            "nested",
            {
                "outer": cone("100 mm", "80 mm", "50 mm"),
                "inner": cone("20 mm", "20 mm", "50 mm"),
                "inner_from_m": "60 mm",
            },
            "above-rim",
        ),
        (
            "nested",
            {
                "outer": cone("100 mm", "100 mm", "50 mm"),
                "inner": {"kind": "box", "length_m": "80 mm", "width_m": "80 mm", "depth_m": "20 mm"},
                "inner_from_m": "5 mm",
            },
            "no-room",
        ),  # its diagonal, 113 mm, does not fit into 100 mm
    ],
)
def test_readings_that_allow_no_hollow_are_refused_with_a_way_out(kind, readings, code):
    with pytest.raises((DomainError, Infeasible)) as caught:
        hollow_of(shape(kind, **readings))
    assert caught.value.code == code and caught.value.way_out


def test_the_inner_shapes_underside_and_walls_are_wetted_only_where_resin_reaches():
    ring = hollow_of(
        shape(
            "nested",
            outer={"kind": "cylinder", "diameter_m": "200 mm", "depth_m": "50 mm"},
            inner={"kind": "cylinder", "diameter_m": "100 mm", "depth_m": "80 mm"},
            inner_from_m="0 mm",
        )
    )
    floor, walls = math.pi * (0.1**2 - 0.05**2), 2 * math.pi * (0.1 + 0.05) * 0.05
    assert ring.wetted(0.05) == pytest.approx(floor + walls, rel=1e-9)


def test_a_dam_is_the_ring_round_the_opening():
    # a square ring with round corners: girth x wall + pi wall^2
    dam = dam_of(SHAPES["box"], 0.01, 0.005)
    assert dam.volume() == pytest.approx((2 * (0.23 + 0.17) * 0.005 + math.pi * 0.005**2) * 0.01, rel=2e-3)


def test_readings_are_called_as_a_person_would():
    names = [words_of(path) for path, _ in readings_of(SHAPES["river of straight edges"])]
    assert (
        names[:3] == ["place at station 1", "width at station 1", "bottom width at station 1"]
        and names[-1] == "depth"
    )
    assert "outer top diameter" in [words_of(path) for path, _ in readings_of(SHAPES["nested cones"])]
