"""A coat by its amount, by its film or by a rule: one equation, whichever side was typed. Rules 2.4, 2.5,
2.10 and 5.1.

    mixed (1 - f) - n c = N (h A (1 + d) + s A) (1 + r),    rule: h per area

A: area covered by one of N pieces; h: film; d: share that runs off; s: soaks in per area; r: reserve; f and
c: what stays in each of n cups.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

from ..common import units
from ..common.errors import DomainError, Infeasible
from ..common.plain_numbers import plainly
from ..common.workshop import Workshop
from ..measure.cavity import coat_cavity
from ..piece.coats import Coat
from .amount import read_amount

_PER = re.compile(r"\s*(?:/|\bper\b)\s*", re.I)


@dataclass(frozen=True, kw_only=True)
class Bed:
    """What a coat lies on: area of all pieces [m2], what soaks in [m3/m2], shares that run off and are kept
    in reserve, and what stays in each of the cups: a share and a volume [m3].
    """

    area_m2: float
    soak_m: float = 0.0
    runs_off: float = 0.0
    reserve: float = 0.0
    stays_share: float = 0.0
    stays_m3: float = 0.0
    cups: int = 1


def bed_of(coat: Coat, reserve: float, workshop: Workshop, cups: int = 1) -> Bed:
    """Of one coat of a piece.

    coat  with its surface, soak and what runs off;  reserve  share;  workshop  what stays in its cups;
    cups  how many the amount is mixed in
    Raises Infeasible where the surface cannot be. Exact. Source: by definition of the allowances.
    """
    return Bed(
        area_m2=coat.count * coat_cavity(coat).hollow.area(0.0),
        soak_m=coat.soak_m3_m2.value if coat.soak_m3_m2 else 0.0,
        runs_off=coat.drips.value if coat.drips else 0.0,
        reserve=reserve,
        stays_share=workshop.residue_fraction.value,
        stays_m3=workshop.residue_m3.value,
        cups=cups,
    )


def mixed_for(film_m: float, bed: Bed) -> float:
    """What to mix [m3] for a film.

        ((h A (1 + d) + s A) (1 + r) + n c) / (1 - f)

    film_m  [m], >= 0;  bed  what it lies on
    Raises nothing. Exact for the allowances told. Source: volume balance.
    """
    poured = (film_m * (1 + bed.runs_off) + bed.soak_m) * bed.area_m2 * (1 + bed.reserve)
    return (poured + bed.cups * bed.stays_m3) / (1 - bed.stays_share)


def film_from(mixed_m3: float, bed: Bed) -> float:
    """The film [m] that an amount lays.

        h = ((V (1 - f) - n c) / (A (1 + r)) - s) / (1 + d)

    mixed_m3  in all [m3], > 0;  bed  what it lies on
    Raises Infeasible where nothing of it is left to lie on the piece. Exact. Source: the volume balance of
    mixed_for.
    """
    leaves = mixed_m3 * (1 - bed.stays_share) - bed.cups * bed.stays_m3
    film_m = (leaves / (bed.area_m2 * (1 + bed.reserve)) - bed.soak_m) / (1 + bed.runs_off)
    if film_m <= 0:
        raise Infeasible(
            argument="amount",
            value=f"{plainly(mixed_m3 * 1e6)} mL",
            allowed="all of it soaks in or stays in the cup",
            way_out=f"Mix more than {plainly(mixed_for(0.0, bed) * 1e6, 3)} mL, or scrape the cup out.",
            code="nothing-left",
        )
    return film_m


def read_rule(text: str, density_kg_m3: float) -> float:
    """A rule of thumb as a film [m]: an amount per area ("30 g per 1000 cm2", "3 fl oz/ft2") or an area per
    amount ("32 ft2 per gal").

        amount by volume / area, or amount by weight / (density x area)

    density_kg_m3  of the mix, for rules by weight
    Raises DomainError for what is no such rule, at its side. Valid as far as the rule is. Source: by
    definition.
    """
    sides = _PER.split(re.sub(r"\bUS ", "", " ".join(text.split())), maxsplit=1)
    if len(sides) != 2 or not all(sides):
        raise DomainError(
            argument="rule",
            value=f'"{text.strip()}"',
            allowed="it is an amount per area, or an area per amount",
            way_out='Write it like "30 g per 1000 cm2", "3 fl oz per ft2" or "32 ft2 per gal".',
            code="no-rule",
        )
    first, second = (one if re.match(r"[\d.,½¼¾]", one) else f"1 {one}" for one in sides)
    if _is_area(first):
        first, second = second, first
    area = units.parse(second, "area").value
    volume = _volume(first, density_kg_m3)
    if area <= 0 or volume <= 0:
        raise DomainError(
            argument="rule",
            value=f'"{text.strip()}"',
            allowed="both its sides are more than 0",
            way_out="Look it up again.",
            code="out-of-range",
        )
    return volume / area


def _is_area(text: str) -> bool:
    try:
        units.parse(text, "area")
    except DomainError:
        return False
    return True


def _volume(text: str, density_kg_m3: float) -> float:
    try:
        return units.parse(text, "mass").value / density_kg_m3
    except DomainError as error:
        if error.code != "other-kind":
            raise
    return units.parse(text, "volume").value


def amount_in_all(text: str, mixed_density: float, per_part: float) -> float:
    """An amount as typed, in all [m3]: "200 mL", "8 fl oz in all", "120 g of each part".

    mixed_density  [kg/m3];  per_part  parts of A to B by what was measured, equal where it is 1
    Raises DomainError for a bare ounce, and for a sense that it does not have. An amount without "of each
    part" is one in all. Exact. Source: read_amount.
    """
    typed = text.strip()
    try:
        said = read_amount(typed)
    except DomainError as error:
        if error.code != "in-all-or-each":
            raise
        said = read_amount(f"{typed} in all")
    if said.sense in ("of A", "of B") or (said.sense == "of each part" and abs(per_part - 1) > 0.02):
        raise DomainError(
            argument="amount",
            value=f'"{typed}"',
            allowed="here it is what you mix in all",
            way_out='Say it in all, like "200 mL".',
            code="not-in-all",
        )
    times = 2.0 if said.sense == "of each part" else 1.0
    return times * (said.value / mixed_density if said.by == "mass" else said.value)
