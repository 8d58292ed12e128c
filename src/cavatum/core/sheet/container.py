"""What the label on a bottle, tin or bag says: which part it is, its lot, its dates, and whose it may be."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from difflib import SequenceMatcher
from typing import Any, Literal

from ..common.working import Data
from .page import Cell, Page, Row, Word, rows_of
from .vocabulary import Vocabulary, folded, pieces, vocabulary

LETTERS = 3  # a shorter word names nothing
ALIKE = 0.82  # share of a word's letters, where a picture may have got one wrong
LARGER = 1.25  # so much larger, one of two names is the label's own
_LOT = re.compile(r"^(?=.*\d)[A-Za-z0-9][A-Za-z0-9/.\-]{1,30}$")
_ISO = re.compile(r"\b(20\d\d)[-./](\d{1,2})(?:[-./](\d{1,2}))?\b")
_DAY_FIRST = re.compile(r"\b(\d{1,2})[-./ ](\d{1,2})[-./ ](20\d\d|\d\d)\b")
_MONTH = re.compile(r"\b(\d{1,2})[-./](20\d\d)\b")
_NAMED = re.compile(r"(?:\b(\d{1,2})[ .\-]+)?\b([^\W\d_]{3,10})\.?[ .\-]+(20\d\d)\b")
_LOOK_ALIKE = str.maketrans("OQILSB", "001158")
Part = Literal["", "a", "b"]


@dataclass(frozen=True, kw_only=True)
class LabelWords:
    """Phrases of all languages: parts, lot, dates, and the months' numbers by their names."""

    phrases: Vocabulary
    months: Mapping[str, int]


def label_words(languages: Sequence[Mapping[str, Any]]) -> LabelWords:
    """From the [parts] and [container] sections of the languages' files; a label may speak several.

    Raises KeyError where a file has none. Exact. Source: the files.
    """
    merged: dict[str, Any] = {"language": "", "decimal": ".", "common": [], "parts": {}, "labels": {}}
    months: dict[str, int] = {}
    for one in languages:
        for name, phrases in one["parts"].items():
            merged["parts"].setdefault(name, []).extend(phrases)
        for name, phrases in one["container"].items():
            if name == "months":
                months |= {folded(word): at + 1 for at, word in enumerate(phrases)}
            else:
                merged["labels"].setdefault(name, []).extend(phrases)
    return LabelWords(phrases=vocabulary(merged, {"units": {}}, {}), months=months)


class Label(Data):
    """part: by its largest name; empty where it says both alike, or none. lot: as it stands. best_before: the
    last day it keeps; made_on. open_dates: dates that may be read two ways, as they stand. text: all of it.
    """

    part: Part = ""
    lot: str = ""
    best_before: date | None = None
    made_on: date | None = None
    open_dates: list[str] = []
    text: str = ""


def label_of(pages: Sequence[Page], known: LabelWords) -> Label:
    """Part, lot and dates of a label.

    Raises nothing. Valid for a label that names its lot and date by a word. Source: common practice, no
    source.
    """
    rows = [row for page in pages for row in rows_of(page)]
    named = list(_named(rows, known.phrases))
    lots = [lot for what, after in named if what == "lot" and (lot := _lot(after))]
    dates, doubtful = _dates(named, known.months)
    return Label(
        part=_part(rows, known.phrases),
        lot=lots[0] if lots else "",
        best_before=dates.get("best_before"),
        made_on=dates.get("made_on"),
        open_dates=doubtful,
        text=" ".join(cell.text for row in rows for cell in row.cells)[:2000],
    )


def _lot(words: Sequence[Word]) -> str:
    bare = (word.text.strip(":#.,") for word in words)
    return next((one for one in bare if _LOT.match(one)), "")


def _dates(
    named: Sequence[tuple[str, list[Word]]], months: Mapping[str, int]
) -> tuple[dict[str, date], list[str]]:
    """The first of each kind, and those that may be two days."""
    dates, doubtful = dict[str, date](), list[str]()
    for what, after in named:
        if what in ("best_before", "made_on"):
            read, as_it_stands = _date(" ".join(word.text for word in after), months, what)
            if read is not None:
                dates.setdefault(what, read)
            elif as_it_stands:
                doubtful.append(as_it_stands)
    return dates, doubtful


def borne_out(first: Label, second: Label) -> Label:
    """One label read twice: what both say, or one alone; where they differ, neither.

    Raises nothing. Valid as far as the two readings slip by themselves. Source: own judgement.
    """

    def both(name: str) -> Any:
        one, other = getattr(first, name), getattr(second, name)
        return one if one == other or not other else other if not one else None

    same_lot = plain_lot(first.lot) == plain_lot(second.lot)
    return Label(
        part=both("part") or "",
        lot=first.lot if same_lot else both("lot") or "",
        best_before=both("best_before"),
        made_on=both("made_on"),
        open_dates=sorted({*first.open_dates, *second.open_dates}),
        text=f"{first.text} {second.text}"[:2000],
    )


def plain_lot(lot: str) -> str:
    """A lot's letters and digits, those that a picture takes for each other as one: O and 0, I and 1, S and
    5, B and 8.

    lot  as it stands, or was typed
    Raises nothing. Valid to compare two lots: one that differs in such a sign alone is the same. Source: own
    judgement.
    """
    return "".join(one for one in lot.upper().translate(_LOOK_ALIKE) if one.isalnum())


