"""Every step of one piece with its earliest and latest, from preparation to hand-over. Rules 6.1 and 6.2."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime, timedelta
from typing import Literal

from ..common.wording import Wording
from ..common.workshop import Workshop
from ..layers.pours import Pour
from ..piece.document import Piece
from ..practice.work import WorkStep, steps_for
from ..survey.preparation import PrepStep, coats_edges, lays_tape, underside_school
from ..survey.substrates import refuses
from .before import steps_before
from .hours import next_slot
from .model import ClockStep
from .moments import Moment, anchors_of, moment_of
from .windows import SAND_S, Days, PourTimes

LAST = "hand-over"
SANDING = "sand"


def schools_of(workshop: Workshop) -> set[str]:
    """What the table's rows are chosen by. Rounds every 15 minutes come on top of the first ones, and need a
    flame.
    """
    flames = workshop.defoam in ("flame", "heat gun")
    return {
        workshop.defoam,
        workshop.peel_tape,
        *(["every 15 min"] if flames and workshop.flame_rounds == "every 15 min" else []),
    }


def so_of(piece: Piece, workshop: Workshop) -> set[str]:
    """All that is so of a piece: the workshop's schools, and what is done at its coats' edges."""
    schools = schools_of(workshop)
    if refuses(piece, workshop.defoam):
        schools -= {workshop.defoam, "every 15 min"}
    return schools | {
        underside_school(piece),
        *(["tape laid"] if lays_tape(piece) else []),
        *(["edges coated"] if any(coats_edges(coat) for coat in piece.coats) else []),
    }


def clock_steps(
    piece: Piece,
    prep: Sequence[PrepStep],
    pours: Sequence[Pour],
    days: Days,
    workshop: Workshop,
) -> list[ClockStep]:
    """In the order of their earliest. Preparation is counted back from the first mix. Where heat is not
    computed nobody is sent to look at it.
    """
    if not days.pours:
        return []
    found = steps_before(prep, days.pours[0].mix_at, workshop)
    for index, (pour, times) in enumerate(zip(pours, days.pours, strict=False)):  # what waits has no times
        following = days.pours[index + 1] if index + 1 < len(days.pours) else None
        steps = [
            _step(row, pour, times, following, workshop) for row in rows_of(piece, pours, index, workshop)
        ]
        found += [step for step in steps if step is not None]
        if index and not times.bonded:
            found.append(_sanded(pour, times, workshop))
    once = {(one.code, one.earliest): one for one in reversed(found)}  # one visit may serve two pours
    in_order = sorted(
        reversed(once.values()), key=lambda one: one.earliest
    )  # at one moment as the table has it
    return _handed_over_last(in_order, workshop)


def rows_of(piece: Piece, pours: Sequence[Pour], index: int, workshop: Workshop) -> list[WorkStep]:
    """The table's rows of one pour."""
    so = so_of(piece, workshop)
    part: Literal["cast", "coat"] = "coat" if is_coated(pours[index]) else "cast"
    last = index + 1 == len(pours)
    ends_part = last or (part == "cast" and is_coated(pours[index + 1]))
    is_cut = not last and pours[index + 1].after_cut
    pressed = part == "cast" and goes_into_the_chamber(piece, pours[index])
    if is_cut:
        so = so | ({"cut next", "hardened"} if pours[index + 1].is_new_pocket else {"cut flush"})
    if piece.kind_of_work == "carved pockets":
        so = so | {"hardened"}
    rows = steps_for(piece.kind_of_work, so, part, pressed=pressed)
    return [row for row in rows if _belongs(row, last=last, ends_part=ends_part, is_cut=is_cut)]


def goes_into_the_chamber(piece: Piece, pour: Pour) -> bool:
    """It cures under pressure: its kind is cast so, or one of its sheets asks for it. A coat never does."""
    asks = any(fill.system.needs_pressure for fill in pour.fills)
    return not is_coated(pour) and (piece.kind_of_work == "pressure casting" or asks)


def is_coated(pour: Pour) -> bool:
    """All that is poured then is coats."""
    return all(fill.void.is_coat for fill in pour.fills)


def _belongs(row: WorkStep, *, last: bool, ends_part: bool, is_cut: bool) -> bool:
    """Whether a row belongs to a pour: the last of all, or the last of what is cast before any coat. What
    is cut flush
    is tested by the nail then, not by the stick.
    """
    if row.which == "every":
        return True
    if row.code == "stick":
        return not last and not is_cut
    if row.which == "last":
        return ends_part if row.part == "cast" else last
    return not ends_part if row.part == "cast" else not last


