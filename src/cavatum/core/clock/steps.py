"""Every step of one piece with its earliest and latest, from preparation to hand-over. Rules 6.1 and 6.2."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime, timedelta
from typing import Literal

from ..common.verdict import Verdict
from ..common.wording import Wording
from ..common.workshop import Workshop
from ..layers.pours import Pour
from ..piece.document import Piece
from ..practice.work import WorkStep, steps_for
from ..survey.preparation import PrepStep, coats_edges, lays_tape, underside_school
from ..survey.substrates import refuses
from .hours import next_slot
from .model import ClockStep
from .windows import SAND_S, Days, PourTimes

PREPARED_IN_S = 15 * 60.0  # own judgement: hands for one step of preparation
LOOK_BACK = timedelta(days=30)
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
    peaks: Sequence[datetime | None],
    workshop: Workshop,
) -> list[ClockStep]:
    """In the order of their earliest. Preparation is counted back from the first mix, each with its wait
    before the next.

    peaks  when the hottest layer of each pour is hottest; None where heat is not computed, and then nobody is
           sent to look
    """
    if not days.pours:
        return []
    found = _before(prep, days.pours[0].mix_at, workshop)
    so = so_of(piece, workshop)
    for index, (pour, times) in enumerate(zip(pours, days.pours, strict=False)):  # what waits has no times
        following = days.pours[index + 1] if index + 1 < len(days.pours) else None
        steps = [
            _step(row, pour, times, following, peaks[index], workshop)
            for row in _rows_of(piece, pours, index, so)
        ]
        found += [step for step in steps if step is not None]
        if index and not times.bonded:
            found.append(_sanded(pour, times, workshop))
    once = {(one.code, one.earliest): one for one in reversed(found)}  # one visit may serve two pours
    return _handed_over_last(sorted(once.values(), key=lambda one: one.earliest), workshop)


def _rows_of(piece: Piece, pours: Sequence[Pour], index: int, so: set[str]) -> list[WorkStep]:
    """The table's rows of one pour."""
    part: Literal["cast", "coat"] = "coat" if is_coated(pours[index]) else "cast"
    last = index + 1 == len(pours)
    ends_part = last or (part == "cast" and is_coated(pours[index + 1]))
    is_cut = not last and pours[index + 1].after_cut
    rows = steps_for(piece.kind_of_work, so | ({"cut flush"} if is_cut else set()), part)
    return [row for row in rows if _belongs(row, last=last, ends_part=ends_part, is_cut=is_cut)]


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


def prepared_from(prep: Sequence[PrepStep], now: datetime, workshop: Workshop) -> datetime:
    """The earliest mixing: every open step done in people's hours one after another, each with its wait; the
    room warms beside them.
    """
    cursor = beside = now
    for step in prep:
        if step.is_done:
            continue
        begin = now if step.code == "warm-room" else cursor
        slot = next_slot(workshop, begin, timedelta(seconds=PREPARED_IN_S)) or begin
        ready = slot + timedelta(seconds=PREPARED_IN_S + step.wait_from_s)
        if step.code == "warm-room":
            beside = ready
        else:
            cursor = ready
    return max(cursor, beside)


def steps_by_themselves(prep: Sequence[PrepStep], now: datetime, workshop: Workshop) -> list[ClockStep]:
    """Where nothing is poured (a way back that takes no resin): the open steps forward from now, each in
    people's hours and after the wait of the last.
    """
    found, cursor = [], now
    for step in (one for one in prep if not one.is_done and one.rule == "10"):
        slot = next_slot(workshop, cursor, timedelta(seconds=PREPARED_IN_S))
        found.append(
            ClockStep(
                code=step.code,
                kind="prepare",
                title=step.title,
                text=step.text,
                why=step.why,
                rule=step.rule,
                pour=None,
                earliest=cursor,
                latest=None,
                at=slot,
                hands_s=PREPARED_IN_S,
                tools="",
            )
        )
        cursor = (slot or cursor) + timedelta(seconds=PREPARED_IN_S + step.wait_from_s)
    return found


