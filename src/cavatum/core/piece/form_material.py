"""Moulds and form materials of the shelf, with what heat needs to know of them. Rule 4.3."""

from __future__ import annotations

from pydantic import Field

from ..common.readings import Conductivity, Density, HeatCapacity, Id, Length, Name, Volume
from ..common.working import Data
from ..heat.materials import MATERIALS, Material, WallKind


class FormMaterial(Data):
    """like: the kind of wall it counts as (release, soaking, cells of the wall); thickness_m, holds_m3: of a
    mould that is used again.
    """

    id: Id
    version: int = Field(default=1, ge=1)
    name: Name
    like: WallKind
    conductivity_w_m_k: Conductivity
    density_kg_m3: Density
    heat_capacity_j_kg_k: HeatCapacity
    thickness_m: Length | None = None
    is_mould: bool = False
    holds_m3: Volume | None = None
    note: str = Field(default="", max_length=1000)

    def as_material(self) -> Material:
        return Material(
            self.name,
            self.conductivity_w_m_k.value,
            self.density_kg_m3.value,
            self.heat_capacity_j_kg_k.value,
            self.thickness_m.value if self.thickness_m else MATERIALS[self.like].typical_m,
        )


def typical_materials() -> list[FormMaterial]:
    """The kinds the heat model knows, as entries to start from, every value marked typical."""

    def told(value: float) -> dict[str, object]:
        return {"value": value, "origin": "typical"}

    return [
        FormMaterial.model_validate(
            {
                "id": kind,
                "name": one.name[0].upper() + one.name[1:],
                "like": kind,
                "conductivity_w_m_k": told(one.conductivity),
                "density_kg_m3": told(one.density),
                "heat_capacity_j_kg_k": told(one.heat_capacity),
                "thickness_m": told(one.typical_m),
            }
        )
        for kind, one in MATERIALS.items()
        if kind != "other"
    ]
