"""Twenty ways to set a sheet. Each takes the facts, the language and the seed, and gives the page and the facts that
really stand on it.
"""

from __future__ import annotations

import random
from collections.abc import Callable, Sequence
from dataclasses import replace
from html import escape

from tests.scenes.sheets.facts import INCH, LB_GAL, Fact, Say, one_of, without

Layout = Callable[[list[Fact], Say, random.Random], tuple[str, list[Fact]]]
NAMES = ["Marl 20", "Osier 6", "Tarn clear", "Fennel 3", "Larch cast", "Heron 45", "Moss deep", "Alder coat"]
MAIN = [
    "ratio",
    "viscosity",
    "working_time",
    "tack_free",
    "recoat",
    "demould",
    "full_cure",
    "depth_most",
    "depth_least",
]
REST = ["room", "humidity_most", "heat_resistance", "tg", "hdt", "hardness", "shrinkage", "shelf_life", "colourant_most",
        "stir", "rest", "light_use", "pour_temperature", "pressure", "coverage"]  # fmt: skip
STYLE = """body{{font:{size}px/1.45 {font};margin:0;color:#111}} h1{{font-size:1.7em;margin:.2em 0}} h2{{font-size:1.15em;
margin:1.1em 0 .3em}} table{{border-collapse:collapse;width:100%}} td,th{{text-align:left;padding:.22em .6em;vertical-align:top}}
.lines td,.lines th{{border-bottom:1px solid #999}} .box td,.box th{{border:1px solid #555}} .foot{{font-size:.8em;color:#444}}
.two{{display:grid;grid-template-columns:1fr 1fr;gap:2em}} .cards{{display:grid;grid-template-columns:repeat(3,1fr);gap:1em}}
.cards b{{display:block}} .dots{{display:flex}} .dots i{{flex:1;border-bottom:1px dotted #333;margin:0 .4em .3em}}
.caps{{text-transform:uppercase}} sup{{font-size:.65em}}"""


def page(say: Say, rng: random.Random, body: str) -> str:
    style = STYLE.format(
        size=rng.choice([12, 13, 14]),
        font=rng.choice(
            ["Liberation Sans, sans-serif", "Liberation Serif, serif", "DejaVu Sans, sans-serif"]
        ),
    )
    head = f"<h1>{rng.choice(NAMES)}</h1><p>{say.title(0)} · {rng.randint(1, 28)}.{rng.randint(1, 12)}.2025 · {rng.randint(1, 9)}/{rng.randint(1, 9)}</p><p>{say.chat()}</p>"
    return f"<!doctype html><html lang={say.language}><meta charset=utf-8><style>{style}</style><body>{head}{body}<p class=foot>{say.chat()} {say.chat()}</p></body></html>"


def table(rows: Sequence[Sequence[str]], head: Sequence[str] = (), kind: str = "lines") -> str:
    top = f"<tr>{''.join(f'<th>{escape(one)}</th>' for one in head)}</tr>" if head else ""
    body = "".join(f"<tr>{''.join(f'<td>{one}</td>' for one in row)}</tr>" for row in rows)
    return f"<table class={kind}>{top}{body}</table>"


def pick(facts: list[Fact], names: Sequence[str], rng: random.Random, most: int) -> list[Fact]:
    """So many of these quantities, each once, in the sheet's order."""
    chosen = [name for name in names if rng.random() < 0.85][:most]
    return [one_of(facts, name, part="mix" if name in ("viscosity", "density") else "") for name in chosen]


def _name(fact: Fact, say: Say) -> str:
    part = f" ({say.part(fact.part)})" if fact.part else ""
    return say.label(fact.quantity) + part


def two_columns(facts: list[Fact], say: Say, rng: random.Random) -> tuple[str, list[Fact]]:
    chosen = pick(facts, MAIN + REST, rng, 18)
    rows = [(escape(_name(one, say)), escape(say.full(one))) for one in chosen]
    return page(say, rng, f"<h2>{say.title(2)}</h2>" + table(rows)), chosen


def conditions_in_the_name(facts: list[Fact], say: Say, rng: random.Random) -> tuple[str, list[Fact]]:
    chosen = pick(facts, MAIN + REST, rng, 16)
    rows = []
    for one in chosen:
        conditions = say.conditions(one)
        name = _name(one, say) + (f" ({conditions})" if conditions else "")
        rows.append((escape(name), escape(say.value(one))))
    return page(say, rng, table(rows, kind="box")), [without(one, "until") for one in chosen]


