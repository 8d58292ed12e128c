"""A resin system's cure: its class's kinetics, moved to its sheet, or to what was measured; each value with
its origin.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import cache

from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..common.working import Input
from ..cure.parameters import CLASSES, Kinetics
from ..cure.viscosity import viscosity_at_23
from ..heat.laden import COLOURANTS, FILLER_KG_M3, Inert, filler_share, laden
from ..heat.materials import TOP_W_M2K
from ..resin.ratio import ratio_of
from ..resin.system import SHEET_ROOM_C, System, WorkingTime, bond_window_s
from ..resin.two_temperatures import LEAST_APART_K, other_times
from ..resin.typical import typical_systems
from ..resin.working_rows import more_rows
from .at_pouring import AtPouring, CupTimes, at_pouring, cup_times
from .from_sheet import PotLife, cached_film, cached_pot_life, scaled
from .gates import Gates, SheetTimes, gates_of
from .rows import RowFit, compared, known_rows
from .spread import ENERGY_SD, TIME_SD, Claims, Subject
from .told import class_of, loose_times, told_of, typical_depth
from .two_temperatures import energy_sd, known_energies

# Limits wanted and never to be passed [degC], where a sheet and the person say nothing. Own judgement.
LIMITS_C = {
    "thin-sealing-epoxy": (60.0, 90.0),
    "coating-epoxy": (60.0, 90.0),
    "craft-casting-epoxy": (60.0, 90.0),
    "casting-epoxy-25": (65.0, 85.0),
    "slow-casting-epoxy": (60.0, 80.0),
    "fast-casting-polyurethane": (115.0, 135.0),
}
CLASSES_WITH_B = ("coating-epoxy", "craft-casting-epoxy", "fast-casting-polyurethane")  # b of a second number
NINETY_SD = 1.645  # half of a 90 % band in standard deviations
ASSUMED_CRITERION = "gel"
FILM_M = (
    0.006  # a layer no deeper hardly warms itself: its tack-free time is a second number for the rate law
)


READ_FROM = {
    "tack_free_s": ("touch",),
    "bond_from_s": ("bond_from",),
    "bond_to_s": ("bond_to", "cool_c"),
    "demould_s": ("demould", "demould_c"),
    "full_cure_s": ("full_cure",),
    "light_use_s": ("light",),
}  # which gates each of the sheet's times tells


@dataclass(frozen=True)
class Read:
    """What a sheet's gates are read with: kinetics before anything learned, its times, and its batch."""

    kinetics: Kinetics
    times: SheetTimes
    poured: AtPouring


@dataclass(frozen=True, kw_only=True)
class Cure:
    """All that heat and clock need to know of a system. told: what it rests on, for the workings; doubts:
    numbers of the sheet that no resin has together; cup: how long its batches stand and how warm they are
    wanted. loose: times that were entered without saying for which layer; read: what the gates were read
    with; rows: working times of the sheet that it was fitted to together, none where it gives one.
    """

    system_id: str
    kinetics: Kinetics
    gates: Gates
    wanted_c: float
    never_c: float
    top_w_m2k: float
    pot: PotLife
    told: tuple[Input, ...]
    fitted_to: str
    doubts: tuple[DomainError, ...] = ()
    cup: CupTimes = CupTimes()
    claims: Claims
    read: Read | None = None
    loose: frozenset[str] = frozenset()
    rows: tuple[RowFit, ...] = ()

    def for_layer(self, depth_m: float) -> Cure:
        """Times that the sheet gives without naming a layer speak of the one that is poured: their gates
        are read
        on a layer of that depth, in the sheet's room.
        """
        if not self.loose or self.read is None:
            return self
        depth = float(f"{depth_m:.2g}")
        own = gates_of(self.read.kinetics, replace(self.read.times, depth_m=depth), self.read.poured)
        names = {name for time in self.loose for name in READ_FROM[time]}
        return replace(self, gates=replace(self.gates, **{name: getattr(own, name) for name in names}))

    def as_the_sheet_pours(self, room_c: float) -> AtPouring:
        """The sheet's own batch, stirred as it says, in a room of that temperature."""
        return at_pouring(self.kinetics, self.cup, self.pot.mass_kg, room_c)

    @property
    def subject(self) -> Subject:
        """What the resins that this sheet may be about are drawn from."""
        return Subject(
            kinetics=self.kinetics,
            pot=self.pot,
            begins=self.as_the_sheet_pours(self.claims.room_c),
            never_c=self.never_c,
            claims=self.claims,
        )


