"""The whole plan: conservation through the steps, verdicts that must appear, purity."""

import json
from datetime import timedelta

import pytest
from pydantic import ValidationError

from cavatum.core.common.workshop import Workshop
from cavatum.core.options import compare
from cavatum.core.piece.document import Piece
from cavatum.core.plan import make_plan
from cavatum.core.schedule.bench import moments_after, standing_at
from tests.samples import NOW, SHEETS, box_piece, box_void, system, workshop

SHOP = workshop(cup_m3="5 L", scale={"most_kg": "10 kg", "step_kg": "0.1 g"})


def plan(piece=None, systems=None, shop=SHOP, now=NOW):
    return make_plan(piece or box_piece(), systems or SHEETS, shop, now)


def codes(made):
    return {verdict.code: verdict for verdict in made.verdicts}


def test_what_is_weighed_is_what_is_needed():
    # second route: net, shrinkage and residue by hand for 600 x 250 x 90 mm in three pours
    made = plan()
    net = 0.6 * 0.25 * 0.09
    poured = net / 0.98
    batches = sum(len(pour.batches) for pour in made.pours)
    mixed = (poured + batches * 4e-6) / 0.98
    density = (3 * 1120 + 980) / 4
    assert made.totals.net.value == pytest.approx(net)
    assert made.totals.need.value == pytest.approx(mixed)
    assert made.totals.mass.value == pytest.approx(mixed * density, abs=batches * 1e-4)


def test_every_allowance_is_a_line_and_together_they_are_the_difference():
    piece = box_piece(reserve="5 %", voids=[box_void(overfill_m="2 mm", soak_m3_m2="100 mL/m2", wall="wood")])
    made = plan(piece)
    lines = {line.code: line.volume.value for line in made.totals.allowances}
    assert set(lines) == {"overfill", "soak", "shrinkage", "reserve", "residue"}
    added = sum(value for code, value in lines.items() if code != "overfill")
    assert made.totals.net.value + added == pytest.approx(made.totals.need.value)
    assert lines["overfill"] == pytest.approx(0.6 * 0.25 * 0.002)
    assert lines["soak"] == pytest.approx(1e-4 * (0.6 * 0.25 + 2 * 0.85 * 0.09))


def test_layers_add_up_to_the_void():
    made = plan()
    assert sum(layer.volume.value for pour in made.pours for layer in pour.layers) == pytest.approx(
        made.voids[0].net.value
    )


def test_cumulative_weight_is_the_batch():
    batch = plan().pours[0].batches[0]
    assert batch.parts[-1].cumulative.value == pytest.approx(batch.mass.value)


def test_hardener_first_is_a_school():
    batch = plan(shop=workshop(first_part="B")).pours[0].batches[0]
    assert [part.part for part in batch.parts] == ["B", "A"]


def test_every_figure_names_a_working_and_every_working_holds_its_figure():
    made = json.loads(plan().model_dump_json())
    figures = list(_figures(made))
    assert len(figures) > 40
    for figure in figures:
        assert made["workings"][figure["working"]]["value"] == figure["value"]
        assert made["workings"][figure["working"]]["source"]


def _figures(node):
    if isinstance(node, dict):
        if "working" in node:
            yield node
        for inner in node.values():
            yield from _figures(inner)
    elif isinstance(node, list):
        for inner in node:
            yield from _figures(inner)


def test_the_same_inputs_make_the_same_plan():
    assert plan().model_dump_json() == plan().model_dump_json()


def test_a_set_start_does_not_drift_with_the_clock():
    piece = box_piece(first_pour_at=NOW.replace(hour=8).isoformat())
    later = plan(piece, now=NOW + timedelta(hours=3))
    assert later.clock == plan(piece).clock


def test_equal_cavities_multiply_but_do_not_heat_each_other():
    small = box_void("86 mm", "25 mm", "10 mm", count=14)
    made = plan(box_piece(voids=[small], system_id="craft-casting-epoxy"))
    assert made.totals.net.value == pytest.approx(14 * 21.5e-6)  # 86 x 25 x 10 mm is 21.5 mL
    assert made.pours[0].layers[0].mass.value == pytest.approx(21.5e-6 * 1080)