def unit_column(facts: list[Fact], say: Say, rng: random.Random) -> tuple[str, list[Fact]]:
    chosen = [one for one in pick(facts, MAIN + REST, rng, 18) if one.quantity != "ratio"]
    rows = []
    for one in chosen:
        conditions = say.conditions(one)
        name = _name(one, say) + (f", {conditions}" if conditions else "")
        rows.append((escape(name), escape(say.unit(one.unit)), escape(say.bare(one))))
    ratio = one_of(facts, "ratio")
    line = f"<p>{escape(say.label('ratio'))}: {escape(say.value(ratio))}</p>"
    head = [say.word("property"), say.word("unit"), say.word("value")]
    return page(say, rng, line + table(rows, head, "box")), [
        ratio,
        *(without(one, "until", "limit") for one in chosen),
    ]


def method_column(facts: list[Fact], say: Say, rng: random.Random) -> tuple[str, list[Fact]]:
    chosen = pick(facts, MAIN + REST, rng, 16)
    methods = ["ISO 1675", "ASTM D 2393", "DIN 53505", "EN ISO 75-2", "ISO 868", "", "ISO 11357-2"]
    rows = [(escape(_name(one, say)), escape(rng.choice(methods)), escape(say.full(one))) for one in chosen]
    head = [say.word("property"), say.word("method"), say.word("value")]
    return page(say, rng, table(rows, head)), chosen


def parts_side_by_side(facts: list[Fact], say: Say, rng: random.Random) -> tuple[str, list[Fact]]:
    top = [
        one_of(facts, quantity, part) for quantity in ("density", "viscosity") for part in ("a", "b", "mix")
    ]
    rows = [
        [
            escape(say.label(quantity) + (f" ({say.conditions(of[0])})" if of[0].at_c else "")),
            *(escape(say.value(one)) for one in of),
        ]
        for quantity, of in (("density", top[:3]), ("viscosity", top[3:]))
    ]
    head = ["", say.part("a"), say.part("b"), say.part("mix")]
    chosen = pick(facts, [one for one in MAIN + REST if one != "viscosity"], rng, 12)
    below = table([(escape(_name(one, say)), escape(say.full(one))) for one in chosen])
    return page(say, rng, table(rows, head, "box") + f"<h2>{say.title(4)}</h2>" + below), [*top, *chosen]


def bullets(facts: list[Fact], say: Say, rng: random.Random) -> tuple[str, list[Fact]]:
    chosen = pick(facts, MAIN + REST, rng, 18)
    items = "".join(f"<li>{escape(_name(one, say))}: {escape(say.full(one))}</li>" for one in chosen)
    return page(say, rng, f"<ul>{items}</ul>"), chosen


