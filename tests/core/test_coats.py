"""Coats by amount, rule or film, one after another: worked by hand, by trimesh and by a thin film solved
in time; what is
asked, what is doubted, in which order coats go.
"""

import math

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError
from scipy.integrate import quad
from shapely.geometry import Polygon

from cavatum.core.calibration.of_system import cure_of
from cavatum.core.coats.any_amount import on_the_piece
from cavatum.core.coats.fit import gel_time, why_no_film
from cavatum.core.coats.flow import crept, edge_holds, levels_in, thin_strip
from cavatum.core.common.amounts import read_amount
from cavatum.core.common.unit_table import FOOT_M, INCH_M, STANDARD_GRAVITY, US_FLUID_OUNCE_M3
from cavatum.core.common.wording import Wording
from cavatum.core.cure.kinetics import conversion_rate
from cavatum.core.finish.cure_record import CureRecord
from cavatum.core.finish.plan import finish_plan
from cavatum.core.measure.areas import covered
from cavatum.core.measure.mesh_shape import skin_area
from cavatum.core.measure.triangles import Solid
from cavatum.core.piece.coats import Coat
from cavatum.core.piece.given import Given
from cavatum.core.plan import make_plan
from cavatum.core.resin.ratio import ratio_of
from tests.samples import NOW, SHEETS, box_piece, box_void, workshop

PANEL = {"kind": "board", "length_m": "900 mm", "width_m": "420 mm", "thickness_m": "18 mm"}
EPOXY = ratio_of(SHEETS["coating-epoxy"])


def coat(*lays, **changes):
    numbered = [{"id": f"c{number}", **lay} for number, lay in enumerate(lays, 1)]
    base = {"id": "top", "name": "Top", "surface": PANEL, "edges": "none", "grain": "not porous"}
    return {**base, "lays": numbered, **changes}


def made(*coats, shop=None, **changes):
    document = {"voids": [], "system_id": "coating-epoxy", "kind_of_work": "flood coat", **changes}
    return make_plan(box_piece(coats=list(coats), **document), SHEETS, shop or workshop(), NOW, chances=False)


def codes(plan):
    return {one.code for one in plan.verdicts}


def first(plan, place=0):
    return plan.coats[0].lays[place]


# Amount, rule, film


def test_twenty_four_fluid_ounces_on_a_panel():
    """24 fl oz on 900 x 420 mm are 709.8 mL on 0.378 m2: 1.88 mm where a cup keeps nothing."""
    scraped = workshop(scrape_cup="scrape all out")
    lay = first(made(coat({"amount": "24 fl oz in all"}), shop=scraped))
    assert lay.film.value == pytest.approx(24 * US_FLUID_OUNCE_M3 / (0.9 * 0.42), rel=1e-9)
    assert (
        round(lay.film.value * 1000, 2) == 1.88
        and "1.88 mm" in lay.says
        and lay.as_typed == "24 fl oz in all"
    )
    kept = first(made(coat({"amount": "24 fl oz in all"}))).film.value
    assert kept < lay.film.value


@pytest.mark.parametrize(
    ("side", "typed", "film_m"),
    [
        ("rule", "30 g per 1000 cm2", 0.3 / EPOXY.mixed_density),
        ("rule", "3 fl oz per ft2", 3 * US_FLUID_OUNCE_M3 / FOOT_M**2),
        ("rule", "32 ft2 per gal", 128 * US_FLUID_OUNCE_M3 / (32 * FOOT_M**2)),
        ("rule", "1 fl oz per 70 in2", US_FLUID_OUNCE_M3 / (70 * INCH_M**2)),
        ("rule", "300 g/m2", 0.3 / EPOXY.mixed_density),
        ("film_m", "1.5 mm", 1.5e-3),
        ("amount", "120 mL of each part", 240e-6 / 0.378),
        ("amount", "300 g in all", 0.3 / EPOXY.mixed_density / 0.378),
    ],
)
def test_whichever_side_is_typed_the_other_two_follow(side, typed, film_m):
    shop = workshop(scrape_cup="scrape all out")
    plan = made(coat({side: typed}), shop=shop)
    lay = first(plan)
    assert lay.film.value == pytest.approx(film_m, rel=1e-6)
    assert lay.mixed.value == pytest.approx(film_m * 0.378, rel=1e-6)
    assert lay.rule == f"{round(film_m * 1e5, 1 if film_m < 1e-3 else 0):g} mL per 1000 cm²"
    weighed = sum(batch.mixed.value for pour in plan.pours for batch in pour.batches)
    assert weighed == pytest.approx(lay.mixed.value, rel=2e-3)


