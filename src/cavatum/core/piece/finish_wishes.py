"""The document's part for finishing: the surface that is wanted, what the oven meets, the papers that are
there.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..common.readings import Duration, Label, Length, Temperature
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


Grade = Literal[40, 60, 80, 100, 120, 150, 180, 220, 240, 320, 400, 600, 800]


class Finish(Data):
    """papers: grits there are, none named: all of the series. least_wall_m: what turning has to leave. sunny:
    it will stand in the sun.
    ending_coats, stand_s, between_s: of an oil or a varnish, where the tin says otherwise than is usual;
    wood_grit: the
    last grit of the wood before it.
    """

    surface: Surface = "not said"
    start: Start = "as poured"
    series: Literal["P", "US"] = "P"
    papers: Annotated[list[Annotated[int, Field(ge=20, le=10_000)]], Field(max_length=30)] = []
    ending_coats: int | None = Field(default=None, ge=1, le=10)
    stand_s: Duration | None = None
    between_s: Duration | None = None
    wood_grit: Grade | None = None
    painted_edges: bool = False
    post_cure: bool = False
    oven_c: Temperature | None = None
    mould: Mould = "none"
    inside: Annotated[list[Inside], Field(max_length=10)] = []
    least_wall_m: Length | None = None
    sunny: bool = False
    note: Label = ""
