"""The totals line: what the whole piece takes, in one row."""

from __future__ import annotations

import math
import operator
from collections.abc import Mapping, Sequence

from ..clock.tasks import task_of
from ..clock.windows import Days
from ..common.plain_numbers import plainly
from ..common.working import Figure, Input, Workbook
from ..common.workshop import Workshop
from ..layers.pours import Pour
from ..measure.cavity import Cavity
from ..measure.model import CoatPlan, VoidPlan
from ..measure.spread import BETWEEN
from ..mix.mixes import Mix, mixes_of
from ..mix.model import Allowance, PourPlan
from ..mix.pour_plan import ALLOWANCE_NAMES
from ..resin.system import System, used_minor
from .model import Totals


def _net(book: Workbook, cavities: Mapping[str, Cavity]) -> Figure:
    """What all voids take up to their fill lines [m3], less what is in them already."""
    held_by = [
        (cavity, cavity.void.count * (cavity.volume(cavity.fill_m) - cavity.volume(cavity.void.there)))
        for cavity in cavities.values()
    ]
    parts = [
        Input(
            name=cavity.void.name + (", above what is there" if cavity.void.there else ""),
            value=value,
            quantity="volume",
            origin="computed",
        )
        for cavity, value in held_by
    ]
    held = sum(value for _, value in held_by)
    return book.figure("total/net", "To fill", held, "volume", "sum over the voids", parts, "volumes added")


def totals_of(
    book: Workbook,
    cavities: Mapping[str, Cavity],
    pours: Sequence[Pour],
    plans: Sequence[PourPlan],
    days: Days,
    workshop: Workshop,
) -> Totals:
    """plans: of the pours, in their order."""
    if not cavities:
        return Totals()
    net = _net(book, cavities)
    if not pours:
        return Totals(net=net)
    by_pour = [mixes_of(pour, workshop) for pour in pours]
    mixes = [mix for row in by_pour for mix in row]
    batches = sum(len(mix.weighings) for mix in mixes)
    return Totals(
        net=net,
        need=_need(book, pours, by_pour),
        mass=_mass(book, mixes),
        pours=len(pours),
        layers=sum(len(pour.fills) for pour in pours),
        batches=batches,
        visits=len(pours) + (1 if days.demould_at else 0),
        hands_on=_hands_on(book, pours, workshop),
        cost=_cost(book, mixes),
        allowances=_all_allowances(book, plans, net.value),
        out_of_form_at=days.demould_at,
        ready_at=days.cured_at,
        depths_m=[max(fill.layer.depth_m for fill in pour.fills) for pour in pours],
    )


def _mass(book: Workbook, mixes: Sequence[Mix]) -> Figure:
    inputs = [
        Input(
            name=f"{len(mix.weighings)} × {mix.system.name} {mix.colour}".strip(),
            value=sum(one.mass_kg for one in mix.weighings),
            quantity="mass",
            origin="computed",
        )
        for mix in mixes
    ]
    total = sum(one.mass_kg for mix in mixes for one in mix.weighings)
    return book.figure(
        "total/mass", "To weigh in all", total, "mass", "sum of all batches", inputs, "masses added"
    )


def _need(book: Workbook, pours: Sequence[Pour], by_pour: Sequence[Sequence[Mix]]) -> Figure:
    mixed = [sum(one.mixed_m3 for mix in row for one in mix.weighings) for row in by_pour]
    inputs = [
        Input(name=f"pour {pour.number}", value=value, quantity="volume", origin="computed")
        for pour, value in zip(pours, mixed, strict=True)
    ]
    return book.figure(
        "total/need", "To mix in all", sum(mixed), "volume", "sum of all batches", inputs, "volumes added"
    )


