"""A stream of scale readings: at rest or moving, and when it lies (frozen, jumping, another unit, too heavy).
Rules 5.1 and 5.2.
"""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

from ..common.plain_numbers import plainly
from ..common.verdict import Verdict
from ..common.wording import Wording
from ..common.working import Data

REST_S = 1.0  # own choice: within one step for this long is at rest
QUIET_S = 3.0
DRIFT_S, DRIFT_STEPS, DRIFT_LEAST = 45.0, 3, 8
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


def drift_of(trail: Sequence[tuple[float, float]], step_kg: float) -> Verdict | None:
    """A reading that creeps one way while nothing is poured: slower than anybody pours.

    trail  (s, kg), about every five seconds, the newest last

    Told over DRIFT_S, where each went no further than a step and a half, all one way, and together
    DRIFT_STEPS steps. Raises nothing. Valid for a cup that nobody touches; resin that drips in more slowly
    than a step in three seconds looks the same, and the words say so. Source: own judgement.
    """
    recent = [one for one in trail if one[0] >= trail[-1][0] - DRIFT_S * 1.2] if trail else []
    if len(recent) < DRIFT_LEAST or recent[-1][0] - recent[0][0] < DRIFT_S:
        return None
    changes = [after[1] - before[1] for before, after in pairwise(recent)]
    whole = recent[-1][1] - recent[0][1]
    one_way = all(change * whole >= 0 for change in changes)
    if not one_way or max(map(abs, changes)) > 1.5 * step_kg or abs(whole) < DRIFT_STEPS * step_kg * 0.99:
        return None
    grams = plainly(abs(whole) * 1000, 2)
    return Verdict(
        weight="warning",
        stage="mix",
        code="drift",
        rule="5.2",
        title="The scale drifts",
        text=f"It went {'up' if whole > 0 else 'down'} by {grams} g in {recent[-1][0] - recent[0][0]:.0f} s, "
        "slower than anybody pours.",
        todo="Draughts, a warm cup, a cold scale or a low battery do that. Still dripping in? Then wait. "
        "Otherwise let it warm up, tare it, or go on by hand with another.",
    )


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
