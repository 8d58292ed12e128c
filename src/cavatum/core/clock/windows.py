"""One piece's pours laid into people's hours by the sheet's times: bond windows, demould, full cure. Rules
6.1, 6.2.

Each later pour goes into the bond window of the one below; where nobody is there in the window, the layer is
left
to cure and is sanded before the next. All sheet times count from pouring.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime, timedelta

from ..common.workshop import Workshop
from ..layers.course import Window
from ..piece.lays import Join
from ..resin.system import System, bond_window_s
from .hours import next_slot
from .model import PourWindow

START_STEP = timedelta(minutes=30)
CUT_S = 90 * 60.0  # own judgement: out of the form, cut flush, and sanded down to the ladder's coarse end
SAND_S = 30 * 60.0  # common practice, no source: half an hour to abrade and clean one piece


@dataclass(frozen=True, kw_only=True)
class PourTask:
    """What the clock needs of one pour: its systems, and how long hands are busy before and while it runs.

    With several systems in one pour the slowest opens a window and the quickest closes it. window: computed
    for this shape and room; None: the sheet's times hold. ends: it is the last one of some void or coat.
    join: how it
    holds to what is below; after_cut: all before it has to be out of its form and cut flush.
    """

    systems: tuple[System, ...]
    mix_s: float
    pour_s: float
    window: Window | None = None
    ends: bool = True
    join: Join = "as the workshop does"
    after_cut: bool = False

    def is_sanded(self, workshop: Workshop) -> bool:
        """It goes on a layer that has cured and was sanded, by choice."""
        if self.join == "as the workshop does":
            return workshop.recoat == "cure and sand"
        return self.join == "sanded"

    @property
    def hands_on(self) -> timedelta:
        return timedelta(seconds=self.mix_s + self.pour_s)


@dataclass(frozen=True, kw_only=True)
class PourTimes:
    """Absolute times (UTC) of one pour. `bonded` False: it goes on a cured, sanded layer.

    None: not in this room, by the computed cure; bond_to None: the window stays open. cut_at: when what is
    below it is
    cut flush and sanded, where it has to be. window: what all of these rest on.
    """

    mix_at: datetime
    pour_at: datetime
    poured_at: datetime
    workable_to: datetime
    gelled_at: datetime | None
    bond_from: datetime | None
    bond_to: datetime | None
    demould_from: datetime | None
    cured_at: datetime | None
    bonded: bool
    computed: bool = False
    touch_at: datetime | None = None
    light_at: datetime | None = None
    window: Window | None = None
    cut_at: datetime | None = None


@dataclass(frozen=True, kw_only=True)
class Days:
    """All pours of a piece that can be made. missed: indices of pours that could not be in the bond window of
    the one below; none where sanding is the school.

    out_from, cured_at  of the whole piece; None: not in this room, or not before what waits is poured
    waits  index of the first pour that cannot follow, as the one below never lets it in this room
    """

    pours: list[PourTimes]
    out_from: datetime | None
    demould_at: datetime | None
    cured_at: datetime | None
    missed: list[int]
    unkept: list[int] = field(default_factory=list)
    waits: int | None = None

    @classmethod
    def none(cls) -> Days:
        return cls(pours=[], out_from=None, demould_at=None, cured_at=None, missed=[])


def _times(
    task: PourTask,
    mix_at: datetime,
    bonded: bool,
    window: Window | None,
    cut_at: datetime | None = None,
) -> PourTimes:
    pour_at = mix_at + timedelta(seconds=task.mix_s)
    poured_at = pour_at + timedelta(seconds=task.pour_s)

    def after(seconds: float | None) -> datetime | None:
        return None if seconds is None else poured_at + timedelta(seconds=seconds)

    found = told_by_sheets(window or window_by_sheets(task.systems), task.systems)
    return PourTimes(
        mix_at=mix_at,
        pour_at=pour_at,
        poured_at=poured_at,
        workable_to=poured_at + timedelta(seconds=min(one.working_time.time_s.early for one in task.systems)),
        gelled_at=after(found.gelled_s),
        bond_from=after(found.opens_s),
        bond_to=after(found.closes_s),
        demould_from=after(found.demould_s),
        cured_at=after(found.cured_s),
        bonded=bonded,
        computed=window is not None,
        touch_at=after(found.touch_s),
        light_at=after(found.light_s),
        window=found,
        cut_at=cut_at,
    )


def window_by_sheets(systems: Sequence[System]) -> Window:
    """The sheet's own times, where the heat of a pour is not computed. Of a range the late end is counted on,
    and where a window closes the early one.
    """
    return Window(
        gelled_s=max(one.tack_free_s.late for one in systems),
        opens_s=max(bond_window_s(one)[0] for one in systems),
        closes_s=min(bond_window_s(one)[1] for one in systems),
        demould_s=max(one.demould_s.late for one in systems),
        cured_s=max(one.full_cure_s.late for one in systems),
        touch_s=max((one.touch_dry_s or one.tack_free_s).late for one in systems),
        light_s=_light_s(systems),
    )


def window_told(task: PourTask) -> Window:
    """The window of a task as it is laid out."""
    return told_by_sheets(task.window or window_by_sheets(task.systems), task.systems)


def _light_s(systems: Sequence[System]) -> float | None:
    """The last of them; None where one sheet does not say."""
    said = [one.light_use_s.late for one in systems if one.light_use_s]
    return max(said) if len(said) == len(systems) else None


def told_by_sheets(window: Window, systems: Sequence[System]) -> Window:
    """A window with what the sheets say in so many words: time under pressure, before which nothing leaves
    its
    form, and time on the rotator.
    """
    pressed = [one.chamber_s.late for one in systems if one.chamber_s and one.needs_pressure]
    turned = [one.turning_s.late for one in systems if one.turning_s]
    chamber_s = max(pressed) if pressed else window.demould_s
    out_s = None if window.demould_s is None else max([window.demould_s, *pressed])
    return replace(
        window,
        demould_s=out_s,
        chamber_s=chamber_s,
        turned_s=max(turned) if turned else window.gelled_s,
    )


def window_of(number: int, times: PourTimes) -> PourWindow:
    """One pour's times as spans, for a schedule of all pieces and for advice on when to start."""

    def after(moment: datetime | None) -> float | None:
        return None if moment is None else (moment - times.poured_at).total_seconds()

    return PourWindow(
        pour=number,
        mix_s=(times.pour_at - times.mix_at).total_seconds(),
        pour_s=(times.poured_at - times.pour_at).total_seconds(),
        opens_s=after(times.bond_from),
        closes_s=after(times.bond_to),
        demould_s=after(times.demould_from),
        cured_s=after(times.cured_at),
        touch_s=after(times.touch_at),
        light_s=after(times.light_at),
        mix_at=times.mix_at,
        bonded=times.bonded,
        computed=times.computed,
    )