@given(
    millilitres=st.floats(150, 4000),
    soak=st.floats(0, 200),
    drips=st.floats(0, 20),
    count=st.integers(1, 4),
    there=st.sampled_from([{}, {"existing_m": "0.3 mm"}]),
)
@settings(max_examples=25, deadline=None)
def test_what_is_typed_is_what_is_mixed_in_however_many_cups(millilitres, soak, drips, count, there):
    one = coat(
        {"amount": f"{millilitres:.3f} mL in all"},
        soak_m3_m2=f"{soak:.3f} mL/m2",
        run_off=f"{drips:.3f} %",
        count=count,
        **there,
    )
    plan = made(one)
    if not plan.pours:  # it all soaks in or stays in the cup, or next to nothing is left to lay
        assert codes(plan) & {"nothing-left", "too-thin-to-lay"}
        return
    mixed = sum(batch.mixed.value for pour in plan.pours for batch in pour.batches)
    assert mixed == pytest.approx(round(millilitres, 3) * 1e-6, rel=2e-3)


def test_an_amount_of_equal_parts_without_a_sense_stops_and_one_of_unequal_parts_does_not():
    asked = made(coat({"amount": "200 mL"}))
    verdict = next(one for one in asked.verdicts if one.code == "in-all-or-each")
    assert verdict.weight == "blocker" and verdict.where == "/coats/0/lays/0/amount" and not asked.coats
    assert made(coat({"amount": "200 mL"}), system_id="thin-sealing-epoxy").coats
    unknown = made(coat({"amount": "200 g in all"}), system_id=None)
    assert "film-not-known" in codes(unknown)


def test_an_amount_that_would_stand_as_a_block_is_said():
    tiny = {"kind": "area", "area_m2": "1 cm2"}
    assert "too-much" in codes(made(coat({"amount": "2 L in all"}, surface=tiny)))


@pytest.mark.parametrize("amount", ["8 oz", "24 in", "0 mL", "-3 mL in all", "some"])
def test_an_amount_that_is_none_is_refused(amount):
    with pytest.raises(ValidationError):
        Coat.model_validate(coat({"amount": amount}))


@pytest.mark.parametrize(
    "lay", [{}, {"film_m": "1 mm", "rule": "30 g per m2"}, {"rule": "1000 cm2"}, {"rule": "per ft2"}]
)
def test_a_coat_takes_just_one_of_the_three(lay):
    with pytest.raises(ValidationError):
        Coat.model_validate(coat(lay))


def test_over_and_short_in_millilitres_percent_and_money():
    own = coat({"amount": "600 mL in all"}, favourite_rule="3 fl oz per ft²")
    against = first(made(own)).against
    rule_m = 3 * US_FLUID_OUNCE_M3 / FOOT_M**2
    takes = (rule_m * 0.378 + 4e-6) / 0.98
    assert against.over.value == pytest.approx(600e-6 - takes, rel=1e-6)
    assert against.share == pytest.approx(600e-6 / takes - 1, rel=1e-6)
    kits = [{"amount": 2e-3, "by": "volume_m3", "price_minor": 6000}]
    sheets = {**SHEETS, "coating-epoxy": SHEETS["coating-epoxy"].model_copy(update={"kits": []})}
    sheets["coating-epoxy"] = type(SHEETS["coating-epoxy"]).model_validate(
        {**SHEETS["coating-epoxy"].model_dump(), "kits": kits}
    )
    piece = box_piece(voids=[], coats=[own], system_id="coating-epoxy")
    priced = make_plan(piece, sheets, workshop(), NOW, chances=False).coats[0].lays[0].against
    assert priced.cost.value == pytest.approx(priced.over.value / 2e-3 * 6000, rel=1e-9)


