"""What a plan is made from, all of it. A plan is a pure function of these."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime

from ..common.wording import Wording
from ..common.workshop import Workshop
from ..resin.system import System
from .document import Piece
from .parts import NamesResin
from .shelf_items import NONE, ShelfItems


@dataclass(frozen=True, kw_only=True)
class Given:
    """systems: sheets by id, at least those that the piece names. now: the moment the plan is made, with a
    zone.
    """

    piece: Piece
    systems: Mapping[str, System]
    workshop: Workshop
    now: datetime
    shelf_items: ShelfItems = NONE

    @property
    def wording(self) -> Wording:
        return Wording(self.workshop)

    def workshop_for(self, system: System | None) -> Workshop:
        """The workshop with what was learned of cups of this resin."""
        return self.workshop.with_waste_of(system.id) if system else self.workshop

    def system_of(self, portion: NamesResin) -> System | None:
        """The portion's own system, else the piece's. None where none is chosen or the shelf does not hold
        it.
        """
        return self.systems.get(portion.system_id or self.piece.system_id or "")
