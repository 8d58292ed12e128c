"""Every coat as amount, film and rule side by side. Rules 2.5, 5.1."""

from __future__ import annotations

from collections.abc import Mapping

from ..common.amounts import read_coverage
from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..common.unit_table import FOOT_M, US_FLUID_OUNCE_M3
from ..common.wording import Wording
from ..common.working import Figure, Input, Workbook
from ..measure.coat_figures import thickest_m
from ..measure.films import COVERAGE_RULES
from ..measure.model import Against, LayPlan
from ..piece.coats import Coat
from ..piece.given import Given
from ..piece.lays import Lay
from ..practice.coats import ROLES, called
from ..resin.ratio import MixRatio
from ..resin.system import System, used_minor
from .amount import Bed, bed_of, mixed_for
from .laid import with_cups

GOES_BY = "your rule"


def lays_of(book: Workbook, given: Given, coat: Coat, ratios: Mapping[str, MixRatio]) -> list[LayPlan]:
    """Every coat of a stack, its film worked out."""
    found: list[LayPlan] = []
    number = 1
    for place, lay in enumerate(coat.lays):
        system = given.system_of(lay)
        ratio = ratios.get(system.id) if system else None
        reserve = given.piece.reserve.value if given.piece.reserve else 0.0
        bare = place == 0 and coat.existing_m is None
        bed = bed_of(coat, reserve, given.workshop_for(system), is_first=bare)
        assert lay.film_m is not None
        once = mixed_for(lay.film_m.value, bed)
        bed = with_cups(bed, once, coat, system, ratio, given.workshop_for(system))
        found.append(_lay_plan(book, given, coat, lay, number, bed, system, ratio))
        number += lay.times
    return found


def _lay_plan(
    book: Workbook,
    given: Given,
    coat: Coat,
    lay: Lay,
    number: int,
    bed: Bed,
    system: System | None,
    ratio: MixRatio | None,
) -> LayPlan:
    assert lay.film_m is not None
    key, wording = f"coat/{coat.id}/{lay.id}", given.wording
    film_m = lay.film_m.value
    film = book.figure(
        f"{key}/film",
        f"{coat.name}: film of coat {number}",
        film_m,
        "length",
        _FORMULAS[lay.typed],
        _inputs(lay, bed, ratio),
        "volume balance" if lay.typed == "amount" else "by definition",
    )
    mixed_m3 = mixed_for(film_m, bed)
    mixed = book.figure(
        f"{key}/mixed",
        f"{coat.name}: to mix for coat {number}",
        mixed_m3,
        "volume",
        "((film × area × (1 + drips) + soak) × (1 + reserve) + fixed × cups) / (1 − share that stays)",
        [book.computed("film", film), *_allowances(bed)],
        "volume balance",
    )
    mass = None
    if ratio is not None:
        mass = book.figure(
            f"{key}/mass",
            f"{coat.name}: on the scale for coat {number}",
            mixed_m3 * ratio.mixed_density,
            "mass",
            "volume × density of the mix",
            [book.computed("to mix", mixed), density_input(ratio)],
            "mass = density × volume",
        )
    return LayPlan(
        lay_id=lay.id,
        first=number,
        times=lay.times,
        typed=lay.typed,
        as_typed=_as_typed(lay),
        film=film,
        mixed=mixed,
        mass=mass,
        rule=_per_area(film_m, wording),
        says=f"{wording.film(film_m)} is {called(film_m)}.",
        against=_against(book, key, coat, lay, film_m, bed, system, ratio, wording),
    )


_FORMULAS = {
    "film": "as typed",
    "rule": "amount / area, by weight / density of the mix",
    "amount": "((mixed × (1 − stays) − fixed × cups) / (area × (1 + reserve)) − soak) / (1 + drips)",
}


def _as_typed(lay: Lay) -> str:
    said = lay.amount or lay.rule or lay.film_m
    return said.as_typed if said else ""


def _inputs(lay: Lay, bed: Bed, ratio: MixRatio | None) -> list[Input]:
    """What the film comes from."""
    if lay.typed == "film":
        assert lay.film_m is not None
        return [lay.film_m.as_input("film")]
    by_mass = [density_input(ratio)] if ratio else []
    if lay.rule is not None:
        return [
            Input(
                name=f"rule: {lay.rule.as_typed}" + ("" if lay.rule.by == "volume" else ", kg/m²"),
                value=lay.rule.value,
                quantity="areal_volume" if lay.rule.by == "volume" else "count",
                origin="chosen",
                as_typed=lay.rule.as_typed,
            ),
            *(by_mass if lay.rule.by == "mass" else []),
        ]
    assert lay.amount is not None
    amount = Input(
        name="amount" + (f", {lay.amount.sense}" if lay.amount.sense else ""),
        value=lay.amount.value,
        quantity=lay.amount.by,
        origin="chosen",
        as_typed=lay.amount.as_typed,
    )
    return [amount, *by_mass, *_allowances(bed)]