def test_an_amount_of_each_part_twice_the_rule_is_doubted():
    twice = coat({"amount": "370 mL of each part"}, favourite_rule="3 fl oz per ft²")
    doubt = next(one for one in made(twice).verdicts if one.code == "in-all-doubted")
    assert "did you mean in all?" in doubt.text and "twice what your rule wants" in doubt.title
    half = coat({"amount": "185 mL in all"}, favourite_rule="3 fl oz per ft²")
    assert (
        "did you mean of each part?"
        in next(one for one in made(half).verdicts if one.code == "in-all-doubted").text
    )
    assert "in-all-doubted" not in codes(
        made(coat({"amount": "370 mL in all"}, favourite_rule="3 fl oz per ft²"))
    )


def test_another_amount_says_its_film_on_the_piece_and_its_margin():
    plan = made(coat({"film_m": "1 mm"}))
    piece = box_piece(voids=[], coats=[coat({"film_m": "1 mm"})], system_id="coating-epoxy")
    asked = Given(piece=piece, systems=SHEETS, workshop=workshop(), now=NOW)
    found = on_the_piece(read_amount("500 mL in all"), SHEETS["coating-epoxy"], EPOXY, asked)
    assert found.films[0].film.value == pytest.approx((500e-6 * 0.98 - 4e-6) / 0.378, rel=1e-9)
    assert found.films[0].over.value == pytest.approx(500e-6 - first(plan).mixed.value, rel=1e-6)
    odd = SHEETS["coating-epoxy"].model_copy(
        update={"density_a_kg_m3": type(SHEETS["coating-epoxy"].density_a_kg_m3)(value=2250.0)}
    )
    doubts = on_the_piece(read_amount("500 mL in all"), odd, ratio_of(odd), asked).doubts
    assert any("densit" in one.title.lower() for one in doubts)
    nothing = on_the_piece(read_amount("3 mL in all"), SHEETS["coating-epoxy"], EPOXY, asked)
    assert "soaks in or stays" in nothing.films[0].problem


# Several coats


def test_two_coats_are_two_and_three_times_is_three():
    plan = made(coat({"film_m": "0.3 mm", "times": 3}, {"film_m": "1.2 mm"}))
    assert [pour.called for pour in plan.pours] == ["coat 1", "coat 2", "coat 3", "coat 4"]
    assert [pour.layers[0].depth.value for pour in plan.pours] == pytest.approx([3e-4] * 3 + [1.2e-3])
    assert plan.coats[0].film.value == pytest.approx(2.1e-3) and [
        one.first for one in plan.coats[0].lays
    ] == [1, 4]


def test_documents_with_running_totals_read_as_the_same_coats():
    old = {
        "id": "top",
        "name": "Top",
        "surface": PANEL,
        "edges": "none",
        "film_m": "1.8 mm",
        "existing_m": "0.3 mm",
        "portions": [{"id": "a", "to_m": "0.4 mm", "colour": "moss"}, {"id": "b"}],
    }
    read = Coat.model_validate(old)
    assert [one.film_m.value for one in read.lays] == pytest.approx([0.4e-3, 1.1e-3])
    assert read.lays[0].colour == "moss" and read.film_m.value == pytest.approx(1.8e-3)
    assert Coat.model_validate(read.model_dump()) == read
    # what no plan ever laid does not keep a document of then from being read
    beyond = Coat.model_validate({**old, "portions": [{"id": "a", "to_m": "2 mm"}, {"id": "b"}]})
    assert [(one.id, one.film_m.value) for one in beyond.lays] == [("a", pytest.approx(2e-3))]


@pytest.mark.parametrize(
    ("join", "recoat", "bonded"),
    [
        ("as the workshop does", "bond in the window", True),
        ("as the workshop does", "cure and sand", False),
        ("in the window", "cure and sand", True),
        ("sanded", "bond in the window", False),
    ],
)
def test_what_bonds_and_what_is_sanded_is_said_per_coat_before_the_workshops_school(join, recoat, bonded):
    plan = made(coat({"film_m": "0.3 mm"}, {"film_m": "1.2 mm", "join": join}), shop=workshop(recoat=recoat))
    assert plan.windows[1].bonded is bonded and "window-missed" not in codes(plan)


