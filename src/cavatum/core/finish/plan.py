"""The plan of finishing: which gates stand before what, steps in order, the ladder, the oven, when it can be
handed over. Rules 8.1 to 8.7.
"""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime, timedelta

from ..calibration.of_system import Cure
from ..clock.expected import expected_after
from ..clock.hours import next_slot
from ..clock.model import PourWindow
from ..common.wording import Wording, rendered
from ..common.working import Figure, Input, Origin, Workbook
from ..common.workshop import Workshop
from ..cure.belief import FUZZ, SPREAD, Tried
from ..piece.document import Piece
from ..piece.finish_wishes import Finish
from ..plan_model import Plan
from ..practice.finishing import ENDINGS, GATES, ROWS, FinishRow, GateRow
from ..practice.work import COATS, FORMS
from ..resin.system import System
from ..survey.preparation import coats_edges, underside_school
from .care import CareNote, care_note
from .cure_record import CureRecord
from .endings import ending_steps, ending_verdicts
from .gates import Readiness, never_ready, readiness
from .model import FinishPlan, FinishStep, GateView
from .oven import OvenProgram
from .oven_plan import oven_of, oven_top
from .rungs import rungs_of
from .verdicts import finish_verdicts

FRESH = timedelta(hours=12)  # own judgement: an older reading tells nothing of now
ENDS_BEFORE = "hand-over"  # oil and varnish come after all that makes dust
WARM_K = 2.0  # own judgement: no more than this above the room is "back to room temperature"
BY_TEMPERATURES = 0.1  # own judgement: how far a pace read off temperatures may still be out, as a share


def finish_plan(
    piece: Piece,
    plan: Plan,
    sheets: dict[str, System],
    cures: dict[str, Cure],
    known: CureRecord,
    now: datetime,
    wording: Wording,
) -> FinishPlan:
    """Everything after the last pour. Without a pour there is no gate and no step; what cannot be worked out
    is a verdict.
    """
    wishes, book = piece.finish or Finish(), Workbook()
    gates = [
        _gate(book, row, window, known, now, wording)
        for window in plan.windows
        for row in _gates_of(piece, plan, window, wishes)
    ]
    rungs, why, verdicts = rungs_of(wishes)
    oven, doubts = oven_of(piece, plan, cures, wishes, wording)
    ending = ENDINGS.get(wishes.surface)
    steps = (
        []
        if known.over_at or not (gates or ending)
        else _steps(_rows(piece, wishes), gates, oven, now, wording.workshop, wishes)
    )
    waits = any(one.readiness.state == "never" for one in gates)
    over = steps[-1].at if steps and not waits else None
    made = FinishPlan(
        gates=gates,
        steps=steps,
        ladder=rungs,
        ladder_why=why,
        oven=oven,
        oven_top=oven_top(book, oven, wishes) if oven else None,
        hand_over_at=over,
        care=_care(piece, plan, sheets, known, gates, oven, over, wording),
        verdicts=verdicts + doubts + ending_verdicts(wishes) + finish_verdicts(piece, wishes, gates, wording),
        workings=book.workings,
    )
    return rendered(made, wording)


def _gates_of(piece: Piece, plan: Plan, window: PourWindow, wishes: Finish) -> list[GateRow]:
    """Before the next pour its own gate; after the last one those of this kind of work and of the surface
    wanted. What is coated is handled, not taken out of a form.
    """
    pours = {one.number: one for one in plan.pours}
    carved = piece.kind_of_work == "carved pockets"
    is_coat = pours[window.pour].called.startswith("coat")
    if window.pour != plan.windows[-1].pour:
        is_cut = pours[window.pour + 1].after_cut if window.pour + 1 in pours else False
        return [GATES["demould" if is_cut else "recoat"], *([GATES["cut"]] if carved and not is_coat else [])]
    wanted = {
        "post-cure": wishes.post_cure,
        "sand": True,
        "pack": True,
        **(_of_a_coat(window) if is_coat else _of_a_casting(piece.kind_of_work)),
    }
    return [row for code, row in GATES.items() if wanted.get(code)]


def _of_a_coat(window: PourWindow) -> dict[str, bool]:
    """What is coated is handled, never taken out of a form."""
    return {
        "touch": window.touch_s is not None,
        "handle": True,
        "use": window.light_s is not None,
        "hard": True,
    }


def _of_a_casting(kind_of_work: str) -> dict[str, bool]:
    return {"demould": kind_of_work in FORMS, "cut": kind_of_work == "carved pockets"}