Live = Callable[[int, float], Window | None]


def lay_out(
    tasks: list[PourTask],
    workshop: Workshop,
    start: datetime,
    live: Live | None = None,
    wanted: Mapping[int, datetime] | None = None,
) -> Days:
    """Pours from `start` on (that of the first mix), each as early as its window and the hours allow, or when
    it is wanted.

    wanted  begins of mixing by index, fixed by a person; one that is in no window of the layer below goes on
            a cured and sanded layer, one that is too
            early for that too is not kept, and its index stands in `unkept`
    live  computes the window of pour i poured so many seconds after the first; else the tasks' own windows
          hold
    """
    pours: list[PourTimes] = []
    missed: list[int] = []
    unkept: list[int] = []
    waits: int | None = None
    if tasks:
        pours.append(_times(tasks[0], start, True, _window(tasks, 0, 0.0, live)))
    for index, task in enumerate(tasks[1:], start=1):
        placed = _next_mix(task, pours, workshop, (wanted or {}).get(index))
        if placed is None:
            waits = index
            break
        mix_at, bonded, is_kept, cut_at = placed
        if not bonded and not task.after_cut and not task.is_sanded(workshop):
            missed.append(index)
        if not is_kept:
            unkept.append(index)
        poured_s = (mix_at + task.hands_on - pours[0].poured_at).total_seconds()
        pours.append(_times(task, mix_at, bonded, _window(tasks, index, poured_s, live), cut_at))
    out_from, out_at, cured_at = (None, None, None)
    if waits is None:
        out_from, out_at, cured_at = _done(
            [one for one, by in zip(pours, tasks, strict=True) if by.ends], workshop
        )
    return Days(
        pours=pours,
        out_from=out_from,
        demould_at=out_at,
        cured_at=cured_at,
        missed=missed,
        unkept=unkept,
        waits=waits,
    )


