"""The care note that goes with a piece, in plain words for who uses it. Rule 8.6 and the hazards: nothing is
called harmless or fit for food.
"""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from ..common.wording import Wording
from ..common.working import Data
from ..piece.document import Piece
from ..piece.finish_wishes import Finish
from ..resin.system import System
from .oven import OvenProgram


class CareNote(Data):
    """parts: (head, words). cured_at: from when heat and load are all right, None when nothing is planned."""

    title: str
    for_whom: str
    made_by: str
    cured_at: datetime | None
    parts: list[tuple[str, str]]


def care_note(
    piece: Piece,
    used: Sequence[System],
    wishes: Finish,
    cured_at: datetime | None,
    hand_over_at: datetime | None,
    oven: OvenProgram | None,
    wording: Wording,
) -> CareNote:
    parts = [("The first days", _first_days(cured_at, hand_over_at, wording))]
    parts.append(("Heat", _heat(used, wording)))
    if oven is not None:
        parts.append(
            (
                "Post-cured",
                f"It was warmed to {wording.temperature(oven.top_c)} for "
                f"{wording.duration(oven.steps[-1].hold_s if oven.steps else 0)} after casting.",
            )
        )
    parts.append(
        (
            "Light",
            "Sunlight yellows resin over the years. "
            + (
                "It will stand in the sun: expect it, and turn it now and then."
                if wishes.sunny
                else "Keep it out of direct sun."
            ),
        )
    )
    surface = {
        "oil": "Wipe it dry. Oil the wood again when it looks thirsty, never the resin.",
        "polish": "Soft damp cloth, no scouring cream. Fine scratches can be polished out.",
        "satin": "Soft damp cloth. A satin surface hides small scratches.",
        "varnish": "Soft damp cloth. Worn varnish can be renewed.",
    }.get(wishes.surface, "Soft damp cloth.")
    parts.append(
        (
            "Cleaning",
            f"{surface} Mild soap and water; no alcohol, acetone or strong cleaner: they dull it. Not "
            "for the dishwasher.",
        )
    )
    parts.append(
        (
            "Food",
            "Not made for touching food unless its maker has that certified for this finished article. "
            "For children and animals: not to be chewed.",
        )
    )
    if _has_wood(piece):
        parts.append(
            (
                "Wood",
                "Wood moves with the air: keep it between about 40 and 60 % humidity, away from heaters.",
            )
        )
    parts.append(("If it is damaged", "Do not sand it without a mask and extraction. Ask its maker."))
    if wishes.note:
        parts.append(("Besides", wishes.note))
    return CareNote(
        title=piece.name,
        for_whom=piece.for_whom,
        made_by=wording.workshop.name,
        cured_at=cured_at,
        parts=parts,
    )


def _day(moment: datetime, wording: Wording) -> str:
    return wording.moment(moment).split(",")[0]


def _first_days(cured_at: datetime | None, hand_over_at: datetime | None, wording: Wording) -> str:
    if cured_at is None:
        return (
            "When it reaches its full hardness was not worked out. Until its maker says so, put nothing "
            "heavy or warm on it, and cover it with nothing. A faint smell goes away with air."
        )
    early = hand_over_at is not None and hand_over_at < cured_at
    return (
        f"It reaches its full hardness about {_day(cured_at, wording)}. "
        + ("Until then put nothing on it, and cover it with nothing. " if early else "")
        + "A faint smell goes away with air."
    )


def _heat(used: Sequence[System], wording: Wording) -> str:
    known = [one.heat_resistance_c for one in used if one.heat_resistance_c]
    if not known:
        said = "How much heat it stands is not known from its data sheet."
        return f"{said} Hot things on a mat, never on the resin."
    sure = all(one.origin in ("sheet", "measured") for one in known)
    doubt = "" if sure else " (a typical value, not its data sheet's)"
    least = wording.temperature(min(one.value for one in known))
    return (
        f"Above about {least}{doubt} it softens and marks. Hot cups "
        "and pans on a mat, never on the resin; no hair dryer, no candle near it."
    )


def _has_wood(piece: Piece) -> bool:
    on_wood = piece.kind_of_work in ("flood coat", "thin coat", "painted top", "deep pour")
    return on_wood or any(void.wall == "wood" for void in piece.voids)
