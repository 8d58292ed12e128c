"""From lines to what the sheet says: each value with the quantity it is of, its part, its conditions and its
place.

A line is read from left to right. A value belongs to the last quantity named before it that it can be a
value of; else to the next one named in the same clause. Column heads and the first cell of a row name what
their cells are of.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace

from .grammar import Value, in_si, kind_of, values_in
from .page import Word
from .tokens import Token
from .vocabulary import Vocabulary

Item = Value | Token
CONDITIONS = ("temperature", "mass", "length", "volume")  # what a value may hold at
SIDE = "side"  # of a ratio: how many parts of A or of B
MOST_HEAD = 6  # words of a head that are not known: with more it is a sentence


@dataclass(frozen=True, kw_only=True)
class Hit:
    """A value of a quantity. label: the words that named it; part, basis: as named. conditions: at which
    temperature, mass or depth, as said beside it; over: in its column's head. column: the head of its column
    where that says nothing else: a product's name, perhaps. sure: what speaks against it, as shares of 1
    that are left.
    """

    quantity: str
    value: Value
    label: tuple[Word, ...] = ()
    part: str = ""
    basis: str = ""
    until: str = ""
    conditions: tuple[Value, ...] = ()
    over: tuple[Value, ...] = ()
    marks: tuple[str, ...] = ()
    column: str = ""
    doubts: tuple[str, ...] = ()


@dataclass(frozen=True, kw_only=True)
class Context:
    """What stands over or before a cell and holds for it."""

    labels: tuple[Token, ...] = ()
    part: str = ""
    basis: str = ""
    unit: str = ""
    conditions: tuple[Value, ...] = ()
    marks: tuple[str, ...] = ()
    title: str = ""

    def over(self, other: Context) -> Context:
        """This one, completed by the other."""
        return Context(
            labels=self.labels or other.labels,
            part=self.part or other.part,
            basis=self.basis or other.basis,
            unit=self.unit or other.unit,
            conditions=self.conditions + other.conditions,
            marks=self.marks + other.marks,
            title=self.title or other.title,
        )


@dataclass(kw_only=True)
class _Clause:
    """What has been named so far on a line."""

    labels: list[Token] = field(default_factory=list)
    part: str = ""
    basis: str = ""
    until: str = ""
    marks: list[str] = field(default_factory=list)
    waiting: list[Value] = field(default_factory=list)
    last: int | None = None  # the hit that what follows may belong to


def context_of(items: Sequence[Item], vocabulary: Vocabulary) -> Context:
    """What a head or a row's first cell says of the cells it stands for.

    Raises nothing. Valid for cells without a value of their own. Source: how tables are made, common
    practice.
    """
    tokens = [one for one in items if isinstance(one, Token)]
    values = [one for one in items if isinstance(one, Value)]
    return Context(
        labels=tuple(one for one in tokens if one.kind == "LABEL"),
        part=_first(tokens, "PART"),
        basis=_first(tokens, "BASIS"),
        unit=_first(tokens, "UNIT"),  # "Pot life (min)", "density, g/mL": a unit without a number
        conditions=tuple(one for one in values if one.kind in CONDITIONS),
        marks=tuple(one.what for one in tokens if one.kind == "MARK"),
        title=_title(items),
    )


def _first(tokens: Sequence[Token], kind: str) -> str:
    return next((one.what for one in tokens if one.kind == kind), "")


def _title(items: Sequence[Item]) -> str:
    """What a head calls its column, where it says nothing that is known: a product's name."""
    if not any(isinstance(one, Token) and one.kind == "WORD" and one.text.isalnum() for one in items):
        return ""
    if any(isinstance(one, Token) and one.kind in ("LABEL", "PART", "BASIS") for one in items):
        return ""
    return " ".join(one.text if isinstance(one, Token) else one.written for one in items)


def is_head(cells: Sequence[Sequence[Item]], vocabulary: Vocabulary) -> bool:
    """Whether a line of a table is its head: two cells or more, without values, or with conditions only:
    behind a name ("viscosity (25 °C)"), or in every cell that has no name, where none has one.

    Raises nothing. Valid for tables whose heads stand above. Source: own judgement.
    """
    if len(cells) < 2:
        return False
    has_names = any(_names(cell) for cell in cells)
    if any(_is_sentence(cell) for cell in cells):
        return False
    return all(_may_be_head(cell, vocabulary, has_names=has_names) for cell in cells)


def _names(cell: Sequence[Item]) -> list[str]:
    return [one.what for one in cell if isinstance(one, Token) and one.kind == "LABEL"]


def _is_sentence(cell: Sequence[Item]) -> bool:
    words = [one for one in cell if isinstance(one, Token) and one.kind == "WORD" and one.text.isalpha()]
    return len(words) > MOST_HEAD


