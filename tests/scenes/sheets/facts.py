"""What a made-up product's sheet says, and how one language says it."""

from __future__ import annotations

import random
from dataclasses import dataclass, field, replace

from tests.scenes.sheets import phrases

MIN, H, DAY, MONTH = 60.0, 3600.0, 86400.0, 365.25 / 12 * 86400.0
LB_GAL, INCH, POUND = 119.82642731689664, 0.0254, 0.45359237


@dataclass(frozen=True, kw_only=True)
class Fact:
    """low, high: SI; of a ratio both sides. unit: as the sheet writes it."""

    quantity: str
    low: float
    high: float
    unit: str
    part: str = ""
    basis: str = ""
    at_c: float | None = None
    mass_kg: float | None = None
    limit: str = ""
    until: str = ""
    product: str = ""

    def truth(self) -> dict:
        return {
            name: value for name, value in self.__dict__.items() if value not in ("", None) and name != "unit"
        }


SCALE = {
    "s": 1.0, "min": MIN, "h": H, "d": DAY, "months": MONTH, "g/cm³": 1000.0, "g/mL": 1000.0, "kg/L": 1000.0,
    "lb/gal": LB_GAL, "mPa·s": 1e-3, "cP": 1e-3, "cps": 1e-3, "mm": 1e-3, "cm": 1e-2, "in": INCH, "%": 0.01, "bar": 1e5,
    "psi": 6894.757293168361, "g": 1e-3, "kg": 1.0, "lb": POUND, "L": 1e-3, "mL": 1e-6, "gal": 3.785411784e-3,
    "m²/L": 1.0, "g/m²": 1.0, "": 1.0,
}  # fmt: skip


def product(rng: random.Random) -> list[Fact]:
    """A plausible resin, nobody's: its values agree with each other."""
    ratio = rng.choice([1.0, 2.0, 3.0, 100 / 60, 100 / 45, 4.0, 100 / 83])
    dense_a, dense_b = round(rng.uniform(1.08, 1.18), 2), round(rng.uniform(0.95, 1.04), 2)
    work = (
        rng.choice([20, 25, 30, 40, 45, 60]) * MIN if rng.random() < 0.6 else rng.choice([2, 4, 6, 8, 12]) * H
    )
    slow = work >= 2 * H
    tack = work * rng.choice([5, 6, 8]) if not slow else work * rng.choice([2, 3])
    at, mass = rng.choice([20.0, 23.0, 25.0]), rng.choice([0.1, 0.15, 0.2, 0.5])
    deepest = rng.choice([25, 30, 40, 50, 60]) if slow else rng.choice([3, 5, 6, 10, 12])
    hours = [round(tack / H), round(tack / H * rng.choice([2, 2.5, 3]))]
    whole = ratio == int(ratio)
    basis = rng.choice(["volume", "weight"])
    sides = (ratio, 1.0) if whole else (100.0, round(100 / ratio))
    other = "weight" if basis == "volume" else "volume"
    factor = dense_a / dense_b if basis == "volume" else dense_b / dense_a
    crossed = (100.0, float(round(100 * sides[1] / (sides[0] * factor))))
    made = [
        Fact(quantity="ratio", low=sides[0], high=sides[1], unit="", basis=basis),
        Fact(quantity="ratio", low=crossed[0], high=crossed[1], unit="", basis=other),
        Fact(quantity="density", part="a", low=dense_a * 1000, high=dense_a * 1000, unit="g/cm³"),
        Fact(quantity="density", part="b", low=dense_b * 1000, high=dense_b * 1000, unit="g/cm³"),
        _v("density", "g/cm³", round((dense_a * 2 + dense_b) / 3, 2), part="mix"),
        _v("viscosity", "mPa·s", rng.choice([900, 1200, 3500, 8000, 11000]), part="a", at_c=25.0),
        _v("viscosity", "mPa·s", rng.choice([80, 150, 300, 450]), part="b", at_c=25.0),
        _v("viscosity", "mPa·s", rng.choice([250, 400, 600, 850, 1500]), part="mix", at_c=25.0),
        Fact(quantity="working_time", low=work, high=work, unit="h" if slow else "min", at_c=at, mass_kg=mass,
             until="gel" if rng.random() < 0.3 else ""),
        _v("tack_free", "h", round(tack / H), at_c=at),
        _v("recoat", "h", *hours, at_c=at),
        _v("demould", "h", *([hours[1] * 2, hours[1] * 3] if rng.random() < 0.4 else [hours[1] * 2]), at_c=at),
        _v("light_use", "h", hours[1] * 4),
        _v("full_cure", "d", rng.choice([3, 5, 7, 10])),
        _v("depth_most", "mm", deepest, mass_kg=rng.choice([None, None, 5.0, 10.0])),
        _v("depth_least", "mm", rng.choice([1, 2, 3]) if not slow else rng.choice([5, 10])),
        _v("coverage", "m²/L", rng.choice([1.2, 2, 3.5, 4])),
        _v("stir", "min", *rng.choice([(3,), (4,), (3, 5), (2, 3)])),
        _v("rest", "min", rng.choice([3, 5, 10])),
        _v("colourant_most", "%", rng.choice([2, 3, 5, 6]), limit="most"),
        Fact(quantity="room", low=rng.choice([15.0, 18.0, 20.0]), high=rng.choice([25.0, 28.0, 30.0]), unit="°C"),
        _v("humidity_most", "%", rng.choice([60, 65, 70, 75]), limit="most"),
        Fact(quantity="pour_temperature", low=20.0, high=rng.choice([23.0, 25.0]), unit="°C"),
        Fact(quantity="heat_resistance", **_both(rng.choice([50.0, 55.0, 60.0, 80.0])), unit="°C"),
        Fact(quantity="tg", **_both(rng.choice([48.0, 52.0, 58.0, 66.0])), unit="°C"),
        Fact(quantity="hdt", **_both(rng.choice([46.0, 51.0, 57.0])), unit="°C"),
        Fact(quantity="hardness", **_both(rng.choice([75.0, 78.0, 80.0, 84.0])), unit=""),
        _v("shrinkage", "%", rng.choice([0.5, 1.2, 2, 2.5])),
        _v("pressure", "bar", *rng.choice([(2, 4), (3, 4), (2, 3)])),
        _v("shelf_life", "months", rng.choice([6, 12])),
        _v("kit", "L", 1), _v("kit", "L", 3.8), _v("kit", "kg", 7.5),
    ]  # fmt: skip
    return made