def density_input(ratio: MixRatio) -> Input:
    """Of the mix, as it goes into a working."""
    return Input(name="density of the mix", value=ratio.mixed_density, quantity="density", origin="computed")


def _allowances(bed: Bed) -> list[Input]:
    """All that stands between the cup and the film; what is nothing is left out."""
    told: list[Input] = [Input(name="area", value=bed.area_m2, quantity="area", origin="computed")]
    if bed.soak_m:
        told.append(Input(name="soaks in", value=bed.soak_m, quantity="areal_volume", origin="computed"))
    for name, share in (("drips", bed.runs_off), ("reserve", bed.reserve), ("stays, share", bed.stays_share)):
        if share:
            told.append(Input(name=name, value=share, quantity="fraction", origin="chosen"))
    if bed.stays_m3:
        told.append(Input(name="stays, fixed", value=bed.stays_m3, quantity="volume", origin="chosen"))
        told.append(Input(name="cups", value=bed.cups, quantity="count", origin="computed"))
    return told


def _per_area(film_m: float, wording: Wording) -> str:
    """A film as a rule a maker would say."""
    if wording.workshop.units == "us":
        return f"{plainly(film_m * FOOT_M**2 / US_FLUID_OUNCE_M3, 2)} fl oz per ft²"
    return f"{plainly(film_m * 1e5, 3)} mL per 1000 cm²"


def rule_film(text: str, ratio: MixRatio | None) -> float | None:
    """The film [m] of the rule a maker goes by: one of the table, or typed; None where it cannot be told.

    Raises nothing. Source: the table of rules; else by definition.
    """
    known = next((one for one in COVERAGE_RULES if one.name == text), None)
    if known is not None:
        if known.volume_m is None and ratio is None:
            return None
        return known.film(ratio.mixed_density if ratio else 1000.0)
    try:
        found = read_coverage(text)
    except DomainError:
        return None
    return None if found.by == "mass" and ratio is None else found.film(ratio.mixed_density if ratio else 1.0)


def _against(
    book: Workbook,
    key: str,
    coat: Coat,
    lay: Lay,
    film_m: float,
    bed: Bed,
    system: System | None,
    ratio: MixRatio | None,
    wording: Wording,
) -> Against | None:
    """The thickest coat beside the maker's own rule, else beside what such a coat usually is."""
    role = ROLES.get(lay.role)
    goes_by_rule = coat.favourite_rule and lay.role not in ("seal", "nicks") and film_m >= thickest_m(coat)
    own = rule_film(coat.favourite_rule, ratio) if goes_by_rule else None
    if own is not None:
        aim_m, words = own, f"{GOES_BY}, {coat.favourite_rule}"
    elif role is not None:
        aim_m = min(max(film_m, role.least_m), role.most_m)
        words = f"{role.words} of {wording.film(role.least_m)} to {wording.film(role.most_m)}"
    else:
        return None
    film = book.figure(
        f"{key}/against",
        f"Film by {words}",
        aim_m,
        "length",
        "the rule as a film" if own is not None else "the nearest film that is usual for it",
        [],
        "common practice, no source",
    )
    over_m3 = mixed_for(film_m, bed) - mixed_for(aim_m, bed)
    over = book.figure(
        f"{key}/over",
        f"More than {words} takes",
        over_m3,
        "volume",
        "mixed for this film − mixed for that one",
        [
            Input(name="this film", value=film_m, quantity="length", origin="computed"),
            book.computed("that film", film),
            *_allowances(bed),
        ],
        "volume balance",
    )
    return Against(
        words=words,
        film=film,
        over=over,
        share=over_m3 / mixed_for(aim_m, bed),
        cost=_worth(book, key, over, system, ratio),
    )


def _worth(
    book: Workbook, key: str, over: Figure, system: System | None, ratio: MixRatio | None
) -> Figure | None:
    if system is None or ratio is None:
        return None
    worth = used_minor(system.kits, over.value * ratio.mixed_density, over.value)
    if worth is None:
        return None
    price, kit = worth
    return book.figure(
        f"{key}/over/cost",
        "That much is worth",
        price,
        "money",
        "amount × price of the kit / its amount",
        [
            book.computed("more than that", over),
            Input(name="kit", value=kit.price_minor, quantity="money", origin=kit.origin),
        ],
        "the prices on the Shelf",
    )