def _care(
    piece: Piece,
    plan: Plan,
    sheets: dict[str, System],
    known: CureRecord,
    gates: list[GateView],
    oven: OvenProgram | None,
    over: datetime | None,
    wording: Wording,
) -> CareNote:
    """The note says only what was done: that it went into the oven is known from its own test."""
    packed = next((one.expected_at for one in gates if one.code == "pack"), None)
    poured = sorted({layer.system_id for pour in plan.pours for layer in pour.layers} & set(sheets))
    warmed = any(one.gate == "post-cure" and one.result == "passed" for one in known.tests)
    wishes, used = piece.finish or Finish(), [sheets[one] for one in poured]
    return care_note(piece, used, wishes, packed, over, oven if warmed else None, wording)


def _tried(known: CureRecord, code: str, window: PourWindow) -> tuple[list[Tried], list[Tried]]:
    """Tests of this gate, and of the other gates of the same pour, in their order."""
    of_pour = [one for one in known.tests if one.pour == window.pour]
    told = [
        (
            gate == code,
            Tried(at_s=one.at_s, expected_s=expected_after(row, window), result=one.result),
        )
        for gate, row in GATES.items()
        for one in of_pour
        if one.gate == gate
    ]
    return [one for is_own, one in told if is_own], [one for is_own, one in told if not is_own]


def _gate(
    book: Workbook, row: GateRow, window: PourWindow, known: CureRecord, now: datetime, wording: Wording
) -> GateView:
    poured = known.poured_at.get(window.pour)
    begun = poured or window.mix_at + timedelta(seconds=window.mix_s + window.pour_s)
    expected_s = expected_after(row, window)
    own, others = _tried(known, row.code, window)
    if expected_s is None:
        return _never(row, window.pour, poured, never_ready(own))
    pace, spread, rests = _prior(known, window.pour)
    view = readiness(expected_s, (now - begun).total_seconds(), own, others, pace, spread)
    tests = len(own) + len(others)
    next_at = (
        _there(wording.workshop, begun + timedelta(seconds=view.next_s)) if view.next_s is not None else None
    )
    expected = _expected(book, row, window, expected_s)
    chance = None
    if view.chance_then is not None:
        origin = _origin(known, window.pour)
        inputs = [
            book.computed("passes by the model after", expected),
            Input(name="times as long, to begin with", value=pace, quantity="count", origin=origin),
            Input(name="give or take, as a share", value=spread, quantity="fraction", origin=origin),
            Input(name="tests of this pour", value=tests, quantity="count", origin="measured"),
            Input(
                name="how sharp a test is, as a share of the time",
                value=FUZZ,
                quantity="fraction",
                origin="typical",
            ),
        ]
        chance = book.figure(
            f"gate/{window.pour}/{row.code}/chance",
            f"{row.title}: chance that the test passes then",
            view.chance_then,
            "fraction",
            "over all paces this cure may have, each weighed by the tests so far",
            inputs,
            "ordered probit (McKelvey and Zavoina 1975); sharpness and spread: own judgement",
        )
    return GateView(
        code=row.code,
        title=row.title,
        pour=window.pour,
        test=row.test,
        passes=row.passes,
        poured_at=poured,
        expected=expected,
        expected_at=begun + timedelta(seconds=expected_s),
        readiness=view,
        chance=chance,
        next_at=next_at,
        low_at=_after(begun, view.low_s),
        high_at=_after(begun, view.high_s),
        rests_on=f"{rests}; {tests} {'test' if tests == 1 else 'tests'} of this pour" if tests else rests,
        too_warm=row.code in ("demould", "cut")
        and poured is not None
        and view.state != "passed"
        and _is_warm(known, now),
    )


def _after(begun: datetime, seconds: float | None) -> datetime | None:
    return None if seconds is None else begun + timedelta(seconds=seconds)


def _never(row: GateRow, pour: int, poured: datetime | None, view: Readiness) -> GateView:
    return GateView(
        code=row.code,
        title=row.title,
        pour=pour,
        test=row.test,
        passes=row.passes,
        poured_at=poured,
        expected=None,
        expected_at=None,
        readiness=view,
        chance=None,
        next_at=None,
        low_at=None,
        high_at=None,
        too_warm=False,
        rests_on="the cure computed for this room stops short of it",
    )


def _prior(known: CureRecord, pour: int) -> tuple[float, float, str]:
    """Times as long as this plan has it, how far that may be out, and in words: this pour's temperatures
    before what was learned before the sheet.
    """
    if pour in known.paces:
        return (
            known.paces[pour],
            BY_TEMPERATURES,
            f"this pour's temperatures: {known.paces[pour]:.2f} times as long as planned",
        )
    if known.learned is not None:
        return (
            known.learned,
            known.spread or SPREAD,
            f"{known.runs} runs of this resin: {known.learned:.2f} times as long as this plan has it",
        )
    return 1.0, SPREAD, "this resin as its sheet has it; a quarter either way is usual"