def _both(value: float) -> dict[str, float]:
    return {"low": value, "high": value}


def _v(quantity: str, unit: str, low: float, high: float | None = None, **more) -> Fact:
    scale = SCALE[unit]
    return Fact(
        quantity=quantity, low=low * scale, high=(low if high is None else high) * scale, unit=unit, **more
    )


@dataclass
class Say:
    """One language's way on one sheet: names and units are chosen once and kept to."""

    language: str
    rng: random.Random
    chosen: dict = field(default_factory=dict)

    def _once(self, key: tuple, of: list[str]) -> str:
        return self.chosen.setdefault(key, self.rng.choice(of))

    def label(self, quantity: str) -> str:
        return self._once(("label", quantity), phrases.LABELS[self.language][quantity])

    def part(self, part: str) -> str:
        return self._once(("part", part), phrases.PARTS[self.language][part])

    def basis(self, basis: str) -> str:
        return self._once(("basis", basis), phrases.BASIS[self.language][basis])

    def word(self, word: str) -> str:
        return phrases.WORDS[self.language][word]

    def title(self, number: int) -> str:
        return phrases.TITLES[self.language][number]

    def chat(self) -> str:
        return self.rng.choice(phrases.CHAT[self.language])

    def number(self, value: float, least: int = 0) -> str:
        """Thousands with their mark, decimals with theirs."""
        text = f"{round(value, 6):.6f}".rstrip("0").rstrip(".")
        if least and "." not in text:
            text += "." + "0" * least
        elif least:
            text += "0" * (least - len(text.partition(".")[2]))
        whole, _, tail = text.partition(".")
        if len(whole) > 3 and self._once(("thousands",), ["mark", "none"]) == "mark":
            whole = f"{whole[:-3]},{whole[-3:]}"
        text = f"{whole}.{tail}" if tail else whole
        return text if self.language == "en" else text.translate(str.maketrans(".,", ",."))

    def unit(self, unit: str) -> str:
        if unit in phrases.TIMES[self.language]:
            return self._once(("unit", unit), phrases.TIMES[self.language][unit])
        return unit

    def bare(self, fact: Fact, unit: str | None = None) -> str:
        """The value without its unit."""
        by = fact.unit if unit is None else unit
        if fact.quantity == "ratio":
            return self._once(("colon",), ["{}:{}", "{} : {}"]).format(
                self.number(fact.low), self.number(fact.high)
            )
        ends = [_in_unit(one, by) for one in dict.fromkeys((fact.low, fact.high))]
        least = 2 if by in ("g/cm³", "g/mL", "kg/L") else 0
        return self._once(("range",), ["–", " – ", f" {self.word('to')} ", "-"]).join(
            self.number(one, least) for one in ends
        )

    def value(self, fact: Fact, unit: str | None = None) -> str:
        """The value with its unit, a limit or "about" before it."""
        by = fact.unit if unit is None else unit
        text = self.bare(fact, by)
        if fact.quantity == "ratio":
            return f"{text} {self.basis(fact.basis)}"
        if by:
            text += ("" if by == "%" and self.rng.random() < 0.5 else " ") + self.unit(by)
        if fact.limit == "most":
            return f"{self.word('most')} {text}"
        return f"{self.word('about')} {text}" if self.rng.random() < 0.15 else text

    def conditions(self, fact: Fact) -> str:
        """ "25 °C, 150 g", or nothing."""
        said = []
        if fact.at_c is not None:
            said.append(self.temperature(fact.at_c))
        if fact.mass_kg is not None:
            said.append(self.mass(fact.mass_kg))
        return ", ".join(said)

    def temperature(self, at_c: float) -> str:
        return f"{self.number(at_c)} °C"

    def mass(self, mass_kg: float) -> str:
        return f"{self.number(mass_kg)} kg" if mass_kg >= 1 else f"{self.number(mass_kg * 1000)} g"

    def full(self, fact: Fact) -> str:
        """The value with what it holds at."""
        text, conditions = self.value(fact), self.conditions(fact)
        if fact.until:
            text += f" {phrases.UNTIL[self.language]}"
        if not conditions:
            return text
        form = self._once(("conditions",), ["brackets", "at"])
        if form == "at" and fact.at_c is not None:
            return f"{text} {self.word('at')} {conditions}"
        return f"{text} ({conditions})"


def _in_unit(si: float, unit: str) -> float:
    return si if unit in ("°C", "") else si / SCALE[unit]


def one_of(facts: list[Fact], quantity: str, part: str = "", basis: str = "") -> Fact:
    return next(
        one
        for one in facts
        if one.quantity == quantity and part in ("", one.part) and basis in ("", one.basis)
    )


def without(fact: Fact, *names: str) -> Fact:
    """As a sheet says it that leaves these out."""
    blank = {"at_c": None, "mass_kg": None, "until": "", "limit": "", "basis": ""}
    return replace(fact, **{name: blank[name] for name in names})
