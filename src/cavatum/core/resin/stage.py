"""The stage: which systems does the piece use, and are their sheets to be trusted? Rules 3.1 to 3.3."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from ..common.answer import Answer
from ..common.errors import DomainError
from ..common.verdict import StageReport, Verdict, counted, refused
from .checks import check_system
from .ratio import MixRatio, ratio_of
from .system import System


@dataclass(frozen=True)
class Chosen:
    """used: in the order the piece names them. ratios: by system; one without a basis has none, and so no
    batches.
    """

    used: list[System]
    ratios: dict[str, MixRatio]


def choose_systems(named: Iterable[str], shelf: Mapping[str, System]) -> Answer[Chosen]:
    """The systems in use, each checked. A name that the shelf does not hold stops the job."""
    used: dict[str, System] = {}
    found: list[Verdict] = []
    for name in named:
        if name in shelf:
            used[name] = shelf[name]
        elif not found:
            found.append(
                refused(
                    "resin",
                    DomainError(
                        argument="resin system",
                        value=name,
                        allowed="it must stand on the shelf",
                        way_out="Choose another.",
                        code="system-gone",
                    ),
                )
            )
    for system in used.values():
        found += check_system(system)
    ratios = {system.id: ratio_of(system) for system in used.values() if system.basis is not None}
    return Answer(Chosen(list(used.values()), ratios), found)


def report(used: list[System], *, is_measured: bool) -> StageReport:
    if not used:
        return StageReport("resin", "Choose a resin system." if is_measured else "Measure first.")
    return StageReport("resin", summary=used[0].name if len(used) == 1 else counted(len(used), "system"))
