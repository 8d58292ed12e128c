"""Random workshops and pieces of every kind, and everything that a plan's clock may not do: what is wrong
with one is
listed in words.
"""

import random
from datetime import timedelta
from typing import get_args

from cavatum.core.clock.hours import is_attended
from cavatum.core.piece.document import Piece
from cavatum.core.plan import make_plan
from cavatum.core.pour.script import compile_script
from cavatum.core.pour.state import fold, window_of
from cavatum.core.practice.work import COATS
from tests.samples import NOW, SHEETS, box_piece, box_void, workshop
from tests.scenes.runs import kept
from tests.scenes.starts import ZONES, _day

KINDS = tuple(
    one for one in get_args(Piece.model_fields["kind_of_work"].annotation) if one != "oil or varnish"
)

# What comes before what, wherever both are there: read aloud by somebody who does it. Common practice, no
# source.
BEFORE = (
    ("round-1", "round-2"),
    ("round-2", "round-3"),
    ("look-1", "look-2"),
    ("look-2", "look-3"),
    ("round-3", "cover"),
    ("hands-off", "peel"),
    ("hands-off", "nail"),
    ("lid", "open-chamber"),
    ("lid", "release"),
    ("open-chamber", "stick"),
    ("release", "nail"),
    ("stick", "sand"),
    ("nail", "square"),
    ("nail", "turn"),
    ("harden", "cut-next"),
    ("spin", "spin-stop"),
    ("spin-stop", "lip"),
    ("top-up", "hands-off"),
    ("harden", "cut-flush"),
    ("touch", "light-use"),
    ("light-use", "hand-over"),
    ("inspect", "hand-over"),
    ("nail", "hand-over"),
)
CLOSED = {"look-1", "look-2", "look-3", "round-1", "round-2", "round-3", "cover", "touch", "heat-visit"}


def random_case(seed):
    """(piece, workshop): any kind, any sheet, one to three voids or coats, a start or none."""
    draw = random.Random(seed)
    shop = workshop(
        zone=draw.choice(ZONES),
        week=[_day(draw) for _ in range(7)],
        recoat=draw.choice(["bond in the window", "cure and sand"]),
        defoam=draw.choice(["flame", "heat gun", "alcohol mist", "nothing"]),
        peel_tape=draw.choice(["while gummy", "after cure"]),
        flame_rounds=draw.choice(["three", "every 15 min"]),
        room_c={"value": draw.uniform(17, 27), "as_typed": "", "origin": "measured"},
    )
    kind = KINDS[seed % len(KINDS)]
    coated = kind in (*COATS, "rotator")
    sheet = draw.choice(
        ["coating-epoxy", "thin-sealing-epoxy"]
        if coated
        else ["slow-casting-epoxy", "casting-epoxy-25", "craft-casting-epoxy", "fast-casting-polyurethane"]
    )
    voids = [] if coated else [_void(draw, number) for number in range(draw.randint(1, 2))]
    coats = [_coat(draw)] if coated or draw.random() < 0.15 else []
    start = NOW + timedelta(minutes=draw.randint(30, 7 * 1440))
    survey = draw.choice(
        [None, {"material": "ash", "finish": "bare", "found": ["skin grease"]}, {"material": "board"}]
    )
    return box_piece(
        kind_of_work=kind,
        system_id=sheet,
        voids=voids,
        coats=coats,
        survey=survey,
        first_pour_at=start.isoformat() if draw.random() < 0.7 else None,
    ), shop


def _void(draw, number):
    size = [f"{draw.randint(40, 500)} mm", f"{draw.randint(30, 250)} mm", f"{draw.randint(5, 90)} mm"]
    over = {"overfill_m": f"{draw.randint(1, 4)} mm"} if draw.random() < 0.2 else {}
    return box_void(
        *size,
        id=f"v{number}",
        name=f"Void {number}",
        turn=draw.choice([1, 1, 1, 2]),
        wall=draw.choice(["board", "silicone", "wood", "plastic"]),
        portions=[{"id": f"p{number}"}],
        **over,
    )


def _coat(draw):
    lays = [
        {"id": f"c{number}", "film_m": f"{draw.uniform(0.2, 1.6):.2f} mm"}
        for number in range(draw.randint(1, 3))
    ]
    shape = {"kind": "board", "length_m": "300 mm", "width_m": "200 mm", "thickness_m": "18 mm"}
    return {"id": "top", "name": "Top", "surface": shape, "lays": lays}


