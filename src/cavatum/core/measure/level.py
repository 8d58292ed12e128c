"""Free liquid on a piece that is not level: how far it runs, which corner to raise, what freeboard is left.
Rule 2.7.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..common.errors import DomainError
from ..common.plain_numbers import plainly

CORNERS = ("near left", "near right", "far left", "far right")


@dataclass(frozen=True)
class Shims:
    """Height [m] of every corner over the lowest, and what goes under each to make it level: nothing under
    the highest.
    """

    heights_m: dict[str, float]
    shims_m: dict[str, float]


def rise(length_m: float, tilt_deg: float) -> float:
    """Difference of height [m] over a length at a tilt; positive where the far or right end is high.

        L tan(theta)

    length_m  [m], >= 0;  tilt_deg  -90 to 90, both excluded
    Raises nothing. Exact. Source: trigonometry.
    """
    return length_m * math.tan(math.radians(tilt_deg))


def corner_shims(pitch_deg: float, roll_deg: float, length_m: float, width_m: float) -> Shims:
    """What to put under each corner of a rectangle of supports so that it stands level.

        height = y tan(pitch) + x tan(roll) at the corner, shim = highest - height

    length_m between near and far supports, width_m between left and right. Small tilts: the two turns are
    added,
    which is within 0.2 % below 5 degrees. Source: plane through the two slopes.
    """
    along, across = rise(length_m, pitch_deg), rise(width_m, roll_deg)
    raw = dict(zip(CORNERS, (0.0, across, along, along + across), strict=True))
    low, high = min(raw.values()), max(raw.values())
    return Shims(
        {name: one - low for name, one in raw.items()}, {name: high - one for name, one in raw.items()}
    )


def level_swing(pitch_deg: float, roll_deg: float, along_m: float, across_m: float) -> float:
    """How much [m] the liquid stands higher at the low corner than in the middle of an opening.

        (|along tan(pitch)| + |across tan(roll)|) / 2

    pitch_deg, roll_deg  of what it stands on;  along_m, across_m  of the opening [m], >= 0
    Raises nothing. Valid below 5 degrees, where the two turns may be added. Source: plane through the two
    slopes.
    """
    return (abs(rise(along_m, pitch_deg)) + abs(rise(across_m, roll_deg))) / 2


def wedge_overflow(length_m: float, width_m: float, tilt_deg: float, freeboard_m: float) -> float:
    """Volume [m3] that runs over the low end of a straight-walled rectangular opening that was filled level
    and then tilted.

        (r/2 - f) length width,   r = length tan(theta),   0 where r/2 <= f

    length_m, width_m  of the opening [m], > 0;  tilt_deg  of its length;  freeboard_m  left below the rim
                       [m], >= 0

    The surface stays level: against the opening's plane it rises by r/2 at the low end and falls by as
    much at the other, and settles so that it just meets the low wall.
    Raises DomainError for a negative freeboard. Valid while the tilted surface does not touch the floor
    (r/2 < depth).
    Source: wedge of a prism.
    """
    if freeboard_m < 0:
        raise DomainError(
            argument="freeboard",
            value=f"{plainly(freeboard_m * 1000)} mm",
            allowed="it is 0 or more",
            way_out="Check the dam's height.",
        )
    return max(abs(rise(length_m, tilt_deg)) / 2 - freeboard_m, 0.0) * length_m * width_m