def _may_be_head(cell: Sequence[Item], vocabulary: Vocabulary, *, has_names: bool) -> bool:
    kinds = {one.kind for one in cell if isinstance(one, Value)}
    names = _names(cell)
    if kinds and not has_names and _title(cell) and isinstance(cell[0], Token):
        kinds -= {"bare"}  # "Wren 7"
    if not kinds:
        return True
    is_of_conditions = kinds <= {"temperature", "mass"} and not (has_names and not names)
    return is_of_conditions and not kinds & {vocabulary.quantities[one].kind for one in names}


def hits_in(
    cells: Sequence[Sequence[Item]], heads: Sequence[Context], before: Context, vocabulary: Vocabulary
) -> list[Hit]:
    """What a line says. heads: of each cell's column; before: what holds for the whole line.

    Raises nothing. Valid for lines of one reading order. Source: own judgement.
    """
    reader = _Line(before, vocabulary)
    for cell, head in zip(cells, heads, strict=True):
        reader.take_cell(cell, head)
    return reader.hits


class _Line:
    def __init__(self, before: Context, vocabulary: Vocabulary) -> None:
        self.hits: list[Hit] = []
        self._words, self._before = vocabulary, before
        self._clause = _Clause()
        self._row_unit = ""

    def take_cell(self, items: Sequence[Item], head: Context) -> None:
        is_alone = [one.kind for one in items if isinstance(one, Token)] == ["UNIT"] and len(items) == 1
        if is_alone:
            self._row_unit = items[0].what if isinstance(items[0], Token) else ""
            return
        self._head = head.over(self._before)
        depth = 0
        for place, one in enumerate(items):
            if isinstance(one, Token):
                depth = max(0, depth + {"OPEN": 1, "CLOSE": -1}.get(one.kind, 0))
                self._token(one, items, place)
            else:
                self._value(one, items, place, in_brackets=depth > 0)

    def _token(self, token: Token, items: Sequence[Item], place: int) -> None:
        clause = self._clause
        if token.kind == "LABEL":
            self._label(token, items, place)
        elif token.kind in ("PART", "BASIS", "UNTIL"):
            name = token.kind.lower()
            if not self._amends(name, token.what):
                setattr(clause, name, token.what)
        elif token.kind == "UNIT":
            self._row_unit = token.what
        elif token.kind == "MARK":
            self._mark(token)
        elif token.kind == "STOP" and token.what != ".":
            clause.last = None
        elif token.kind == "WORD" and any(one.isdigit() for one in token.text):
            self._beside(token.words)

    def _label(self, token: Token, items: Sequence[Item], place: int) -> None:
        clause = self._clause
        joined = clause.last is None and clause.labels and self._is_joined(items, place)
        self._clause = _Clause(
            labels=[*clause.labels, token] if joined else [token],
            part=clause.part if clause.last is None else "",
            basis=clause.basis if clause.last is None else "",
            waiting=clause.waiting if clause.last is None else [],
            marks=clause.marks if clause.last is None else [],
        )
        self._row_unit = self._row_unit if clause.last is None else ""

    def _is_joined(self, items: Sequence[Item], place: int) -> bool:
        """ "Pot life / working time": two names of what follows."""
        return any(
            isinstance(one, Token) and one.kind in ("SLASH", "OPEN", "COMMA", "AND")
            for one in items[max(0, place - 2) : place]
        )

    def _mark(self, token: Token) -> None:
        if self._clause.last is None:
            self._clause.marks.append(token.what)
        else:
            hit = self.hits[self._clause.last]
            self.hits[self._clause.last] = replace(hit, marks=(*hit.marks, token.what))

    def _amends(self, name: str, what: str) -> bool:
        """What is named behind a value in its own cell is said of it: "2:1 by volume", "1.10 g/mL (part
        A)"."""
        last = self._clause.last
        if last is None or getattr(self.hits[last], name):
            return False
        self.hits[last] = replace(self.hits[last], **{name: what})  # type: ignore[arg-type]
        return True

    def _value(self, value: Value, items: Sequence[Item], place: int, *, in_brackets: bool) -> None:
        label, value, doubts = self._whose(value, items, place, in_brackets=in_brackets)
        if label is None:
            if value.kind in CONDITIONS:
                self._condition(value)
            elif value.kind == "bare":
                self._beside(value.words)
            return
        clause, head = self._clause, self._head
        if in_brackets and self._is_said_again(label, value):
            return
        waiting = tuple(clause.waiting)
        self.hits.append(
            Hit(
                quantity=label.what,
                value=value,
                label=label.words,
                part=clause.part or head.part,
                basis=clause.basis or head.basis,
                until=clause.until,
                conditions=waiting,
                over=head.conditions,
                marks=(*clause.marks, *head.marks),
                column=head.title,
                doubts=doubts,
            )
        )
        clause.last = len(self.hits) - 1

    def _beside(self, words: Sequence[Word]) -> None:
        """A number that a picture left without its unit: a condition, perhaps, that the value before it
        lacks."""
        last = self._clause.last
        if last is not None and any(one.sure < 1 for one in words):
            hit = self.hits[last]
            self.hits[last] = replace(hit, doubts=(*hit.doubts, "number-beside"))

    def _is_said_again(self, label: Token, value: Value) -> bool:
        """The same in another unit: "6 mm (1/4 in)"."""
        if self._clause.last is None:
            return False
        hit = self.hits[self._clause.last]
        return hit.quantity == label.what and hit.value.kind == value.kind

    def _condition(self, value: Value) -> None:
        clause = self._clause
        if clause.last is None:
            clause.waiting.append(value)
            return
        hit = self.hits[clause.last]
        if not any(one.kind == value.kind for one in hit.conditions):
            self.hits[clause.last] = replace(hit, conditions=(*hit.conditions, value))

    def _whose(
        self, value: Value, items: Sequence[Item], place: int, *, in_brackets: bool
    ) -> tuple[Token | None, Value, tuple[str, ...]]:
        """The name a value belongs to, the value in that quantity's kind, and what speaks against it."""
        if place and _is_at(items[place - 1]) and value.kind in CONDITIONS:
            return None, value, ()
        unnamed = self._unnamed(value)
        if unnamed is not None:
            return unnamed, value, ()
        for label in reversed([*self._head.labels, *self._clause.labels]):
            fitted = self._fitted(value, label)
            if fitted is not None:
                return label, fitted, ()
        if self._clause.labels and self._clause.last is None:
            return None, value, ()
        following = None if in_brackets else self._following(items, place)
        fitted = self._fitted(value, following) if following else None
        return (following, fitted, ("named-behind",)) if fitted is not None else (None, value, ())

    def _unnamed(self, value: Value) -> Token | None:
        """What needs no name: "2A:1B", and a number of parts in a table of proportions."""
        if value.kind == "ratio" and set(value.parts) == {"a", "b"}:
            return Token(kind="LABEL", what="ratio", words=value.words)
        if value.kind in ("bare", "parts") and value.low == value.high and self._is_side():
            return Token(kind="LABEL", what=SIDE, words=value.words)
        return None

    def _is_side(self) -> bool:
        """A number of parts in a table of proportions: its row names the part, its column the basis, or the
        other way round.
        """
        clause, head = self._clause, self._head
        named = [one.what for one in (*clause.labels, *head.labels)]
        return (
            (clause.part or head.part) in ("a", "b")
            and bool(clause.basis or head.basis)
            and not self._row_unit
            and all(one == "ratio" for one in named)
        )

    @staticmethod
    def _following(items: Sequence[Item], place: int) -> Token | None:
        for one in items[place + 1 :]:
            if isinstance(one, Token) and one.kind == "LABEL":
                return one
            if isinstance(one, Token) and one.kind == "STOP":
                return None
        return None

    def _fitted(self, value: Value, label: Token) -> Value | None:
        """The value as one of this quantity, where it can be: a bare number takes the unit of its row or
        head."""
        kind = self._words.quantities[label.what].kind
        if kind == "ratio":
            return _as_ratio(value)
        if value.kind in kind.split("|"):
            return value
        if value.kind != "bare":
            return None
        unit = self._row_unit or self._head.unit
        if unit and kind_of(unit) in kind.split("|"):
            return replace(
                value, kind=kind, unit=unit, low=in_si(value.low, unit), high=in_si(value.high, unit)
            )
        if kind in ("number", "gravity") and not unit:
            return replace(value, kind=kind)
        return None


def _is_at(item: Item) -> bool:
    return isinstance(item, Token) and (item.kind == "AT" or item.what == "or at")


def _as_ratio(value: Value) -> Value | None:
    """ "2:1", "2 to 1", "100 parts to 45 parts": both numbers as they stand."""
    if value.kind == "ratio":
        return value
    if value.kind in ("bare", "parts") and value.low != value.high:
        return replace(value, kind="ratio")
    if value.kind == "bare" and " " in value.written:  # "1 to 1"
        return replace(value, kind="ratio")
    return None


def read_cells(cells: Sequence[Sequence[Token]], vocabulary: Vocabulary) -> list[list[Item]]:
    """Each cell's tokens with its values put together.

    Raises nothing. Valid as values_in. Source: grammar.GRAMMAR.
    """
    return [values_in(one, comma=vocabulary.comma) for one in cells]
