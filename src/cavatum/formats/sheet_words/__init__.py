"""Which words of a data sheet mean what: quantities.toml and units.toml for all languages, and one file a
language. A language is added by adding its file.
"""

from __future__ import annotations

import tomllib
from functools import lru_cache
from importlib.resources import files
from typing import Any

from ...core.sheet.container import LabelWords, label_words
from ...core.sheet.vocabulary import Vocabulary, vocabulary

SHARED = ("quantities.toml", "units.toml")


def _read(name: str) -> dict[str, Any]:
    return tomllib.loads((files(__package__) / name).read_text(encoding="utf-8"))


def _languages() -> list[dict[str, Any]]:
    found = sorted(one.name for one in files(__package__).iterdir() if one.name.endswith(".toml"))
    return [_read(name) for name in found if name not in SHARED]


@lru_cache(maxsize=1)
def vocabularies() -> dict[str, Vocabulary]:
    """By language: "en", "de" and whatever else has a file here."""
    quantities, units = (_read(name) for name in SHARED)
    made = [vocabulary(one, units, quantities) for one in _languages()]
    return {one.language: one for one in made}


@lru_cache(maxsize=1)
def words_of_labels() -> LabelWords:
    """What a bottle's label says, in all languages at once."""
    return label_words(_languages())


@lru_cache(maxsize=1)
def misread() -> dict[str, list[str]]:
    """Signs of units, and what the reader of pictures makes of them."""
    return {sign: list(slips) for sign, slips in _read("units.toml")["misread"].items()}