def _handed_over_last(steps: list[ClockStep], workshop: Workshop) -> list[ClockStep]:
    """A piece is handed over once nothing is left to do on it, however soon it is fully cured."""
    last = max((one.earliest for one in steps if one.code != LAST), default=None)
    if last is None:
        return steps
    moved = []
    for one in steps:
        if one.code == LAST and one.earliest < last:
            latest = None if one.latest is None else max(one.latest, last)
            at = next_slot(workshop, last, timedelta(seconds=one.hands_s), latest)
            one = one.model_copy(update={"earliest": last, "latest": latest, "at": at})
        moved.append(one)
    return sorted(moved, key=lambda one: (one.earliest, one.code == LAST))


def _step(
    row: WorkStep, pour: Pour, times: PourTimes, following: PourTimes | None, workshop: Workshop
) -> ClockStep | None:
    moment = moment_of(row, anchors_of(times.window)) if times.window else None
    if moment is None:
        return None
    earliest = times.poured_at + timedelta(seconds=moment.from_s)
    latest = _latest(moment, times, following)
    if latest is not None and latest < earliest:
        latest = earliest
    at = next_slot(workshop, earliest, timedelta(seconds=row.hands_s), latest)
    return ClockStep(
        code=row.code,
        kind=row.kind,
        title=row.title,
        text=row.text,
        why=f"{row.why}{_worth_a_test(row, pour, times, workshop)}",
        rule=row.rule,
        pour=pour.number,
        earliest=earliest,
        latest=latest,
        at=at,
        hands_s=row.hands_s,
        tools=row.tools,
        with_cure=row.anchor != "poured",
        instead=row.instead,
    )


def _worth_a_test(row: WorkStep, pour: Pour, times: PourTimes, workshop: Workshop) -> str:
    """From when a test may pass, where the sheet gives a range: the clock counts on its late end."""
    name = {"bond opens": "bond_from_s", "demould": "demould_s"}.get(row.anchor)
    counted = {"bond opens": times.bond_from, "demould": times.demould_from}.get(row.anchor)
    if row.kind != "test" or name is None or counted is None:
        return ""
    ranges = [getattr(fill.system, name) for fill in pour.fills]
    share = max(one.early / one.late for one in ranges)
    if share >= 1:
        return ""
    wording, waited = Wording(workshop), counted - times.poured_at
    early, late = max(one.early for one in ranges), max(one.late for one in ranges)
    return (
        f" The sheet says {wording.duration(early)} to {wording.duration(late)}: from "
        f"{wording.moment(times.poured_at + share * waited)} on it may pass."
    )


def _sanded(pour: Pour, times: PourTimes, workshop: Workshop) -> ClockStep:
    """What is done before a pour that does not bond fresh: to the layer below, or to a pocket cut into
    what is
    hard.
    """
    grit = f"{pour.grit} grit" if pour.grit else "120 to 320 grit"
    title, text, why, tools = (
        f"Sand, dust off{', wipe' if pour.is_wiped else ''}",
        f"{grit} all over, until no shine is left; careful at the edges. Dust off"
        + (", wipe with solvent, let it flash off." if pour.is_wiped else "."),
        "The layer below bonds no more by itself.",
        "paper, solvent" if pour.is_wiped else "paper",
    )
    if pour.is_new_pocket:
        title, text, why, tools = (
            "Clean out the new pocket",
            "Dust out with air and a brush, wipe; pre-coat what drinks. No shine is left where it is cured.",
            "Dust in a pocket shows for good, and lets the next colour go.",
            "air, brush",
        )
    begin = times.mix_at - timedelta(seconds=SAND_S)
    return ClockStep(
        code=SANDING,
        kind="form",
        title=title,
        text=text,
        why=why,
        rule="8.3",
        pour=pour.number,
        earliest=begin,
        latest=begin,
        at=next_slot(workshop, begin, timedelta(seconds=SAND_S), begin),
        hands_s=SAND_S,
        tools=tools,
    )


def _latest(moment: Moment, times: PourTimes, following: PourTimes | None) -> datetime | None:
    """Until when a step waits: its own span, or what comes after it."""
    if following is not None and moment.row.code in ("cut-flush", "cut-next"):
        return following.cut_at
    if moment.to_s is not None:
        return times.poured_at + timedelta(seconds=moment.to_s)
    return following.mix_at if following and moment.row.anchor == "bond opens" else None