def test_two_colours_are_two_portions_and_two_pours():
    void = box_void(
        "86 mm",
        "25 mm",
        "10 mm",
        portions=[{"id": "a", "colour": "moss", "to_m": "4 mm"}, {"id": "b", "colour": "clear"}],
    )
    made = plan(box_piece(voids=[void], system_id="craft-casting-epoxy"))
    assert [pour.layers[0].colour for pour in made.pours] == ["moss", "clear"]
    assert made.pours[0].layers[0].to_m == pytest.approx(0.004)


def test_voids_with_different_systems_share_a_pour_in_separate_batches():
    other = box_void(
        "100 mm", "50 mm", "20 mm", id="other", portions=[{"id": "p2", "system_id": "casting-epoxy-25"}]
    )
    made = plan(box_piece(voids=[box_void(depth="30 mm"), other]))
    assert {batch.system_id for batch in made.pours[0].batches} == {"slow-casting-epoxy", "casting-epoxy-25"}
    assert [batch.number for batch in made.pours[0].batches] == list(range(1, len(made.pours[0].batches) + 1))


def test_an_empty_piece_asks_for_the_first_void():
    made = plan(Piece(name="empty"))
    assert made.totals.net is None and made.clock is None
    assert [stage.reason for stage in made.stages if stage.state == "needs you"] == [
        "Not surveyed yet.",
        "Add the first void or coat.",
    ]


def test_a_measured_piece_without_a_system_has_a_volume_and_asks_for_the_resin():
    made = plan(box_piece(system_id=None))
    assert made.totals.net and made.totals.mass is None
    assert next(stage for stage in made.stages if stage.stage == "resin").state == "needs you"


def test_a_system_that_left_the_shelf_stops_the_job():
    assert codes(plan(box_piece(system_id="gone")))["system-gone"].weight == "blocker"


def test_a_sheet_without_basis_stops_the_job_and_weighs_nothing():
    made = plan(systems={**SHEETS, "slow-casting-epoxy": system(basis=None)})
    assert codes(made)["no-basis"].weight == "blocker" and not made.pours
    assert next(stage for stage in made.stages if stage.stage == "resin").state == "stops"


def test_a_layer_deeper_than_the_rule_stops_the_job():
    void = box_void(portions=[{"id": "p1", "boundaries_m": ["60 mm"]}])
    made = plan(box_piece(layering="own", voids=[void]))
    assert "Layer 1 is too deep" in codes(made)["too-deep"].title


def test_a_layer_thinner_than_the_least_needs_care():
    void = box_void(portions=[{"id": "p1", "boundaries_m": ["40 mm", "80 mm", "85 mm"]}])
    assert codes(plan(box_piece(layering="own", voids=[void])))["too-thin"].weight == "warning"


def test_boundaries_left_over_from_a_deeper_void_stop_with_a_way_out():
    void = box_void(depth="30 mm", portions=[{"id": "p1", "boundaries_m": ["40 mm"]}])
    assert codes(plan(box_piece(layering="own", voids=[void])))["out-of-order"].todo


def test_a_portion_above_the_fill_line_stops():
    void = box_void(portions=[{"id": "a", "to_m": "200 mm"}, {"id": "b"}])
    assert codes(plan(box_piece(voids=[void])))["over-fill-line"].weight == "blocker"


def test_a_void_that_cannot_be_stops_but_the_others_are_planned():
    bad = {
        **box_void(id="bad"),
        "portions": [{"id": "p9"}],
        "inclusions": [{"id": "i", "name": "stone", "volume_m3": "90 L", "from_m": "0 mm", "to_m": "90 mm"}],
    }
    made = plan(box_piece(voids=[bad, box_void()]))
    assert codes(made)["no-room"].where == "/voids/0"
    assert [void.void_id for void in made.voids] == ["box"]


def things(**changes):
    return [
        {
            "id": "i",
            "name": "head",
            "count": 11,
            "volume_m3": "9 mL",
            "from_m": "20 mm",
            "to_m": "60 mm",
            **changes,
        }
    ]


