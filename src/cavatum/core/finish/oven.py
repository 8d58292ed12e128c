"""Post-cure: how warm, how slowly up, how long, from the cure model and from what mould and things inside
stand. Rule 8.5.

The oven follows the glass transition up: never more than AHEAD_K above Tg of the cure so far, since a piece
softer than that bends. Hold until the
conversion wanted, integrated with the rate law at the piece's own temperature (thin pieces: the oven's), in 5
minute steps.
"""

from __future__ import annotations

from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..common.working import Data
from ..cure.kinetics import conversion_rate, glass_transition
from ..cure.parameters import ZERO_C_K, Kinetics

# What stands how much heat [degC], from memory, cautious; the mould's and the thing's own sheet go before it.
STANDS_C = {
    "none": 200.0,
    "silicone": 180.0,
    "plastic": 70.0,
    "board": 60.0,
    "wood": 60.0,
    "metal": 200.0,
    "glass": 150.0,
    "other": 60.0,
}
INSIDE_C = {
    "dry plant": 60.0,
    "wood": 60.0,
    "cork": 70.0,
    "paper or cloth": 70.0,
    "acrylic": 70.0,
    "metal": 120.0,
    "stone": 120.0,
    "glass": 120.0,
    "electronics": 55.0,
    "other": 50.0,
}
USUAL_C, USUAL_S = 60.0, 16 * 3600.0  # common practice
RAMP_K_H = 10.0  # own judgement: wood and resin grow at different rates
AHEAD_K = 15.0  # own judgement, for a piece that lies flat or in its mould
STEP_S = 300.0
MOST_S = 72 * 3600.0
WANTED = 0.95


class OvenStep(Data):
    to_c: float
    ramp_s: float
    hold_s: float


class OvenProgram(Data):
    """limited_by: what sets the temperature. tg_c: of the finished piece; conversion: at the end. reached: at
    least WANTED.
    """

    steps: list[OvenStep]
    top_c: float
    limited_by: str
    total_s: float
    conversion_before: float
    conversion: float
    tg_before_c: float
    tg_c: float
    reached: bool
    curve: list[tuple[float, float, float]]


def _check_oven(wish_c: float, mould: str, inside: tuple[str, ...]) -> None:
    for what, table in ((mould, STANDS_C), *((one, INSIDE_C) for one in inside)):
        if what not in table:
            raise DomainError(
                argument="material",
                value=what,
                allowed=f"one of {', '.join(table)}",
                way_out="Choose the nearest.",
                code="no-material",
            )
    if not 35 <= wish_c <= 120:
        raise DomainError(
            argument="post-cure",
            value=f"{plainly(wish_c)} °C",
            allowed="it lies between 35 and 120 °C",
            way_out="Take what the sheet says.",
            code="oven",
        )


def oven_program(
    kinetics: Kinetics,
    conversion: float,
    room_c: float,
    *,
    wish_c: float = USUAL_C,
    mould: str = "none",
    inside: tuple[str, ...] = (),
) -> OvenProgram:
    """Up by RAMP_K_H, held where the glass transition asks for it, until WANTED and at least the usual hours
    at the top.

    conversion  of the least cured place when it goes in, 0..1 (below 1)
    Raises DomainError for an unknown mould or thing, a wish outside 35 to 120 degC, or a room warmer than the
    oven.
    """
    _check_oven(wish_c, mould, inside)
    top, why = min(
        [
            (wish_c, "what was wished for"),
            (STANDS_C[mould], f"the mould ({mould})"),
            *((INSIDE_C[one], one) for one in inside),
        ]
    )
    if top <= room_c + 2:
        raise DomainError(
            argument="post-cure",
            value=f"{plainly(top)} °C",
            allowed=f"it is warmer than the room, {room_c:.0f} °C",
            way_out="Leave it out: time does the same, slowly.",
            code="oven-cold",
        )
    a, at, celsius, held = min(conversion, 0.999), 0.0, room_c, 0.0
    curve = [(0.0, celsius, a)]
    while at < MOST_S and (celsius < top - 1e-6 or held < (USUAL_S if a >= WANTED else 2 * USUAL_S)):
        ahead = glass_transition(kinetics, a) - ZERO_C_K + AHEAD_K
        celsius = (
            min(top, celsius + RAMP_K_H * STEP_S / 3600) if celsius + 1e-9 < min(top, ahead) else celsius
        )
        a = min(a + conversion_rate(kinetics, a, celsius + ZERO_C_K) * STEP_S, 0.999)
        at += STEP_S
        held += STEP_S if celsius >= top - 1e-6 else 0.0
        curve.append((at, celsius, a))
    return OvenProgram(
        steps=_steps(curve, room_c),
        top_c=max(one[1] for one in curve),
        limited_by=why,
        total_s=at,
        conversion_before=conversion,
        conversion=a,
        tg_before_c=glass_transition(kinetics, conversion) - ZERO_C_K,
        tg_c=glass_transition(kinetics, a) - ZERO_C_K,
        reached=a >= WANTED,
        curve=curve[::6],
    )


def _steps(curve: list[tuple[float, float, float]], room_c: float) -> list[OvenStep]:
    """Levels of 5 K as a knob can set them: each with how long the way up to it takes; levels that follow at
    the full ramp are one.
    """
    top = max(one[1] for one in curve)
    levels = sorted(
        {5.0 * k for k in range(int(room_c // 5) + 1, int(top // 5) + 1) if 5.0 * k > room_c + 2.5} | {top}
    )
    steps: list[OvenStep] = []
    level, since = room_c, 0.0
    for to_c in levels:
        reached = next(at for at, celsius, _ in curve if celsius >= to_c - 1e-6)
        full = (to_c - level) / RAMP_K_H * 3600
        if (
            reached - since <= full + 2 * STEP_S
            and steps
            and steps[-1].hold_s == 0
            and steps[-1].ramp_s <= 3600 * (steps[-1].to_c - room_c) / RAMP_K_H + 2 * STEP_S
        ):
            steps[-1] = OvenStep(to_c=to_c, ramp_s=steps[-1].ramp_s + reached - since, hold_s=0.0)
        else:
            steps.append(OvenStep(to_c=to_c, ramp_s=max(reached - since, STEP_S), hold_s=0.0))
        level, since = to_c, reached
    if steps:
        steps[-1] = steps[-1].model_copy(update={"hold_s": curve[-1][0] - since})
    return steps
