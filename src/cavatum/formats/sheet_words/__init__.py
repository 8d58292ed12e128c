"""Which words of a data sheet mean what: quantities.toml and units.toml for all languages, and one file a
language. A language is added by adding its file.
"""

from __future__ import annotations

import tomllib
from functools import lru_cache
from importlib.resources import files
from typing import Any

from ...core.sheet.vocabulary import Vocabulary, vocabulary

SHARED = ("quantities.toml", "units.toml")


def _read(name: str) -> dict[str, Any]:
    return tomllib.loads((files(__package__) / name).read_text(encoding="utf-8"))


@lru_cache(maxsize=1)
def vocabularies() -> dict[str, Vocabulary]:
    """By language: "en", "de" and whatever else has a file here."""
    quantities, units = (_read(name) for name in SHARED)
    found = sorted(one.name for one in files(__package__).iterdir() if one.name.endswith(".toml"))
    made = [vocabulary(_read(name), units, quantities) for name in found if name not in SHARED]
    return {one.language: one for one in made}
