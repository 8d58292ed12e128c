"""Moulds and form materials of the shelf, with what heat needs to know of them. Rule 4.3."""

from __future__ import annotations

from pydantic import Field

from ..common.readings import Conductivity, Density, HeatCapacity, Id, Length, Name, Volume
from ..common.working import Data
from .parts import Wall


class FormMaterial(Data):
    """like: the kind of wall it counts as (release, soaking, cells of the wall); thickness_m, holds_m3: of a
    mould that is used again.
    """

    id: Id
    version: int = Field(default=1, ge=1)
    name: Name
    like: Wall
    conductivity_w_m_k: Conductivity
    density_kg_m3: Density
    heat_capacity_j_kg_k: HeatCapacity
    thickness_m: Length | None = None
    is_mould: bool = False
    holds_m3: Volume | None = None
    note: str = Field(default="", max_length=1000)
