"""Pockets one after another, what is in a void already, splits by choice, and several resins in one pour."""

import pytest

from cavatum.core.layers.pours import pours_of
from cavatum.core.plan import make_plan
from cavatum.core.pour.script import compile_script
from tests.samples import NOW, SHEETS, box_piece, box_void, system, workshop


def pockets(turns, **changes):
    voids = [
        box_void(
            "60 mm", "40 mm", "8 mm", id=f"k{n}", name=f"Pocket {n}", turn=turn, portions=[{"id": f"p{n}"}]
        )
        for n, turn in enumerate(turns)
    ]
    return box_piece(kind_of_work="carved pockets", system_id="craft-casting-epoxy", voids=voids, **changes)


def planned(piece, **changes):
    return make_plan(piece, SHEETS, workshop(**changes), NOW, in_full=False)


@pytest.mark.parametrize("turns", [(1,), (1, 1), (1, 2), (1, 2, 3, 4), (1, 1, 2, 2, 3), (2, 5, 5)])
def test_pockets_of_a_turn_are_poured_together_once_all_before_are_hard(turns):
    plan = planned(pockets(turns))
    groups = [[f"k{n}" for n, turn in enumerate(turns) if turn == one] for one in sorted(set(turns))]
    assert [sorted(layer.void_id for layer in pour.layers) for pour in plan.pours] == groups
    for place, (window, before) in enumerate(zip(plan.windows[1:], plan.windows, strict=False), start=1):
        poured = before.mix_at.timestamp() + before.mix_s + before.pour_s
        own = [step for step in plan.steps if step.pour == place]
        order = [step.code for step in own]
        assert order.index("harden") < order.index("cut-next")
        cut = next(step for step in own if step.code == "cut-next")
        assert cut.earliest.timestamp() >= poured + before.demould_s - 1
        assert window.mix_at >= cut.at and not window.bonded
    assert not {one.code for one in plan.verdicts} & {"window-missed"}


def test_each_pocket_has_its_own_amount_and_reserve():
    whole, parts = planned(pockets((1, 1), reserve="10 %")), planned(pockets((1, 2), reserve="10 %"))
    assert len(parts.pours) == 2
    for pour in parts.pours:
        reserve = next(line for line in pour.allowances if line.code == "reserve")
        assert reserve.share == pytest.approx(0.1, abs=0.02)
    assert parts.totals.net.value == pytest.approx(whole.totals.net.value)


def test_the_script_cleans_out_a_new_pocket_and_waits_for_the_harden_test():
    piece = pockets((1, 2))
    plan, shop = planned(piece), workshop()
    script = {one.id: one for one in compile_script(1, piece, plan, shop).steps}
    assert script["p2/sand"].title == "Clean out the new pocket"
    assert script["p1/cut-next"].gate == "p1/harden"


def test_what_is_there_already_is_neither_poured_nor_weighed():
    plain = planned(box_piece(voids=[box_void(depth="30 mm")]))
    there = planned(box_piece(voids=[box_void(depth="30 mm", there_m="10 mm")], survey={}))
    assert there.totals.net.value == pytest.approx(plain.totals.net.value * 2 / 3)
    assert there.pours[0].layers[0].from_m == pytest.approx(0.01)
    assert "scuff-resin" in {one.code for one in there.survey.steps}
    full = planned(box_piece(voids=[box_void(depth="30 mm", there_m="30 mm")]))
    assert not full.pours and any(one.weight == "blocker" for one in full.verdicts)


def test_thirds_are_of_the_depth_without_the_overfill():
    void = box_void(depth="90 mm", overfill_m="3 mm")
    plan = planned(box_piece(layering="thirds", voids=[void]))
    edges = [layer.to_m for pour in plan.pours for layer in pour.layers]
    assert edges == pytest.approx([0.03, 0.06, 0.093])


def test_equal_volumes_are_equal_in_any_shape():
    shape = {
        "kind": "cone",
        "top_diameter_m": "400 mm",
        "bottom_diameter_m": "150 mm",
        "depth_m": "120 mm",
    }
    piece = box_piece(layering="volumes", voids=[{**box_void(), "shape": shape}])
    plan = planned(piece)
    volumes = [layer.volume.value for pour in plan.pours for layer in pour.layers]
    assert len(volumes) > 1 and volumes == pytest.approx([volumes[0]] * len(volumes), rel=1e-6)


def test_the_whole_mould_in_one_is_one_pour_and_is_doubted_where_it_is_too_deep():
    plan = planned(box_piece(layering="whole", voids=[box_void(depth="200 mm")]))
    assert len(plan.pours) == 1 and any(one.code == "too-deep" for one in plan.verdicts)


@pytest.mark.parametrize(
    "order", [("slow-casting-epoxy", "coating-epoxy"), ("coating-epoxy", "slow-casting-epoxy")]
)
def test_several_resins_in_one_pour_are_mixed_in_the_order_of_their_pot_lives(order):
    voids = [
        box_void("60 mm", "40 mm", "8 mm", id=f"v{n}", portions=[{"id": f"p{n}", "system_id": id_}])
        for n, id_ in enumerate(order)
    ]
    plan = planned(box_piece(voids=voids))
    mixed = list(dict.fromkeys(batch.system_id for batch in plan.pours[0].batches))
    times = [system(id_).working_time.time_s.value for id_ in mixed]
    assert len(mixed) == 2 and times == sorted(times, reverse=True)


def test_no_pour_without_a_void():
    assert pours_of([], []) == []