def cure_of(system: System) -> Cure:
    """Kinetics in this order: measured curve over the sheet's working time (and film, for b) over the class's
    own values.
    """
    name = class_of(system)
    pot = _pot_of(system)
    changes = _of_sheet(system)
    of_class = _of_class(system, name)
    kinetics, fitted, doubt = _fitted(system, of_class.model_copy(update=changes), pot, name)
    times = _times_of(system, name)
    kinetics, other, minds = _at_both_temperatures(system, kinetics, pot, times)
    kinetics, all_rows, rows, apart = _at_all_rows(system, kinetics, pot)
    fitted, top = f"{fitted}{other}{all_rows}", TOP_W_M2K
    if system.cure_fit is not None:
        fit = system.cure_fit
        kinetics = of_class.model_copy(
            update={
                **changes,
                "k2_ref_1_s": CLASSES[name].k2_ref_1_s * fit.rate_factor,
                "heat_j_kg": kinetics.heat_j_kg * fit.heat_factor,
                "energy_j_mol": kinetics.energy_j_mol,
                "energy_start_j_mol": kinetics.energy_start_j_mol,
            }
        )
        if fit.top_w_m2k is not None:
            top = fit.top_w_m2k
        fitted = f"a measured curve of {fit.points} points ({fit.note})"
    # Gates are conversions, read where the sheet measured: a resin that is slower here gets there later.
    poured = at_pouring(kinetics, cup_times(system), pot.mass_kg, times.room_c)
    gates, read = gates_of(kinetics, times, poured), Read(kinetics, times, poured)
    if system.learned_pace is not None and system.cure_fit is None:
        pace = system.learned_pace
        kinetics = scaled(kinetics, -math.log(pace.times))
        fitted = f"{fitted}; {pace.times:.2f} times as slow here, by {pace.runs} runs"
    wanted, never = LIMITS_C[name]
    return Cure(
        system_id=system.id,
        kinetics=kinetics,
        gates=gates,
        wanted_c=system.peak_wanted_c.value if system.peak_wanted_c else wanted,
        never_c=system.peak_never_c.value if system.peak_never_c else never,
        top_w_m2k=top,
        pot=pot,
        told=told_of(system, kinetics),
        fitted_to=fitted,
        doubts=tuple(one for one in (doubt, minds, apart) if one is not None),
        cup=cup_times(system),
        claims=_claims(system, name),
        read=read,
        loose=loose_times(system),
        rows=rows,
    )


def fitted_rows(system: System) -> tuple[RowFit, ...]:
    """The working times of a sheet that its cure was fitted to together, each beside what is computed for it.

    Raises nothing; none where the sheet gives one, or where they do not fit together: that is among its
    doubts. Valid as cure_of. Source: as there.
    """
    if not more_rows(system) and other_times(system) is None:
        return ()
    try:
        cure = cure_of(system)
    except DomainError:
        return ()
    other = other_times(system)
    if cure.rows or other is None or other.working_s is None or cure.doubts:
        return cure.rows
    return compared(
        cure.kinetics, cure.pot, [replace(cure.pot, temperature_c=other.at_c, time_s=other.working_s)]
    )


