"""Which layers one portion of a void is cut into, by the piece's choice, under heat and rules. Rules 4.1,
4.4.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

from ..calibration.of_system import Cure
from ..common.errors import DomainError
from ..piece.document import LayerChoice
from .chance import chances_of
from .course import Course
from .model import Chance
from .planner import Split, candidates, choose, rules_only
from .split import Layer, Stretch, split

SEARCHED = ("fewest", "coolest", "soonest")
OutOfForm = Callable[[Stretch, Split], float]  # when a portion split so would be out of the form


@dataclass(frozen=True)
class SplitMemo:
    """Splits searched for already, and chances worked out, shared between plans of one piece that differ in
    nothing but the choice among them.
    """

    found: dict[tuple[str, tuple[tuple[float, float], ...]], list[Split] | DomainError] = field(
        default_factory=dict
    )
    reckoned: dict[tuple[str, tuple[tuple[float, float, str, float], ...]], list[Chance]] = field(
        default_factory=dict
    )

    def chances(self, void_id: str, course: Course) -> list[Chance]:
        """Of every layer of a void, poured at the course's hours."""
        key = (
            void_id,
            tuple((one.from_m, one.to_m, one.cure.system_id, one.at_s) for one in course.layers),
        )
        if key not in self.reckoned:
            self.reckoned[key] = chances_of(course)
        return self.reckoned[key]

    def candidates(self, portion_id: str, stretch: Stretch, cure: Cure, course: Course) -> list[Split]:
        """Raises the DomainError that the search for this portion on these layers ended with."""
        key = (portion_id, tuple((one.from_m, one.to_m) for one in course.layers))
        if key not in self.found:
            try:
                self.found[key] = candidates(stretch, cure, course)
            except DomainError as error:
                self.found[key] = error
        known = self.found[key]
        if isinstance(known, DomainError):
            raise known
        return known


@dataclass(frozen=True, kw_only=True)
class Search:
    """How one portion is to be split. boundaries_m: drawn by the person; None: by the choice."""

    choice: LayerChoice
    portion_id: str
    boundaries_m: list[float] | None
    memo: SplitMemo
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
        found = search.memo.candidates(search.portion_id, stretch, cure, course)
        chosen = choose(found, choice, lambda one: search.out_of_form(stretch, one))
        return list(chosen.layers), chosen.course
    except DomainError as error:
        if error.code == "too-many-layers":
            raise
        layers = rules_only(stretch, error)
    for layer in layers:
        course = course.pour(layer.from_m, layer.to_m, cure).until_ready()
    return layers, course