def _hands_on(book: Workbook, pours: Sequence[Pour], workshop: Workshop) -> Figure:
    seconds = [task_of(pour, workshop).hands_on.total_seconds() for pour in pours]
    return book.figure(
        "total/hands",
        "Hands on",
        sum(seconds),
        "duration",
        "weighing, stirring, resting and pouring of every pour",
        [
            Input(name=f"pour {pour.number}", value=value, quantity="duration", origin="computed")
            for pour, value in zip(pours, seconds, strict=True)
        ],
        "the sheets' stir and rest times; three minutes a batch for weighing (common practice, no source)",
        [
            f"Poured at {plainly(workshop.pour_rate_m3_s * 60_000)} L/min, typical of thin resin by hand; "
            "thick resin runs half as fast."
        ],
    )


def _all_allowances(book: Workbook, plans: Sequence[PourPlan], net_m3: float) -> list[Allowance]:
    lines = []
    for code, name in ALLOWANCE_NAMES.items():
        each = [sum(line.volume.value for line in plan.allowances if line.code == code) for plan in plans]
        if sum(each) <= 0:
            continue
        figure = book.figure(
            f"total/{code}",
            name.capitalize(),
            sum(each),
            "volume",
            "sum over the pours",
            [
                Input(name=f"pour {number}", value=value, quantity="volume", origin="computed")
                for number, value in enumerate(each, start=1)
            ],
            "volumes added",
        )
        lines.append(Allowance(code=code, name=name, volume=figure, share=sum(each) / net_m3))
    return lines


def _cost(book: Workbook, mixes: Sequence[Mix]) -> Figure | None:
    """What is used, at the best price by amount among the kits; buying whole kits is another question. None
    without prices.
    """
    inputs, total = [], 0.0
    by_system: dict[str, tuple[System, float, float]] = {}
    for mix in mixes:
        _, mass, volume = by_system.get(mix.system.id, (mix.system, 0.0, 0.0))
        by_system[mix.system.id] = (
            mix.system,
            mass + sum(one.mass_kg for one in mix.weighings),
            volume + sum(one.mixed_m3 for one in mix.weighings),
        )
    for system, mass, volume in by_system.values():
        worth = used_minor(system.kits, mass, volume)
        if worth is None:
            return None
        price, kit = worth
        total += price
        inputs.append(
            Input(
                name=f"{system.name} used, at its best kit price",
                value=price,
                quantity="money",
                origin=kit.origin,
            )
        )
    return book.figure(
        "total/cost",
        "Resin used",
        total,
        "money",
        "amount used × price of the kit / its amount",
        inputs,
        "the prices on the Shelf",
        ["Whole kits cost more than what is used; what is left over is not counted."],
    )


def with_band(book: Workbook, totals: Totals, voids: list[VoidPlan], coats: list[CoatPlan]) -> Totals:
    """How far off "to fill" may be, all voids and coats together, and which reading to take again."""
    measured: list[VoidPlan | CoatPlan] = [*voids, *coats]
    bands = [(one.name, one.band) for one in measured if one.band is not None]
    if not bands or totals.net is None:
        return totals
    half = math.sqrt(sum(one.value**2 for _, one in bands))
    band = book.figure(
        "total/band",
        "Off by up to, in all",
        half,
        "volume",
        "root of the sum of the squares over voids and coats",
        [book.computed(name, one) for name, one in bands],
        "law of propagation of uncertainty, JCGM 100:2008 (GUM) 5.1.2",
        ["Only spreads that were given count; a reading without one is taken as exact."],
    )
    shares = [
        (share.half.value, share.reading, one.name)
        for one in measured
        if one.band is not None
        for share in one.shares
    ]
    worst = max(shares, key=operator.itemgetter(0), default=None)
    again = "" if worst is None or half == 0 else _again(*worst[1:])
    return totals.model_copy(update={"band": band, "again": again, "coats": len(coats)})


def _again(reading: str, name: str) -> str:
    if reading == BETWEEN:
        return f"Most of it lies between the stations of {name}: read one more between each two."
    return f"Read the {reading} of {name} again: it matters most."
