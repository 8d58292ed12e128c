"""Ten more ways to set a sheet, made after the reader's rules and scored once; nothing in the rules may be changed to fit
them.
"""

from __future__ import annotations

import random
from html import escape

from tests.scenes.sheets.facts import Fact, Say, one_of, without
from tests.scenes.sheets.layouts import MAIN, REST, Layout, _name, page, pick, table


def four_columns(facts: list[Fact], say: Say, rng: random.Random) -> tuple[str, list[Fact]]:
    """Two pairs of name and value on each line."""
    chosen = pick(facts, MAIN + REST, rng, 16)
    cells = [(escape(_name(one, say)), escape(say.value(one))) for one in chosen]
    rows = [
        [*cells[at], *(cells[at + 1] if at + 1 < len(cells) else ("", ""))] for at in range(0, len(cells), 2)
    ]
    return page(say, rng, table(rows, kind="box")), [
        without(one, "at_c", "mass_kg", "until") for one in chosen
    ]


def conditions_column(facts: list[Fact], say: Say, rng: random.Random) -> tuple[str, list[Fact]]:
    chosen = pick(facts, MAIN + REST, rng, 16)
    rows = [(escape(_name(one, say)), escape(say.conditions(one)), escape(say.value(one))) for one in chosen]
    return page(say, rng, table(rows)), [without(one, "until") for one in chosen]


def narrow_label(facts: list[Fact], say: Say, rng: random.Random) -> tuple[str, list[Fact]]:
    """A bottle's label: a narrow column whose lines wrap."""
    chosen = pick(facts, MAIN + REST, rng, 10)
    items = "".join(f"<p><b>{escape(_name(one, say))}</b> {escape(say.full(one))}</p>" for one in chosen)
    return page(say, rng, f"<div style='width:34%'>{items}</div>"), chosen


def one_row(facts: list[Fact], say: Say, rng: random.Random) -> tuple[str, list[Fact]]:
    """Names in the head, the values in one row below, twice."""
    chosen = pick(facts, MAIN + REST, rng, 8)
    body = ""
    for part in (chosen[:4], chosen[4:]):
        body += (
            table([[escape(say.value(one)) for one in part]], [_name(one, say) for one in part], "box")
            + "<br>"
        )
    return page(say, rng, body), [without(one, "at_c", "mass_kg", "until") for one in chosen]


def value_below(facts: list[Fact], say: Say, rng: random.Random) -> tuple[str, list[Fact]]:
    chosen = pick(facts, MAIN + REST, rng, 14)
    items = "".join(
        f"<p style='margin:.6em 0'>{escape(_name(one, say))}<br><b>{escape(say.full(one))}</b></p>"
        for one in chosen
    )
    return page(say, rng, items), chosen


def small_print(facts: list[Fact], say: Say, rng: random.Random) -> tuple[str, list[Fact]]:
    """One long paragraph, names and values parted by dashes and commas."""
    chosen = pick(facts, MAIN + REST, rng, 12)
    texts = "; ".join(f"{_name(one, say)} – {say.full(one)}" for one in chosen)
    return page(say, rng, f"<p class=foot>{say.chat()} {escape(texts)}.</p>"), chosen


def two_tables_abreast(facts: list[Fact], say: Say, rng: random.Random) -> tuple[str, list[Fact]]:
    chosen = pick(facts, MAIN + REST, rng, 18)
    half = len(chosen) // 2
    sides = [
        f"<div><h2>{say.title(2 + at)}</h2>"
        + table([(escape(_name(one, say)), escape(say.value(one))) for one in part])
        + "</div>"
        for at, part in enumerate((chosen[:half], chosen[half:]))
    ]
    return page(say, rng, f"<div class=two>{''.join(sides)}</div>"), [
        without(one, "at_c", "mass_kg", "until") for one in chosen
    ]


def daggers(facts: list[Fact], say: Say, rng: random.Random) -> tuple[str, list[Fact]]:
    chosen = pick(facts, MAIN + REST, rng, 14)
    rows, told = [], []
    for one in chosen:
        has_mark = one.quantity in ("working_time", "tack_free", "demould")
        rows.append((escape(_name(one, say)) + ("†" if has_mark else ""), escape(say.value(one))))
        told.append(
            without(one, "at_c", "mass_kg", "until") if not has_mark else without(one, "mass_kg", "until")
        )
    note = f"<p class=foot>† {say.word('at')} {escape(say.temperature(one_of(facts, 'working_time').at_c or 23.0))}</p>"
    return page(say, rng, table(rows, kind="box") + note), told


def part_by_part(facts: list[Fact], say: Say, rng: random.Random) -> tuple[str, list[Fact]]:
    """A section for each part, with its density and viscosity, then the mix."""
    body, told = "", []
    for part in ("a", "b"):
        own = [one_of(facts, name, part) for name in ("density", "viscosity")]
        lines = "".join(
            f"<li>{escape(say.label(one.quantity))} {escape(say.part(part))}: {escape(say.full(one))}</li>"
            for one in own
        )
        body += f"<h2>{escape(say.part(part))}</h2><ul>{lines}</ul>"
        told += own
    chosen = pick(facts, [one for one in MAIN + REST if one != "viscosity"], rng, 10)
    body += table(
        [(escape(_name(one, say)), escape(say.full(one))) for one in chosen],
        [say.word("property"), say.word("value")],
    )
    return page(say, rng, body), [*told, *chosen]


def long_sheet(facts: list[Fact], say: Say, rng: random.Random) -> tuple[str, list[Fact]]:
    """Over several pages, with much between."""
    chosen = pick(facts, MAIN + REST, rng, 16)
    body = ""
    for at in range(0, len(chosen), 4):
        body += f"<h2>{say.title(2 + at // 4 % 4)}</h2>" + "".join(
            f"<p>{say.chat()} {say.chat()}</p>" for _ in range(9)
        )
        body += table([(escape(_name(one, say)), escape(say.full(one))) for one in chosen[at : at + 4]])
    return page(say, rng, body), chosen


HELD_BACK: list[Layout] = [
    four_columns, conditions_column, narrow_label, one_row, value_below, small_print, two_tables_abreast, daggers,
    part_by_part, long_sheet,
]  # fmt: skip