def _window(tasks: Sequence[PourTask], index: int, poured_s: float, live: Live | None) -> Window | None:
    return live(index, poured_s) if live else tasks[index].window


def _done(
    ends: Sequence[PourTimes], workshop: Workshop
) -> tuple[datetime | None, datetime | None, datetime | None]:
    """From when the whole piece may leave its form, when somebody is there to take it out, and when it is
    cured: not before it is out.
    """
    out_from, cured_at = _last([one.demould_from for one in ends]), _last([one.cured_at for one in ends])
    out_at = next_slot(workshop, out_from, timedelta(minutes=30)) if out_from else None
    return out_from, out_at, _last([cured_at, out_at or cured_at])


def _last(moments: Sequence[datetime | None]) -> datetime | None:
    """The last of all; None where one of them never comes."""
    known = [one for one in moments if one is not None]
    return max(known) if known and len(known) == len(moments) else None


Placed = tuple[datetime, bool, bool, datetime | None]


def _next_mix(
    task: PourTask, pours: Sequence[PourTimes], workshop: Workshop, wish: datetime | None
) -> Placed | None:
    """When the pour on the last of `pours` is mixed, whether it bonds to it fresh, whether the wish was
    kept, and when
    what is below is cut flush. None: what is below never lets it, neither fresh nor hard enough to be sanded.
    """
    below, sand = pours[-1], timedelta(seconds=SAND_S)
    if task.after_cut:
        return _after_the_cut(task, pours, workshop, wish)
    hard = below.demould_from
    span = None if task.is_sanded(workshop) else _fresh_span(task, below)
    if wish is not None and (kept := _wished(wish, span, hard)) is not None:
        return wish, kept, True, None
    fresh = None if span is None else next_slot(workshop, span[0], task.hands_on, span[1])
    if fresh is not None:
        return fresh, True, wish is None, None
    if hard is None:
        return None
    return (next_slot(workshop, hard, sand + task.hands_on) or hard) + sand, False, wish is None, None


def _after_the_cut(
    task: PourTask, pours: Sequence[PourTimes], workshop: Workshop, wish: datetime | None
) -> Placed | None:
    """A coat on a casting: everything is out of its form, cut flush and sanded before."""
    hard = _last([one.demould_from for one in pours])
    if hard is None:
        return None
    cut, sand = timedelta(seconds=CUT_S), timedelta(seconds=SAND_S)
    cut_at = next_slot(workshop, hard, cut) or hard
    if wish is not None and wish >= cut_at + cut + sand:
        return wish, False, True, cut_at
    begin = next_slot(workshop, cut_at + cut, sand + task.hands_on) or cut_at + cut
    return begin + sand, False, wish is None, cut_at


def _wished(
    wish: datetime, span: tuple[datetime, datetime | None] | None, hard: datetime | None
) -> bool | None:
    """Whether a wished begin bonds fresh; None where it can be kept neither so nor on a sanded layer."""
    if span is not None and span[0] <= wish <= (span[1] or wish):
        return True
    return False if hard is not None and wish >= hard + timedelta(seconds=SAND_S) else None


def _fresh_span(task: PourTask, below: PourTimes) -> tuple[datetime, datetime | None] | None:
    """From when to when mixing may begin so that the pour itself falls into the window of what is below. It
    may begin before the window opens, with hands free of the last pour.
    """
    if below.bond_from is None:
        return None
    ready = max(below.bond_from - timedelta(seconds=task.mix_s), below.poured_at)
    return ready, below.bond_to - task.hands_on if below.bond_to else None


@dataclass(frozen=True)
class Start:
    """A start within hours, how many bond windows it misses, and how many things round the pours meet
    nobody."""

    at: datetime
    missed: int
    alone: int = 0


def whole_half_hour(moment: datetime) -> datetime:
    """The next full half hour at or after a moment, for starts that a person would name."""
    seconds = moment.timestamp()
    step = START_STEP.total_seconds()
    return datetime.fromtimestamp(-(-seconds // step) * step, tz=moment.tzinfo)
