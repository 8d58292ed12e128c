"""All pieces planned together: solve, run the heat again at the hours found, and repeat until both agree.
Rule 6.2.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import datetime, timedelta

from ..clock.hours import open_spans
from ..clock.schedule import Tell, solve
from ..clock.schedule_model import Clash, PieceToPlace, Shop, Solution, TooShort
from ..clock.windows import whole_half_hour
from ..common.wording import Wording
from ..common.working import Data
from ..common.workshop import Workshop
from ..options import compare
from ..piece.document import Piece, PourStart
from ..piece.shelf_items import NONE, ShelfItems
from ..plan import make_plan
from ..plan_model import Plan
from ..resin.system import System
from .together import FEW_PIECES, Planned, ScheduleResult, job_of, result_of, roomy
from .ways_out import WayOut, clash_words, short_words, ways_out

ROUNDS = 3
A_PIECE_S = 0.5
AGREES_S = 900.0  # own judgement: windows that move by less than a quarter of an hour are the same
NEAR_S = 1800.0
WARMER_K = 3.0
MOST_SPLITS = 3


def plan_together(
    pieces: Sequence[Planned],
    systems: Mapping[str, System],
    workshop: Workshop,
    shelf_items: ShelfItems,
    made_at: datetime,
    tell: Tell,
    seconds: float = 6.0,
) -> ScheduleResult | None:
    """The schedule of all pieces from `made_at` on with its bounds, or the clash of its wishes with the
    ways out,
    or what was lacking in the time there was. None: told to end.

    pieces  each with the plan it has now; free ones are moved, the others stand
    seconds  for a round of few pieces; A_PIECE_S more for each of many
    """
    wording, sheets = Wording(workshop), dict(systems)
    left_out, planned = list[str](), list(pieces)
    shop = roomy(list(_jobs(planned, workshop, made_at).values()), workshop, made_at)
    seconds += A_PIECE_S * max(len(pieces) - FEW_PIECES, 0)
    result: ScheduleResult | None = None
    before: Solution | None = None
    for number in range(ROUNDS):

        def here(share: float, words: str, number: int = number) -> bool:
            return tell((number + 0.8 * share) / ROUNDS, words)

        jobs = _jobs(planned, workshop, made_at)
        left_out = [one.piece.name for one in planned if str(one.id) not in jobs]
        found = _solve_near(jobs, before, shop, seconds, here)
        if found is None:
            return None
        if isinstance(found, TooShort):
            if result is not None:  # the round before stands; that its windows moved is said
                return result.model_copy(update={"agrees": False})
            return _too_short(found, jobs, shop, made_at, left_out, wording)
        if isinstance(found, Clash):
            return _clashing(
                found, planned, jobs, shop, sheets, workshop, shelf_items, made_at, left_out, wording
            )
        result = result_of(found, planned, jobs, made_at, made_at, wording).model_copy(
            update={"rounds": number + 1, "left_out": left_out}
        )
        before = found
        again = _replanned(planned, jobs, found, sheets, workshop, shelf_items, made_at)
        if again is None:
            return result
        planned = again
    return result.model_copy(update={"agrees": False}) if result else None


def _jobs(planned: Sequence[Planned], workshop: Workshop, made_at: datetime) -> dict[str, PieceToPlace]:
    """Those of which something is still to come."""
    return {str(one.id): job for one in planned if (job := job_of(one, workshop, made_at)) is not None}


def _too_short(
    found: TooShort,
    jobs: Mapping[str, PieceToPlace],
    shop: Shop,
    made_at: datetime,
    left_out: list[str],
    wording: Wording,
) -> ScheduleResult:
    """No schedule and no proof: what found no place, and what giving up wishes would allow."""
    every = tuple(
        (kind, job.id, "")
        for job in jobs.values()
        for kind, is_must in (("due", job.must_due), ("bond", job.must_bond))
        if is_must and (job.name in found.unplaced or not found.unplaced)
    )
    return ScheduleResult(
        feasible=False,
        made_at=made_at,
        clash=short_words(found),
        is_proof=False,
        ways_out=ways_out(Clash(every), list(jobs.values()), shop, made_at, wording),
        left_out=left_out,
    )


def _solve_near(
    jobs: Mapping[str, PieceToPlace], before: Solution | None, shop: Shop, seconds: float, tell: Tell
) -> Solution | Clash | TooShort | None:
    """After the first round each piece begins near where it did, since its windows were worked out for that
    hour; freely where that costs a window.
    """
    if before is not None:
        near = [
            replace(job, near=(job.works[0].id, before.placed[job.works[0].id].start_s, NEAR_S))
            for job in jobs.values()
        ]
        found = solve(near, shop, seconds, tell=tell)
        if isinstance(found, Solution) and found.missed <= before.missed:
            return found
    return solve(list(jobs.values()), shop, seconds, tell=tell)


def _replanned(
    planned: Sequence[Planned],
    jobs: Mapping[str, PieceToPlace],
    answer: Solution,
    sheets: dict[str, System],
    workshop: Workshop,
    shelf_items: ShelfItems,
    made_at: datetime,
) -> list[Planned] | None:
    """The free pieces planned anew at the starts found. None: their windows are those that were solved
    with.
    """
    moved, differs = [], False
    for one in planned:
        job = jobs.get(str(one.id))
        if job is None or not one.is_free:
            moved.append(one)
            continue
        start = made_at + timedelta(seconds=answer.placed[job.works[0].id].start_s)
        later = [
            PourStart(
                pour=int(work.id.rpartition("/p")[2]),
                at=made_at + timedelta(seconds=where.start_s + where.mode.dust_s),
            )
            for work in job.works[1:]
            if "/p" in work.id and (where := answer.placed[work.id])
        ]
        plan = make_plan(
            one.piece.model_copy(update={"first_pour_at": start, "later_mixes": later}),
            sheets,
            workshop,
            made_at,
            in_full=False,
            shelf_items=shelf_items,
        )
        differs = differs or _differ(plan, one.plan)
        moved.append(replace(one, plan=plan.model_copy(update={"prepared_at": one.plan.prepared_at})))
    return moved if differs else None


def _differ(one: Plan, other: Plan) -> bool:
    if len(one.windows) != len(other.windows):
        return True
    return any(
        (a is None) != (b is None) or (a is not None and b is not None and abs(a - b) > AGREES_S)
        for mine, yours in zip(one.windows, other.windows, strict=True)
        for a, b in (
            (mine.opens_s, yours.opens_s),
            (mine.closes_s, yours.closes_s),
            (mine.demould_s, yours.demould_s),
        )
    )


def _clashing(
    clash: Clash,
    planned: Sequence[Planned],
    jobs: Mapping[str, PieceToPlace],
    shop: Shop,
    sheets: dict[str, System],
    workshop: Workshop,
    shelf_items: ShelfItems,
    made_at: datetime,
    left_out: list[str],
    wording: Wording,
) -> ScheduleResult:
    ways = ways_out(clash, list(jobs.values()), shop, made_at, wording)
    for one in planned:
        if any(id_ == str(one.id) for _, id_, _ in clash.wishes):
            ways += other_ways(one.piece, sheets, workshop, shelf_items, made_at)
    return ScheduleResult(
        feasible=False,
        made_at=made_at,
        clash=clash_words(clash, jobs, made_at, wording),
        ways_out=ways,
        left_out=left_out,
    )


def other_ways(
    piece: Piece, sheets: dict[str, System], workshop: Workshop, shelf_items: ShelfItems, made_at: datetime
) -> list[WayOut]:
    """Another split, and a warmer or cooler room, at the piece's own start: how many windows they miss. Only
    what misses fewer is named.
    """
    wording = Wording(workshop)
    now = make_plan(piece, sheets, workshop, made_at, in_full=False, shelf_items=shelf_items)
    missed = _missed(now)
    found = []
    if missed:
        splits = [
            one
            for one in compare(piece, sheets, workshop, made_at, shelf_items)
            if one.offered and one.sanded < missed
        ]
        found += [
            WayOut(
                words=f"{piece.name}: {one.title.lower()}, {one.pours} "
                f"{'pour' if one.pours == 1 else 'pours'}",
                missed=one.sanded,
                late_days=0.0,
            )
            for one in splits[:MOST_SPLITS]
        ]
        for kelvin in (WARMER_K, -WARMER_K):
            room = workshop.room_c.value + kelvin
            other = workshop.model_copy(
                update={
                    "room_c": workshop.room_c.model_copy(update={"value": room, "as_typed": ""}),
                    "night": None,
                }
            )
            plan = make_plan(piece, sheets, other, made_at, in_full=False, shelf_items=shelf_items)
            if (
                plan.pours
                and _missed(plan) < missed
                and not any(one.weight == "blocker" for one in plan.verdicts)
            ):
                found.append(
                    WayOut(
                        words=f"{piece.name}: keep the room at {wording.temperature(room)}, day and night",
                        missed=_missed(plan),
                        late_days=0.0,
                    )
                )
    return found


def _missed(plan: Plan) -> int:
    return sum(1 for one in plan.verdicts if one.code == "window-missed")


class StartAdvice(Data):
    """What follows from mixing first at this moment. opens_at, closes_at: of the first bond window, None with
    one pour or where it never opens.
    """

    start_at: datetime
    opens_at: datetime | None
    closes_at: datetime | None
    next_mix_at: datetime | None
    missed: int
    ready_at: datetime | None
    words: str


def start_advice(
    piece: Piece,
    sheets: dict[str, System],
    workshop: Workshop,
    made_at: datetime,
    shelf_items: ShelfItems = NONE,
    most: int = 8,
) -> list[StartAdvice]:
    """Starts in the hours of people over the next two working days, with when the first window opens for
    each: the heat is run for every one.
    """
    wording, found = Wording(workshop), []
    plan = make_plan(piece, sheets, workshop, made_at, in_full=False, shelf_items=shelf_items)
    if not plan.windows:
        return []
    hands = timedelta(seconds=plan.windows[0].mix_s + plan.windows[0].pour_s)
    for at in _choices(workshop, plan.prepared_at or made_at, hands, most):
        one = make_plan(
            piece.model_copy(update={"first_pour_at": at}),
            sheets,
            workshop,
            made_at,
            in_full=False,
            shelf_items=shelf_items,
        )
        first, second = one.windows[0], one.windows[1] if len(one.windows) > 1 else None
        poured = first.mix_at + timedelta(seconds=first.mix_s + first.pour_s)
        many = len(one.pours) > 1
        opens = poured + timedelta(seconds=first.opens_s) if many and first.opens_s is not None else None
        closes = poured + timedelta(seconds=first.closes_s) if many and first.closes_s is not None else None
        found.append(
            StartAdvice(
                start_at=at,
                opens_at=opens,
                closes_at=closes,
                next_mix_at=second.mix_at if second else None,
                missed=_missed(one),
                ready_at=one.totals.ready_at,
                words=_advice_words(poured, opens, closes, one, wording),
            )
        )
    return found


def _advice_words(
    poured: datetime, opens: datetime | None, closes: datetime | None, plan: Plan, wording: Wording
) -> str:
    """What follows from pouring first at this moment."""
    begin = f"Pour at {wording.moment(poured)} and "
    if len(plan.pours) > 1:
        if opens is None:
            return begin + "in this room it never takes the next pour."
        until = f", until {wording.moment(closes)}" if closes else " and stays open"
        return f"{begin}the bond window opens {wording.moment(opens)}{until}."
    out = plan.windows[0].demould_s
    if out is None:
        return begin + "in this room it never gets hard enough to leave the form."
    return f"{begin}it may leave the form {wording.moment(poured + timedelta(seconds=out))}."


def _choices(workshop: Workshop, from_at: datetime, hands: timedelta, most: int) -> list[datetime]:
    """Evenly over the spans of the next two days in which somebody is there."""
    spans = [
        (begin, end - hands)
        for begin, end in open_spans(workshop, whole_half_hour(from_at), from_at + timedelta(days=4))
        if end - begin >= hands
    ][:2]
    each = max(most // max(len(spans), 1), 1)
    found = []
    for begin, last in spans:
        step = (last - begin) / max(each - 1, 1)
        found += [whole_half_hour(begin + step * number) for number in range(each)]
    return sorted({at for at in found if any(begin <= at <= last for begin, last in spans)})
