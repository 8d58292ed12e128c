"""Pieces and their plans as the schedule's jobs, and the schedule's answer in words. Rules 6.1 and 6.2."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime, time, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from ..clock.hours import away_spans, open_spans
from ..clock.model import PourWindow
from ..clock.schedule_greedy import greedy
from ..clock.schedule_model import STEP_S, Hold, Mode, PieceToPlace, Shop, Solution, Work
from ..clock.windows import SAND_S
from ..common.wording import Wording
from ..common.working import Data
from ..common.workshop import Workshop
from ..piece.document import Piece, PourStart
from ..plan_model import Plan
from ..practice.work import COATS, FORMS
from .ways_out import WayOut

OUT_S = 1800.0  # common practice: half an hour to take it out of its form
QUIET_S = 3 * 3600.0  # own judgement: until a coat no longer takes dust
HORIZON = timedelta(days=28)
A_PIECE_MORE = timedelta(days=2)  # own judgement: what each piece beyond FEW_PIECES adds to the horizon
FEW_PIECES = 12
FARTHEST = 8  # times the usual span
PAST_DUE = timedelta(days=60)


@dataclass(frozen=True, kw_only=True)
class Planned:
    """A piece with its plan. is_free: its start may be chosen; else it stands where the plan has it."""

    id: int
    piece: Piece
    plan: Plan
    is_free: bool
    must_bond: bool = False
    must_due: bool = False


class Proposal(Data):
    """One piece in the schedule. start_at: first mix; was_at: as its plan had it. sands: pours that go on a
    sanded layer. late_days: after its due date.
    """

    piece_id: int
    name: str
    is_free: bool
    start_at: datetime
    was_at: datetime
    works: list[tuple[str, datetime, datetime]]
    later_mixes: list[PourStart] = []
    sands: int
    ready_at: datetime | None
    late_days: float
    reason: str


class ScheduleResult(Data):
    """feasible False: clash names the wishes that cannot all be met (is_proof) or what found no place in
    time, ways_out
    what gives room. agrees: the
    heat at these hours has the same windows. missed_bound, late_bound_days: no schedule is better by more.
    """

    feasible: bool
    made_at: datetime
    proposals: list[Proposal] = []
    missed: int = 0
    late_days: float = 0.0
    visits: int = 0
    visits_bound: int = 0
    proven: bool = False
    missed_bound: int = 0
    late_bound_days: float = 0.0
    rounds: int = 0
    agrees: bool = True
    clash: list[str] = []
    is_proof: bool = True
    ways_out: list[WayOut] = []
    left_out: list[str] = []
    away: list[tuple[datetime, datetime]] = []


def shop_of(workshop: Workshop, from_at: datetime, pieces: int = 0, times: int = 1) -> Shop:
    """The workshop's hours [s from from_at] as far as so many pieces need them; times as far where places are
    few.
    """
    horizon = (HORIZON + A_PIECE_MORE * max(pieces - FEW_PIECES, 0)) * times
    spans = tuple(
        ((begin - from_at).total_seconds(), (end - from_at).total_seconds())
        for begin, end in open_spans(workshop, from_at, from_at + horizon)
    )
    counted = {"chamber": workshop.chambers, "rotator": workshop.rotator_places, "shelf": workshop.shelves}
    return Shop(spans, workshop.people, {name: many for name, many in counted.items() if many})


def roomy(jobs: Sequence[PieceToPlace], workshop: Workshop, from_at: datetime) -> Shop:
    """The workshop's hours as far as all pieces find a place in them, once nothing is a must: with two
    shelves twenty pieces take months. At most FARTHEST times the usual span.
    """
    loose = [replace(job, must_due=False, must_bond=False, pins={}) for job in jobs]
    shop = shop_of(workshop, from_at, len(jobs))
    times = 2
    while times <= FARTHEST and greedy(loose, shop).unplaced:
        shop = shop_of(workshop, from_at, len(jobs), times)
        times *= 2
    return shop


def due_moment(due: date, workshop: Workshop) -> datetime:
    """The end of the day it is due."""
    return datetime.combine(due + timedelta(days=1), time(0), ZoneInfo(workshop.zone))


def _release_s(one: Planned, from_at: datetime) -> float:
    """When its first work can begin: once it is prepared; pours that are fixed are where they are."""
    if not one.is_free or one.plan.prepared_at is None:
        return 0.0
    return max((one.plan.prepared_at - from_at).total_seconds(), 0.0)


def _pour_works(
    one: Planned, ahead: Sequence[int], workshop: Workshop, from_at: datetime
) -> tuple[list[Work], dict[str, float]]:
    """The pours that are still to come, and where those are pinned that a person has fixed."""
    plan, works, pins = one.plan, list[Work](), dict[str, float]()
    for place in ahead:
        window, id_ = plan.windows[place], f"{one.id}/p{plan.windows[place].pour}"
        below = plan.windows[place - 1] if place and works else None
        works.append(
            Work(
                id=id_,
                words=f"{plan.pours[place].called}",
                modes=_modes(window.mix_s + window.pour_s, window.mix_s, below, workshop),
                quiet_s=QUIET_S if one.piece.kind_of_work in COATS else 0.0,
            )
        )
        if not one.is_free:
            pins[id_] = _on_grid((window.mix_at - from_at).total_seconds())
    return works, pins


def job_of(one: Planned, workshop: Workshop, from_at: datetime) -> PieceToPlace | None:
    """A piece as a job; None where nothing of it is still to come. Pours that lie behind are left out, the
    next one counts from them.
    """
    plan, key = one.plan, str(one.id)
    if not plan.windows:
        return None
    ahead = [place for place, window in enumerate(plan.windows) if one.is_free or window.mix_at >= from_at]
    works, pins = _pour_works(one, ahead, workshop, from_at)
    last = plan.windows[-1]
    out = plan.totals.out_of_form_at
    if works and ahead[-1] == len(plan.windows) - 1:
        ready: tuple[str, float | None] = (works[-1].id, last.cured_s)
        works += _taking_out(one, last, out)
    elif not works and out and out >= from_at:
        works.append(_out_work(one))
        pins[works[0].id] = _on_grid((out - from_at).total_seconds())
        ready = (works[0].id, _still_cures_s(last))
    else:
        return None
    return PieceToPlace(
        id=key,
        name=one.piece.name,
        works=tuple(works),
        release_s=_release_s(one, from_at),
        due_s=None if ready[1] is None else _due_s(one, workshop, from_at),
        ready_s=ready[1],
        holds=_holds(one, works),
        pins=pins,
        must_bond=one.must_bond,
        must_due=one.must_due,
        ready_work=ready[0],
    )


def _still_cures_s(last: PourWindow) -> float | None:
    """From out of the form to fully cured; None: never in its room."""
    return None if last.cured_s is None else max(last.cured_s - (last.demould_s or 0.0), 0.0)


def _due_s(one: Planned, workshop: Workshop, from_at: datetime) -> float | None:
    return (due_moment(one.piece.due, workshop) - from_at).total_seconds() if one.piece.due else None


def _taking_out(one: Planned, last: PourWindow, out: datetime | None) -> list[Work]:
    """The visit that takes it out of its form; none where it never is hard enough in its room."""
    return [_out_work(one, last.demould_s)] if out and last.demould_s is not None else []


def _out_work(one: Planned, from_s: float = 0.0) -> Work:
    return Work(
        id=f"{one.id}/out",
        words="out of the form" if one.piece.kind_of_work not in COATS else "may be handled",
        modes=(Mode(name="only", hands_s=OUT_S, from_s=from_s),),
    )


def _on_grid(seconds: float) -> float:
    return round(seconds / STEP_S) * STEP_S


def _modes(hands_s: float, mix_s: float, below: PourWindow | None, workshop: Workshop) -> tuple[Mode, ...]:
    """Bond in the window of the layer below, or cure and sand. Windows count from poured to poured; mixing
    begins before the window opens.
    """
    if below is None:
        return (Mode(name="only", hands_s=hands_s),)
    by_choice = workshop.recoat == "cure and sand"
    modes: list[Mode] = []
    if below.opens_s is not None and not by_choice:
        opens = max(below.opens_s - mix_s, 0.0)
        closes = None if below.closes_s is None else below.closes_s - hands_s
        if closes is None or closes - opens >= 2 * STEP_S:
            modes.append(Mode(name="bond", hands_s=hands_s, from_s=opens, to_s=closes))
    if below.demould_s is not None:
        sand = Mode(
            name="sand",
            hands_s=hands_s + SAND_S,
            from_s=below.demould_s,
            to_s=None,
            misses=0 if by_choice else 1,
            dust_s=SAND_S,
        )
        modes.append(sand)
    return tuple(modes)


def _holds(one: Planned, works: Sequence[Work]) -> tuple[Hold, ...]:
    kind = one.piece.kind_of_work
    resource = (
        "chamber"
        if any(step.code == "lid" for step in one.plan.steps)
        else "rotator"
        if kind == "rotator"
        else "shelf"
        if kind in FORMS or kind in COATS
        else ""
    )
    return (Hold(resource, works[0].id, works[-1].id),) if resource else ()


def result_of(
    answer: Solution,
    planned: Sequence[Planned],
    jobs: Mapping[str, PieceToPlace],
    from_at: datetime,
    made_at: datetime,
    wording: Wording,
) -> ScheduleResult:
    proposals = [
        _proposal(answer, one, jobs[str(one.id)], from_at, wording) for one in planned if str(one.id) in jobs
    ]
    end = max((work[2] for one in proposals for work in one.works), default=from_at) + timedelta(hours=12)
    return ScheduleResult(
        feasible=True,
        made_at=made_at,
        proposals=sorted(proposals, key=lambda one: one.start_at),
        missed=answer.missed,
        late_days=sum(one.late_days for one in proposals),
        visits=answer.visits,
        visits_bound=answer.visits_bound,
        proven=answer.proven,
        missed_bound=answer.missed_bound,
        late_bound_days=answer.late_bound_s / 86400,
        away=away_spans(wording.workshop, from_at - timedelta(hours=12), end),
    )


def _proposal(
    answer: Solution, one: Planned, job: PieceToPlace, from_at: datetime, wording: Wording
) -> Proposal:
    def moment(seconds: float) -> datetime:
        return from_at + timedelta(seconds=seconds)

    placed = [(work, answer.placed[work.id]) for work in job.works]
    ready = None if job.ready_s is None else answer.placed[job.ready_id].end_s + job.ready_s
    late = max(ready - job.due_s, 0.0) / 86400 if job.due_s is not None and ready is not None else 0.0
    sands = sum(1 for _, where in placed if where.mode.misses)
    start = moment(placed[0][1].start_s)
    return Proposal(
        piece_id=one.id,
        name=one.piece.name,
        is_free=one.is_free,
        start_at=start,
        was_at=one.plan.start_at or start,
        works=[(work.words, moment(where.start_s), moment(where.end_s)) for work, where in placed],
        sands=sands,
        ready_at=None if ready is None else moment(ready),
        late_days=late,
        later_mixes=[
            PourStart(pour=int(work.id.rpartition("/p")[2]), at=moment(where.start_s + where.mode.dust_s))
            for work, where in placed[1:]
            if "/p" in work.id
        ],
        reason=_reason(one, job, placed, late, wording, moment),
    )


def _reason(
    one: Planned,
    job: PieceToPlace,
    placed: list[Any],
    late: float,
    wording: Wording,
    moment: Callable[[float], datetime],
) -> str:
    """Why here, in one line: what binds it."""
    if not one.is_free:
        return "stands where you set it"
    parts = []
    for before, (work, where) in zip(placed, placed[1:], strict=False):
        if where.mode.name == "bond":
            opens = before[1].end_s + where.mode.from_s
            closes = before[1].end_s + (where.mode.to_s or 0.0)
            parts.append(
                f"{work.words} within its window, {wording.moment(moment(opens))} to "
                f"{wording.moment(moment(closes))}"
            )
        elif where.mode.misses:
            parts.append(f"{work.words} on a sanded layer: nobody is here during its bond window")
    if late:
        parts.append(f"{late:.1f} days late, the least possible")
    return "; ".join(parts) or "as early as preparation allows, in the same visit as other work"
