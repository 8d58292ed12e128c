"""Everything learned so far, and what of it the next plan uses. Rule 9.2; origins: learned comes after
measured and before the sheet.

Used from three runs up and unless it was set aside, where nothing was measured or chosen. Nothing is applied
without its origin in the working.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Mapping, Sequence
from datetime import datetime
from statistics import median_high
from typing import Literal, TypeVar

from ..common.plain_numbers import plainly
from ..common.readings import Reading
from ..common.working import Data, Quantity
from ..common.workshop import Workshop
from ..piece.document import Piece
from ..plan_model import Plan
from ..resin.system import LearnedPace, System
from .factors import FACTORS, Factor, FactorCode, can_be
from .observe import Observation
from .pooled import pooled
from .robust import Estimate, estimate

LEAST_RUNS = 3
SURE_ASIDE = 0.5  # over this chance a run is told as one that says nothing


class LearnedRun(Data):
    run_id: int
    at: datetime
    value: float
    says: str
    aside: bool


class Learned(Data):
    """value with its 90 % band; typical: what would be used without it; spread: how much one run wobbles.

    used: sure enough and wanted, so that it goes where it goes (a factor's `goes`); why_not: in words when it
    does not. left_out: runs whose value cannot be
    """

    code: FactorCode
    key: str
    title: str
    called: str
    of: str
    quantity: str
    value: float
    low: float
    high: float
    typical: float
    spread: float
    is_share: bool
    runs: list[LearnedRun]
    left_out: list[str]
    is_set_aside: bool
    goes: Literal["plan", "piece", "shown"]
    used: bool
    why_not: str


def learn(observations: Sequence[Observation], set_aside: Collection[tuple[str, str]] = ()) -> list[Learned]:
    """By factor and key, in the factors' order. A value that cannot be is left out, and said. What belongs
    to a
    resin, a cup and a habit starts from the person's general value, which is there for those nobody measured.
    """
    groups: dict[tuple[FactorCode, str], list[Observation]] = {}
    for one in sorted(observations, key=lambda one: one.at):
        groups.setdefault((one.code, one.key), []).append(one)
    found: list[Learned | None] = []
    for code, factor in FACTORS.items():
        mine = {key: many for (known, key), many in groups.items() if known == code}
        if factor.between and mine:
            found += _pooled(factor, mine, set_aside)
        else:
            found += [_one(factor, key, many, (code, key) in set_aside) for key, many in mine.items()]
    order = list(FACTORS)
    return sorted(
        [one for one in found if one is not None], key=lambda one: (order.index(one.code), one.called)
    )


def _pooled(
    factor: Factor, groups: Mapping[str, Sequence[Observation]], set_aside: Collection[tuple[str, str]]
) -> list[Learned | None]:
    """Of each group its own value, and the general one for all others; used once runs of all are enough."""
    sound = {key: kept for key, many in groups.items() if (kept := _sound(factor, many))}
    if not sound:
        return []
    centre = next(iter(sound.values()))[0].centre
    general, own = pooled(factor, centre, {key: [one.value for one in many] for key, many in sound.items()})
    enough = sum(chance <= SURE_ASIDE for guess in own.values() for chance in guess.aside)
    every, flat = _flat(groups.values()), _flat(sound.values())
    everywhere = _told(factor, "", every, flat, general, centre, (factor.code, "") in set_aside, enough)
    each = [
        _told(
            factor,
            key,
            groups[key],
            sound[key],
            own[key],
            general.value,
            (factor.code, key) in set_aside,
            enough,
        )
        for key in filter(None, sound)
    ]
    return [everywhere.model_copy(update={"called": "every other cup"}), *each]


def _sound(factor: Factor, many: Sequence[Observation]) -> list[Observation]:
    return [one for one in many if can_be(factor, one.value)]


def _flat(groups: Iterable[Sequence[Observation]]) -> list[Observation]:
    return [one for many in groups for one in many]


def _why_not(factor: Factor, aside: bool, missing: int) -> str:
    """Why it does not go into the plan; empty where it does."""
    if aside:
        return "set aside by you"
    return f"{missing} more runs are needed" if missing > 0 else factor.why_shown


def _one(factor: Factor, key: str, many: Sequence[Observation], aside: bool) -> Learned | None:
    sound = [one for one in many if can_be(factor, one.value)]
    if not sound:
        return None
    centre = sound[0].centre if factor.code != "pump" else median_high([one.value for one in sound])
    guess = estimate(factor, centre, [one.value for one in sound])
    enough = sum(chance <= SURE_ASIDE for chance in guess.aside)
    return _told(factor, key, many, sound, guess, centre, aside, enough)


def _told(
    factor: Factor,
    key: str,
    many: Sequence[Observation],
    sound: Sequence[Observation],
    guess: Estimate,
    centre: float,
    aside: bool,
    enough: int,
) -> Learned:
    """enough: runs that speak for it."""
    chances = guess.aside if len(guess.aside) == len(sound) else [0.0] * len(sound)
    runs = [
        LearnedRun(run_id=one.run_id, at=one.at, value=one.value, says=one.says, aside=chance > SURE_ASIDE)
        for one, chance in zip(sound, chances, strict=True)
    ]
    why = _why_not(factor, aside, LEAST_RUNS - enough)
    return Learned(
        code=factor.code,
        key=key,
        title=factor.title,
        called=sound[-1].called,
        of=factor.of,
        quantity=factor.quantity,
        value=guess.value,
        low=guess.low,
        high=guess.high,
        typical=centre,
        spread=guess.spread,
        is_share=factor.is_share,
        runs=runs,
        left_out=[f"run {one.run_id}: {one.says}; that cannot be" for one in many if one not in sound],
        is_set_aside=aside,
        goes=factor.goes,
        used=not why and factor.goes != "shown",
        why_not=why,
    )


class LearnedUse(Data):
    """One learned value in a plan: where it went in."""

    code: FactorCode
    key: str
    says: str


def _use(one: Learned, says: str) -> LearnedUse:
    return LearnedUse(code=one.code, key=one.key, says=f"{says}, by {len(one.runs)} runs")


OfReading = TypeVar("OfReading", bound=Reading)


def _with_learned(now: OfReading, value: float) -> OfReading:
    return now.model_copy(update={"value": value, "origin": "learned", "as_typed": ""})


def _apply_pace(one: Learned, sheets: dict[str, System]) -> list[LearnedUse]:
    if one.key not in sheets or sheets[one.key].cure_fit is not None:
        return []
    pace = LearnedPace(times=one.value, low=one.low, high=one.high, runs=len(one.runs))
    sheets[one.key] = sheets[one.key].model_copy(update={"learned_pace": pace})
    return [_use(one, f"{one.called} cures {one.value:.2f} times as slowly as its sheet says")]


def _apply_pump(one: Learned, sheets: dict[str, System]) -> list[LearnedUse]:
    system_id, part = one.key.rsplit("/", 1)
    field = f"pump_{part.lower()}_kg"
    now = getattr(sheets.get(system_id), field, None)
    if now is None or now.origin not in ("sheet", "typical"):
        return []
    sheets[system_id] = sheets[system_id].model_copy(update={field: _with_learned(now, one.value)})
    return [_use(one, f"a stroke of part {part} is {plainly(one.value * 1000, 3)} g")]


def _apply_waste(one: Learned, workshop: Workshop) -> tuple[Workshop, list[LearnedUse]]:
    """The general value into what usually stays, a cup's own beside it; measured and chosen values stand."""
    share, fixed = workshop.residue_fraction, workshop.residue_m3
    if one.key:
        if not workshop_is_typical(workshop):
            return workshop, []
        said = f"{one.called}: {one.value:.2f} times what usually stays in a cup"
        wastes = {**workshop.wastes, one.key: one.value}
        return workshop.model_copy(update={"wastes": wastes}), [_use(one, said)]
    if not share.origin == fixed.origin == "typical":
        return workshop, []
    changed = {
        "residue_fraction": _with_learned(share, share.value * one.value),
        "residue_m3": _with_learned(fixed, fixed.value * one.value),
    }
    said = f"{one.value:.2f} times what usually stays in a cup"
    return workshop.model_copy(update=changed), [_use(one, said)]


def workshop_is_typical(workshop: Workshop) -> bool:
    """Whether nobody measured or chose what stays in its cups."""
    origins = {workshop.residue_fraction.origin, workshop.residue_m3.origin}
    return origins <= {"typical", "learned"}


def apply(
    learned: Sequence[Learned], sheets: dict[str, System], workshop: Workshop
) -> tuple[dict[str, System], Workshop, list[LearnedUse]]:
    """The sheets and the workshop as the next plan takes them, and what was changed. Measured and chosen
    values stand.
    """
    sheets, taken = dict(sheets), []
    for one in (one for one in learned if one.used):
        if one.code == "pace":
            taken += _apply_pace(one, sheets)
        elif one.code == "waste":
            workshop, used = _apply_waste(one, workshop)
            taken += used
        elif one.code == "pump":
            taken += _apply_pump(one, sheets)
    return sheets, workshop, taken


class Advice(Data):
    """A learned value that this piece could take over where it stands on a typical value or on none. pointer:
    the field in the document.
    """

    pointer: str
    value: float
    quantity: str
    says: str


def _soak_advice(learned: Mapping[tuple[FactorCode, str], Learned], piece: Piece) -> list[Advice]:
    of_piece = piece.survey.grain if piece.survey else "not said"
    filled = [(f"/voids/{index}", one, of_piece) for index, one in enumerate(piece.voids)]
    coated = [(f"/coats/{index}", one, one.grain) for index, one in enumerate(piece.coats)]
    found = []
    for pointer, one, grain in [*filled, *coated]:
        soak = learned.get(("soak", grain))
        is_open = one.soak_m3_m2 is None or one.soak_m3_m2.origin == "typical"
        if soak and is_open and one.wall == "wood":
            found.append(
                Advice(
                    pointer=f"{pointer}/soak_m3_m2",
                    value=soak.value,
                    quantity="areal_volume",
                    says=f"{one.name}: {grain} wood drinks {soak.value * 1e6:.0f} mL/m² here, by "
                    f"{len(soak.runs)} runs",
                )
            )
    return found


def advice(learned: Sequence[Learned], piece: Piece) -> list[Advice]:
    """Soak of wooden voids and coats, the film of coats: the person's to take, since they belong to a piece.
    A leftover is no advice for a reserve: it is
    what reserves come to already."""
    by = {(one.code, one.key): one for one in learned if one.used}
    found = _soak_advice(by, piece)
    for index, coat in enumerate(piece.coats):
        for place, lay in enumerate(coat.lays):
            film = by.get(("film", lay.system_id or piece.system_id or ""))
            if film is None or lay.film_m is None or lay.film_m.origin != "typical":
                continue
            found.append(
                Advice(
                    pointer=f"/coats/{index}/lays/{place}/film_m",
                    value=lay.film_m.value * film.value,
                    quantity="length",
                    says=f"{coat.name}: your films come out at {film.value:.2f} of what is planned, by "
                    f"{len(film.runs)} runs",
                )
            )
    return found


class Compared(Data):
    """One figure of a plan with typical values and with learned ones [SI]; None where a plan has none."""

    name: str
    quantity: Quantity
    before: float | None
    after: float | None


def compared(before: Plan, after: Plan) -> list[Compared]:
    """What learning changes in a plan that a person would look at first."""
    rows: list[tuple[str, Quantity, Callable[[Plan], float | None]]] = [
        ("on the scale", "mass", lambda plan: plan.totals.mass.value if plan.totals.mass else None),
        ("pours", "count", lambda plan: plan.totals.pours),
        ("from first pour to out of the form", "duration", _until_out_s),
        (
            "hottest",
            "temperature",
            lambda plan: max(
                (layer.heat.peak.value for pour in plan.pours for layer in pour.layers if layer.heat),
                default=None,
            ),
        ),
    ]
    return [
        Compared(name=name, quantity=quantity, before=read(before), after=read(after))
        for name, quantity, read in rows
    ]


def _until_out_s(plan: Plan) -> float | None:
    out = plan.totals.out_of_form_at
    return (out - plan.start_at).total_seconds() if out and plan.start_at else None
