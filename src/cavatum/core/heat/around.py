"""What the document says stands round a void, as the kernel needs it; what nobody said is taken as typical
and listed.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import replace
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..common.readings import Offset
from ..common.working import Input
from ..common.workshop import MINUTES_A_DAY, LearnedAir, Workshop
from ..measure.cavity import Cavity
from ..piece.coats import Coat
from ..piece.form_material import FormMaterial
from ..piece.parts import Around, Filled, Void
from .body import Body
from .form_materials import material_of
from .grid import Room
from .materials import MATERIALS, SHINES_W_M2, TOP_W_M2K, Material, Surround

ZERO_C_K = 273.15
RAMP_S = 3600.0
DAYS_OF_ROOM = 28
LEAST_OPEN_M2 = 1e-6  # own choice: a smaller opening is no top


def _under_coat(air: Surround) -> tuple[Surround, list[Input]]:
    """A coated body counts as wood, lying free. air: what leaves at top and sides."""
    told = [
        Input(
            name="coated body, taken as wood ⟦18 mm⟧ thick",
            value=0.018,
            quantity="length",
            origin="typical",
        )
    ]
    return replace(
        air, wall="wood", wall_m=0.018, floor="wood", floor_m=0.018, stands_on="raised", wrapped=False
    ), told


def _air(top_w_m2k: float, learned: LearnedAir | None) -> Surround:
    """What leaves at top and sides: as the workshop's own curve taught, else as a sheet's, else typical."""
    if learned is not None:
        return Surround(
            top_w_m2k=TOP_W_M2K * learned.top_times, side_times=learned.side_times, air_is_measured=True
        )
    return Surround(top_w_m2k=top_w_m2k, air_is_measured=top_w_m2k != TOP_W_M2K)


def check_around(cavity: Cavity) -> None:
    """What is said round a void has to be possible there. The error's argument names the field.

    Raises DomainError for a cover over a void without an open top, and for cavities nearer to each other than
    their walls.
    """
    void = cavity.void
    around = void.around if isinstance(void, Void) else None
    if around is None:
        return
    if around.covered not in (None, "open") and cavity.hollow.area(cavity.hollow.depth_m) < LEAST_OPEN_M2:
        raise DomainError(
            argument="covered",
            value=around.covered or "",
            allowed="it has an open top, which this shape has not",
            way_out="Leave it open.",
            code="no-top",
        )
    if around.spacing_m and around.wall_m and around.spacing_m.value < around.wall_m.value - 1e-9:
        raise DomainError(
            argument="spacing m",
            value=around.spacing_m.as_typed or f"⟦{plainly(around.spacing_m.value * 1000)} mm⟧",
            allowed=f"it is at least the wall between them, ⟦{plainly(around.wall_m.value * 1000)} mm⟧",
            way_out="Measure from cavity to cavity.",
            code="spacing-below-wall",
        )


def neighbours_of(count: int) -> int:
    """How many of its four sides the most enclosed of `count` equal cavities shares with others, set in
    rows as near a square as they go.

        rows = floor(sqrt(n)), columns = ceil(n / rows);   min(2, rows - 1) + min(2, columns - 1)

    count  at least 1
    Raises nothing. Exact for a full rectangle. Source: by counting.
    """
    rows = math.isqrt(count)
    return min(2, rows - 1) + min(2, -(-count // rows) - 1)


def surround_of(
    void: Filled,
    top_w_m2k: float = TOP_W_M2K,
    own: Mapping[str, FormMaterial] | None = None,
    room_c: float | None = None,
    learned: LearnedAir | None = None,
) -> tuple[Surround, list[Input]]:
    """Wall, floor and what it stands on, with an input for each that says whether it was told or is typical.
    own: the shelf's form materials; room_c: the room's, where what it stands on has another temperature;
    learned: what a curve taught of the workshop's air.
    """
    air = _air(top_w_m2k, learned)
    if isinstance(void, Coat):
        return _under_coat(air)
    assert isinstance(void, Void)  # nothing else is filled
    around = void.around or Around()
    shelf, of_shelf = _own(around, own or {})
    floor = around.floor or void.wall
    floor_own = of_shelf if around.floor is None else None
    wall_is, floor_is = of_shelf or MATERIALS[void.wall], floor_own or MATERIALS[floor]
    wall = _thickness(f"wall: {wall_is.name}", around.wall_m, wall_is.typical_m)
    below = _thickness(f"floor: {floor_is.name}", around.floor_m, floor_is.typical_m)
    shared, beside_m = _beside(void.count, around, wall.value)
    made = replace(
        air,
        wall=shelf.like if shelf else void.wall,
        wall_m=beside_m,
        floor=floor,
        floor_m=below.value,
        stands_on=around.stands_on or "bench",
        wrapped=around.wrapped,
        covered=around.covered or "open",
        fan=around.fan,
        shines=around.shines,
        under_off_k=_off_k(around, room_c),
        exposed=1 - shared,
        wall_own=of_shelf,
        floor_own=floor_own,
    )
    return made, [
        *_of_shelf(shelf),
        wall,
        below,
        *_to_the_air(around, made),
        *_beside_it(void, around),
    ]


def _beside(count: int, around: Around, wall_m: float) -> tuple[float, float]:
    """Share of the girth that other cavities stand beside, and how thick the wall is on the whole [m]: half
    of what is between two of them there.
    """
    if around.spacing_m is None:
        return 0.0, wall_m
    shared = neighbours_of(count) / 4
    return shared, (1 - shared) * wall_m + shared * around.spacing_m.value / 2


def _off_k(around: Around, room_c: float | None) -> float:
    """How much warmer than the room what it stands on is [K]."""
    return around.under_c.value - room_c if around.under_c and room_c is not None else 0.0


def _beside_it(void: Void, around: Around) -> list[Input]:
    """Equal cavities near by, and what shines on it or lies under it."""
    told = []
    if void.count > 1:
        name = f"{void.count} cavities{', wall to wall' if around.spacing_m else ' that stand alone'}"
        told.append(
            around.spacing_m.as_input(name)
            if around.spacing_m
            else Input(name=name, value=void.count, quantity="count", origin="typical")
        )
    if around.under_c:
        told.append(around.under_c.as_input("what it stands on"))
    if around.shines != "nothing":
        told.append(
            Input(
                name=f"{around.shines} on it, W/m²",
                value=SHINES_W_M2[around.shines],
                quantity="count",
                origin="chosen",
            )
        )
    return told


def _own(around: Around, own: Mapping[str, FormMaterial]) -> tuple[FormMaterial | None, Material | None]:
    """The form material that is named, of the workshop's own."""
    found = own.get(around.material_id or "")
    return found, material_of(found) if found else None


