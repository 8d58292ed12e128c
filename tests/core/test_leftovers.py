"""A leftover fits only what it fits: whole hollows, each void by itself."""

import pytest

from cavatum.core.mix.leftover import Waiting, offers
from cavatum.core.plan import make_plan
from cavatum.services.planning import needs_of
from cavatum.services.reserving import _hollows
from tests.samples import NOW, SHEETS, box_piece, box_void, workshop


def waiting(voids):
    piece = box_piece(system_id="craft-casting-epoxy", voids=voids)
    pour = make_plan(piece, SHEETS, workshop(), NOW, in_full=False).pours[0]
    found = []
    for need in needs_of(pour):
        for colour in need["colours"]:
            found += [
                Waiting(
                    piece_id=1,
                    piece="Other",
                    void=void,
                    pour=1,
                    system_id=need["system_id"],
                    colour=colour["colour"],
                    need_m3=colour["need_m3"] * share,
                    count=count,
                )
                for void, share, count in _hollows(need)
            ]
    return found


def large_and_small(**changes):
    large = box_void("397 mm", "200 mm", "10 mm", id="large", portions=[{"id": "p1", **changes}])
    small = box_void("30 mm", "20 mm", "10 mm", id="small", portions=[{"id": "p2", **changes}])
    return waiting([large, small])


@pytest.mark.parametrize(
    ("volume_ml", "fills"), [(430, {"small"}), (5, set()), (840, {"large", "small"}), (20, {"small"})]
)
def test_430_ml_is_no_fill_for_794_and_6(volume_ml, fills):
    found = offers(volume_ml * 1e-6, "craft-casting-epoxy", "", large_and_small())
    assert {one.waiting.void for one in found} == fills
    assert all(one.takes_m3 <= volume_ml * 1e-6 * 1.000001 for one in found)


def test_equal_hollows_are_filled_one_by_one():
    six = waiting([box_void("60 mm", "40 mm", "10 mm", count=6)])
    whole = six[0].need_m3
    found = offers(whole * 0.51, "craft-casting-epoxy", "", six)
    assert [one.fills for one in found] == [3]


def test_two_colours_of_one_mix_are_only_filled_whole():
    two = [
        box_void("397 mm", "200 mm", "10 mm", id="large", portions=[{"id": "p1", "colour": "moss"}]),
        box_void("30 mm", "20 mm", "10 mm", id="small", portions=[{"id": "p2", "colour": "amber"}]),
    ]
    for one in waiting(two):
        assert offers(one.need_m3 * 0.9, one.system_id, one.colour, [one]) == []
        assert offers(one.need_m3 * 1.01, one.system_id, one.colour, [one])[0].whole
