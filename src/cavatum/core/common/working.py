"""How a figure was come by. Every number that reaches a person is a Figure that names its Working."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

Quantity = Literal[
    "length",
    "area",
    "volume",
    "mass",
    "density",
    "duration",
    "fraction",
    "ratio",
    "count",
    "force",
    "money",
    "temperature",
    "temperature_difference",
    "areal_volume",
    "moment",
    "angle",
    "pressure",
    "speed",
    "viscosity",
    "heat",
    "conductivity",
    "heat_capacity",
]
Origin = Literal["chosen", "measured", "learned", "sheet", "typical", "computed"]
Share = Annotated[float, Field(ge=0, le=1)]


class Data(BaseModel):
    """Base of everything the core hands out or takes in: no unknown keys, no NaN, not changed in place."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, frozen=True)


class ReadFrom(Data):
    """Where a value was read: a file by its SHA-256, a page of it, and the place on the page as shares of
    its width and height. field: of the system. value [SI]: what was taken there; a value changed since is no
    longer that line's.
    """

    field: Annotated[str, Field(max_length=120)]
    file: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
    page: Annotated[int, Field(ge=1, le=1000)]
    left: Share
    top: Share
    right: Share
    bottom: Share
    written: Annotated[str, Field(max_length=200)] = ""
    value: float | None = None


class Input(Data):
    """One number put into a formula. `value` is SI (money in minor units). read_from: the line of a data
    sheet it was read on, where the program read it.
    """

    name: str
    value: float
    quantity: Quantity
    origin: Origin
    as_typed: str = ""
    read_from: ReadFrom | None = None


class Working(Data):
    """Formula in words of the trade, the numbers put in, and the source of the formula."""

    name: str
    formula: str
    inputs: list[Input]
    value: float
    quantity: Quantity
    source: str
    notes: list[str] = []


class Figure(Data):
    """A computed value [SI] and the key of its working in the plan's table."""

    value: float
    quantity: Quantity
    working: str


class Workbook:
    """Collects the workings while a plan is computed; hands back figures that point to them."""

    def __init__(self) -> None:
        self.workings: dict[str, Working] = {}

    def figure(
        self,
        key: str,
        name: str,
        value: float,
        quantity: Quantity,
        formula: str,
        inputs: list[Input],
        source: str,
        notes: list[str] | None = None,
    ) -> Figure:
        self.workings[key] = Working(
            name=name,
            formula=formula,
            inputs=inputs,
            value=value,
            quantity=quantity,
            source=source,
            notes=notes or [],
        )
        return Figure(value=value, quantity=quantity, working=key)

    @staticmethod
    def computed(name: str, figure: Figure) -> Input:
        return Input(name=name, value=figure.value, quantity=figure.quantity, origin="computed")