def _of_shelf(material: FormMaterial | None) -> list[Input]:
    if material is None:
        return []
    return [
        material.conductivity_w_m_k.as_input(f"{material.name}: conductivity"),
        material.density_kg_m3.as_input(f"{material.name}: density"),
        material.heat_capacity_j_kg_k.as_input(f"{material.name}: heat capacity"),
    ]


def _to_the_air(around: Around, made: Surround) -> list[Input]:
    """Heat transfer below, at the sides and at the top."""
    return [
        Input(
            name=f"stands on: {made.stands_on}, W/(m²·K)",
            value=made.underside_w_m2k,
            quantity="count",
            origin="chosen" if around.stands_on else "typical",
        ),
        Input(
            name="to the air at the sides, W/(m²·K)" + (", wrapped" if around.wrapped else ""),
            value=made.side_w_m2k,
            quantity="count",
            origin="measured" if made.air_is_measured and made.side_times != 1 else "typical",
        ),
        Input(
            name=f"to the air at the top, {made.covered}{', a fan' if made.fan else ''}, W/(m²·K)",
            value=made.over_w_m2k,
            quantity="count",
            origin="measured"
            if made.air_is_measured
            else "chosen"
            if around.covered or around.fan
            else "typical",
        ),
    ]


def _thickness(name: str, said: Offset | None, typical_m: float) -> Input:
    return (
        said.as_input(name)
        if said
        else Input(name=name, value=typical_m, quantity="length", origin="typical")
    )


def body_of(cavity: Cavity) -> Body:
    """A void's measures by height; a coat is so wide that no edge matters. Above the rim the opening is
    carried straight up, walled by the dam.
    """
    if isinstance(cavity.void, Coat):
        return Body.wide()
    hollow = cavity.hollow
    rim = hollow.depth_m

    def wetted(height_m: float) -> float:
        if height_m <= rim:
            return hollow.wetted(max(height_m, 0.0))
        return hollow.wetted(rim) + _girth(hollow.area(rim), hollow.width(rim)) * (height_m - rim)

    return Body(
        width=_clipped(hollow.through, rim),
        area=_clipped(hollow.area, rim),
        wetted=wetted,
        tall_m=cavity.fill_m,
    )


def _clipped(measure: Callable[[float], float], rim_m: float) -> Callable[[float], float]:
    return lambda height_m: measure(min(max(height_m, 0.0), rim_m))


def _girth(area_m2: float, width_m: float) -> float:
    """Length round a rectangle of that width and area, no shorter than round a circle of it."""
    width = max(min(width_m, math.sqrt(area_m2)), 1e-4)
    return max(2 * (width + area_m2 / width), 2 * math.sqrt(math.pi * area_m2))


def room_of(workshop: Workshop, start: datetime) -> Room:
    """The workshop's air from `start` on: steady, or by the hour where the heating goes down at night."""
    day_k = workshop.room_c.value + ZERO_C_K
    night = workshop.night
    if night is None:
        return Room((day_k,))
    zone = ZoneInfo(workshop.zone)
    entries = []
    for hour in range(24 * DAYS_OF_ROOM):
        local = (start + timedelta(hours=hour)).astimezone(zone)
        minute = local.hour * 60 + local.minute
        within = (minute - night.from_min) % MINUTES_A_DAY < (night.to_min - night.from_min) % MINUTES_A_DAY
        entries.append(night.room_c.value + ZERO_C_K if within else day_k)
    return Room(tuple(entries), RAMP_S)
