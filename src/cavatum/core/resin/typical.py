"""Six generic classes to start from: plausible for their kind, nobody's product, every value marked
typical.
"""

from __future__ import annotations

from typing import Any

from .system import DepthRule, Kit, System, WorkingTime

_MM = 1e-3
_MIN, _H, _DAY = 60.0, 3600.0, 86400.0

# Columns: name, class, basis, ratio, rho A, rho B, (time, kg, degC, criterion), rules [(depth, kg)], least
# depth, tack-free,
# bond from, bond to, demould, full cure, stir, rest, shrinkage, colourant, room from, to, humidity, pressure,
# kits.
# Origin: typical values of a class, no source; times at 23 degC.
_CLASSES = [
    (
        "thin-sealing-epoxy",
        "Thin sealing epoxy 2:1",
        "volume",
        "2:1",
        1100,
        970,
        (30 * _MIN, 0.15, 24, "gel"),
        [(0.5 * _MM, None)],
        None,
        5.0 * _H,
        4.5 * _H,
        9 * _H,
        12 * _H,
        72 * _H,
        3 * _MIN,
        0,
        0.03,
        0.02,
        18,
        28,
        0.75,
        False,
        [(0.75e-3, "volume_m3", 2900), (3e-3, "volume_m3", 9600)],
    ),
    (
        "coating-epoxy",
        "Coating epoxy 1:1",
        "volume",
        "1:1",
        1160,
        1020,
        (40 * _MIN, 0.5, 24, "gel"),
        [(6 * _MM, None)],
        None,
        5.5 * _H,
        4.6 * _H,
        10.5 * _H,
        12 * _H,
        72 * _H,
        3 * _MIN,
        4 * _MIN,
        0.025,
        0.06,
        20,
        28,
        0.70,
        False,
        [(1e-3, "volume_m3", 2700), (3.8e-3, "volume_m3", 8400), (15e-3, "volume_m3", 29000)],
    ),
    (
        "craft-casting-epoxy",
        "Craft casting epoxy 1:1",
        "volume",
        "1:1",
        1140,
        1020,
        (45 * _MIN, 0.1, 24, "gel"),
        [(10 * _MM, None)],
        None,
        4.7 * _H,
        5 * _H,
        11 * _H,
        24 * _H,
        72 * _H,
        3 * _MIN,
        4 * _MIN,
        0.025,
        0.06,
        20,
        28,
        0.70,
        False,
        [(0.5e-3, "volume_m3", 1900), (2e-3, "volume_m3", 5800)],
    ),
    (
        "casting-epoxy-25",
        "Casting epoxy 2:1, 25 mm",
        "volume",
        "2:1",
        1130,
        970,
        (6 * _H, 0.5, 24, "gel"),
        [(25 * _MM, None)],
        6 * _MM,
        15 * _H,
        15 * _H,
        31 * _H,
        45 * _H,
        6 * _DAY,
        5 * _MIN,
        10 * _MIN,
        0.025,
        0.06,
        18,
        26,
        0.70,
        False,
        [(1.5e-3, "volume_m3", 4300), (6e-3, "volume_m3", 14800), (12e-3, "volume_m3", 27000)],
    ),
    (
        "slow-casting-epoxy",
        "Slow casting epoxy 3:1",
        "volume",
        "3:1",
        1120,
        980,
        (29 * _H, 0.5, 24, "gel"),
        [(40 * _MM, None), (100 * _MM, 1.0)],
        10 * _MM,
        39 * _H,
        39 * _H,
        68 * _H,
        72 * _H,
        7 * _DAY,
        6 * _MIN,
        0,
        0.02,
        0.05,
        18,
        25,
        0.70,
        False,
        [(1, "mass_kg", 2400), (4, "mass_kg", 8200), (8, "mass_kg", 15000), (20, "mass_kg", 34500)],
    ),
    (
        "fast-casting-polyurethane",
        "Fast casting polyurethane 1:1 by weight",
        "weight",
        "1:1",
        1050,
        1070,
        (12 * _MIN, 0.4, 23, "too thick to pour"),
        [(60 * _MM, None)],
        None,
        25 * _MIN,
        20 * _MIN,
        60 * _MIN,
        4 * _H,
        24 * _H,
        3 * _MIN,
        0,
        0.03,
        0.03,
        20,
        28,
        0.55,
        True,
        [(1.8, "mass_kg", 5200), (7.2, "mass_kg", 17600)],
    ),
]


