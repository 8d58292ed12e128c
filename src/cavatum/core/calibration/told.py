"""What of a sheet is said, and by whom: the class it cures like, the layer its times hold for, the inputs
its cure
rests on.
"""

from __future__ import annotations

from ..common.errors import DomainError
from ..common.working import Input, Origin
from ..cure.parameters import CLASSES, Kinetics
from ..resin.system import System
from ..resin.two_temperatures import other_times

TIMES = ("tack_free_s", "bond_from_s", "bond_to_s", "demould_s", "full_cure_s", "light_use_s")


def class_of(system: System) -> str:
    """Raises DomainError when nobody said which class the system cures like: no guess is made."""
    if system.cures_like is not None:
        return system.cures_like
    if system.id in CLASSES:
        return system.id
    raise DomainError(
        argument="class",
        value="not said",
        allowed=f"heat is computed once it is known which class {system.name} cures like",
        way_out="Choose it on the Shelf.",
        code="no-class",
    )


def loose_times(system: System) -> frozenset[str]:
    """The times a person entered while the layer they hold for is not said: a typical one that nobody touched
    says nothing of theirs.
    """
    if system.times_depth_m is not None and system.times_depth_m.origin != "typical":
        return frozenset()
    entered = {name: getattr(system, name) for name in TIMES}
    found = {name for name, one in entered.items() if one is not None and one.origin != "typical"}
    if "bond_from_s" in found and system.bond_from_s.spread:
        found.add("bond_to_s")  # a range that is the window itself
    return frozenset(found)


def typical_depth(name: str) -> float:
    """The layer [m] that a class's typical times hold for.

    name  of the class
    Raises KeyError for a class that is none. Valid for the classes' typical sheets. Source: their own values,
    common practice, no source.
    """
    return {
        "thin-sealing-epoxy": 0.0005,
        "coating-epoxy": 0.003,
        "craft-casting-epoxy": 0.005,
        "casting-epoxy-25": 0.025,
        "slow-casting-epoxy": 0.04,
        "fast-casting-polyurethane": 0.06,
    }[name]


def told_of(system: System, kinetics: Kinetics) -> tuple[Input, ...]:
    fitted = (
        "measured"
        if system.cure_fit
        else "sheet"
        if system.working_time.time_s.origin != "typical"
        else "typical"
    )
    heat = _heat(system, kinetics)
    pace = system.learned_pace if system.cure_fit is None else None
    learned = (
        (
            Input(
                name="how slowly it cures here, of its sheet's rate",
                value=pace.times,
                quantity="count",
                origin="learned",
            ),
        )
        if pace
        else ()
    )
    return (
        heat,
        *learned,
        Input(
            name="rate at 23 °C, k2 per hour",
            value=kinetics.k2_ref_1_s * 3600,
            quantity="count",
            origin=fitted,
        ),
        *_energies(system, kinetics),
        system.working_time.time_s.as_input("working time of the sheet"),
        system.times_depth_m.as_input("its times hold for a layer of")
        if system.times_depth_m and not loose_times(system)
        else Input(
            name="its times hold for a layer of, not said",
            value=typical_depth(class_of(system)),
            quantity="length",
            origin="typical",
        ),
    )


def _heat(system: System, kinetics: Kinetics) -> Input:
    """The heat of reaction, by a measured curve, by the sheet, or the class's own."""
    fit = system.cure_fit
    if fit is not None and fit.heat_factor != 1:
        return Input(name="heat of reaction", value=kinetics.heat_j_kg, quantity="heat", origin="measured")
    if system.heat_j_kg:
        return system.heat_j_kg.as_input("heat of reaction")
    return Input(
        name="heat of reaction, of the class", value=kinetics.heat_j_kg, quantity="heat", origin="typical"
    )


def _energies(system: System, kinetics: Kinetics) -> list[Input]:
    """The activation energy, and where the sheet told it, that of the start too."""
    told: Origin = "sheet" if other_times(system) else "typical"
    rest = Input(
        name="activation energy, kJ/mol", value=kinetics.energy_j_mol / 1000, quantity="count", origin=told
    )
    if kinetics.energy_start_j_mol is None:
        return [rest]
    start = Input(
        name="activation energy of the start, kJ/mol",
        value=kinetics.energy_start_j_mol / 1000,
        quantity="count",
        origin=told,
    )
    return [rest, start]
