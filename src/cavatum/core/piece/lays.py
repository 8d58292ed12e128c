"""One coat after another on a surface: each by its film, by an amount or by a rule of thumb, and what
comes between
it and the one below. Rules 2.5, 4.2, 8.3.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from ..common.amounts import Coverage, Measured, Sense, read_amount, read_coverage
from ..common.errors import DomainError
from ..common.readings import Id, Label, Length, Temperature
from ..common.working import Data

MOST_LAYS = 20
MOST_TIMES = 12
Typed = Annotated[str, Field(max_length=80)]
Role = Literal["not said", "seal", "nicks", "flood"]
Join = Literal["as the workshop does", "in the window", "sanded"]


class LayAmount(Data):
    """What is mixed for one coat on all the equal pieces, as it was typed. value [kg or m3]. sense None:
    nobody said
    whether it is meant in all or of each part.
    """

    as_typed: Typed
    value: float = Field(gt=0, le=1e4)
    by: Measured
    sense: Sense | None = None

    @model_validator(mode="before")
    @classmethod
    def read_text(cls, data: Any) -> Any:
        if isinstance(data, str):
            data = {"as_typed": data}
        if isinstance(data, dict) and data.get("value") is None and isinstance(data.get("as_typed"), str):
            said = read_amount(data["as_typed"], asks=False)
            return {"as_typed": said.as_typed, "value": said.value, "by": said.by, "sense": said.sense}
        return data


class LayRule(Data):
    """A rule of thumb as it was typed: by volume [m3/m2] or by mass [kg/m2]."""

    as_typed: Typed
    value: float = Field(gt=0, le=100)
    by: Measured

    @model_validator(mode="before")
    @classmethod
    def read_text(cls, data: Any) -> Any:
        if isinstance(data, str):
            data = {"as_typed": data}
        if isinstance(data, dict) and data.get("value") is None and isinstance(data.get("as_typed"), str):
            found = read_coverage(data["as_typed"])
            return {"as_typed": data["as_typed"].strip(), "value": found.value, "by": found.by}
        return data

    @property
    def coverage(self) -> Coverage:
        return Coverage(value=self.value, by=self.by)


class Lay(Data):
    """One coat, laid `times` times one after another. One of film, amount and rule is typed; the film of
    the other
    two is worked out when a plan is made (film_m, origin computed).

    role   what it is for: sealing, filling nicks, flooding
    join   how it holds to what is below: fresh in its window, or on a layer that has cured and was sanded
    grit   that it is sanded with before; None: as the table has it. wiped: with solvent after sanding
    again  it was added when the coat below was inspected and had to be made once more
    """

    id: Id
    role: Role = "not said"
    film_m: Length | None = None
    amount: LayAmount | None = None
    rule: LayRule | None = None
    times: int = Field(default=1, ge=1, le=MOST_TIMES)
    system_id: Id | None = None
    colour: Label = ""
    recipe_id: Id | None = None
    pour_c: Temperature | None = None
    join: Join = "as the workshop does"
    grit: int | None = Field(default=None, ge=40, le=3000)
    wiped: bool = True
    again: bool = False

    @model_validator(mode="after")
    def check_side(self) -> Lay:
        said = [one for one in (self.film_m, self.amount, self.rule) if one is not None]
        is_worked_out = self.film_m is not None and self.film_m.origin == "computed"
        if len(said) != 1 and not (is_worked_out and len(said) == 2):
            raise DomainError(
                argument="coat",
                value="typed in several ways" if said else "without film, amount and rule",
                allowed="one of film, amount and rule is typed; the others follow",
                way_out="Type one of the three." if not said else "Empty the other.",
                code="said-twice" if said else "nothing-to-lay",
            )
        return self

    @property
    def typed(self) -> Literal["film", "amount", "rule"]:
        return "amount" if self.amount else "rule" if self.rule else "film"
