"""A coat by its amount, by its film or by a rule: one equation, whichever side was typed. Rules 2.4, 2.5,
2.10 and 5.1.

    mixed (1 - f) - n c = N (h A (1 + d) + s A) (1 + r),    rule: h per area

A: area covered by one of N pieces; h: film; d: share that runs off; s: soaks in per area; r: reserve; f and
c: what stays in each of n cups.
"""

from __future__ import annotations

from dataclasses import dataclass

from ..common.errors import Infeasible
from ..common.plain_numbers import plainly
from ..common.workshop import Workshop
from ..measure.areas import covered
from ..mix.batches import batches_in_time, count_batches
from ..mix.mixes import stirring
from ..piece.coats import Coat
from ..resin.ratio import MixRatio
from ..resin.system import System

MOST_CUPS = 500


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


def bed_of(coat: Coat, reserve: float, workshop: Workshop, cups: int = 1, *, is_first: bool = True) -> Bed:
    """Of one coat of a piece.

    coat  with its surface, soak and what runs off;  reserve  share;  workshop  what stays in its cups;
    cups  how many the amount is mixed in;  is_first  it lies on the bare surface and soaks in
    Raises Infeasible where the surface cannot be. Exact. Source: by definition of the allowances.
    """
    area = covered(coat).area_m2
    share, fixed = workshop.stays
    return Bed(
        area_m2=coat.count * area,
        soak_m=coat.soaked(area) / area if is_first else 0.0,
        runs_off=coat.drips.value if coat.drips else 0.0,
        reserve=reserve,
        stays_share=share,
        stays_m3=fixed,
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


def cups_for(
    mixed_m3: float, coat: Coat, bed: Bed, system: System | None, ratio: MixRatio | None, workshop: Workshop
) -> int:
    """How many cups an amount is mixed in: as many batches as pour just what leaves them.

        least n with batches((V (1 - f) - n c)) = n

    mixed_m3  V, in all [m3]
    Raises Infeasible where it takes too many batches, or nothing leaves the cups. Exact as far as the
    batches are.
    Without a system one cup is taken. Source: volume balance; batches as they are counted for a pour.
    """
    if system is None or ratio is None:
        return 1
    before = stirring(system, workshop) + system.rest_s.value
    for cups in range(1, MOST_CUPS):
        need = mixed_m3 * (1 - bed.stays_share) - cups * bed.stays_m3
        if need <= 0:
            return cups
        timed = batches_in_time(
            need, coat.count, system.working_time.time_s.early, before, workshop.pour_rate_m3_s
        )
        if count_batches([need], ratio, workshop, timed) <= cups:
            return cups
    return MOST_CUPS