def test_a_coat_on_an_overfilled_casting_waits_until_it_is_cut_flush():
    void = box_void("400 mm", "120 mm", "20 mm", overfill_m="2 mm")
    plain = {**void, "overfill_m": None}
    on_it = coat({"film_m": "1.2 mm", "system_id": "coating-epoxy"})
    cut = made(on_it, voids=[void], system_id="casting-epoxy-25", kind_of_work="deep pour")
    flush = made(on_it, voids=[plain], system_id="casting-epoxy-25", kind_of_work="deep pour")
    step = next(one for one in cut.steps if one.code == "cut-flush")
    hard = cut.windows[0]
    out = hard.mix_at.timestamp() + hard.mix_s + hard.pour_s + hard.demould_s
    assert step.earliest.timestamp() == pytest.approx(out, abs=1)
    assert cut.windows[1].mix_at.timestamp() >= step.at.timestamp() + 90 * 60
    assert not cut.windows[1].bonded and "window-missed" not in codes(cut)
    assert "stick" not in [one.code for one in cut.steps] and "cut-flush" not in [
        one.code for one in flush.steps
    ]
    assert flush.windows[1].mix_at < cut.windows[1].mix_at


def test_a_crack_and_the_seal_of_the_same_resin_are_one_visit():
    crack = {**box_void("200 mm", "4 mm", "5 mm"), "id": "crack", "wall": "wood"}
    seal = coat({"film_m": "0.3 mm"}, {"film_m": "1.2 mm"})
    one = made(seal, voids=[crack], sealed_with_filling=True)
    two = made(seal, voids=[crack])
    assert len(one.pours) == len(two.pours) - 1
    assert {layer.void_id for layer in one.pours[0].layers} == {"crack", "top"}
    other = coat({"film_m": "0.3 mm", "system_id": "thin-sealing-epoxy"}, {"film_m": "1.2 mm"})
    assert len(made(other, voids=[crack], sealed_with_filling=True).pours) == len(two.pours)


@pytest.mark.parametrize(
    ("coats", "changes", "code"),
    [
        ([{"film_m": "1 mm"}], {"survey": {"finish": "oiled or waxed"}}, "on-oil"),
        ([{"film_m": "1.2 mm"}, {"role": "seal", "film_m": "0.3 mm"}], {}, None),
        ([{"role": "flood", "film_m": "1.2 mm"}, {"role": "seal", "film_m": "0.3 mm"}], {}, "seal-on-flood"),
        (
            [{"film_m": "1 mm"}, {"film_m": "2 mm", "system_id": "fast-casting-polyurethane"}],
            {},
            "cannot-bond",
        ),
    ],
)
def test_coats_in_an_order_that_cannot_bond_are_said(coats, changes, code):
    found = codes(made(coat(*coats), **changes)) & {"on-oil", "seal-on-flood", "cannot-bond"}
    assert found == ({code} if code else set())


def test_a_fresh_coat_on_one_that_is_there_already_cannot_bond():
    there = coat({"film_m": "1 mm", "join": "in the window"}, existing_m="0.3 mm")
    assert "cannot-bond" in codes(made(there))


# Films that close, stay, level


@pytest.mark.parametrize(
    ("grain", "film", "closes"),
    [
        ("not porous", "0.1 mm", False),
        ("open", "0.2 mm", False),
        ("open", "0.3 mm", True),
        ("dense", "0.2 mm", True),
    ],
)
def test_a_film_below_what_wets_says_the_grain(grain, film, closes):
    plan = made(coat({"film_m": film}, grain=grain, soak_m3_m2="0 mL/m2"))
    assert ("too-thin-to-close" not in codes(plan)) is closes
    if grain == "open" and not closes:
        assert "open-pored" in next(one for one in plan.verdicts if one.code == "too-thin-to-close").text


