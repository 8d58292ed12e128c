"""The document's part for finishing: the surface that is wanted, what the oven meets, the papers that are
there.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..common.readings import Label, Length, Temperature
from ..common.working import Data

Surface = Literal["not said", "next coat", "oil", "varnish", "satin", "polish"]
Start = Literal["as poured", "drips and flash", "sawn", "planed or milled", "turned", "pits"]
Inside = Literal[
    "dry plant",
    "wood",
    "cork",
    "paper or cloth",
    "acrylic",
    "metal",
    "stone",
    "glass",
    "electronics",
    "other",
]
Mould = Literal["none", "silicone", "plastic", "board", "wood", "metal", "glass", "other"]


class Finish(Data):
    """papers: grits there are, none named: all of the series. least_wall_m: what turning has to leave. sunny:
    it will stand in the sun.
    """

    surface: Surface = "not said"
    start: Start = "as poured"
    series: Literal["P", "US"] = "P"
    papers: Annotated[list[Annotated[int, Field(ge=20, le=10_000)]], Field(max_length=30)] = []
    post_cure: bool = False
    oven_c: Temperature | None = None
    mould: Mould = "none"
    inside: Annotated[list[Inside], Field(max_length=10)] = []
    least_wall_m: Length | None = None
    sunny: bool = False
    note: Label = ""
