"""How numbers, units and small words make a value: one number, a range, a value with its spread, a ratio."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

from lark import Lark, Transformer
from lark import Token as Leaf
from lark.lexer import Lexer

from ..common import units
from ..common.errors import DomainError
from .page import Word
from .tokens import Token, value_of

GRAMMAR = r"""
start: item*

?item: value
     | ratio
     | OTHER

value: limit* span
limit: MOST | LEAST | ABOUT

span: NUM UNIT                          -> one
    | NUM                               -> bare
    | NUM RANGE NUM UNIT                -> between
    | NUM UNIT RANGE NUM UNIT           -> between
    | NUM RANGE NUM                     -> bare_between
    | NUM SPREAD NUM UNIT               -> spread
    | NUM UNIT SPREAD NUM UNIT          -> spread
    | NUM SPREAD NUM                    -> bare_spread

ratio: side COLON side
side: NUM PARTS? PART?

%declare NUM UNIT RANGE SPREAD COLON PARTS PART MOST LEAST ABOUT OTHER
"""


@dataclass(frozen=True, kw_only=True)
class Value:
    """low, high: in SI where the unit is known, else as they stand; equal for a single value. limit: "most"
    or "least" where only that is said. unit: as core/common/units.py reads it, "" where none stands. parts:
    of a ratio, those named beside its numbers. certain: the numbers can be read in one way only.
    """

    kind: str
    low: float
    high: float
    limit: str = ""
    unit: str = ""
    written: str
    parts: tuple[str, str] = ("", "")
    words: tuple[Word, ...]
    cell: int
    certain: bool = True


@dataclass(frozen=True, kw_only=True)
class _Number:
    value: float
    certain: bool


class _Given(Lexer):
    """The tokens are there already."""

    def __init__(self, _: Any) -> None:
        pass

    def lex(self, lexer_state: Any, parser_state: Any = None) -> Iterator[Leaf]:
        yield from lexer_state


@lru_cache(maxsize=1)
def _parser() -> Lark:
    return Lark(GRAMMAR, parser="lalr", lexer=_Given)


def values_in(tokens: Sequence[Token], *, comma: bool) -> list[Value | Token]:
    """The tokens with those that make a value put together.

    Raises nothing: what makes no value stays as it is. Valid for the notations of GRAMMAR. Source: how data
    sheets write values, common practice, no source.
    """
    leaves = [Leaf(kind, token) for kind, token in _kinds(tokens)]
    tree = _parser().parse(leaves)
    found: list[Value | Token] = _Made(comma).transform(tree)
    return _sums(found)


def _kinds(tokens: Sequence[Token]) -> Iterator[tuple[str, Token]]:
    """What each is to the grammar: a dash or "to" between two numbers is a range, a colon a ratio. What
    would make no value stays OTHER, so that every line is of the grammar.
    """
    in_ratio = _ratios(tokens)
    for place, token in enumerate(tokens):
        kind = in_ratio.get(place) or _kind(tokens, place)
        beside = {place - 1, place + 1, _number_after(tokens, place) if kind in LIMITS else None}
        if kind not in ("NUM", "OTHER") and place not in in_ratio and beside & set(in_ratio):
            kind = "OTHER"
        yield kind, token


def _ratios(tokens: Sequence[Token]) -> dict[int, str]:
    """Places of what belongs to a ratio: "2:1", "2A : 1B", "100 parts A to 45 parts B"."""
    found: dict[int, str] = {}
    place = 0
    while place < len(tokens):
        sign, end = _ratio_from(tokens, place)
        if end is None:
            place += 1
            continue
        names = {one.kind for one in tokens[place:end]}
        if tokens[sign].kind in ("COLON", "SLASH") or names & {"PARTS", "PART"}:
            found |= {at: tokens[at].kind for at in range(place, end)} | {sign: "COLON"}
        place = end
    return found


def _ratio_from(tokens: Sequence[Token], place: int) -> tuple[int, int | None]:
    """Where the sign of a ratio that begins here stands, and where it ends; None without one."""
    sign = _side(tokens, place)
    if sign is None or sign >= len(tokens) or tokens[sign].kind not in SIGNS:
        return place, None
    end = _side(tokens, sign + 1)
    return sign, end if end is not None and tokens[place].cell == tokens[end - 1].cell else None


SIGNS = ("COLON", "SLASH", "TO", "DASH", "PLUS")


def _side(tokens: Sequence[Token], place: int) -> int | None:
    """Where a side of a ratio that begins here ends; None without one."""
    if place >= len(tokens) or tokens[place].kind != "NUM":
        return None
    for kind in ("PARTS", "PART"):
        if place + 1 < len(tokens) and tokens[place + 1].kind == kind:
            place += 1
    return place + 1


def _kind(tokens: Sequence[Token], place: int) -> str:
    token = tokens[place]
    if token.kind == "NUM" or (token.kind == "UNIT" and _kind_at(tokens, place, -1) == "NUM"):
        return token.kind
    if token.kind in JOINING and _joins(tokens, place):
        return JOINING[token.kind]
    limit = "MOST" if token.what == "or most" else token.kind
    return limit if limit in LIMITS and _number_after(tokens, place) is not None else "OTHER"


JOINING = {"DASH": "RANGE", "TO": "RANGE", "SPREAD": "SPREAD"}


def _joins(tokens: Sequence[Token], place: int) -> bool:
    """Whether two numbers stand on both sides; where the first has a unit, the second has one of its kind."""
    left = _kind_at(tokens, place, -1)
    if _kind_at(tokens, place, 1) != "NUM" or left not in ("NUM", "UNIT") or _is_taken(tokens, place):
        return False
    return left == "NUM" or (_kind_at(tokens, place, 2) == "UNIT" and not _is_other_kind(tokens, place))


LIMITS = ("MOST", "LEAST", "ABOUT")


def _kind_at(tokens: Sequence[Token], place: int, step: int) -> str:
    other = place + step
    if 0 <= other < len(tokens) and tokens[other].cell == tokens[place].cell:
        return tokens[other].kind
    return ""


def _is_taken(tokens: Sequence[Token], place: int) -> bool:
    """Whether the number on the left is itself the end of a range or a ratio ("1-2-3"), or its unit stands
    alone."""
    at = place - 1
    if tokens[at].kind == "UNIT":
        at -= 1
        if at < 0 or tokens[at].kind != "NUM":
            return True
    return (
        at >= 1
        and tokens[at - 1].kind in (*SIGNS, "SPREAD")
        and at >= 2
        and tokens[at - 2].kind in ("NUM", "UNIT")
    )


def _number_after(tokens: Sequence[Token], place: int) -> int | None:
    """Where the number stands that a limit is of: "up to max. 5"."""
    for at in range(place + 1, len(tokens)):
        if tokens[at].kind == "NUM":
            return at if tokens[at].cell == tokens[place].cell else None
        if tokens[at].kind not in LIMITS:
            return None
    return None


def _is_other_kind(tokens: Sequence[Token], place: int) -> bool:
    """ "45 min à 25 °C", "100 mm up to 1 kg" against "45 min à 60 min": the last is a range."""
    return kind_of(tokens[place - 1].what) != kind_of(tokens[place + 2].what)


class _Made(Transformer[Leaf, list[Value | Token]]):
    def __init__(self, comma: bool) -> None:
        super().__init__()
        self._comma = comma

    def start(self, items: list[Any]) -> list[Value | Token]:
        return [one.value if isinstance(one, Leaf) else one for one in items]

    def limit(self, items: list[Leaf]) -> Token:
        return replace(items[0].value, kind=items[0].type)  # type: ignore[no-any-return]

    def value(self, items: list[Any]) -> Value:
        *limits, span = items
        said = [one.kind.lower() for one in limits if one.kind in ("MOST", "LEAST")]
        words = tuple(dict.fromkeys([word for one in limits for word in one.words] + list(span.words)))
        made: Value = replace(span, limit=said[-1] if said else "", words=words)
        return made

    def one(self, items: list[Leaf]) -> Value:
        return self._made(items, [items[0]], items[1].value)

    def bare(self, items: list[Leaf]) -> Value:
        return self._made(items, [items[0]], None)

    def between(self, items: list[Leaf]) -> Value:
        return self._made(items, _numbers(items), items[-1].value, _first_unit(items))

    def bare_between(self, items: list[Leaf]) -> Value:
        return self._made(items, _numbers(items), None)

    def spread(self, items: list[Leaf]) -> Value:
        return self._around(items, items[-1].value)

    def bare_spread(self, items: list[Leaf]) -> Value:
        return self._around(items, None)

    def side(self, items: list[Leaf]) -> tuple[Token, str, list[Token]]:
        part = next((one.value.what for one in items if one.type == "PART"), "")
        return items[0].value, part, [one.value for one in items]

    def ratio(self, items: list[Any]) -> Value:
        (first, part, left), sign, (second, other, right) = items
        numbers = [value_of(one.what, comma=self._comma) for one in (first, second)]
        tokens = [*left, sign.value, *right]
        return Value(
            kind="ratio",
            low=numbers[0][0],
            high=numbers[1][0],
            written=" ".join(one.text for one in tokens),
            parts=(part, other),
            words=tuple(dict.fromkeys(word for one in tokens for word in one.words)),
            cell=first.cell,
            certain=all(sure for _, sure in numbers),
        )

    def _around(self, items: list[Leaf], unit: Token | None) -> Value:
        middle, wide = (self._number(one) for one in _numbers(items))
        made = self._made(items, _numbers(items)[:1], unit)
        if unit is None:
            return replace(made, low=middle.value - wide.value, high=middle.value + wide.value)
        one = in_si(1.0, unit.what)
        nought = in_si(0.0, unit.what)
        half = wide.value * (one - nought)
        return replace(made, low=made.low - half, high=made.high + half)

    def _made(
        self, items: list[Leaf], ends: list[Leaf], unit: Token | None, other: Token | None = None
    ) -> Value:
        numbers = [self._number(one) for one in ends]
        named = [other or unit, unit] if len(ends) == 2 else [unit]
        values = [
            in_si(number.value, by.what) if by is not None else number.value
            for number, by in zip(numbers, named, strict=True)
        ]
        return Value(
            kind=kind_of(unit.what) if unit is not None else "bare",
            low=values[0],
            high=values[-1],
            unit=unit.what if unit is not None else "",
            written=" ".join(one.value.text for one in items),
            words=tuple(dict.fromkeys(word for one in items for word in one.value.words)),
            cell=items[0].value.cell,
            certain=all(one.certain for one in numbers),
        )

    def _number(self, leaf: Leaf) -> _Number:
        try:
            value, certain = value_of(leaf.value.what, comma=self._comma)
        except ValueError:
            return _Number(value=float("nan"), certain=False)
        return _Number(value=value, certain=certain)


def _numbers(items: Sequence[Leaf]) -> list[Leaf]:
    return [one for one in items if one.type == "NUM"]


def _first_unit(items: Sequence[Leaf]) -> Token:
    return next(one.value for one in items if one.type == "UNIT")  # type: ignore[no-any-return]


def _sums(items: list[Value | Token]) -> list[Value | Token]:
    """ "1 h 30 min", "2 ft 3 in", "1 lb 4 oz": one value in two units, the second the smaller."""
    found: list[Value | Token] = []
    for one in items:
        last = found[-1] if found else None
        if (
            isinstance(one, Value)
            and isinstance(last, Value)
            and one.kind == last.kind in ("duration", "mass", "length")
            and one.cell == last.cell
            and one.low == one.high < last.low == last.high
            and one.unit != last.unit
            and not one.limit
        ):
            total = last.low + one.low
            found[-1] = replace(
                last,
                low=total,
                high=total,
                written=f"{last.written} {one.written}",
                words=(*last.words, *one.words),
            )
        else:
            found.append(one)
    return found


@lru_cache(maxsize=256)
def kind_of(unit: str) -> str:
    """The kind of quantity a unit belongs to: one of core/common/units.py's, or the unit itself where a plan
    computes nothing with it (coverage, hardness).

    Raises nothing. Exact. Source: core/common/unit_table.py.
    """
    for kind in KINDS_TRIED:
        if _reads(kind, unit):
            return kind
    return "coverage" if "/" in unit else unit


KINDS_TRIED = (
    "duration", "temperature", "mass", "length", "volume", "density", "viscosity", "pressure", "fraction",
)  # fmt: skip


def _reads(kind: str, unit: str) -> bool:
    try:
        units.parse(f"1 {unit}", kind)
    except DomainError:
        return False
    return True


def in_si(number: float, unit: str) -> float:
    """A number in a unit of the table, in SI; as it stands for a unit that no plan computes with.

    Raises nothing. Exact for the units of core/common/unit_table.py. Source: NIST SP 811.
    """
    kind = kind_of(unit)
    if kind not in KINDS_TRIED:
        return number
    if kind == "temperature":
        return units.parse(f"{number:.10g} {unit}", kind).value if number == number else number
    return number * units.parse(f"1 {unit}", kind).value
