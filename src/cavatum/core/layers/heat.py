"""A whole piece's heat: every void's course, all driven by the same pours, and the windows that the clock
asks for.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace

from ..calibration.at_pouring import AtPouring, at_pouring, batch_of
from ..calibration.of_system import Cure
from ..common.errors import DomainError
from ..common.working import Input
from ..common.workshop import Workshop
from ..cure.parameters import Kinetics
from ..heat.around import body_of, surround_of
from ..heat.grid import Room
from ..heat.laden import COLOURANTS, EMBEDDED, Inert, Load, laden
from ..measure.cavity import Cavity, displaced_by
from ..piece.parts import Inclusion, Portion
from ..piece.shelf_items import NONE, ShelfItems
from ..resin.system import System
from .course import Begins, Course, Loads, Window

STAY_S = 10 * 86400.0
SAME_M = 1e-6  # heights nearer than this are the same


@dataclass(kw_only=True)
class HeatOfPiece:
    """Lives while one plan is made. cures: by system, only of those whose class is known; told: per void what
    stands round it;
    shelf_items: form materials, colours."""

    cures: dict[str, Cure] = field(default_factory=dict)
    empty: dict[str, Course] = field(default_factory=dict)
    told: dict[str, list[Input]] = field(default_factory=dict)
    doubts: dict[str, DomainError] = field(default_factory=dict)
    shelf_items: ShelfItems = NONE

    def add_void(
        self, cavity: Cavity, systems: list[System], room: Room, workshop: Workshop, *, coarse: bool = False
    ) -> None:
        """A void filled with systems that are all understood gets a course; a measured top coefficient counts
        for it.
        """
        if not systems or any(system.id not in self.cures for system in systems):
            return
        surround, told = surround_of(
            cavity.void,
            self.cures[systems[-1].id].top_w_m2k,
            self.shelf_items.materials,
            workshop.room_c.value,
            workshop.learned_air,
        )
        course = Course.empty(
            body_of(cavity),
            surround,
            room,
            coarse=coarse,
            begins=out_of_cups(cavity, workshop),
            loads=loads_of(cavity, self.shelf_items),
        )
        written = (cavity.void, workshop, self.shelf_items, *systems)
        self.empty[cavity.void.id] = replace(
            course, made_from=(room, coarse, *(one.model_dump_json() for one in written))
        )
        self.told[cavity.void.id] = told

    def run(self) -> HeatRun:
        return HeatRun(heat=self, courses=dict(self.empty))


def out_of_cups(cavity: Cavity, workshop: Workshop) -> Begins:
    """What a layer of this void begins with: its mix in equal batches, each as the pot clock has it."""
    portion_at = portions_of(cavity)

    def begins(from_m: float, to_m: float, cure: Cure, room_c: float) -> AtPouring:
        density = cure.kinetics.density_kg_m3
        poured_kg = (cavity.volume(to_m) - cavity.volume(from_m)) * cavity.void.count * density
        said = portion_at(to_m).pour_c
        return at_pouring(
            cure.kinetics,
            cure.cup.here(second_cup=workshop.second_cup),
            batch_of(poured_kg, density, workshop),
            room_c,
            said.value if said else None,
        )

    return begins


def portions_of(cavity: Cavity) -> Callable[[float], Portion]:
    """The portion that a layer up to a height [m] belongs to."""
    ends = [one.to_m.value if one.to_m else cavity.fill_m for one in cavity.void.filled_by]

    def at(to_m: float) -> Portion:
        place = next((i for i, end in enumerate(ends) if to_m <= end + SAME_M), len(ends) - 1)
        return cavity.void.filled_by[place]

    return at


def loads_of(cavity: Cavity, shelf: ShelfItems) -> Loads:
    """What stands in a layer of this void beside the clear mix: embedded things of a known stuff, by their
    share of the hollow between the layer's heights, and the colourants of its recipe.
    """
    portion_at, known = portions_of(cavity), [one for one in cavity.void.embedded if one.made_of]

    def loads(from_m: float, to_m: float, kinetics: Kinetics) -> Load:
        room = cavity.hollow_volume(to_m) - cavity.hollow_volume(from_m)
        things = [(_share(one, from_m, to_m, room), _stuff(one)) for one in known] if room > 0 else []
        left = 1 - sum(share for share, _ in things)
        colours = _colours(portion_at(to_m), shelf, kinetics.density_kg_m3)
        return laden(kinetics, [*things, *((left * share, one) for share, one in colours)])

    return loads


def _share(thing: Inclusion, from_m: float, to_m: float, room_m3: float) -> float:
    return (displaced_by(thing, to_m) - displaced_by(thing, from_m)) / room_m3


def _stuff(thing: Inclusion) -> Inert:
    """Its own density where that was said."""
    assert thing.made_of is not None
    stuff = EMBEDDED[thing.made_of]
    return replace(stuff, density=thing.density_kg_m3.value) if thing.density_kg_m3 else stuff


def _colours(portion: Portion, shelf: ShelfItems, clear_kg_m3: float) -> list[tuple[float, Inert]]:
    """(share of the coloured mix by volume, stuff) of each colourant: v_i / (1 + sum v), where
    v_i = w_i rho_clear / rho_i.
    """
    recipe = shelf.recipes.get(portion.recipe_id or "")
    parts = [
        (shelf.colourants[part.colourant_id], part.share.value)
        for part in (recipe.parts if recipe else [])
        if part.colourant_id in shelf.colourants
    ]
    volumes = [share * clear_kg_m3 / one.density_kg_m3.value for one, share in parts]
    found = []
    for (one, _), volume in zip(parts, volumes, strict=True):
        conductivity, heat_capacity = COLOURANTS[one.kind]
        stuff = Inert(conductivity=conductivity, density=one.density_kg_m3.value, heat_capacity=heat_capacity)
        found.append((volume / (1 + sum(volumes)), stuff))
    return found


@dataclass(kw_only=True)
class HeatRun:
    """The pours of a piece one after the other. `keep`: states are kept for drawing."""

    heat: HeatOfPiece
    courses: dict[str, Course]
    windows: list[Window | None] = field(default_factory=list)
    own: dict[tuple[str, int], Window] = field(default_factory=dict)
    keep: bool = False

    def pour(self, layers: list[tuple[str, float, float, str]], at_s: float) -> Window | None:
        """(void, from, to, system) of one pour, at_s after the first. The window of all of them together;
        None where one is not computed.
        """
        found: list[Window | None] = []
        for void, low, high, system in layers:
            if void not in self.courses:
                found.append(None)
                continue
            course = self.courses[void].at(at_s, keep=self.keep)
            course = course.pour(low, high, self.heat.cures[system])
            window = course.window()
            self.own[void, len(self.windows)] = window
            self.courses[void] = course
            found.append(window)
        self.windows.append(_together(found))
        return self.windows[-1]

    def finish(self) -> None:
        """Until everything is out of the form and cool: what the drawing shows."""
        for void, course in self.courses.items():
            if course.layers:
                last = course.window().demould_s or STAY_S
                self.courses[void] = course.wait(course.top.at_s + last + 6 * 3600.0, keep=self.keep)


def _together(found: Sequence[Window | None]) -> Window | None:
    """The slowest opens a window and the quickest closes it; one that never closes leaves that to the others.
    A window that closes before it opens takes nothing fresh.
    """
    known = [one for one in found if one is not None]
    if not known or len(known) < len(found):
        return None

    def last(name: str) -> float | None:
        values = [getattr(one, name) for one in known]
        return None if None in values else max(values)

    closes = [one.closes_s for one in known if one.closes_s is not None]
    hottest = max(known, key=lambda one: one.peak_c or 0.0)
    return Window(
        opens_s=last("opens_s"),
        closes_s=min(closes, default=None),
        demould_s=last("demould_s"),
        gelled_s=last("gelled_s"),
        cured_s=last("cured_s"),
        touch_s=last("touch_s"),
        light_s=last("light_s"),
        peak_s=hottest.peak_s,
        peak_c=hottest.peak_c,
    )
