"""A whole piece's heat: every void's course, all driven by the same pours, and the windows that the clock
asks for.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field

from ..calibration.at_pouring import AtPouring, at_pouring, batch_of
from ..calibration.of_system import Cure
from ..common.errors import DomainError
from ..common.working import Input
from ..common.workshop import Workshop
from ..heat.around import body_of, surround_of
from ..heat.grid import Room
from ..measure.cavity import Cavity
from ..piece.form_material import FormMaterial
from ..resin.system import System
from .course import Begins, Course, Window

STAY_S = 10 * 86400.0
SAME_M = 1e-6  # heights nearer than this are the same


@dataclass(kw_only=True)
class HeatOfPiece:
    """Lives while one plan is made. cures: by system, only of those whose class is known; told: per void what
    stands round it;
    materials: the shelf's form materials."""

    cures: dict[str, Cure] = field(default_factory=dict)
    empty: dict[str, Course] = field(default_factory=dict)
    told: dict[str, list[Input]] = field(default_factory=dict)
    doubts: dict[str, DomainError] = field(default_factory=dict)
    materials: dict[str, FormMaterial] = field(default_factory=dict)

    def add_void(
        self, cavity: Cavity, systems: list[System], room: Room, workshop: Workshop, *, coarse: bool = False
    ) -> None:
        """A void filled with systems that are all understood gets a course; a measured top coefficient counts
        for it.
        """
        if not systems or any(system.id not in self.cures for system in systems):
            return
        surround, told = surround_of(
            cavity.void, self.cures[systems[-1].id].top_w_m2k, self.materials, workshop.room_c.value
        )
        self.empty[cavity.void.id] = Course.empty(
            body_of(cavity), surround, room, coarse=coarse, begins=out_of_cups(cavity, workshop)
        )
        self.told[cavity.void.id] = told

    def run(self) -> HeatRun:
        return HeatRun(heat=self, courses=dict(self.empty))


def out_of_cups(cavity: Cavity, workshop: Workshop) -> Begins:
    """What a layer of this void begins with: its mix in equal batches, each as the pot clock has it."""
    ends = [one.to_m.value if one.to_m else cavity.fill_m for one in cavity.void.portions]

    def begins(from_m: float, to_m: float, cure: Cure, room_c: float) -> AtPouring:
        density = cure.kinetics.density_kg_m3
        poured_kg = (cavity.volume(to_m) - cavity.volume(from_m)) * cavity.void.count * density
        portion = next((i for i, end in enumerate(ends) if to_m <= end + SAME_M), len(ends) - 1)
        said = cavity.void.portions[portion].pour_c
        return at_pouring(
            cure.kinetics,
            cure.cup.here(second_cup=workshop.second_cup),
            batch_of(poured_kg, density, workshop),
            room_c,
            said.value if said else None,
        )

    return begins


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
            course = self.courses[void]
            if course.layers:
                course = course.wait(at_s, keep=self.keep)
            elif at_s > 0:
                course = course.later(at_s)
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


def _together(found: list[Window | None]) -> Window | None:
    """The slowest opens a window and the quickest closes it."""
    if not found or any(one is None for one in found):
        return None

    def worst(name: str, pick: Callable[[Iterable[float]], float]) -> float | None:
        values = [getattr(one, name) for one in found]
        return None if any(value is None for value in values) else pick(values)

    return Window(
        opens_s=worst("opens_s", max),
        closes_s=worst("closes_s", min),
        demould_s=worst("demould_s", max),
        gelled_s=worst("gelled_s", max),
        cured_s=worst("cured_s", max),
    )
