"""Which words mean what, in one language: phrases looked up by the longest that fits."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from difflib import get_close_matches
from functools import cached_property
from typing import Any, Literal

Role = Literal[
    "unit",
    "label",
    "part",
    "basis",
    "at",
    "to",
    "most",
    "least",
    "about",
    "parts",
    "until",
    "method",
    "plain",
    "not",
]
_PIECES = re.compile(r"[^\W\d_]+\d*|\d+|\S")
_ALIKE = str.maketrans("µ×‐‑‒–—−’‘“”º∶", "ux------''\"\"°:")
SHORTEST_MENDED, ALIKE = 5, 0.82  # letters; share of a word's letters that have to be right
ANY_DOT = "."  # abbreviations are written with and without


def folded(text: str) -> str:
    """Small letters without accents, with one form of dashes, quotes and signs: as phrases are looked up.

    Raises nothing. Exact. Source: Unicode, form NFKD.
    """
    plain = unicodedata.normalize("NFKD", text.translate(_ALIKE).replace("ß", "ss")).translate(_ALIKE)
    return "".join(one for one in plain if not unicodedata.combining(one)).lower()


def pieces(text: str) -> list[str]:
    """Words, numbers and single signs of a folded text.

    Raises nothing. Exact. Source: none needed.
    """
    return _PIECES.findall(text)


@dataclass(frozen=True)
class Meaning:
    """role of a phrase, and which of its kind: a unit as core/common/units.py reads it, a quantity, a
    part."""

    role: Role
    what: str


@dataclass
class _Branch:
    meanings: list[Meaning] = field(default_factory=list)
    after: dict[str, _Branch] = field(default_factory=dict)


@dataclass(frozen=True)
class Quantity:
    """What a sheet may say of one thing: its kind, and between which SI values anything sound lies."""

    kind: str
    low: float
    high: float


@dataclass(kw_only=True)
class Vocabulary:
    """One language's phrases; comma: whether its numbers have a decimal comma."""

    language: str
    comma: bool
    common: frozenset[str]
    quantities: Mapping[str, Quantity]
    _root: _Branch = field(default_factory=_Branch)

    def add(self, phrases: Iterable[str], meaning: Meaning) -> None:
        for phrase in phrases:
            branch = self._root
            for piece in pieces(folded(phrase)):
                if piece != ANY_DOT:
                    branch = branch.after.setdefault(piece, _Branch())
            if meaning not in branch.meanings:
                branch.meanings.append(meaning)

    def mended(self, word: str) -> str:
        """A word as a picture gave it, as the known word it is a letter or two beside, where there is one."""
        if word in self._known or len(word) < SHORTEST_MENDED or not word.isalpha():
            return word
        near = get_close_matches(word, self._mendable, n=1, cutoff=ALIKE)
        return near[0] if near else word

    def knows(self, word: str) -> bool:
        """Whether it is, as it stands, part of a phrase or a common word."""
        return folded(word) in self._known

    @cached_property
    def _known(self) -> frozenset[str]:
        found, queue = set[str](), [self._root]
        while queue:
            branch = queue.pop()
            found |= set(branch.after)
            queue += branch.after.values()
        return frozenset(found) | self.common

    @cached_property
    def _mendable(self) -> list[str]:
        return sorted(one for one in self._known if len(one) >= SHORTEST_MENDED and one.isalpha())

    def longest(self, words: Sequence[str], start: int) -> tuple[int, list[Meaning]]:
        """How many words from `start` the longest known phrase takes, and what it may mean; (0, []) without
        one."""
        branch, best, place = self._root, (0, list[Meaning]()), start
        while place < len(words):
            if words[place] == ANY_DOT and place > start:
                place += 1
                continue
            step = branch.after.get(words[place])
            if step is None:
                break
            branch, place = step, place + 1
            if branch.meanings:
                best = (place - start, branch.meanings)
        return best


def vocabulary(
    language: Mapping[str, Any],
    units: Mapping[str, Mapping[str, Sequence[str]]],
    quantities: Mapping[str, Any],
) -> Vocabulary:
    """From one language's file, the units of all languages and the table of quantities.

    Raises KeyError where a part of a file is missing. Exact. Source: the files themselves.
    """
    made = Vocabulary(
        language=language["language"],
        comma=language["decimal"] == ",",
        common=frozenset(language["common"]),
        quantities={name: Quantity(row["kind"], row["low"], row["high"]) for name, row in quantities.items()},
    )
    for spellings in (units["units"], language.get("units", {})):
        for unit, phrases in spellings.items():
            made.add([unit, *phrases], Meaning("unit", unit))
    roles: dict[str, Role] = {
        "labels": "label",
        "parts": "part",
        "basis": "basis",
        "until": "until",
        "words": "plain",
    }
    for section, role in roles.items():
        for what, phrases in (*units.get(section, {}).items(), *language.get(section, {}).items()):
            meaning = Meaning(what if role == "plain" else role, "" if role == "plain" else what)
            made.add(phrases, meaning)
    return made
