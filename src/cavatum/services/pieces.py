"""What is refused before a piece is saved, and a piece with all that it names, for a file."""

from __future__ import annotations

from collections.abc import Mapping

from ..core.calibration.at_pouring import check_said
from ..core.common.errors import DomainError
from ..core.common.plain_numbers import plainly
from ..core.heat.around import check_around
from ..core.measure.areas import check_soaks, covered
from ..core.measure.cavity import cavity_of
from ..core.piece.document import Piece
from ..core.resin.system import System
from . import planning


def check_voids(piece: Piece) -> None:
    """Voids and coats that no cavity can be made of are refused before they are saved, at the one they are
    in.
    """
    for index, void in enumerate(piece.voids):
        try:
            cavity_of(void)
        except DomainError as error:
            raise PointedError(
                error, f"/piece/voids/{index}/shape/{error.argument.replace(' ', '_')}"
            ) from error
        try:
            check_around(cavity_of(void))
        except DomainError as error:
            raise PointedError(
                error, f"/piece/voids/{index}/around/{error.argument.replace(' ', '_')}"
            ) from error
    for index, coat in enumerate(piece.coats):
        try:
            # Its area alone: what a coat's amount comes to may want the resin, which can be chosen later.
            check_soaks(coat, covered(coat).area_m2)
        except DomainError as error:
            raise PointedError(error, f"/piece/coats/{index}/{error.argument.replace(' ', '_')}_m") from error


def check_boundaries(before: Piece, after: Piece) -> None:
    """A boundary typed in this very edit has to lie inside its void; one left over from a deeper void becomes
    a verdict.
    """
    old = {portion.id: portion.boundaries_m for void in before.voids for portion in void.portions}
    for index, void in enumerate(after.voids):
        fill = cavity_of(void).fill_m
        for number, portion in enumerate(void.portions):
            drawn = portion.boundaries_m
            if not drawn or drawn == old.get(portion.id):
                continue
            for place, boundary in enumerate(drawn):
                if boundary.value >= fill:
                    error = DomainError(
                        argument="layer boundary",
                        value=boundary.as_typed or f"{plainly(boundary.value * 1000)} mm",
                        allowed=f"it must lie below the fill line at {plainly(fill * 1000)} mm",
                        way_out="Type a height inside the void.",
                        code="over-fill-line",
                    )
                    raise PointedError(error, f"/piece/voids/{index}/portions/{number}/boundaries_m/{place}")


def check_pour_temperatures(piece: Piece, sheets: Mapping[str, System]) -> None:
    """A portion poured warmer than its sheet has it is refused at its field."""
    for place, parts, filled in (("voids", "portions", piece.voids), ("coats", "lays", piece.coats)):
        for index, one in enumerate(filled):
            for number, portion in enumerate(one.filling):
                system = sheets.get(portion.system_id or piece.system_id or "")
                if portion.pour_c is None or system is None:
                    continue
                try:
                    check_said(system, portion.pour_c)
                except DomainError as error:
                    raise PointedError(error, f"/piece/{place}/{index}/{parts}/{number}/pour_c") from error


class PointedError(Exception):
    """A refusal of the core with the place in the body it belongs to."""

    def __init__(self, error: DomainError, pointer: str):
        super().__init__(str(error))
        self.error, self.pointer = error, pointer


def with_all_it_names(piece: Piece, inputs: planning.Inputs) -> Piece:
    """The piece with its sheets, goods and workshop, so that a file of it can be planned anywhere."""
    named = planning.named_systems(piece)
    return piece.model_copy(
        update={
            "systems": [sheet for id_, sheet in inputs.sheets.items() if id_ in named],
            "workshop": inputs.workshop,
            "goods": planning.named_goods(piece, inputs.shelf_items),
        }
    )