def _claims(system: System, name: str) -> Claims:
    whole = [rule.most_depth_m.value for rule in system.depth_rules if rule.up_to_kg is None]
    times, fit, pace = _times_of(system, name), system.cure_fit, system.learned_pace
    learned_sd = (
        math.log(pace.high / pace.low) / (2 * NINETY_SD) if pace and 0 < pace.low < pace.high else None
    )
    return Claims(
        room_c=times.room_c,
        deepest_m=max(whole, default=None),
        film_m=times.depth_m,
        b_is_fitted=name in CLASSES_WITH_B,
        is_measured=fit is not None,
        time_sd=learned_sd if learned_sd is not None and fit is None else TIME_SD,
        energy_sd=_energy_sd(system),
    )


def _energy_sd(system: System) -> float:
    """Of the class, narrowed by what other temperatures of the sheet tell."""
    first_c = system.working_time.temperature_c.value
    others = [one.temperature_c.value for one in more_rows(system)]
    if other_times(system) is not None and system.other_at_c is not None:
        others.append(system.other_at_c.value)
    told = [1 / energy_sd(first_c, at_c, TIME_SD) for at_c in others if abs(at_c - first_c) >= LEAST_APART_K]
    return 1 / math.hypot(1 / ENERGY_SD, *told) if told else ENERGY_SD


def _pot_of(system: System) -> PotLife:
    """The batch in its cup that the sheet's working time speaks of."""
    return _pot(system.working_time)


def _pot(work: WorkingTime) -> PotLife:
    warms = work.criterion == "a temperature" and work.until_c is not None
    criterion = (
        work.criterion
        if warms or work.criterion in ("gel", "doubled viscosity", "too thick to pour")
        else ASSUMED_CRITERION
    )
    return PotLife(
        time_s=work.time_s.early,
        mass_kg=work.mass_kg.value,
        temperature_c=work.temperature_c.value,
        criterion=criterion,
        until_c=work.until_c.value if warms and work.until_c else None,
    )


def _of_class(system: System, name: str) -> Kinetics:
    """The class's own; with the mineral that a filled sheet is heavier by, which makes no heat."""
    clear = CLASSES[name]
    if not system.is_filled or system.basis not in ("weight", "volume"):
        return clear
    share = filler_share(ratio_of(system).mixed_density, clear.density_kg_m3)
    conductivity, heat_capacity = COLOURANTS["filler"]
    filler = Inert(conductivity=conductivity, density=FILLER_KG_M3, heat_capacity=heat_capacity)
    return laden(clear, [(share, filler)]).kinetics


def _of_sheet(system: System) -> dict[str, float]:
    """What the sheet says of the resin itself, in place of the class's own."""
    changes: dict[str, float] = {}
    if system.heat_j_kg is not None:
        changes["heat_j_kg"] = system.heat_j_kg.value
    if system.viscosity_pa_s is not None:
        changes["viscosity_23_pa_s"] = viscosity_at_23(
            system.viscosity_pa_s.value, system.viscosity_at_c.value if system.viscosity_at_c else 23.0
        )
    return changes


def _fitted(
    system: System, kinetics: Kinetics, pot: PotLife, name: str
) -> tuple[Kinetics, str, DomainError | None]:
    """Kinetics through the sheet's working time and its tack-free time, in words what they rest on, and what
    does not fit together.
    """
    work = system.working_time
    film = _said_depth(system, name)
    own = f"the class's own: {kinetics.fitted_to}"
    is_the_class = system.heat_j_kg is None and not system.is_filled
    if is_the_class and work.time_s.origin == "typical":
        return kinetics, own, None
    if is_the_class and _says_what_its_class_says(system, pot, film, name):
        return kinetics, f"{own}; the sheet says the same", None
    kinetics = cached_pot_life(kinetics, pot)
    meant = pot.criterion if pot.criterion == work.criterion else f"{pot.criterion}, assumed"
    fitted = (
        f"the sheet's working time, {plainly(pot.time_s / 60, 4)} min for "
        f"⟦{plainly(pot.mass_kg * 1000, 4)} g⟧ at "
        f"⟦{plainly(pot.temperature_c)} °C⟧ ({meant})"
    )
    if "typical" in (system.tack_free_s.origin, work.time_s.origin) or film > FILM_M:
        return kinetics, fitted, None
    both = cached_film(kinetics, pot, film, system.tack_free_s.value)
    if isinstance(both, DomainError):
        return kinetics, fitted, both
    tack = (
        f"its tack-free time, {plainly(system.tack_free_s.value / 3600, 3)} h at ⟦{plainly(film * 1000)} mm⟧"
    )
    return both, f"{fitted} and {tack}", None