def test_an_edge_holds_what_a_puddle_stands_at():
    """2 sqrt(0.043 / (1090 x 9.80665)) sin(60 degrees) = 3.47 mm, about "self-levels at 1/8 in" (3.2 mm)."""
    assert edge_holds(1090.0) * 1000 == pytest.approx(3.474, abs=0.002)
    assert edge_holds(1090.0, 0.0) < edge_holds(1090.0) < edge_holds(1090.0, 180.0)
    over = made(coat({"film_m": "3.6 mm"}))
    assert next(one for one in over.verdicts if one.code == "needs-a-dam").weight == "blocker"
    dammed = made(coat({"film_m": "3.6 mm"}, edge_way="dam"))
    assert "needs-a-dam" not in codes(dammed) and "coat-dam" in [one.code for one in dammed.steps]


def _solved(film_m, tilt, moved, along, cells=160):
    """A thin film on a tilt between edges that hold, marched in tau = integral of rho g dt / (3 eta):
    h_tau = -(h^3 (sin(tilt) - cos(tilt) h_x))_x, x down the tilt. Returns h(x) at the end.
    """
    h, dx, tau = np.full(cells, film_m), along / cells, 0.0
    while tau < moved:
        step = min(0.2 * dx**2 / (h.max() ** 3 * math.cos(tilt)), 0.2 * dx / (3 * h.max() ** 2), moved - tau)
        mid = (h[1:] + h[:-1]) / 2
        flux = mid**3 * (math.sin(tilt) - math.cos(tilt) * (h[1:] - h[:-1]) / dx)
        flux = np.concatenate([[0.0], flux, [0.0]])
        h = h - step * (flux[1:] - flux[:-1]) / dx
        tau += step
    return h


