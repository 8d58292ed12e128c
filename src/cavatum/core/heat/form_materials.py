"""Form materials of the shelf as the heat run takes them, and typical ones to start a shelf from. Rule
4.3.
"""

from __future__ import annotations

from ..piece.form_material import FormMaterial
from .materials import MATERIALS, Material


def material_of(form: FormMaterial) -> Material:
    """Its own thickness where it has one, else the typical one of the kind of wall it counts as."""
    thickness = form.thickness_m.value if form.thickness_m else MATERIALS[form.like].typical_m
    return Material(
        name=form.name,
        conductivity=form.conductivity_w_m_k.value,
        density=form.density_kg_m3.value,
        heat_capacity=form.heat_capacity_j_kg_k.value,
        typical_m=thickness,
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