@pytest.mark.parametrize(
    ("thing", "code"),
    [
        ({"density_kg_m3": "250 kg/m3"}, "floats"),
        ({"density_kg_m3": "250 kg/m3", "held_down": True}, "held-down"),
        ({}, "float-unknown"),
    ],
)
def test_what_floats_is_said_with_its_weight(thing, code):
    assert code in codes(plan(box_piece(voids=[box_void(inclusions=things(**thing))])))


def test_what_sinks_is_not_mentioned():
    assert (
        not {"floats", "held-down", "float-unknown"}
        & codes(plan(box_piece(voids=[box_void(inclusions=things(density_kg_m3="2650 kg/m3"))]))).keys()
    )


def test_the_weight_that_holds_follows_archimedes_and_a_half_more():
    # 11 x 9 mL x (1085 - 250) kg/m3 = 82.7 g; half as much again 124 g
    said = codes(plan(box_piece(voids=[box_void(inclusions=things(density_kg_m3="250 kg/m3"))])))["floats"]
    assert "82.7 g" in said.text and "124 g" in said.todo


def test_bare_wood_without_a_soak_is_said_and_not_added():
    made = plan(box_piece(voids=[box_void(wall="wood")]))
    assert "soak-not-counted" in codes(made)
    assert "soak" not in {line.code for line in made.totals.allowances}


def test_a_batch_too_small_for_the_scale_needs_care():
    void = box_void("30 mm", "20 mm", "3 mm")
    shop = workshop(scale={"most_kg": "3 kg", "step_kg": "1 g"})
    assert "scale-too-coarse" in codes(plan(box_piece(voids=[void], system_id="coating-epoxy"), shop=shop))


def test_a_batch_larger_than_the_sheets_goes_off_sooner():
    assert "larger-than-sheet" in codes(
        plan(box_piece(system_id="coating-epoxy", voids=[box_void(depth="6 mm")]))
    )


def test_a_batch_that_sets_in_the_cup_stops():
    sheet = system("coating-epoxy", stir_s="45 min")
    assert (
        codes(
            plan(
                box_piece(system_id="coating-epoxy", voids=[box_void(depth="6 mm")]), {"coating-epoxy": sheet}
            )
        )["gone-before-poured"].weight
        == "blocker"
    )


def test_a_cup_too_small_for_the_piece_stops_with_a_way_out():
    made = plan(shop=workshop(cup_m3="5 mL"))
    assert "larger cup" in codes(made)["too-many-batches"].todo
    assert made.totals.net and not made.pours


def test_a_missed_window_names_a_better_start():
    piece = box_piece(
        system_id="coating-epoxy", voids=[box_void(depth="9 mm")], first_pour_at="2026-03-02T18:00:00Z"
    )
    said = codes(plan(piece))["window-missed"]
    assert "Start " in said.todo and "sand" in said.todo


def test_a_start_in_the_past_is_said_while_it_cures():
    assert "start-passed" in codes(plan(box_piece(first_pour_at="2026-03-01T09:00:00Z")))


def test_a_piece_ready_after_it_is_due_needs_care():
    assert "after-due" in codes(plan(box_piece(due="2026-03-05")))
    assert "after-due" not in codes(plan(box_piece(due="2026-06-05")))


def test_pressure_brings_its_caution():
    made = plan(box_piece(system_id="fast-casting-polyurethane", voids=[box_void("80 mm", "80 mm", "50 mm")]))
    assert any("rating" in caution for caution in made.cautions)


@pytest.mark.slow
def test_options_are_worked_out_in_full_and_the_unfit_says_why():
    piece = box_piece(voids=[box_void(depth="150 mm")])
    options = {option.choice: option for option in compare(piece, SHEETS, SHOP, NOW)}
    assert options["fewest"].pours == 4 and max(options["fewest"].depths_m) <= 0.04 + 1e-9
    assert options["soonest"].out_of_form_at <= options["fewest"].out_of_form_at
    assert options["coolest"].peak_c <= options["soonest"].peak_c and not options["soonest"].too_hot
    assert not options["thirds"].offered and "too deep" in options["thirds"].reason
    assert "own" not in options