@pytest.mark.parametrize(("tilt_deg", "film_m"), [(3.0, 0.6e-3), (2.0, 0.8e-3), (1.0, 0.5e-3)])
def test_creep_and_thin_strip_against_the_thin_film_equation_solved_numerically(tilt_deg, film_m):
    tilt, along, density = math.radians(tilt_deg), 0.2, 1090.0
    phi = (
        3 * 0.02 / (density * STANDARD_GRAVITY * math.sin(tilt) * film_m**2)
    )  # so that its mean creeps 20 mm
    goes = crept(film_m, tilt, phi, density, along)
    assert goes == pytest.approx(0.02, rel=1e-9)
    h = _solved(film_m, tilt, density * STANDARD_GRAVITY * phi / 3, along)
    x = (np.arange(len(h)) + 0.5) * along / len(h)
    middle = h[: len(h) // 2].sum() * along / len(h)
    assert film_m * along / 2 - middle == pytest.approx(goes * film_m, rel=0.06)  # what crossed the middle
    thin = float(x[h < 0.8 * film_m].max())
    assert thin_strip(goes, film_m, tilt, along) == pytest.approx(thin, rel=0.12)


def test_a_film_that_levels_before_it_creeps_far_creeps_no_further():
    tilt, along, film_m = math.radians(0.1), 0.2, 1.2e-3
    goes = crept(film_m, tilt, 1e6, 1090.0, along)
    assert goes == pytest.approx(along**2 * math.tan(tilt) / (8 * film_m))
    h = _solved(film_m, tilt, 1e6 * 1090 * STANDARD_GRAVITY / 3 * 1e-3, along)
    assert film_m * along / 2 - h[: len(h) // 2].sum() * along / len(h) <= goes * film_m * 1.02
    assert thin_strip(goes, film_m, tilt, along) == 0.0


def test_three_degrees_on_a_table_are_no_longer_settled():
    level = {"pitch_deg": "3 deg", "roll_deg": "0 deg", "length_m": "760 mm", "width_m": "500 mm"}
    table = {"kind": "board", "length_m": "760 mm", "width_m": "500 mm", "thickness_m": "20 mm"}
    plan = made(coat({"film_m": "1.5 mm"}, surface=table), level=level)
    measure = next(one for one in plan.stages if one.stage == "measure")
    assert measure.state == "needs you" and "creeps" in measure.reason
    assert plan.coats[0].creeps.value > 0.1 and plan.coats[0].thin.value > 0.1
    flat = {**level, "pitch_deg": "0 deg"}
    assert "creeps" not in codes(made(coat({"film_m": "1.5 mm"}, surface=table), level=flat))


@pytest.mark.parametrize(
    ("cover", "covers"),
    [(("740 mm", "520 mm"), False), (("500 mm", "760 mm"), True), (("800 mm", "520 mm"), True)],
)
def test_a_cover_is_held_against_the_piece_either_way_round(cover, covers):
    table = {"kind": "board", "length_m": "760 mm", "width_m": "500 mm", "thickness_m": "20 mm"}
    plan = made(coat({"film_m": "1 mm"}, surface=table), cover={"length_m": cover[0], "width_m": cover[1]})
    assert ("cover-too-small" not in codes(plan)) is covers


def test_a_resin_is_judged_as_a_film():
    words, room = Wording(workshop()), 22.0
    for name, fits in (("coating-epoxy", True), ("slow-casting-epoxy", False), ("casting-epoxy-25", False)):
        why = why_no_film(SHEETS[name], cure_of(SHEETS[name]), 1e-3, room, words)
        assert (why == "") is fits, (name, why)
    cure = cure_of(SHEETS["coating-epoxy"])
    by_quad = quad(lambda a: 1 / conversion_rate(cure.kinetics, a, 295.15), 0, cure.kinetics.gel)[0]
    assert gel_time(cure.kinetics, 295.15) == pytest.approx(by_quad, rel=1e-4)
    assert levels_in(1e-3, 30e-3, 1090.0) < levels_in(0.5e-3, 30e-3, 1090.0) / 7.9


# Surfaces


@pytest.mark.parametrize("edge", ["half-round", "bevelled"])
@pytest.mark.parametrize("faces", [1, 2])
def test_developed_edges_against_trimesh(edge, faces):
    """A board and a disc built as meshes of thin slices, their faces and edges added by trimesh."""
    thick, bevel = 0.03, 0.006
    for surface, outline in (
        (
            {"kind": "board", "length_m": "500 mm", "width_m": "300 mm", "thickness_m": "30 mm"},
            Polygon([(0, 0), (0.5, 0), (0.5, 0.3), (0, 0.3)]),
        ),
        (
            {"kind": "disc", "diameter_m": "400 mm", "thickness_m": "30 mm"},
            Polygon([(0.2 * math.cos(a), 0.2 * math.sin(a)) for a in np.linspace(0, 2 * math.pi, 721)[:-1]]),
        ),
    ):
        changes = {"bevel_m": "6 mm"} if edge == "bevelled" else {}
        found = covered(
            Coat.model_validate(
                coat({"film_m": "1 mm"}, surface=surface, edges="all", edge_form=edge, faces=faces, **changes)
            )
        )
        if edge == "half-round":
            turns = np.linspace(0, math.pi, 241)
            profile = [(thick / 2 * (1 - math.sin(t)), thick / 2 * (1 - math.cos(t))) for t in turns]
        else:
            low = [(bevel, 0.0), (0.0, bevel)] if faces == 2 else [(0.0, 0.0)]
            profile = [*low, (0.0, thick - bevel), (bevel, thick)]
        rings = [np.array(outline.buffer(-inset, join_style=2).exterior.coords)[:-1] for inset, _ in profile]
        vertices = np.concatenate(
            [np.c_[ring, np.full(len(ring), z)] for ring, (_, z) in zip(rings, profile, strict=True)]
        )
        count, faces_ = len(rings[0]), []
        for row in range(len(rings) - 1):
            for k in range(count):
                a, b = row * count + k, row * count + (k + 1) % count
                faces_ += [(a, b, a + count), (b, b + count, a + count)]
        area = trimesh.Trimesh(vertices, faces_, process=False).area
        assert found.edge_m2 == pytest.approx(area, rel=2e-4)
        top = outline.buffer(-profile[-1][0], join_style=2).area
        assert found.faces_m2 == pytest.approx(faces * top, rel=2e-4)


def test_a_slab_by_stations_and_the_outside_of_a_mesh():
    stations = [
        {"at_m": f"{at} mm", "width_m": f"{wide} mm"} for at, wide in ((0, 300), (400, 360), (800, 320))
    ]
    slab = Coat.model_validate(
        coat({"film_m": "1 mm"}, surface={"kind": "stations", "stations": stations, "thickness_m": "30 mm"})
    )
    assert covered(slab).faces_m2 == pytest.approx(0.8 / 6 * (0.3 + 4 * 0.36 + 0.32))  # Simpson's rule
    ball = trimesh.creation.icosphere(subdivisions=4, radius=0.05)
    solid = Solid(np.asarray(ball.vertices), np.asarray(ball.faces))
    assert skin_area(solid) == pytest.approx(ball.area, rel=1e-9)
    assert skin_area(solid, upward=True) == pytest.approx(2 * math.pi * 0.05**2, rel=0.03)


def test_a_traced_face_has_its_band_and_a_mesh_its_upper_side():
    ring = [[0, 0], [0.4, 0], [0.4, 0.3], [0, 0.3]]
    hole = [[0.1, 0.1], [0.2, 0.1], [0.2, 0.2], [0.1, 0.2]]
    traced = {"kind": "drawn", "points_m": ring, "holes_m": [hole], "area_spread": {"value": 0.02}}
    plan = made(coat({"film_m": "1 mm"}, surface=traced))
    assert plan.coats[0].faces.value == pytest.approx(0.11)
    assert plan.coats[0].band.value == pytest.approx(0.02 * 0.11e-3)
    source = {"format": "stl", "name": "bowl.stl"}
    skin = {"kind": "mesh", "source": source, "whole_m2": 0.2, "upward_m2": 0.12}
    assert made(coat({"film_m": "1 mm"}, surface=skin)).coats[0].faces.value == 0.2
    upward = {**skin, "part": "what looks upward"}
    assert made(coat({"film_m": "1 mm"}, surface=upward)).coats[0].faces.value == 0.12


def test_the_usual_shortcut_is_said_a_square_for_a_round():
    plan = made(coat({"film_m": "1 mm"}, surface={"kind": "disc", "diameter_m": "400 mm"}))
    boxed, faces = plan.coats[0].boxed, plan.coats[0].faces
    assert boxed.value / faces.value == pytest.approx(4 / math.pi)
    assert "+27 %" in plan.workings[boxed.working].notes[0].replace("27%", "27 %")
    assert plan.coats[0].edges is None  # a disc without a thickness has none to coat


def test_parts_that_drink_otherwise_are_counted_apart():
    sapwood = {"name": "sapwood", "area_m2": "0.108 m2", "soak_m3_m2": "150 mL/m2"}
    plan = made(coat({"film_m": "0.3 mm"}, {"film_m": "1.2 mm"}, soak_m3_m2="60 mL/m2", soaks=[sapwood]))
    soaked = [sum(line.volume.value for line in one.allowances if line.code == "soak") for one in plan.pours]
    assert soaked == pytest.approx([0.108 * 150e-6 + (0.378 - 0.108) * 60e-6, 0.0])  # only the first drinks
    large = {**sapwood, "area_m2": "0.5 m2"}
    assert "too-large" in codes(made(coat({"film_m": "0.3 mm"}, soaks=[large])))


# Grounds and gates


@pytest.mark.parametrize(
    ("material", "prep", "drinks"),
    [
        ("canvas", {"back-canvas", "seal"}, True),
        ("print or photograph", {"seal-print"}, False),
        ("foam board", {"seal-foam"}, False),
        ("stone", {"dry-mineral", "seal"}, True),
        ("concrete", {"dry-mineral", "seal"}, True),
        ("metal tumbler", {"scuff-metal", "tape-lip"}, False),
        ("decal or vinyl", {"press-vinyl"}, False),
        ("cloth", {"seal"}, True),
        ("cured resin", {"scuff-resin"}, False),
    ],
)
def test_each_ground_has_its_own_preparation_and_drinks_or_not(material, prep, drinks):
    ground = coat({"film_m": "1 mm"}, wall="other")
    plan = made(ground, survey={"material": material, "grain": "open", "finish": "bare"})
    assert prep <= {one.code for one in plan.steps}
    assert ("soak-not-counted" in codes(plan)) is drinks
    painted = made(ground, survey={"material": material, "grain": "open", "finish": "varnished or painted"})
    assert "soak-not-counted" not in codes(painted)


def test_paint_dries_from_the_day_it_was_laid_on():
    fresh = {"material": "canvas", "finish": "fresh acrylic paint"}
    steps = {one.code: one for one in made(coat({"film_m": "1 mm"}), survey=fresh).survey.steps}
    assert steps["paint-dry"].wait_from_s == 21 * 86400
    week = made(coat({"film_m": "1 mm"}), survey={**fresh, "painted_on": "2026-02-23"})  # a week before
    assert {one.code: one for one in week.survey.steps}["paint-dry"].wait_from_s == 14 * 86400
    old = made(coat({"film_m": "1 mm"}), survey={**fresh, "painted_on": "2026-01-20"})
    assert "paint-dry" not in [one.code for one in old.survey.steps]


def finish_of(piece, plan, **known):
    return finish_plan(piece, plan, SHEETS, {}, CureRecord(**known), NOW, Wording(workshop()))


def test_gates_of_a_coat_in_their_order_from_the_computed_cure_and_none_of_a_form():
    document = {"voids": [], "system_id": "coating-epoxy", "kind_of_work": "flood coat"}
    piece = box_piece(coats=[coat({"film_m": "0.3 mm"}, {"film_m": "1.2 mm"})], **document)
    plan = make_plan(piece, SHEETS, workshop(), NOW, chances=False)
    gates = {(one.pour, one.code): one for one in finish_of(piece, plan).gates}
    assert [code for pour, code in gates if pour == 1] == ["recoat"]
    of_last = [code for pour, code in gates if pour == 2]
    assert "demould" not in of_last and {"touch", "handle", "sand", "hard", "pack"} <= set(of_last)
    times = [gates[2, code].expected_at for code in ("touch", "handle", "hard")]
    assert times == sorted(times) and len(set(times)) == 3
    sheet = SHEETS["coating-epoxy"]
    touch = gates[2, "touch"].expected.value
    assert touch == pytest.approx(sheet.tack_free_s.value, rel=0.5)  # this room and film against the sheet's
    assert "read at once" in gates[2, "handle"].test


def test_a_gate_by_the_sheet_says_so_where_the_cure_is_not_computed():
    plain = SHEETS["coating-epoxy"].model_copy(update={"cures_like": None, "id": "plain", "name": "Plain"})
    piece = box_piece(
        voids=[], coats=[coat({"film_m": "1.2 mm"})], system_id="plain", kind_of_work="flood coat"
    )
    plan = make_plan(piece, {**SHEETS, "plain": plain}, workshop(), NOW, chances=False)
    found = finish_plan(piece, plan, {"plain": plain}, {}, CureRecord(), NOW, Wording(workshop()))
    touch = next(one for one in found.gates if one.code == "touch")
    assert touch.expected.value == plain.tack_free_s.value
    assert found.workings[touch.expected.working].inputs[0].origin == "sheet"


def test_a_cup_is_turned_until_it_no_longer_runs_and_its_lip_cut_back():
    cup = {
        "kind": "cup",
        "top_diameter_m": "86 mm",
        "bottom_diameter_m": "64 mm",
        "height_m": "140 mm",
        "bare_band_m": "10 mm",
    }
    plan = made(coat({"film_m": "0.5 mm"}, surface=cup, edges="none"), kind_of_work="rotator")
    steps = [one.code for one in plan.steps]
    assert steps.index("spin") < steps.index("spin-stop") < steps.index("lip")
    assert "peel" not in steps and plan.coats[0].creeps is None


def test_foam_goes_into_no_oven():
    piece = box_piece(
        voids=[],
        coats=[coat({"film_m": "1 mm"})],
        system_id="coating-epoxy",
        survey={"material": "foam board", "finish": "sealed"},
        finish={"post_cure": True},
    )
    plan = make_plan(piece, SHEETS, workshop(), NOW, chances=False)
    found = finish_of(piece, plan)
    assert found.oven is None and "ground-refuses" in {one.code for one in found.verdicts}