def planned(seed):
    piece, shop = random_case(seed)
    return piece, shop, make_plan(piece, SHEETS, shop, NOW, in_full=False, chances=False)


def faults(seed):
    """Everything of this seed's clock that breaks a rule, in words; empty when all is well."""
    piece, shop, plan = planned(seed)
    if plan.clock is None:
        return []
    script = compile_script(1, piece, plan, shop)
    return [
        *_silent(plan, shop),
        *_out_of_span(plan, shop),
        *_out_of_order(plan),
        *_opened_earlier(script, random.Random(seed)),
    ]


def _silent(plan, shop):
    """Hands-on moments outside hours that no verdict names."""
    said = {one.code for one in plan.verdicts}
    found = []
    mixing = [one for one in plan.clock.pins if one.kind in ("pour", "coat")]
    if "pour-outside-hours" not in said:
        found += [
            f"mixing at {one.at} in silence" for one in mixing if not is_attended(shop, one.at, one.until)
        ]
    alone = [one for one in plan.steps if one.hands_s > 0 and one.latest is not None and one.at is None]
    if alone and not said & {"step-outside-hours", "prepare-late", "pour-outside-hours"}:
        found += [f"{one.code} at {one.earliest} in silence" for one in alone]
    for one in plan.steps:
        if one.at is not None and one.hands_s > 0:
            end = one.at + timedelta(seconds=one.hands_s)
            if not is_attended(shop, one.at, end):
                found.append(f"{one.code} planned outside hours at {one.at}")
    return found


def _out_of_span(plan, shop):
    """Steps before their anchor or after their latest."""
    found = []
    for one in plan.steps:
        if one.at is not None and one.kind != "prepare" and one.at < one.earliest:
            found.append(f"{one.code} before its anchor")
        if one.at is not None and one.latest is not None and one.at > one.latest:
            found.append(f"{one.code} after its latest")
    poured = {
        window.pour: window.mix_at + timedelta(seconds=window.mix_s + window.pour_s)
        for window in plan.windows
    }
    found += [
        f"{one.code} before its pour"
        for one in plan.steps
        if one.pour in poured
        and one.code != "sand"
        and one.earliest < poured[one.pour] - timedelta(seconds=1)
    ]
    return found


def _out_of_order(plan):
    found = []
    for pour in {one.pour for one in plan.steps}:
        own = [
            one.code
            for one in plan.steps
            if one.pour == pour and one.code != "sand" or (one.code == "sand" and one.pour == (pour or 0) + 1)
        ]
        found += [
            f"pour {pour}: {one} after {other}"
            for one, other in BEFORE
            if one in own and other in own and own.index(one) > own.index(other)
        ]
        if "lid" in own and CLOSED & set(own):
            found.append(f"pour {pour}: {CLOSED & set(own)} into a closed chamber")
    return found


def _opened_earlier(script, draw):
    """After a test that was not passed nothing behind it may open earlier than before."""
    steps = {one.id: one for one in script.steps}
    tests = [one for one in script.steps if one.kind == "test" and one.anchor in steps and not one.decides]
    if not tests:
        return []
    test = draw.choice(tests)
    anchor = steps[test.anchor]
    begin = max(one.planned_at for one in script.steps if one.id == anchor.id)
    events, number, found = [_kept(1, begin, {"kind": "done", "step": anchor.id})], 1, []
    before = fold(script, events)
    at = begin
    for _ in range(draw.randint(1, 3)):
        at += timedelta(seconds=max(test.from_s, 3600) * draw.uniform(0.4, 1.3))
        number += 1
        events.append(_kept(number, at, {"kind": "test", "step": test.id, "result": "not passed"}))
        after = fold(script, events)
        found += [
            f"{one.id} opened earlier after {test.id} failed"
            for one in script.steps
            if one.anchor == test.anchor
            and one.id != test.id
            and window_of(one, after)[0] < window_of(one, before)[0]
        ]
        again = after.marks[test.id].again_at
        if again is None or again <= at:
            found.append(f"{test.id} is due again at once")
        before = after
    return found


def _kept(number, at, event):
    made = kept(number, 0, event)
    return made.model_copy(update={"at": at, "received_at": at})