def _named(rows: Sequence[Row], phrases: Vocabulary) -> Iterator[tuple[str, list[Word]]]:
    """Each name with the words that stand behind it, or under it where none do."""
    for at, row in enumerate(rows):
        words = [word for cell in row.cells for word in cell.words]
        names = list(_phrases(words, phrases, "label"))
        for number, (place, length, what) in enumerate(names):
            end = names[number + 1][0] if number + 1 < len(names) else len(words)
            after = words[place + length : end]
            if not any(any(one.isdigit() for one in word.text) for word in after) and at + 1 < len(rows):
                after = _under(words[place], rows[at + 1])
            yield what, after


def _under(word: Word, row: Row) -> list[Word]:
    under = [cell for cell in row.cells if _stands_under(word, cell)]
    return [one for cell in under[:1] for one in cell.words]


def _stands_under(word: Word, cell: Cell) -> bool:
    slack = word.bottom - word.top
    return cell.x0 - slack <= word.x1 and word.x0 <= cell.x1 + slack


def _phrases(words: Sequence[Word], phrases: Vocabulary, role: str) -> Iterator[tuple[int, int, str]]:
    """Place, length in words, and meaning of each known phrase of a role."""
    split = [(at, piece) for at, word in enumerate(words) for piece in pieces(folded(word.text))]
    texts = [piece for _, piece in split]
    place = 0
    while place < len(split):
        length, meanings = phrases.longest(texts, place)
        meant = next((one for one in meanings if one.role == role), None)
        if meant is None:
            place += 1
            continue
        first, last = split[place][0], split[place + length - 1][0]
        yield first, last - first + 1, meant.what
        place += length


def _part(rows: Sequence[Row], phrases: Vocabulary) -> Part:
    """The part whose name stands largest. A letter ("Part B") goes before a word: "resin" stands in the name
    of many a hardener's product.
    """
    by_letter, by_word = dict[str, float](), dict[str, float]()
    for row in rows:
        words = [word for cell in row.cells for word in cell.words]
        for place, length, what in _phrases(words, phrases, "part"):
            named = words[place : place + length]
            has_letter = any(what in pieces(folded(word.text)) for word in named)
            sizes = by_letter if has_letter else by_word
            sizes[what] = max(sizes.get(what, 0.0), max(word.bottom - word.top for word in named))
    return _largest(by_letter) if by_letter else _largest(by_word)


def _largest(sizes: Mapping[str, float]) -> Part:
    a, b = sizes.get("a", 0.0), sizes.get("b", 0.0)
    if a > LARGER * b:
        return "a"
    return "b" if b > LARGER * a else ""


def _date(text: str, months: Mapping[str, int], what: str) -> tuple[date | None, str]:
    """The day that a text names, of a month alone its last where it keeps until then; or the text that may
    be two days.
    """
    if found := _ISO.search(text):
        year, month, day = (int(one) if one else 0 for one in found.groups())
        return _day(year, month, day, what), ""
    if found := _DAY_FIRST.search(text):
        return _by_numbers(*(int(one) for one in found.groups()), what=what, text=found.group())
    if found := _MONTH.search(text):
        return _day(int(found[2]), int(found[1]), 0, what), ""
    return _by_name(text, months, what), ""


def _by_numbers(first: int, second: int, year: int, *, what: str, text: str) -> tuple[date | None, str]:
    """31.12.2027 or 12/31/27: which is the month where only one can be."""
    year += 2000 if year < 100 else 0
    if max(first, second) <= 12 and first != second:
        return None, text
    day, month = (first, second) if second <= 12 else (second, first)
    return _day(year, month, day, what), ""


def _by_name(text: str, months: Mapping[str, int], what: str) -> date | None:
    for found in _NAMED.finditer(text):
        name = folded(found[2])
        month = next((months[name[:end]] for end in range(len(name), 2, -1) if name[:end] in months), 0)
        if month:
            return _day(int(found[3]), month, int(found[1] or 0), what)
    return None


def _day(year: int, month: int, day: int, what: str) -> date | None:
    try:
        if day:
            return date(year, month, day)
        if what == "made_on":
            return date(year, month, 1)
        return date.fromordinal(date(year + month // 12, month % 12 + 1, 1).toordinal() - 1)
    except ValueError:
        return None


def likeness(label: Label, name: str) -> float:
    """How much of a name stands on the label, 0 to 1: the share of its letters in words that are there.

    label  as read;  name  of a resin system
    Raises nothing. Valid to tell names apart that differ in a word. Source: own judgement (ALIKE).
    """
    wanted = [one for one in pieces(folded(name)) if len(one) >= LETTERS or one.isdigit()]
    there = {one for one in pieces(folded(label.text))}
    found = sum(len(one) for one in wanted if one in there or _nearly(one, there))
    return found / sum(len(one) for one in wanted) if wanted else 0.0


def _nearly(word: str, there: set[str]) -> bool:
    return len(word) > LETTERS and any(SequenceMatcher(None, word, one).ratio() >= ALIKE for one in there)