def prose(facts: list[Fact], say: Say, rng: random.Random) -> tuple[str, list[Fact]]:
    chosen = pick(facts, MAIN + REST, rng, 12)
    sentences = [
        f"{_name(one, say)}: {say.full(one)}."
        if rng.random() < 0.5
        else f"{_name(one, say)} {say.full(one)}."
        for one in chosen
    ]
    rng.shuffle(sentences)
    third = max(1, len(sentences) // 3)
    groups = [sentences[at : at + third] for at in range(0, len(sentences), third)]
    body = "".join(
        f"<h2>{say.title(2 + at % 4)}</h2><p>{say.chat()} {escape(' '.join(one))} {say.chat()}</p>"
        for at, one in enumerate(groups)
    )
    return page(say, rng, body), chosen


def cards(facts: list[Fact], say: Say, rng: random.Random) -> tuple[str, list[Fact]]:
    chosen = pick(facts, MAIN + REST, rng, 15)
    items = "".join(f"<div>{escape(_name(one, say))}<b>{escape(say.value(one))}</b></div>" for one in chosen)
    return page(say, rng, f"<div class=cards>{items}</div>"), [
        without(one, "at_c", "mass_kg", "until") for one in chosen
    ]


def prose_beside_a_table(facts: list[Fact], say: Say, rng: random.Random) -> tuple[str, list[Fact]]:
    chosen = pick(facts, MAIN + REST, rng, 14)
    right = table([(escape(_name(one, say)), escape(say.value(one))) for one in chosen])
    left = "".join(f"<p>{say.chat()} {say.chat()}</p>" for _ in range(4))
    return page(say, rng, f"<div class=two><div>{left}</div><div>{right}</div></div>"), [
        without(one, "at_c", "mass_kg", "until") for one in chosen
    ]


def leaders(facts: list[Fact], say: Say, rng: random.Random) -> tuple[str, list[Fact]]:
    chosen = pick(facts, MAIN + REST, rng, 16)
    items = "".join(
        f"<div class=dots><span>{escape(_name(one, say))}</span><i></i><span>{escape(say.full(one))}</span></div>"
        for one in chosen
    )
    return page(say, rng, items), chosen


def metric_and_us(facts: list[Fact], say: Say, rng: random.Random) -> tuple[str, list[Fact]]:
    """Truth is either of the two columns: the US one is rounded."""
    chosen = pick(facts, ["density", *MAIN, "heat_resistance", "room", "shelf_life", "hardness"], rng, 14)
    rows = [(escape(_name(one, say)), escape(say.value(one)), escape(_in_us(one, say))) for one in chosen]
    head = [say.word("property"), say.word("metric"), say.word("us")]
    return page(say, rng, table(rows, head, "box")), [
        without(one, "at_c", "mass_kg", "until") for one in chosen
    ]


def _in_us(fact: Fact, say: Say) -> str:
    if fact.unit == "g/cm³":
        return f"{say.number(round(fact.low / LB_GAL, 2))} lb/gal"
    if fact.unit == "mm":
        return f"{say.number(round(fact.low / INCH, 2))} in"
    if fact.unit == "°C":
        return (
            "–".join(say.number(round(one * 1.8 + 32)) for one in dict.fromkeys((fact.low, fact.high)))
            + " °F"
        )
    if fact.unit == "mPa·s":
        return say.value(fact, "cP")
    return say.value(fact)


def three_temperatures(facts: list[Fact], say: Say, rng: random.Random) -> tuple[str, list[Fact]]:
    temperatures = [15.0, 20.0, 25.0] if rng.random() < 0.5 else [18.0, 23.0, 30.0]
    told = []
    rows = []
    for name in ("working_time", "tack_free", "demould"):
        one = without(one_of(facts, name), "mass_kg", "until")
        row = [escape(say.label(name))]
        for step, at in enumerate(temperatures):
            factor = 2 ** (1 - step) * (1 if step else 0.9)
            scaled = replace(
                one,
                low=_rounded(one.low * factor, one.unit),
                high=_rounded(one.high * factor, one.unit),
                at_c=at,
            )
            told.append(scaled)
            row.append(escape(say.value(scaled)))
        rows.append(row)
    head = ["", *(say.temperature(at) for at in temperatures)]
    others = pick(facts, ["ratio", "viscosity", "depth_most", *REST], rng, 8)
    below = table([(escape(_name(one, say)), escape(say.full(one))) for one in others])
    return page(say, rng, f"<h2>{say.title(4)}</h2>" + table(rows, head, "box") + below), [*told, *others]


def _rounded(seconds: float, unit: str) -> float:
    by = {"min": 60.0, "h": 3600.0, "d": 86400.0}[unit]
    return max(1.0, round(seconds / by)) * by


def unit_in_the_name(facts: list[Fact], say: Say, rng: random.Random) -> tuple[str, list[Fact]]:
    chosen = pick(facts, MAIN + REST, rng, 16)
    rows = []
    for one in chosen:
        if one.quantity == "ratio":
            rows.append((escape(f"{say.label('ratio')} ({say.basis(one.basis)})"), escape(say.bare(one))))
        else:
            unit = f" [{say.unit(one.unit)}]" if one.unit else ""
            rows.append((escape(_name(one, say) + unit), escape(say.bare(one))))
    return page(say, rng, table(rows, kind="box")), [
        without(one, "at_c", "mass_kg", "until", "limit") for one in chosen
    ]


def footnotes(facts: list[Fact], say: Say, rng: random.Random) -> tuple[str, list[Fact]]:
    chosen = pick(facts, MAIN + REST, rng, 15)
    marks = ["<sup>1</sup>", "<sup>2</sup>"] if rng.random() < 0.5 else ["*", "**"]
    rows, told = [], []
    for one in chosen:
        mark = marks[0] if one.quantity == "working_time" else marks[1] if one.quantity == "viscosity" else ""
        rows.append((escape(_name(one, say)), escape(say.value(one)) + mark))
        told.append(without(one, "until") if mark else without(one, "at_c", "mass_kg", "until"))
    notes = "".join(
        f"<p class=foot>{mark} {say.word('at')} {escape(say.conditions(one_of(facts, name, part)))}</p>"
        for mark, name, part in ((marks[0], "working_time", ""), (marks[1], "viscosity", "mix"))
    )
    return page(say, rng, table(rows) + notes), told


def two_products(facts: list[Fact], say: Say, rng: random.Random) -> tuple[str, list[Fact]]:
    from tests.scenes.sheets.facts import product

    other = product(rng)
    names = rng.sample(["Wren S", "Wren M", "Wren XL", "Wren 7"], 2)
    rows, told = [], []
    for name in [one for one in MAIN + REST[:8] if rng.random() < 0.9]:
        part = "mix" if name == "viscosity" else ""
        pair = [without(one_of(of, name, part), "at_c", "mass_kg", "until") for of in (facts, other)]
        rows.append((escape(_name(pair[0], say)), *(escape(say.value(one)) for one in pair)))
        told += [replace(one, product=title.lower()) for one, title in zip(pair, names, strict=True)]
    return page(say, rng, table(rows, ["", *names], "box")), told


def rows_are_parts(facts: list[Fact], say: Say, rng: random.Random) -> tuple[str, list[Fact]]:
    top = [
        one_of(facts, quantity, part) for part in ("a", "b", "mix") for quantity in ("density", "viscosity")
    ]
    rows = [
        [escape(say.part(part)), *(escape(say.value(one)) for one in top if one.part == part)]
        for part in ("a", "b", "mix")
    ]
    head = ["", say.label("density"), f"{say.label('viscosity')} ({say.temperature(25.0)})"]
    chosen = pick(facts, [one for one in MAIN + REST if one != "viscosity"], rng, 12)
    below = "".join(f"<p>{escape(_name(one, say))}: <b>{escape(say.full(one))}</b></p>" for one in chosen)
    return page(say, rng, table(rows, head, "box") + below), [*top, *chosen]


def proportions(facts: list[Fact], say: Say, rng: random.Random) -> tuple[str, list[Fact]]:
    both = {basis: one_of(facts, "ratio", basis=basis) for basis in ("volume", "weight")}
    rows = [
        [
            escape(say.part(part)),
            *(escape(say.number(getattr(both[basis], end))) for basis in ("volume", "weight")),
        ]
        for part, end in (("a", "low"), ("b", "high"))
    ]
    head = [say.label("ratio"), say.basis("volume"), say.basis("weight")]
    chosen = pick(facts, [one for one in MAIN + REST if one != "ratio"], rng, 12)
    below = table([(escape(_name(one, say)), escape(say.full(one))) for one in chosen])
    return page(say, rng, table(rows, head, "box") + f"<h2>{say.title(3)}</h2>" + below), [
        *both.values(),
        *chosen,
    ]


def steps(facts: list[Fact], say: Say, rng: random.Random) -> tuple[str, list[Fact]]:
    chosen = pick(
        facts,
        ["ratio", "stir", "rest", "depth_most", "working_time", "recoat", "demould", "full_cure", "room"],
        rng,
        9,
    )
    items = "".join(
        f"<li>{say.chat().split('. ')[0]}. {escape(_name(one, say))}: {escape(say.full(one))}.</li>"
        for one in chosen
    )
    return page(say, rng, f"<h2>{say.title(3)}</h2><ol>{items}</ol>"), chosen


def capitals(facts: list[Fact], say: Say, rng: random.Random) -> tuple[str, list[Fact]]:
    chosen = pick(facts, MAIN + REST, rng, 16)
    rows = [(f"<span class=caps>{escape(_name(one, say))}</span>", escape(say.full(one))) for one in chosen]
    return page(say, rng, table(rows)), chosen


def short_lines(facts: list[Fact], say: Say, rng: random.Random) -> tuple[str, list[Fact]]:
    chosen = pick(facts, MAIN + REST, rng, 14)
    texts = [f"{_name(one, say)} {say.full(one)}" for one in chosen]
    lines = [
        " | ".join(texts[at : at + 2]) if rng.random() < 0.5 else "; ".join(texts[at : at + 2])
        for at in range(0, len(texts), 2)
    ]
    return page(say, rng, "".join(f"<p>{escape(one)}</p>" for one in lines)), chosen


LAYOUTS: list[Layout] = [
    two_columns, conditions_in_the_name, unit_column, method_column, parts_side_by_side, bullets, prose, cards,
    prose_beside_a_table, leaders, metric_and_us, three_temperatures, unit_in_the_name, footnotes, two_products,
    rows_are_parts, proportions, steps, capitals, short_lines,
]  # fmt: skip
