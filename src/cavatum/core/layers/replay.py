"""The heat of a plan that was made before, for long work on it: the same voids, layers and hours, run through
again.
"""

from __future__ import annotations

from ..common.errors import DomainError
from ..common.workshop import Workshop
from ..measure.cavity import cavity_of, coat_cavity
from ..piece.document import Piece
from ..piece.shelf_items import NONE, Goods
from ..plan import Job
from ..plan_model import Plan
from ..resin.system import System
from .course import Course
from .heat_plan import understand


def courses_of(
    piece: Piece, systems: dict[str, System], workshop: Workshop, plan: Plan, goods: Goods = NONE
) -> dict[str, Course]:
    """Every void of the plan with the layers that heat was computed for, each poured at the plan's own hour
    and followed until it is ready.
    """
    job = Job(piece, systems, workshop, plan.made_at, goods)
    for void in piece.voids:
        try:
            job.cavities[void.id] = cavity_of(void)
        except DomainError:
            continue
    for coat in piece.coats:
        job.cavities[coat.id] = coat_cavity(coat)
    heat = understand(job, plan.start_at or plan.made_at)
    courses: dict[str, Course] = {}
    for pour in plan.pours:
        for layer in pour.layers:
            if layer.heat is None or layer.void_id not in heat.empty:
                continue
            course = courses.get(layer.void_id, heat.empty[layer.void_id])
            course = course.wait(layer.heat.poured_s) if course.layers else course.later(layer.heat.poured_s)
            courses[layer.void_id] = course.pour(layer.from_m, layer.to_m, heat.cures[layer.system_id])
    return {void: course.until_ready() for void, course in courses.items()}
