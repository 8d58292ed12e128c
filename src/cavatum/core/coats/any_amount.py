"""Any amount on the piece at hand: the film it lays, what is over or short, and what is doubted of the
resin. Rules 2.5,
5.1.
"""

from __future__ import annotations

from ..common.amounts import Said
from ..common.errors import DomainError
from ..common.verdict import Verdict
from ..common.working import Data, Figure, Input, Workbook, Working
from ..mix.amount import mixed_volume
from ..piece.coats import Coat
from ..piece.given import Given
from ..practice.coats import called
from ..resin.checks import check_system
from ..resin.ratio import MixRatio
from ..resin.system import System
from .amount import bed_of, film_from, mixed_for
from .laid import with_cups


class AmountOn(Data):
    """What an amount would be on one coat of a piece. over: more than that coat takes [m3], short where
    negative; share
    of it. problem: why there is none.
    """

    coat_id: str
    lay_id: str
    name: str
    film: Figure | None = None
    says: str = ""
    over: Figure | None = None
    share: float | None = None
    problem: str = ""


class OnThePiece(Data):
    """films: by coat of the piece; doubts: of the resin's sheet; workings: of the figures."""

    films: list[AmountOn]
    doubts: list[Verdict]
    workings: dict[str, Working]


def on_the_piece(said: Said, system: System, ratio: MixRatio, given: Given) -> OnThePiece:
    """An amount on every coat of a piece whose films are known.

    given  the piece with its coats settled
    """
    book, mixed_m3 = Workbook(), mixed_volume(said, ratio, system.name)
    found = [
        _on(book, given, coat, place, said, mixed_m3, system, ratio)
        for coat in given.piece.coats
        for place in range(len(coat.lays))
    ]
    return OnThePiece(films=found, doubts=check_system(system), workings=book.workings)


def _on(
    book: Workbook,
    given: Given,
    coat: Coat,
    place: int,
    said: Said,
    mixed_m3: float,
    system: System,
    ratio: MixRatio,
) -> AmountOn:
    lay = coat.lays[place]
    number = sum(one.times for one in coat.lays[:place]) + 1
    made = AmountOn(coat_id=coat.id, lay_id=lay.id, name=f"{coat.name}, coat {number}")
    reserve = given.piece.reserve.value if given.piece.reserve else 0.0
    try:
        bed = bed_of(
            coat, reserve, given.workshop_for(system), is_first=place == 0 and coat.existing_m is None
        )
        bed = with_cups(bed, mixed_m3, coat, system, ratio, given.workshop_for(system))
        film_m = film_from(mixed_m3, bed)
    except DomainError as error:
        return made.model_copy(update={"problem": f"{error.allowed}. {error.way_out}"})
    asked = Input(name=f"asked for: {said.words}", value=said.value, quantity=said.by, origin="chosen")
    key = f"amount/{coat.id}/{lay.id}"
    film = book.figure(
        f"{key}/film",
        f"Film on {made.name}",
        film_m,
        "length",
        "((mixed × (1 − stays) − fixed × cups) / (area × (1 + reserve)) − soak) / (1 + drips)",
        [asked, Input(name="area", value=bed.area_m2, quantity="area", origin="computed")],
        "volume balance",
    )
    made = made.model_copy(
        update={"film": film, "says": f"{given.wording.film(film_m)} is {called(film_m)}."}
    )
    if lay.film_m is None:
        return made
    takes = mixed_for(lay.film_m.value, bed)
    over = book.figure(
        f"{key}/over",
        f"More than {made.name} takes",
        mixed_m3 - takes,
        "volume",
        "asked for − to mix for this coat",
        [asked, Input(name="to mix for this coat", value=takes, quantity="volume", origin="computed")],
        "volume balance",
    )
    return made.model_copy(update={"over": over, "share": (mixed_m3 - takes) / takes})