def _origin(known: CureRecord, pour: int) -> Origin:
    return "measured" if pour in known.paces else "learned" if known.learned is not None else "typical"


_BY = {
    "bond window": ("when this layer takes the next one", "bond window opens"),
    "touch": ("when its surface is as far cured as the sheet's layer was, tack-free", "dry to the touch"),
    "light use": ("when all of it is as far cured as the sheet's layer was, in light use", "light use"),
}


def _expected(book: Workbook, row: GateRow, window: PourWindow, expected_s: float) -> Figure:
    key, name = f"gate/{window.pour}/{row.code}/expected", f"{row.title}: the test passes by the model"
    source = "the plan's windows, from the computed cure or the sheet"
    origin: Origin = "computed" if window.computed else "sheet"
    if row.share is None:
        formula, told = _BY[row.by]
        return book.figure(
            key,
            name,
            expected_s,
            "duration",
            formula,
            [Input(name=told, value=expected_s, quantity="duration", origin=origin)],
            source,
        )
    return book.figure(
        key,
        name,
        expected_s,
        "duration",
        "demoulding + share × (full cure − demoulding)",
        [
            *(
                Input(name=name, value=value, quantity="duration", origin=origin)
                for name, value in (("demoulding", window.demould_s), ("full cure", window.cured_s))
                if value is not None  # full cure counts for nothing where the share is 0
            ),
            Input(name="share of the way", value=row.share, quantity="fraction", origin="typical"),
        ],
        f"{source}; share: own judgement",
    )


def _is_warm(known: CureRecord, now: datetime) -> bool:
    """By a reading that is still worth something."""
    if (
        known.surface_c is None
        or known.surface_at is None
        or known.room_c is None
        or now - known.surface_at >= FRESH
    ):
        return False
    return known.surface_c > known.room_c + WARM_K


def _rows(piece: Piece, wishes: Finish) -> list[FinishRow]:
    form, coat, turned = (
        piece.kind_of_work in (*FORMS, "pressure casting"),
        piece.kind_of_work in COATS,
        wishes.start == "turned",
    )
    wanted = {
        "demould": form,
        "flash": form,
        "drips": underside_school(piece) == "sand later" and any(coats_edges(one) for one in piece.coats),
        "oven": wishes.post_cure,
        "machine": wishes.start in ("sawn", "planed or milled", "pits"),
        "turn": turned,
        "wall": turned,
        "ladder": wishes.surface not in ("not said", "next coat"),
        "preview": wishes.surface in ("oil", "polish", "satin"),
        "scuff": wishes.surface == "next coat",
        "paint-edges": wishes.painted_edges,
        "polish": wishes.surface == "polish",
        "brace": coat,
        "hand-over": True,
    }
    return [row for row in ROWS if wanted[row.code]]


def _steps(
    rows: Sequence[FinishRow],
    gates: Sequence[GateView],
    oven: OvenProgram | None,
    now: datetime,
    workshop: Workshop,
    wishes: Finish,
) -> list[FinishStep]:
    """One after another in people's hours, none before its gate is likely to be passed; a passed gate holds
    nothing back.
    """
    last = {one.code: one for one in gates}
    found, cursor = list[FinishStep](), now
    for row in rows:
        if row.code == ENDS_BEFORE and wishes.surface in ENDINGS:
            more, cursor = ending_steps(wishes, cursor, workshop)
            found += more
        gate = last.get(row.gate)
        if gate and gate.readiness.state != "passed":
            likely = gate.next_at or gate.expected_at
            if likely is None:
                return found  # never in this room: everything behind it waits
            cursor = max(cursor, likely)
        cursor = _there(workshop, cursor, row.hands_s)
        found.append(
            FinishStep(
                code=row.code,
                title=row.title,
                text=row.text,
                why=row.why,
                rule=row.rule,
                gate=row.gate,
                caution=row.caution,
                at=cursor,
                hands_s=row.hands_s,
            )
        )
        wait_s = oven.total_s if row.code == "oven" and oven else row.wait_s
        cursor += timedelta(seconds=row.hands_s + wait_s)
    return found


def _there(workshop: Workshop, at: datetime, hands_s: float = 300.0) -> datetime:
    """The first moment from `at` on at which somebody is there for it; `at` itself when nobody ever is."""
    return next_slot(workshop, at, timedelta(seconds=hands_s)) or at
