"""Which layers one portion of a void is cut into, by the piece's choice, under heat and rules. Rules 4.1,
4.4.
"""

from __future__ import annotations

from collections.abc import Callable, Hashable
from copy import copy
from dataclasses import dataclass

from ..calibration.of_system import Cure
from ..common.errors import DomainError
from ..common.remembered import Remembered
from ..piece.document import LayerChoice
from .course import Course
from .planner import Split, candidates, choose, one_more, rules_only
from .split import Layer, Stretch, split

SEARCHED = ("fewest", "coolest", "soonest")
OutOfForm = Callable[[Stretch, Split], float]  # when a portion split so would be out of the form


# A dozen pieces with all their ways to split; their courses hold every step of their heat.
_SPLITS: Remembered[list[Split] | DomainError] = Remembered(128)


def known_candidates(stretch: Stretch, cure: Cure, course: Course, *, fewest: bool = False) -> list[Split]:
    """As planner.candidates and, but for the fewest, planner.one_more, worked out once for all plans that
    differ in nothing that they hang on.

    stretch, cure, course  as there
    Raises the DomainError that the search ended with. Valid as there. Source: planner.candidates.
    """
    signed = course.signature
    asked = None if signed is None else (signed, cure.system_id, stretch.from_m, stretch.to_m)
    found = _known(asked, lambda: candidates(stretch, cure, course))
    if fewest:
        return found
    more = None if asked is None else (*asked, "one more")
    return [*found, *_known(more, lambda: one_more(found[0], stretch, cure, course))]


def _known(asked: Hashable, work_out: Callable[[], list[Split]]) -> list[Split]:
    def search() -> list[Split] | DomainError:
        try:
            return work_out()
        except DomainError as error:
            return copy(error)  # without the frames that it came through, which hold a whole plan

    found = _SPLITS.get(asked, search)
    if isinstance(found, DomainError):
        raise copy(found)
    return found


@dataclass(frozen=True, kw_only=True)
class Search:
    """How one portion is to be split. boundaries_m: drawn by the person; None: by the choice."""

    choice: LayerChoice
    boundaries_m: list[float] | None
    out_of_form: OutOfForm


def void_layers(
    search: Search, stretch: Stretch, cure: Cure | None, course: Course | None
) -> tuple[list[Layer], Course | None]:
    """The layers of one portion, and the void as it stands when the next portion may follow.

    cure, course  None where the heat of this void is not computed
    """
    choice = "fewest" if stretch.cavity.void.is_coat else search.choice
    if course is None or cure is None:
        return split(stretch, "fewest" if choice in SEARCHED else choice, search.boundaries_m), None
    if choice not in SEARCHED:  # no search follows: nobody asks how the void stands then
        return split(stretch, choice, search.boundaries_m), course
    try:
        found = known_candidates(stretch, cure, course, fewest=choice == "fewest")
        chosen = choose(found, choice, lambda one: search.out_of_form(stretch, one))
        return list(chosen.layers), chosen.course
    except DomainError as error:
        if error.code == "too-many-layers":
            raise
        layers = rules_only(stretch, error)
    for layer in layers:
        course = course.pour(layer.from_m, layer.to_m, cure).until_ready()
    return layers, course