def late_verdicts(
    steps: Sequence[ClockStep], chosen: datetime | None, now: datetime, wording: Wording
) -> list[Verdict]:
    """A chosen start that leaves no time for what has to be done before it."""
    first = next(
        (one for one in steps if one.kind == "prepare" and one.latest is not None and one.latest < now), None
    )
    if chosen is None or chosen < now or first is None or first.latest is None:
        return []
    return [
        Verdict(
            weight="warning",
            stage="clock",
            code="prepare-late",
            rule="6.1",
            title="Start is too soon: preparation cannot be finished",
            text=f"{first.title}: it would have had to begin by {wording.moment(first.latest)} for a start "
            f"{wording.moment(chosen)}.",
            todo="Set a later start, or tick what is done already in Survey.",
            where="/first_pour_at",
        )
    ]


def _before(prep: Sequence[PrepStep], mix_at: datetime, workshop: Workshop) -> list[ClockStep]:
    """Backwards from mixing: each step's latest is the next one's latest less its own wait. Warming the room
    runs beside the others.
    """
    found, latest = [], mix_at
    for step in reversed([one for one in prep if not one.is_done]):
        own = (mix_at if step.code == "warm-room" else latest) - timedelta(
            seconds=step.wait_from_s + PREPARED_IN_S
        )
        at = _last_slot(workshop, own)
        found.append(
            ClockStep(
                code=step.code,
                kind="prepare",
                title=step.title,
                text=step.text,
                why=step.why,
                rule=step.rule,
                pour=None,
                earliest=at or own,
                latest=own,
                at=at,
                hands_s=PREPARED_IN_S,
                tools="",
            )
        )
        if step.code != "warm-room":
            latest = at or own
    return found


def _last_slot(workshop: Workshop, latest: datetime) -> datetime | None:
    """The latest moment at or before `latest`, to the quarter hour back, at which hands are there for a
    step.
    """
    quarter, needed = timedelta(minutes=15), timedelta(seconds=PREPARED_IN_S)
    moment = latest
    while moment > latest - LOOK_BACK:
        slot = next_slot(workshop, moment, needed, moment)
        if slot is not None:
            return slot
        moment -= quarter
    return None


def _step(
    row: WorkStep,
    pour: Pour,
    times: PourTimes,
    following: PourTimes | None,
    peak: datetime | None,
    workshop: Workshop,
) -> ClockStep | None:
    anchor = {
        "poured": times.poured_at,
        "gelled": times.gelled_at,
        "peak": peak,
        "bond opens": times.bond_from,
        "demould": times.demould_from,
        "cured": times.cured_at,
    }[row.anchor]
    if anchor is None:
        return None
    earliest = anchor + timedelta(seconds=row.from_s)
    latest = _latest(row, anchor, following)
    gelled = times.gelled_at
    if row.anchor == "poured" and gelled is not None:
        if earliest > gelled:
            return None  # it has set by then: nothing to do any more
        latest = None if latest is None else min(latest, max(gelled, earliest))
    if latest is not None and latest < earliest:
        latest = earliest
    at = next_slot(workshop, earliest, timedelta(seconds=row.hands_s), latest)
    return ClockStep(
        code=row.code,
        kind=row.kind,
        title=row.title,
        text=row.text,
        why=row.why,
        rule=row.rule,
        pour=pour.number,
        earliest=earliest,
        latest=latest,
        at=at,
        hands_s=row.hands_s,
        tools=row.tools,
        with_cure=row.anchor != "poured",
    )


def _sanded(pour: Pour, times: PourTimes, workshop: Workshop) -> ClockStep:
    """What is done to the layer below before a pour that does not bond to it fresh."""
    grit = f"{pour.grit} grit" if pour.grit else "120 to 320 grit"
    begin = times.mix_at - timedelta(seconds=SAND_S)
    return ClockStep(
        code=SANDING,
        kind="form",
        title=f"Sand, dust off{', wipe' if pour.is_wiped else ''}",
        text=f"{grit} all over, until no shine is left; careful at the edges. Dust off"
        + (", wipe with solvent, let it flash off." if pour.is_wiped else "."),
        why="The layer below bonds no more by itself.",
        rule="8.3",
        pour=pour.number,
        earliest=begin,
        latest=begin,
        at=next_slot(workshop, begin, timedelta(seconds=SAND_S), begin),
        hands_s=SAND_S,
        tools="paper, solvent" if pour.is_wiped else "paper",
    )


def _latest(row: WorkStep, anchor: datetime, following: PourTimes | None) -> datetime | None:
    """Until when a step waits: its own span, or what comes after it."""
    if following is not None and row.code == "cut-flush":
        return following.cut_at
    if row.to_s is not None:
        return anchor + timedelta(seconds=row.to_s)
    return following.mix_at if following and row.anchor == "bond opens" else None
