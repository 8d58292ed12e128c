"""Oil and varnish coat by coat: laid on, left standing, wiped off in time, buffed between, all within
people's hours.
Rules 8.4, 8.7.
"""

from __future__ import annotations

from datetime import datetime, timedelta

from ..clock.hours import next_slot
from ..common.verdict import Verdict
from ..common.workshop import Workshop
from ..piece.finish_wishes import Finish
from ..practice.finishing import BUFF_S, ENDINGS, OIL_HANDS_S, RAGS, WIPE_S, Ending
from .grit import P_UM, US_UM
from .model import FinishStep
from .verdicts import finish_verdict


def stand_of(wishes: Finish) -> float:
    """How long it stands before it is wiped off [s]: as the maker said, else as is usual."""
    return wishes.stand_s.value if wishes.stand_s else ENDINGS[wishes.surface].stand_s


def ending_steps(wishes: Finish, from_: datetime, workshop: Workshop) -> tuple[list[FinishStep], datetime]:
    """Every coat of an oil or a varnish from a moment on, and when the last may be left.

    A coat is laid on only where the same hands are there to wipe it off in time.
    """
    ending = ENDINGS[wishes.surface]
    coats = wishes.ending_coats or ending.coats
    stand, between = stand_of(wishes), wishes.between_s.value if wishes.between_s else ending.between_s
    wipes = WIPE_S if ending.stand_s or stand else 0.0
    found, cursor = list[FinishStep](), from_
    for number in range(1, coats + 1):
        buffs = BUFF_S if number > 1 else 0.0
        needed = timedelta(seconds=buffs + OIL_HANDS_S + stand + wipes)
        soon = _until(ending, wishes, cursor, between) if buffs else None
        begin = next_slot(workshop, cursor, needed) or cursor  # the first there is, in its span or after it
        if buffs:
            found.append(_buffed(number, begin, is_late=soon is not None and begin > soon))
        on = begin + timedelta(seconds=buffs)
        found.append(_step(wishes.surface, ending, number, coats, on))
        if wipes:
            off = on + timedelta(seconds=OIL_HANDS_S + stand)
            found.append(_off(ending, number, off))
        cursor = on + timedelta(seconds=OIL_HANDS_S + stand + wipes + between)
    return found, cursor


def _until(ending: Ending, wishes: Finish, cursor: datetime, between: float) -> datetime | None:
    """Until when the next coat still goes on what is only buffed; None where nobody says."""
    if ending.between_most_s is None or wishes.between_s is not None:
        return None
    return cursor + timedelta(seconds=ending.between_most_s - between)


def _step(what: str, ending: Ending, number: int, coats: int, at: datetime) -> FinishStep:
    return FinishStep(
        code=f"{what}-{number}",
        title=f"{what.capitalize()}, coat {number} of {coats}",
        text=ending.on,
        why=ending.why,
        rule="8.7",
        gate="sand",
        caution=RAGS,
        at=at,
        hands_s=OIL_HANDS_S,
    )


def _off(ending: Ending, number: int, at: datetime) -> FinishStep:
    return FinishStep(
        code=f"wipe-off-{number}",
        title=f"Wipe coat {number} off",
        text=ending.off,
        why=ending.why,
        rule="8.4",
        gate="sand",
        caution=RAGS,
        at=at,
        by=at + timedelta(seconds=WIPE_S),
        hands_s=WIPE_S,
    )


def _buffed(number: int, at: datetime, *, is_late: bool = False) -> FinishStep:
    return FinishStep(
        code=f"buff-{number}",
        title=f"Buff before coat {number}",
        text="It has dried through: a grey pad or 320 grit until it is matt all over; dust off."
        if is_late
        else "A grey pad or 400 grit, no pressure; dust off.",
        why="Raised grain and dust would show through every coat above.",
        rule="8.7",
        gate="sand",
        caution="",
        at=at,
        hands_s=BUFF_S,
    )


def ending_verdicts(wishes: Finish) -> list[Verdict]:
    """The wood's grit before oil or varnish: asked, and doubted where it closes the pores."""
    ending = ENDINGS.get(wishes.surface)
    if ending is None:
        return []
    if wishes.wood_grit is None:
        return [
            finish_verdict(
                "warning",
                "grit-not-said",
                "8.4",
                "What grit was the wood sanded to?",
                f"Before {wishes.surface} it decides how much goes in: 180 to 220 is usual.",
                "Say the last grit.",
                "/finish/wood_grit",
            )
        ]
    if _micrometres(wishes) >= ending.finest_um:
        return []
    return [
        finish_verdict(
            "warning",
            "grit-too-fine",
            "8.4",
            f"{wishes.series}{wishes.wood_grit} is too fine for {wishes.surface}",
            "Finer than 220 closes the pores: it stays on top, dries sticky and wears off.",
            "Go back to 180 or 220.",
            "/finish/wood_grit",
        )
    ]


def _micrometres(wishes: Finish) -> float:
    assert wishes.wood_grit is not None
    table = US_UM if wishes.series == "US" else P_UM
    return table.get(wishes.wood_grit, P_UM[wishes.wood_grit])