@pytest.mark.slow
def test_drawn_boundaries_are_an_option_of_their_own():
    piece = box_piece(
        layering="own", voids=[box_void(portions=[{"id": "p1", "boundaries_m": ["30 mm", "60 mm"]}])]
    )
    assert [option.choice for option in compare(piece, SHEETS, SHOP, NOW)] == [
        "fewest",
        "coolest",
        "soonest",
        "thirds",
        "own",
    ]


def test_made_up_prices_and_cup_habits_are_marked_typical_in_their_workings():
    made = plan()
    for key in ("total/cost", "pour/1/residue"):
        assert {one.origin for one in made.workings[key].inputs} == {"typical"}
    assert {"typical", "computed"} == {one.origin for one in made.workings["layer/box/1/mass"].inputs}
    assert any("L/min" in note for note in made.workings["total/hands"].notes)


def test_cost_is_left_out_when_a_sheet_has_no_prices():
    assert plan(systems={"slow-casting-epoxy": system(kits=[])}).totals.cost is None


def test_cost_is_what_is_used_at_the_best_kit_price():
    # by mass: 20 kg for 345.00, so 17.25 a kilogram
    made = plan()
    assert made.totals.cost.value == pytest.approx(made.totals.mass.value * 1725)


@pytest.mark.parametrize(
    ("hours", "words", "phase"),
    [
        (-30, "planned", "planned"),
        (1, "layer 1 of 3, liquid", "curing"),
        (24 * 40, "fully cured by the plan", "done"),
    ],
)
def test_where_a_piece_stands_is_read_off_its_plan(hours, words, phase):
    start = NOW.replace(hour=14, minute=0)
    made = plan(box_piece(first_pour_at=start.isoformat()))
    standing = standing_at(made, start + timedelta(hours=hours))
    assert (standing.status, standing.phase) == (words, phase)


def test_a_layer_in_its_computed_window_takes_the_next_pour():
    for hours in range(0, 24, 4):  # some start lets the window open before anybody is there
        made = plan(box_piece(first_pour_at=(NOW + timedelta(hours=hours)).isoformat()))
        window = next(one for one in made.clock.rows[0].segments if one.state == "bond")
        if made.clock.rows[1].segments[0].from_at > window.from_at + timedelta(minutes=20):
            break
    assert (
        standing_at(made, window.from_at + timedelta(minutes=10)).status
        == "layer 1 of 3, takes the next pour"
    )


def test_a_plan_without_a_set_start_has_no_moments():
    made = plan()
    assert moments_after(made, NOW) == []
    assert standing_at(made, NOW).status == "planned, start not set"


def test_moments_to_come_carry_their_window_and_what_to_mix():
    start = NOW.replace(hour=14, minute=0)
    made = plan(box_piece(first_pour_at=start.isoformat()))
    moments = moments_after(made, start + timedelta(hours=20))
    assert (
        moments[0].label == "mix, pour 2"
        and moments[0].until is not None
        and "kg in" in moments[0].detail
        and f"stir {made.pours[1].batches[0].stir_s / 60:g} min each." in moments[0].detail
        and "stick" in moments[0].detail
    )
    assert moments[-1].label == "out of the form" and "nail" in moments[-1].detail


def test_a_piece_that_is_not_ready_says_what_it_needs():
    assert standing_at(plan(Piece(name="x")), NOW).status == "Add the first void or coat."


@pytest.mark.parametrize(
    "changes",
    [{"zone": "Moon/Base"}, {"week": [[{"from_min": 600, "to_min": 500}]] * 7}, {"currency": "pounds"}],
)
def test_a_workshop_that_makes_no_sense_is_refused(changes):
    with pytest.raises(ValidationError):
        Workshop.model_validate({**workshop().model_dump(), **changes})


def test_pours_of_several_voids_with_drawn_section_and_plan_outline():
    made = plan(
        box_piece(
            voids=[
                box_void(inclusions=things(), overfill_m="1 mm"),
                box_void("50 mm", "50 mm", "20 mm", id="b", portions=[{"id": "q"}]),
            ]
        )
    )
    section = made.sections[0]
    assert section.fill_m == pytest.approx(0.091) and section.half_width_m == pytest.approx(0.125)
    assert section.inclusions[0].across_m == pytest.approx((9e-6 / 0.04) ** 0.5)
    assert len(section.plan_outline_m) == 4
