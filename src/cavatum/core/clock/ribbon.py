"""The clock as plain data for drawing, and what the windows have to say. Rules 6.1 and 6.2."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date, datetime, timedelta
from zoneinfo import ZoneInfo

from ..common.verdict import Verdict
from ..common.wording import MONTHS, Wording
from ..common.workshop import Workshop
from ..layers.pours import Pour
from .hours import away_spans
from .model import Clock, Pin, Row, Segment
from .moved import sheet_beside
from .windows import Days, PourTimes, Start

MARGIN = timedelta(hours=4)
COMPUTED = "computed for this shape and room"


def draw(
    pours: Sequence[Pour], days: Days, workshop: Workshop, fixed: Mapping[int, datetime]
) -> Clock | None:
    """Rows of states and pins of hands-on moments. None while there is nothing to pour. fixed: begins of
    later
    mixes that a person fixed, by index.
    """
    if not days.pours:
        return None
    begin, end = days.pours[0].mix_at - MARGIN, _end_of(days) + 3 * MARGIN
    rows = [
        Row(
            label=pour.layer_called,
            segments=_segments(
                pour,
                times,
                days.pours[index + 1] if index + 1 < len(days.pours) else None,
                days,
                end,
            ),
        )
        for index, (pour, times) in enumerate(zip(pours, days.pours, strict=False))
    ]
    return Clock(
        from_at=begin,
        to_at=end,
        zone=workshop.zone,
        away=away_spans(workshop, begin, end),
        rows=rows,
        pins=_pins(pours, days, Wording(workshop), fixed),
    )


def _end_of(days: Days) -> datetime:
    """When the piece is out of its form; where that never comes, the last moment that is known."""
    known = [days.demould_at or days.out_from]
    known += [one for times in days.pours for one in (times.poured_at, times.gelled_at, times.bond_from)]
    last = days.pours[-1]
    known += [last.demould_from]
    return max(one for one in known if one is not None)


def _segments(
    pour: Pour, times: PourTimes, following: PourTimes | None, days: Days, end: datetime
) -> list[Segment]:
    """States in order. A window is drawn to its end, or to the pour that uses it; what never comes leaves the
    state before it to the end of the axis.
    """
    gelled, opens = times.gelled_at or end, times.bond_from or end
    chain = [
        ("mix", "mix and pour", times.mix_at, times.poured_at),
        ("workable", "workable", times.poured_at, min(times.workable_to, gelled)),
        ("liquid", "liquid", min(times.workable_to, gelled), gelled),
        ("setting", "setting", gelled, opens),
    ]
    if following is None:
        hard = times.demould_from or end
        out = max(days.demould_at or hard, hard) + 2 * MARGIN
        chain += [
            ("closed", "hardening", max(opens, gelled), hard),
            ("demould", _end_word(pour), hard, min(out, end)),
        ]
    else:
        closes = times.bond_to or end
        chain.append(("bond", "pour on", opens, closes))
        if not following.bonded:
            chain.append(("closed", "sand first", closes, following.mix_at))
    return [
        Segment(state=state, label=label, from_at=begin, to_at=till)
        for state, label, begin, till in chain
        if till > begin
    ]


def _end_word(pour: Pour) -> str:
    return "may be handled" if pour.coat else "out of the form"


def _pins(pours: Sequence[Pour], days: Days, wording: Wording, fixed: Mapping[int, datetime]) -> list[Pin]:
    pins = []
    for pour, times in zip(pours, days.pours, strict=False):
        if not times.bonded:
            pins.append(
                Pin(
                    at=times.mix_at - timedelta(minutes=30),
                    until=times.mix_at,
                    label="sand, dust off",
                    kind="sand",
                    why=f"half an hour (common practice) before pour {pour.number}, as "
                    f"{_why_sanded(days, pour.number, wording, fixed)}",
                )
            )
        pins.append(
            Pin(
                at=times.mix_at,
                until=times.poured_at,
                label=f"mix, {pour.called}",
                kind="pour",
                why=_why_pour(pours, days, pour.number, wording, fixed),
            )
        )
    if days.demould_at and days.out_from:
        last = days.pours[-1]
        wait = (days.out_from - last.poured_at).total_seconds()
        origin = (
            COMPUTED
            if last.computed
            else _origins({fill.system.demould_s.origin for fill in pours[-1].fills})
        )
        pins.append(
            Pin(
                at=days.demould_at,
                until=None,
                label=_end_word(pours[-1]),
                kind="demould",
                why=f"{wording.duration(wait)} after pour {pours[-1].number} ({origin}), the first time you "
                "are here",
            )
        )
    return pins


def _why_pour(
    pours: Sequence[Pour], days: Days, number: int, wording: Wording, fixed: Mapping[int, datetime]
) -> str:
    if number == 1:
        return "the start"
    below = pours[number - 2]
    times = days.pours[number - 2]
    origin = (
        COMPUTED
        if times.computed
        else _origins(
            {fill.system.bond_from_s.origin for fill in below.fills}
            | {fill.system.bond_to_s.origin for fill in below.fills}
        )
    )
    if not days.pours[number - 1].bonded:
        return f"after demould time and sanding, as {_why_sanded(days, number, wording, fixed)}"
    opens = wording.duration((times.bond_from - times.poured_at).total_seconds()) if times.bond_from else ""
    closes = wording.duration((times.bond_to - times.poured_at).total_seconds()) if times.bond_to else ""
    span = f"{opens} to {closes}" if closes else f"from {opens}"
    beside = sheet_beside(below, times.window, wording) if times.computed and times.window else ""
    origin = f"{origin}; {beside}" if beside else origin
    return (
        f"pour {number - 1} takes it {span} after it was poured ({origin}), {_window_words(times, wording)}; "
        "this is the first time you are here"
    )


def _window_words(times: PourTimes, wording: Wording) -> str:
    """From when to when a pour takes the next."""
    if times.bond_from is None:
        return "never in this room"
    opens = wording.moment(times.bond_from)
    if times.bond_to is not None and times.bond_to < times.bond_from:
        return "at no one moment"
    return f"{opens} to {wording.moment(times.bond_to)}" if times.bond_to else f"from {opens}"


def _why_sanded(days: Days, number: int, wording: Wording, fixed: Mapping[int, datetime]) -> str:
    if number - 1 not in days.missed:
        return "curing and sanding is the school"
    below, own = days.pours[number - 2], days.pours[number - 1]
    return (
        f"of the bond window of pour {number - 1}, {_in_the_way(below, own, fixed.get(number - 1), wording)}"
    )


def _origins(origins: set[str]) -> str:
    return "typical, not confirmed" if "typical" in origins else "data sheet"


def window_verdicts(
    days: Days,
    better: Start | None,
    chosen: datetime | None,
    now: datetime,
    wording: Wording,
    fixed: Mapping[int, datetime],
) -> list[Verdict]:
    """What the windows say. fixed: begins of later mixes that a person fixed, by index."""
    found = []
    for index in days.missed:
        below, own = days.pours[index - 1], days.pours[index]
        todo = (
            "Let it cure, sand all over (120 to 320 grit), dust off and wipe; the clock is laid out that way."
        )
        if better is not None and better.missed == better.alone == 0 and better.at != chosen:
            todo = (
                f"Start {wording.moment(better.at)} instead and every window meets your hours. Or: "
                + todo[0].lower()
                + todo[1:]
            )
        found.append(
            Verdict(
                weight="warning",
                stage="clock",
                code="window-missed",
                rule="6.2",
                title=f"Layer {index + 1} misses the bond window of layer {index}",
                text=f"Layer {index} takes a bond {_window_words(below, wording)}; "
                f"{_in_the_way(below, own, fixed.get(index), wording)}.",
                todo=todo,
                where="/first_pour_at",
            )
        )
    if days.waits is not None:
        found.append(_waits(days.waits))
    for index in days.unkept:
        below = days.pours[index - 1]
        found.append(
            Verdict(
                weight="warning",
                stage="clock",
                code="wish-too-early",
                rule="6.2",
                title=f"Pour {index + 1} is fixed too early",
                text=f"The layer below takes it {_window_words(below, wording)}; what was fixed is before "
                "that.",
                todo="Move it into the window, or leave it free: it stands at the first moment you are here.",
                where="/later_mixes",
            )
        )
    if chosen is None:
        found.append(
            Verdict(
                weight="note",
                stage="clock",
                code="start-proposed",
                rule="6.2",
                title="Start not set yet",
                text="Laid out as if you mixed "
                f"{wording.moment(days.pours[0].mix_at)}{_why_this_start(better)}.",
                todo="Set a start to fix these days.",
                where="/first_pour_at",
            )
        )
    elif chosen < now and (days.cured_at is None or now < days.cured_at):
        found.append(
            Verdict(
                weight="note",
                stage="clock",
                code="start-passed",
                title="The start has passed",
                text=f"The first pour was set for {wording.moment(chosen)}.",
                todo="If you have poured, go by the windows; if not, set a new start.",
                where="/first_pour_at",
            )
        )
    return found


def _in_the_way(below: PourTimes, own: PourTimes, fixed: datetime | None, wording: Wording) -> str:
    """Why a window is not met, whatever it is: the window itself, a fixed mix, or that nobody is there."""
    if below.bond_from is None:
        return "it never opens in this room"
    if below.bond_to is not None and below.bond_to < below.bond_from:
        return "one of its resins closes before the other opens"
    if fixed is not None and own.mix_at == fixed:
        return f"its mix is fixed for {wording.moment(fixed)}"
    hands_s = (own.poured_at - own.mix_at).total_seconds()
    if below.bond_to is not None and hands_s > (below.bond_to - below.bond_from).total_seconds():
        return f"mixing and pouring take {wording.duration(hands_s)}, longer than it stays open"
    return f"no free span of yours in it holds the {wording.duration(hands_s)} that mixing and pouring take"


def _waits(index: int) -> Verdict:
    return Verdict(
        weight="blocker",
        stage="clock",
        code="pour-waits",
        rule="6.2",
        title=f"Layer {index + 1} has no time: layer {index} never takes it",
        text=f"In this room layer {index} gets neither far enough to bond nor hard enough to be sanded. "
        f"Everything from layer {index + 1} on waits, and has no hour here.",
        todo="Warm the room (Layers says how far), or take a quicker system.",
        where="/first_pour_at",
    )


def _why_this_start(better: Start | None) -> str:
    if better is None:
        return ", as nobody is there long enough in the next days: look at the workshop's hours"
    if better.missed or better.alone:
        return ", the earliest start that misses least"
    return ", the earliest start at which everything meets your hours"


def due_verdicts(days: Days, due: date | None, workshop: Workshop, wording: Wording) -> list[Verdict]:
    """Full cure after the day it is due: said, with the day it would be ready."""
    ready = days.cured_at
    if due is None or ready is None or ready.astimezone(ZoneInfo(workshop.zone)).date() <= due:
        return []
    return [
        Verdict(
            weight="warning",
            stage="clock",
            code="after-due",
            rule="6.2",
            title="Ready after it is due",
            text=f"Fully cured {wording.moment(ready)} by this plan, and due {due.day} "
            f"{MONTHS[due.month - 1]}.",
            where="/due",
            todo="Start earlier, take fewer layers or a quicker system, or agree on another day.",
        )
    ]
