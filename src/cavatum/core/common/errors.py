"""How the core refuses: as data, so that each edge can put it into its own words."""

from __future__ import annotations

from dataclasses import dataclass, field, fields
from typing import Any


@dataclass(kw_only=True)
class DomainError(ValueError):
    """A value the core cannot take.

    argument  what was given, in the trade's words ("depth", "ratio A:B")
    value     as it was given, with its unit
    allowed   what would be taken
    way_out   what the person can do, one sentence
    choices   texts that would be taken instead, when the question is "which of these?"
    """

    argument: str
    value: str
    allowed: str
    way_out: str
    code: str = "out-of-range"
    choices: list[str] = field(default_factory=list)

    def __reduce__(self) -> tuple[Any, ...]:
        """Crosses to another process whole; an exception's own way would lose what is given by name."""
        return _again, (type(self), {one.name: getattr(self, one.name) for one in fields(self)})

    def __str__(self) -> str:
        said = f"{self.argument} is {self.value}; {self.allowed}. {self.way_out}"
        return said.replace("⟦", "").replace("⟧", "")  # marked amounts, for a reader of no known units


def _again(kind: type[DomainError], given: dict[str, Any]) -> DomainError:
    return kind(**given)


class Infeasible(DomainError):
    """Every value is sound, yet together they allow no answer (walls that meet above the floor, for one)."""
