"""What is left over in the cup, offered to voids that wait for the same resin. Rule 5.6 and 5.1."""

from __future__ import annotations

from collections.abc import Sequence

from ..common.working import Data

LEAST_M3 = 2e-6  # own judgement: less cannot be poured out of a cup


class Waiting(Data):
    """A layer of another piece that is not poured yet. sets_in: it may be poured now (nothing below it, or
    its window is open).
    """

    piece_id: int
    piece: str
    void: str
    pour: int
    system_id: str
    colour: str
    need_m3: float
    count: int = 1


class Offer(Data):
    """fills: whole hollows of it, or the whole layer; takes_m3: how much of the leftover that uses."""

    waiting: Waiting
    fills: int
    takes_m3: float
    whole: bool


def offers(volume_m3: float, system_id: str, colour: str, waiting: Sequence[Waiting]) -> list[Offer]:
    """Where a leftover can go, whole hollows only, the one that uses most of it first.

    Same system; same colour, or clear into anything that will be coloured alike later is not offered: colour
    cannot be matched afterwards.
    A single hollow that would only be half filled is not offered: it would be another layer with a line in
    it.
    """
    found = []
    for one in waiting:
        if (
            one.system_id != system_id
            or one.colour.strip().lower() != colour.strip().lower()
            or one.need_m3 < LEAST_M3
        ):
            continue
        each = one.need_m3 / one.count
        fills = min(int(volume_m3 / each * (1 + 1e-9)), one.count)
        if fills >= 1:
            found.append(Offer(waiting=one, fills=fills, takes_m3=fills * each, whole=fills == one.count))
    return sorted(found, key=lambda one: (-one.takes_m3, one.waiting.piece))
