"""What the survey found: the document's part for the substrate, its defects, what is on it, and its damp."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Literal

from pydantic import Field

from ..common.readings import Fraction, Humidity, Id, Label, Length, Offset, Temperature
from ..common.working import Data

Material = Literal[
    "not said",
    "ash",
    "beech",
    "cherry",
    "chestnut",
    "larch",
    "maple",
    "oak",
    "pine",
    "walnut",
    "other wood",
    "board",
    "cloth on board",
    "canvas",
    "paper",
    "print or photograph",
    "foam board",
    "decal or vinyl",
    "cloth",
    "stone",
    "concrete",
    "metal",
    "metal tumbler",
    "glass",
    "cured resin",
]
POROUS = {"board", "cloth on board", "canvas", "paper", "print or photograph", "cloth", "stone", "concrete"}
WOODS = {"ash", "beech", "cherry", "chestnut", "larch", "maple", "oak", "pine", "walnut", "other wood"}
Grain = Literal["not said", "not porous", "dense", "open", "end or punky"]
Finish = Literal[
    "not said", "bare", "sealed", "oiled or waxed", "varnished or painted", "fresh acrylic paint", "ink"
]
Contamination = Literal[
    "silicone", "skin grease", "polish", "washed with water", "dust in crevices", "loose bark"
]
DefectKind = Literal["crack", "knot", "worm hole", "bark", "punky patch", "other"]


class Climate(Data):
    """Where the wood has been kept, for `weeks` where that is known; its moisture goes towards the
    equilibrium of that air.
    """

    temperature_c: Temperature
    humidity: Humidity
    weeks: float | None = Field(default=None, gt=0, le=520)


class Defect(Data):
    """One place on the plan view. x_m along, y_m across from the near left corner; length along, width
    across, depth from the top.

    treat  void: filled as the void `void_id`; patch: closed from below or above; note: only remembered
    """

    id: Id
    kind: DefectKind
    x_m: Offset
    y_m: Offset
    length_m: Length
    width_m: Length
    depth_m: Length | None = None
    is_through: bool = False
    treat: Literal["void", "patch", "note"] = "note"
    void_id: Id | None = None
    note: Label = ""


class Accepted(Data):
    """A room that the sheet does not want, taken upon oneself in words. value: how cold [degC] or how damp
    [share] it was then; a worse one asks again.
    """

    what: Literal["cold", "night", "damp"]
    value: float = Field(ge=-60, le=100)
    words: str = Field(min_length=3, max_length=300)


class Survey(Data):
    """None or "not said" means that nobody looked yet: a verdict says so, nothing is assumed. painted_on:
    when the
    last acrylic paint went on.
    """

    material: Material = "not said"
    grain: Grain = "not said"
    finish: Finish = "not said"
    length_m: Length | None = None
    width_m: Length | None = None
    thickness_m: Length | None = None
    is_flat: bool | None = None
    painted_on: date | None = None
    moisture: Fraction | None = None
    kept_in: Climate | None = None
    surface_c: Temperature | None = None
    found: Annotated[list[Contamination], Field(max_length=10)] = []
    defects: Annotated[list[Defect], Field(max_length=300)] = []
    done: Annotated[list[Annotated[str, Field(max_length=60)]], Field(max_length=100)] = []
    air_school: Literal["still air", "fan"] = "still air"
    underside_school: Literal["tape", "scrape", "sand later"] = "tape"
