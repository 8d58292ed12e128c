"""What a person took of a sheet, put into a resin system: each value where it belongs, with the line it came
from."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from typing import Any

from ..common import units
from ..common.plain_numbers import plainly
from ..common.working import ReadFrom
from ..resin.system import SHEET_ROOM_C, System, read_as
from .grammar import kind_of
from .judging import Found, in_unit
from .page import Page

Fields = dict[str, Any]
SAME_K = 0.6  # temperatures that are rounded otherwise
SHEET_TIMES = ("tack_free", "recoat", "demould", "full_cure", "light_use", "touch_dry")
OF_A_PART = ("density", "viscosity")  # said of A, of B or of the mix
PLAIN = {  # quantities with one field of their own
    "tack_free": "tack_free_s", "touch_dry": "touch_dry_s", "demould": "demould_s", "light_use":
    "light_use_s", "full_cure": "full_cure_s", "stir": "stir_s", "rest": "rest_s", "colourant_most":
    "colourant_most", "liquid_most": "liquid_most", "humidity_most": "room_humidity_most", "heat_resistance":
    "heat_resistance_c", "shrinkage": "shrinkage", "shelf_life": "shelf_life_s", "depth_least":
    "least_depth_m",
}  # fmt: skip
ENDS = {  # quantities that are a range of two fields
    "room": ("room_from_c", "room_to_c"),
    "pour_temperature": ("pour_from_c", "pour_to_c"),
    "pressure": ("pressure_from_pa", "pressure_to_pa"),
    "recoat": ("bond_from_s", "bond_to_s"),
}


def fields_of(one: Found) -> list[str]:
    """Names of the system's values that a finding becomes; empty where nothing is computed with it.

    Raises nothing. Exact. Source: core/resin/system.py.
    """
    if one.quantity in PLAIN:
        return [PLAIN[one.quantity]]
    if one.quantity in ENDS:
        return list(ENDS[one.quantity]) if one.low != one.high else [ENDS[one.quantity][one.limit == "most"]]
    by_part = {"density": "density_{}_kg_m3", "viscosity": "viscosity_pa_s"}
    if one.quantity == "viscosity":
        return ["viscosity_pa_s"] if one.part in ("", "mix") else []
    if one.quantity in by_part:
        return [by_part[one.quantity].format(one.part)] if one.part else []
    named = {
        "ratio": ["basis", "ratio"],
        "working_time": ["working_time"],
        "gel_time": ["working_time"],
        "depth_most": ["depth_rules"],
        "depth": ["least_depth_m", "depth_rules"] if one.low != one.high else [],
    }
    return named.get(one.quantity, [])


def retyped(one: Found, as_typed: str | None, basis: str | None = None, part: str | None = None) -> Found:
    """A finding as the person corrected it: with another value, or with the basis or the part that the sheet
    does not say.

    as_typed  as core/common/units.py reads it for this quantity; None leaves it
    Raises DomainError: not a value of this quantity. Exact. Source: the person.
    """
    changed: Fields = {}
    if basis is not None and one.quantity == "ratio":
        changed["basis"] = basis
    if part is not None and one.quantity in OF_A_PART and not one.part:
        changed["part"] = part
    if as_typed is not None and as_typed.strip() and as_typed != one.as_typed:
        kind = "ratio" if one.quantity == "ratio" else kind_of(one.as_typed.partition(" ")[2])
        read = units.parse(as_typed, kind)
        spread = read.spread or 0.0
        changed |= {"as_typed": read.as_typed, "low": read.value - spread, "high": read.value + spread}
        if kind == "ratio":
            changed |= {"low": read.value, "high": 1.0}
    return one.model_copy(update=changed)


@dataclass(frozen=True)
class Taken:
    """The system with what was taken, and what of it found no room: another value stands there already."""

    system: System
    unused: list[Found]


def with_taken(base: System, taken: Sequence[Found], file: str, pages: Sequence[Page]) -> Taken:
    """The system with all that was taken, each value of origin "sheet" and with its place; the rest as it
    was.

    taken  in the sheet's order; of two for the same field the first counts and the other is told as unused;
           working times of another temperature or mass are rows of their own
    file   the sheet's content, by its SHA-256
    Raises DomainError: a value out of a reading's bounds. Exact. Source: the sheet.
    """
    fields: Fields = {}
    main_c = main_temperature(taken)
    ordered = sorted(taken, key=lambda one: _is_off(one, main_c))
    put = [(one, _put(one, fields, base, main_c)) for one in ordered]
    places = [(name, one) for one, names in put for name in names]
    unused = [one for one, names in put if not names]
    if main_c is not None:
        fields["times_at_c"] = _si(main_c)
    made = System.model_validate({**base.model_dump(), **fields})
    read_from = [_place(made, name, one, file, pages) for name, one in places]
    return Taken(_with_places(made, read_from), unused)


def _with_places(made: System, read_from: Sequence[ReadFrom]) -> System:
    """Beside those that stay of an earlier sheet."""
    anew = {one.field.partition("/")[0] for one in read_from}
    kept = [one for one in made.read_from or [] if one.field.partition("/")[0] not in anew]
    places = [one.model_dump() for one in (*kept, *read_from)]
    return System.model_validate({**made.model_dump(), "read_from": places or None})


def _put(one: Found, fields: Fields, base: System, main_c: float | None) -> list[str]:
    """Puts a finding where it belongs; the names of the fields it became, none where it finds no room."""
    if one.quantity in SHEET_TIMES and _is_off(one, main_c):
        return _other_demould(one, fields) if one.quantity == "demould" else []
    return _PUT.get(one.quantity, _plain)(one, fields, base)


def _place(made: System, field: str, one: Found, file: str, pages: Sequence[Page]) -> ReadFrom:
    became = read_as(made, field)
    box = one.where[0]
    page = next(page for page in pages if page.number == box.page)
    return ReadFrom(
        field=field,
        file=file,
        page=box.page,
        left=_share(box.x0, page.width),
        top=_share(box.top, page.height),
        right=_share(box.x1, page.width),
        bottom=_share(box.bottom, page.height),
        written=one.written[:200],
        value=became[0].value if became else None,
    )


def _share(place: float, of: float) -> float:
    return min(1.0, max(0.0, place / of)) if of else 0.0


def _reading(one: Found) -> Fields:
    return {"as_typed": one.as_typed, "origin": "sheet"}


def _end(one: Found, value: float) -> Fields:
    unit = one.as_typed.partition(" ")[2]
    return {"as_typed": f"{plainly(in_unit(value, unit), 6)} {unit}", "origin": "sheet"}


def _si(value: float) -> Fields:
    return {"value": value, "origin": "sheet"}


def _once(fields: Fields, **values: Any) -> list[str]:
    """Puts what is not there yet, and names it."""
    new = {name: value for name, value in values.items() if name not in fields}
    fields |= new
    return list(new)


def _plain(one: Found, fields: Fields, _: System) -> list[str]:
    if one.quantity in PLAIN:
        return _once(fields, **{PLAIN[one.quantity]: _reading(one)})
    if one.quantity in ENDS:
        first, last = ENDS[one.quantity]
        if one.low == one.high:
            return _once(fields, **{last if one.limit == "most" else first: _reading(one)})
        return _once(fields, **{first: _end(one, one.low), last: _end(one, one.high)})
    return []


def _ratio(one: Found, fields: Fields, _: System) -> list[str]:
    """The first with a basis is weighed by; the other basis is the check."""
    if not one.basis:
        return []
    if "ratio" not in fields:
        return _once(fields, basis=one.basis, ratio=_reading(one))
    return _once(fields, ratio_other=_reading(one)) if fields["basis"] != one.basis else []


def _density(one: Found, fields: Fields, _: System) -> list[str]:
    return _once(fields, **{f"density_{one.part}_kg_m3": _reading(one)}) if one.part else []


def _viscosity(one: Found, fields: Fields, _: System) -> list[str]:
    if one.part not in ("", "mix"):
        return []
    put = _once(fields, viscosity_pa_s=_reading(one))
    if put and one.at_c is not None:
        put += _once(fields, viscosity_at_c=_si(one.at_c))
    return put


def _working_time(one: Found, fields: Fields, base: System) -> list[str]:
    """What the sheet does not say of mass and temperature stays the class's, as typical."""
    if "working_time" not in fields:
        return _once(fields, working_time=_work(one, base.working_time.model_dump()))
    first = fields["working_time"]
    row = _work(one, first)
    warmer = row["temperature_c"]["value"] - first["temperature_c"]["value"]
    same_mass = math.isclose(row["mass_kg"]["value"], first["mass_kg"]["value"], rel_tol=0.02)
    if abs(warmer) <= 0.5 and same_mass:
        return []
    if same_mass and "other_working_s" not in fields and row["criterion"] == first["criterion"]:
        return _once(fields, other_at_c=_si(row["temperature_c"]["value"]), other_working_s=_reading(one))
    rows = fields.setdefault("more_working", [])
    rows.append(row)
    return [f"more_working/{len(rows) - 1}"]


