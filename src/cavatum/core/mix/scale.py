"""A stream of scale readings: at rest or moving, and when it lies (frozen, jumping, another unit, too heavy).
Rules 5.1 and 5.2.
"""

from __future__ import annotations

from collections.abc import Sequence

from ..common.verdict import Verdict
from ..common.wording import Wording
from ..common.working import Data

REST_S = 1.0  # own choice: within one step for this long is at rest
QUIET_S = 3.0
FROZEN_S = 30.0  # own judgement: nobody pours so slowly that no step changes
# own judgement: a fast pour by hand is about 2 L a minute, 0.04 kg/s; a jug tipped over less than this
FASTEST_KG_S = 0.15


class ScaleReading(Data):
    """One line of the scale. at_s: seconds on the reader's clock; stable: what the scale says itself, None
    when it does not.
    """

    at_s: float
    mass_kg: float
    unit: str = "g"
    stable: bool | None = None
    overload: bool = False


def at_rest(readings: Sequence[ScaleReading], step_kg: float) -> bool:
    """Within one step for REST_S, and the scale does not itself say that it moves."""
    if not readings or readings[-1].overload or readings[-1].stable is False:
        return False
    last = readings[-1]
    span = [one for one in readings if one.at_s >= last.at_s - REST_S]
    return last.at_s - readings[0].at_s >= REST_S * 0.8 and all(
        abs(one.mass_kg - last.mass_kg) <= step_kg * 1.01 and not one.overload for one in span
    )


def doubts(
    readings: Sequence[ScaleReading], most_kg: float, wording: Wording, unchanged_s: float
) -> list[Verdict]:
    """What speaks against the scale right now. unchanged_s: how long it has said the very same while somebody
    is meant to be pouring.
    """
    if not readings:
        return []
    last, found = readings[-1], []
    if last.overload or last.mass_kg > most_kg:
        found.append(
            Verdict(
                weight="blocker",
                stage="mix",
                code="overload",
                rule="5.2",
                title="Too heavy for the scale",
                text=f"It reads no more than {wording.mass(most_kg)}, cup and all.",
                todo="Take the cup off, and split the batch in two.",
            )
        )
    if unchanged_s >= FROZEN_S and not last.overload:
        found.append(
            Verdict(
                weight="warning",
                stage="mix",
                code="frozen",
                rule="5.2",
                title="The scale does not move",
                text=f"It has said exactly {wording.mass(last.mass_kg)} for {unchanged_s:.0f} s.",
                todo="If you are pouring, stop: lift the cup and set it down again. Still the same: go on "
                "by hand with another scale.",
            )
        )
    jump = _jump(readings)
    if jump is not None:
        found.append(
            Verdict(
                weight="warning",
                stage="mix",
                code="jump",
                rule="5.2",
                title="The reading jumped",
                text=f"By {wording.mass(abs(jump))} between two lines, faster than anybody pours.",
                todo="Was the cup lifted or something laid on? Otherwise check the plug and weigh again "
                "before you trust it.",
            )
        )
    units = list(dict.fromkeys(one.unit for one in readings))
    if len(units) > 1:
        found.append(
            Verdict(
                weight="warning",
                stage="mix",
                code="unit-changed",
                rule="5.2",
                title=f"The scale went over from {units[-2]} to {units[-1]}",
                text="The figures here are turned into grams and stay right; those on its own display are "
                "in the new unit.",
                todo=f"Press the unit key until it shows {units[0]} again.",
            )
        )
    return found


def _jump(readings: Sequence[ScaleReading]) -> float | None:
    """The last change faster than FASTEST_KG_S within the newest seconds. Down to 0 is a tare or a lifted
    cup, told elsewhere.
    """
    for before, after in reversed(list(zip(readings, readings[1:], strict=False))):
        if after.at_s < readings[-1].at_s - REST_S:
            return None
        change = after.mass_kg - before.mass_kg
        if abs(change) > FASTEST_KG_S * max(after.at_s - before.at_s, 0.1) + 0.005:
            return change
    return None
