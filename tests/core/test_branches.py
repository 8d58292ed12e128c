"""The branch at the inspection of a last coat: both ways in the script from the start, the one taken
followed, the
other as if it were not there. Rule 6.3.
"""

import pytest

from cavatum.core.learn.record import run_record
from cavatum.core.plan import make_plan
from cavatum.core.pour.branches import as_taken, plan_as_taken, with_branches, with_one_more
from cavatum.core.pour.script import compile_script
from cavatum.core.pour.state import fold
from cavatum.core.pour.view import look
from tests.samples import NOW, SHEETS, box_piece, box_void, workshop
from tests.scenes.runs import carried_out, kept

TOP = {
    "id": "top",
    "name": "Top",
    "grain": "not porous",
    "surface": {"kind": "board", "length_m": "600 mm", "width_m": "400 mm", "thickness_m": "18 mm"},
    "lays": [{"id": "seal", "role": "seal", "film_m": "0.3 mm"}, {"id": "flood", "film_m": "1.2 mm"}],
}


def made(**changes):
    shop = workshop()
    document = {
        "voids": [],
        "coats": [TOP],
        "system_id": "coating-epoxy",
        "kind_of_work": "flood coat",
        **changes,
    }
    piece = box_piece(**document)
    plan = make_plan(piece, SHEETS, shop, NOW, chances=False)
    both, script = with_branches(
        piece,
        plan,
        lambda one: make_plan(one, SHEETS, shop, NOW, chances=False),
        lambda one, found: compile_script(1, one, found, shop),
    )
    return piece, plan, both, script


def inspected(script, result, step="p2/inspect", found=()):
    """Everything done up to the inspection of the second coat, which ends so."""
    main = script.model_copy(update={"steps": [one for one in script.steps if one.branch is None]})
    said = [one for one in carried_out(main) if one.event.kind != "end"]
    said = [one for one in said if getattr(one.event, "step", "") not in (step, "p2/hand-over")]
    at = max((one.at for one in said), default=NOW)
    event = {"kind": "test", "step": step, "result": result, "found": list(found)}
    last = kept(len(said) + 1, 0, event, id_=9000).model_copy(update={"at": at})
    return [*said, last], at


def test_both_ways_are_in_the_script_and_only_the_one_taken_is_there():
    piece, plan, both, script = made()
    again = [one for one in script.steps if one.branch == "p2/inspect"]
    assert {"p3/sand", "p3/b1/weigh", "p3/b1/pour", "p3/inspect", "p3/hand-over"} <= {one.id for one in again}
    assert [one.branch for one in both.pours] == ["", "", "p2/inspect", "p3/inspect"]
    assert both.pours[2].need.value == pytest.approx(plan.pours[1].need.value, rel=1e-9)
    for result, here, gone in (
        ("passed", "p2/hand-over", "p3/b1/pour"),
        ("not passed", "p3/b1/pour", "p2/hand-over"),
    ):
        events, at = inspected(script, result)
        state = fold(script, events)
        when = {one.id: one.when for one in look(script, state, at).steps}
        assert when[gone] == "elsewhere" and when[here] != "elsewhere"
        assert not any(alarm.step == gone for alarm in look(script, state, at).alarms)
        assert (len(plan_as_taken(both, state).pours) == 3) == (result == "not passed")


def test_the_coat_made_again_lies_on_the_sanded_one_and_its_window_counts_from_it():
    _, _, _, script = made()
    steps = {one.id: one for one in script.steps}
    sand, ready, poured = steps["p3/sand"], steps["p3/ready"], steps["p2/b1/pour"]
    assert sand.anchor == ready.anchor == poured.id and sand.from_s < ready.from_s
    assert sand.from_s > 12 * 3600  # not before it can be sanded
    assert "grit" in sand.text


def test_the_piece_says_what_the_run_decided_and_takes_it_back_again():
    piece, _, _, script = made()
    events, _ = inspected(script, "not passed", found=["dimples"])
    state = fold(script, events)
    changed = as_taken(piece, script, state)
    lays = changed.coats[0].lays
    assert [one.again for one in lays] == [False, False, True] and lays[-1].join == "sanded"
    assert as_taken(changed, script, state) is changed
    undo = kept(len(events) + 1, 0, {"kind": "undo", "event_id": str(events[-1].event_id)}, id_=9001)
    back = as_taken(changed, script, fold(script, [*events, undo]))
    assert len(back.coats[0].lays) == 2
    plan = make_plan(changed, SHEETS, workshop(), NOW, chances=False)
    assert len(plan.pours) == 3 and plan.totals.ready_at > made()[1].totals.ready_at


def test_the_record_says_which_way_it_went_and_what_was_seen():
    _, _, both, script = made()
    events, _ = inspected(script, "not passed", found=["dimples", "dust"])
    record = run_record(1, 1, script, both, events, [], NOW, 22.0)
    test = next(one for one in record.tests if one.step == "p2/inspect")
    assert test.branch == "it was the seal: the coat was made again" and test.found == ["dimples", "dust"]
    assert [one.pour for one in record.pours] == [1, 2, 3]
    events, _ = inspected(script, "passed")
    record = run_record(1, 1, script, both, events, [], NOW, 22.0)
    assert [one.pour for one in record.pours] == [1, 2]
    assert next(one for one in record.tests if one.step == "p2/inspect").branch == "it was the flood"


def test_a_coat_is_made_again_at_most_twice_and_castings_have_no_branch():
    _, _, both, script = made()
    assert max(one.number for one in both.pours) == 4
    assert {one.branch for one in script.steps} == {None, "p2/inspect", "p3/inspect"}
    assert not next(one for one in script.steps if one.id == "p4/inspect").decides
    cast = made(voids=[box_void("100 mm", "80 mm", "20 mm")], coats=[], system_id="craft-casting-epoxy")
    assert cast[2] is cast[1] and not any(one.decides for one in cast[3].steps)


def test_one_more_replaces_what_was_added_before():
    piece = made()[0]
    twice = with_one_more(with_one_more(piece, ["top"]), ["top"], 2)
    assert [one.id for one in twice.coats[0].lays] == ["seal", "flood", "flood-again-1", "flood-again-2"]
