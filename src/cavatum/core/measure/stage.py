"""The stage: how much is there to fill and to cover, and how does the piece stand? Rules 2.1 to 2.10."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ..common.answer import Answer
from ..common.errors import DomainError
from ..common.verdict import StageReport, Verdict, counted, refused
from ..common.working import Workbook
from ..piece.document import Piece
from ..piece.given import Given
from ..resin.ratio import MixRatio
from .cavity import Cavity, cavity_of, coat_cavity
from .coat_figures import coat_plan
from .figures import void_plan
from .model import CoatPlan, LevelPlan, VoidPlan
from .stand import Liquid, level_plan, with_forms
from .verdicts import soak_verdicts, stand_verdicts


@dataclass(frozen=True)
class MeasuredVoids:
    """cavities: by the void's id; a void whose readings allow none is left out of both."""

    cavities: dict[str, Cavity]
    plans: list[VoidPlan]


@dataclass(frozen=True)
class MeasuredCoats:
    cavities: dict[str, Cavity]
    plans: list[CoatPlan]


def measure_voids(given: Given) -> Answer[MeasuredVoids]:
    """Rules 2.1 to 2.3: each void's volume, net of what is embedded in it."""
    book = Workbook()
    cavities: dict[str, Cavity] = {}
    plans: list[VoidPlan] = []
    found: list[Verdict] = []
    for index, void in enumerate(given.piece.voids):
        try:
            cavities[void.id] = cavity_of(void)
        except DomainError as error:
            found.append(refused("measure", error, f"/voids/{index}"))
            continue
        plans.append(void_plan(book, cavities[void.id]))
    found += soak_verdicts(given.piece, given.wording)
    return Answer(MeasuredVoids(cavities, plans), found, book.workings)


def measure_coats(given: Given, ratios: Mapping[str, MixRatio]) -> Answer[MeasuredCoats]:
    """Rules 2.4, 2.5, 2.9 and 2.10: areas, films, and what rules of thumb would make of them."""
    book = Workbook()
    cavities: dict[str, Cavity] = {}
    plans: list[CoatPlan] = []
    found: list[Verdict] = []
    for index, coat in enumerate(given.piece.coats):
        system = given.system_of(coat.lays[-1])
        ratio = ratios.get(system.id) if system else None
        try:
            cavity = coat_cavity(coat)
            plans.append(coat_plan(book, cavity, ratio))
        except DomainError as error:
            if error.code != "film-not-known":  # said already at the coat that is not known
                found.append(refused("measure", error, f"/coats/{index}"))
            continue
        cavities[coat.id] = cavity
    return Answer(MeasuredCoats(cavities, plans), found, book.workings)


@dataclass(frozen=True)
class Standing:
    """How the piece stands: its voids with what presses on their forms, and its level."""

    voids: list[VoidPlan]
    level: LevelPlan | None


def stand(
    given: Given, voids: list[VoidPlan], cavities: Mapping[str, Cavity], liquids: Mapping[str, Liquid]
) -> Answer[Standing]:
    """Rules 2.7 and 2.8. liquids: by the void's id, the deepest layer that is liquid at once."""
    book, piece = Workbook(), given.piece
    level = level_plan(book, piece, cavities)
    formed = with_forms(book, voids, liquids, piece.level)
    return Answer(Standing(formed, level), stand_verdicts(piece, formed, level, given.wording), book.workings)


def cavities_of(piece: Piece) -> dict[str, Cavity]:
    """Those of all voids and coats whose readings allow one, by id."""
    found: dict[str, Cavity] = {}
    for void in piece.voids:
        try:
            found[void.id] = cavity_of(void)
        except DomainError:
            continue  # the plan says why, and fills nothing there
    for coat in piece.coats:
        try:
            found[coat.id] = coat_cavity(coat)
        except DomainError:
            continue
    return found


def report(piece: Piece, voids: int, coats: int) -> StageReport:
    if not piece.voids and not piece.coats:
        return StageReport("measure", "Add the first void or coat.")
    return StageReport(
        "measure", summary=", ".join(one for one in (counted(voids, "void"), counted(coats, "coat")) if one)
    )
