"""The usual cautions of a plan, by what it uses."""

from __future__ import annotations

from collections.abc import Sequence

from ..practice.cautions import CUP, GENERAL, PRESSURE, SKIN, product_cautions
from ..practice.hazards import caution_of
from ..resin.system import System


def cautions_of(used: Sequence[System], *, has_pours: bool) -> list[str]:
    if not has_pours:
        return []
    own = product_cautions([system.cures_like or system.id for system in used])
    own += [caution_of(code, system.name) for system in used for code in system.hazards or ()]
    pressed = [PRESSURE] if any(system.needs_pressure for system in used) else []
    return [GENERAL, *own, CUP, SKIN, *pressed]