# Viscosity of the mix at 23 degC [Pa s], typical of the class.
_VISCOSITY = {
    "thin-sealing-epoxy": 0.25,
    "coating-epoxy": 4,
    "craft-casting-epoxy": 1.0,
    "casting-epoxy-25": 0.8,
    "slow-casting-epoxy": 0.4,
    "fast-casting-polyurethane": 0.2,
}


# The layer the times were measured on; peaks wanted and never to be passed [degC] (own judgement); pour
# temperature [degC].
_HEAT = {
    "thin-sealing-epoxy": (0.5 * _MM, 60, 90, None),
    "coating-epoxy": (3 * _MM, 60, 90, None),
    "craft-casting-epoxy": (5 * _MM, 60, 90, None),
    "casting-epoxy-25": (25 * _MM, 65, 85, None),
    "slow-casting-epoxy": (40 * _MM, 60, 80, None),
    "fast-casting-polyurethane": (60 * _MM, 115, 135, (35, 41)),
}


# Second stir in a clean cup [s]; light use [s]; heat resistance after cure [degC]; opened life [s]; pressure
# [Pa gauge].
_MORE = {
    "thin-sealing-epoxy": (None, None, 50, 365 * _DAY, None),
    "coating-epoxy": (3 * _MIN, 48 * _H, 60, 365 * _DAY, None),
    "craft-casting-epoxy": (3 * _MIN, None, 55, 365 * _DAY, None),
    "casting-epoxy-25": (4 * _MIN, None, 55, 365 * _DAY, None),
    "slow-casting-epoxy": (5 * _MIN, None, 50, 365 * _DAY, None),
    "fast-casting-polyurethane": (None, None, 80, 91 * _DAY, (2.5e5, 4e5)),
}


def _typical(value: float | str) -> dict[str, Any]:
    if isinstance(value, str):
        return {"as_typed": value, "origin": "typical"}
    return {"value": value, "origin": "typical"}


def _sheet(row: tuple[Any, ...]) -> System:
    (
        id_,
        name,
        basis,
        ratio,
        rho_a,
        rho_b,
        work,
        rules,
        least,
        tack,
        bond_from,
        bond_to,
        demould,
        cure,
        stir,
        rest,
        shrink,
        colour,
        room_from,
        room_to,
        humidity,
        pressure,
        kits,
    ) = row
    again, light, resists, life, bar = _MORE[id_]
    poured = _HEAT[id_][3]
    return System(
        id=id_,
        name=name,
        class_name=name,
        basis=basis,
        ratio=_typical(ratio),
        density_a_kg_m3=_typical(rho_a),
        density_b_kg_m3=_typical(rho_b),
        viscosity_pa_s=_typical(_VISCOSITY[id_]),
        working_time=WorkingTime(
            time_s=_typical(work[0]),
            mass_kg=_typical(work[1]),
            temperature_c=_typical(work[2]),
            criterion=work[3],
        ),
        depth_rules=[
            DepthRule(most_depth_m=_typical(depth), up_to_kg=_typical(mass) if mass else None)
            for depth, mass in rules
        ],
        least_depth_m=_typical(least) if least else None,
        tack_free_s=_typical(tack),
        bond_from_s=_typical(bond_from),
        bond_to_s=_typical(bond_to),
        demould_s=_typical(demould),
        full_cure_s=_typical(cure),
        stir_s=_typical(stir),
        rest_s=_typical(rest),
        shrinkage=_typical(shrink),
        colourant_most=_typical(colour),
        room_from_c=_typical(room_from),
        room_to_c=_typical(room_to),
        room_humidity_most=_typical(humidity),
        needs_pressure=pressure,
        cures_like=id_,
        times_depth_m=_typical(_HEAT[id_][0]),
        peak_wanted_c=_typical(_HEAT[id_][1]),
        peak_never_c=_typical(_HEAT[id_][2]),
        pour_from_c=_typical(poured[0]) if poured else None,
        pour_to_c=_typical(poured[1]) if poured else None,
        times_at_c=_typical(23),
        viscosity_at_c=_typical(23),
        density_at_c=_typical(23),
        stir_again_s=_typical(again) if again else None,
        liquid_most=_typical(0.02) if id_ == "slow-casting-epoxy" else None,
        light_use_s=_typical(light) if light else None,
        heat_resistance_c=_typical(resists),
        shelf_life_s=_typical(life),
        pressure_from_pa=_typical(bar[0]) if bar else None,
        pressure_to_pa=_typical(bar[1]) if bar else None,
        kits=[Kit(amount=amount, by=by, price_minor=price, origin="typical") for amount, by, price in kits],
    )


def typical_systems() -> list[System]:
    """The six classes, fresh copies, version 1."""
    return [_sheet(row) for row in _CLASSES]
