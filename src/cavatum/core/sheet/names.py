"""What a sheet calls the two parts: "Component A: Alder resin", "Hardener: H 12"."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Literal

from ..common.working import Data
from .page import Cell, Page, Place, Word, box_of, rows_of
from .tokens import Token, tokens_of
from .vocabulary import Vocabulary

LONGEST = 6  # words: what is longer is a sentence
BETWEEN = ("COLON", "EQUAL", "DASH", "OPEN", "CLOSE", "COMMA")
SAYS_OTHERWISE = ("LABEL", "UNIT", "BASIS", "PARTS", "AT", "MOST", "LEAST", "UNTIL", "STOP")


class PartName(Data):
    part: Literal["a", "b"]
    name: str
    where: Place


def part_names(pages: Sequence[Page], vocabulary: Vocabulary) -> list[PartName]:
    """The first name of each part, as it stands.

    Raises nothing. Valid where a line or a row of a table begins with the part and holds its name alone: no
    value, no unit, no other thing that is known. Source: own judgement.
    """
    found: dict[str, PartName] = {}
    for page in pages:
        for row in rows_of(page):
            for part, words in _named(row.cells, vocabulary):
                name = " ".join(word.text for word in words).strip(" :;,=()-–\"'“”")
                if name and part not in found:
                    found[part] = PartName(part=part, name=name[:120], where=box_of(words, page.number))
    return [found[part] for part in sorted(found)]


def _named(cells: Sequence[Cell], vocabulary: Vocabulary) -> Iterator[tuple[Literal["a", "b"], list[Word]]]:
    """A cell that goes on behind the part; or the only cell beside the one that is the part alone."""
    said = [tokens_of(cell.words, vocabulary) for cell in cells]
    for at, tokens in enumerate(said):
        part = _part_of(tokens)
        if part is None:
            continue
        rest = _rest(tokens[1:])
        if not rest and at == 0 and len(cells) == 2:
            rest = _rest(said[1])
        words = _name_of(rest)
        if words:
            yield part, words


def _part_of(tokens: Sequence[Token]) -> Literal["a", "b"] | None:
    if not tokens or tokens[0].kind != "PART":
        return None
    return "a" if tokens[0].what == "a" else "b" if tokens[0].what == "b" else None


def _rest(tokens: Sequence[Token]) -> list[Token]:
    return [one for one in tokens if one.kind not in BETWEEN]


def _name_of(rest: Sequence[Token]) -> list[Word]:
    """The words, where they are a name: a word of letters first, and nothing that says a value."""
    if not rest or rest[0].kind not in ("WORD", "PART") or any(one.kind in SAYS_OTHERWISE for one in rest):
        return []
    words = list(dict.fromkeys(word for one in rest for word in one.words))
    has_own = any(one.kind == "WORD" and one.text.isalpha() and len(one.text) > 1 for one in rest)
    return words if has_own and len(words) <= LONGEST else []