def _work(one: Found, else_: Fields) -> Fields:
    """As the sheet says it; of mass and temperature what it leaves out is the other's."""
    criterion = "gel" if one.quantity == "gel_time" else one.until or "not said"
    return {
        "time_s": _reading(one),
        "mass_kg": else_["mass_kg"] if one.mass_kg is None else _si(one.mass_kg),
        "temperature_c": else_["temperature_c"] if one.at_c is None else _si(one.at_c),
        "criterion": criterion,
    }


def _other_demould(one: Found, fields: Fields) -> list[str]:
    """When it leaves the form at the sheet's second temperature; at a third it has no place."""
    at_c = fields.get("other_at_c", {}).get("value")
    if at_c is not None and not math.isclose(at_c, one.at_c or 0.0, abs_tol=SAME_K):
        return []
    return [*_once(fields, other_at_c=_si(one.at_c or 0.0)), *_once(fields, other_demould_s=_reading(one))][
        -1:
    ]


def _depth_most(one: Found, fields: Fields, _: System) -> list[str]:
    """One rule a mass."""
    rule: Fields = {"most_depth_m": _reading(one) if one.low == one.high else _end(one, one.high)}
    if one.mass_kg is not None:
        rule["up_to_kg"] = _si(one.mass_kg)
    rules = fields.setdefault("depth_rules", [])
    masses = [known.get("up_to_kg", {}).get("value") for known in rules]
    if one.mass_kg in masses:
        return []
    rules.append(rule)
    return [f"depth_rules/{len(rules) - 1}"]