def _at_both_temperatures(
    system: System, kinetics: Kinetics, pot: PotLife, times: SheetTimes
) -> tuple[Kinetics, str, DomainError | None]:
    """Kinetics that meet the sheet's times at its second temperature too, where it gives one."""
    other = other_times(system)
    if other is None:
        return kinetics, "", None
    found = known_energies(kinetics, pot, times, other)
    if isinstance(found, DomainError):
        return kinetics, "", found
    return found, f"; and its times at ⟦{plainly(other.at_c)} °C⟧", None


def _at_all_rows(
    system: System, kinetics: Kinetics, pot: PotLife
) -> tuple[Kinetics, str, tuple[RowFit, ...], DomainError | None]:
    """Kinetics by all working times that the sheet gives, where it gives more than two."""
    more = tuple(_pot(one) for one in more_rows(system))
    if not more:
        return kinetics, "", (), None
    other = other_times(system)
    if other is not None and other.working_s is not None:
        more = (replace(pot, temperature_c=other.at_c, time_s=other.working_s), *more)
    name = class_of(system)
    by_film = name in CLASSES_WITH_B or kinetics.b != CLASSES[name].b
    found = known_rows(kinetics, pot, more, by_film)
    if isinstance(found, DomainError):
        return kinetics, "", (), found
    told = (
        f"; all {len(found.rows)} working times of the sheet together, met within "
        f"{plainly(max(100 * found.worst, 1), 2)} %"
    )
    return found.kinetics, told, found.rows, None


@cache
def _typical_sheet(name: str) -> System:
    return next(one for one in typical_systems() if one.id == name)


def _says_what_its_class_says(system: System, pot: PotLife, film_m: float, name: str) -> bool:
    """The numbers that would be fitted are those of the class's typical sheet: to confirm them changes
    nothing.
    """
    typical = _typical_sheet(name)
    told = _pot_of(typical)
    pairs = [
        (pot.time_s, told.time_s),
        (pot.mass_kg, told.mass_kg),
        (pot.temperature_c, told.temperature_c),
        (film_m, typical_depth(name)),
        (system.tack_free_s.value, typical.tack_free_s.value),
    ]
    return pot.criterion == told.criterion and all(math.isclose(one, other) for one, other in pairs)


def _times_of(system: System, name: str) -> SheetTimes:
    """What is counted on: of a range its late end, and where it closes its early one."""
    return SheetTimes(
        depth_m=system.times_depth_m.value if system.times_depth_m else typical_depth(name),
        bond_from_s=bond_window_s(system)[0],
        bond_to_s=bond_window_s(system)[1],
        demould_s=system.demould_s.late,
        full_cure_s=system.full_cure_s.late,
        room_c=system.times_at_c.value if system.times_at_c else SHEET_ROOM_C,
        tack_free_s=(system.touch_dry_s or system.tack_free_s).late,
        light_use_s=system.light_use_s.late if system.light_use_s else None,
    )


def _said_depth(system: System, name: str) -> float:
    """The layer its tack-free time holds for; inf: not said, and then it is no second number for the rate."""
    if "tack_free_s" in loose_times(system):
        return typical_depth(name) if _is_of_class(system, name) else math.inf
    return system.times_depth_m.value if system.times_depth_m else typical_depth(name)


def _is_of_class(system: System, name: str) -> bool:
    """The tack-free time is the class's own: confirmed, not another's."""
    return math.isclose(system.tack_free_s.value, _typical_sheet(name).tack_free_s.value)