def _depth(one: Found, fields: Fields, base: System) -> list[str]:
    """ "Layer thickness 5 to 25 mm": the least and the greatest."""
    if one.low == one.high:
        return []
    return [*_once(fields, least_depth_m=_end(one, one.low)), *_depth_most(one, fields, base)]


_PUT: dict[str, Callable[[Found, Fields, System], list[str]]] = {
    "ratio": _ratio,
    "density": _density,
    "viscosity": _viscosity,
    "working_time": _working_time,
    "gel_time": _working_time,
    "depth_most": _depth_most,
    "depth": _depth,
}


def main_temperature(taken: Iterable[Found]) -> float | None:
    """The temperature [degC] that the sheet's times are taken at: the one that most of them are said for; of
    several the nearest to 23 degC. None where none is said for any.

    Raises nothing. Exact. Source: own judgement; sheets print several columns, a system has one.
    """
    told = [one.at_c for one in taken if one.quantity in SHEET_TIMES and one.at_c is not None]
    return max(told, key=lambda at: (told.count(at), -abs(at - SHEET_ROOM_C)), default=None)


def _is_off(one: Found, main_c: float | None) -> bool:
    """Said for another temperature than the times that count."""
    return main_c is not None and one.at_c is not None and abs(one.at_c - main_c) > SAME_K
