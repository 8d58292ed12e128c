"""How much of what a made-up sheet says is found, and what is said to be sure and is wrong."""

from __future__ import annotations

import itertools
import json
import math
from collections import Counter
from collections.abc import Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from difflib import SequenceMatcher
from pathlib import Path

from cavatum.core.sheet.judging import Found, judged
from cavatum.core.sheet.page import Page
from cavatum.core.sheet.reading import hits_of, language_of
from cavatum.formats.pages_in import read_pdf
from cavatum.formats.sheet_words import vocabularies
from cavatum.formats.sheets_in import read_sheet

SHEETS = Path(__file__).resolve().parents[2] / "examples" / "sheets"
DIGITS = 0.011  # relative: sheets round to three digits


@dataclass
class Score:
    said: Counter = field(default_factory=Counter)
    right: Counter = field(default_factory=Counter)
    found: int = 0
    wrong_and_sure: list[str] = field(default_factory=list)

    @property
    def share(self) -> float:
        return sum(self.right.values()) / sum(self.said.values())


def truths() -> Iterator[tuple[str, bytes, dict]]:
    for one in sorted(SHEETS.glob("*.json")):
        yield one.stem, one.with_suffix(".pdf").read_bytes(), json.loads(one.read_text())


def read(pages: list[Page]) -> tuple[str, list[Found]]:
    known = vocabularies()
    language = language_of(pages, known)
    return language, judged(hits_of(pages, known[language]), known[language])


def is_it(found: Found, fact: dict) -> bool:
    """The same quantity, part, product, value and, where the sheet says them, basis and conditions."""
    named = all(getattr(found, name) == fact[name] for name in ("part", "product") if name in fact)
    if found.quantity != fact["quantity"] or not named:
        return False
    if fact["quantity"] == "ratio":
        return (found.basis, found.low, found.high) == (fact.get("basis", ""), fact["low"], fact["high"])
    values = all(math.isclose(getattr(found, end), fact[end], rel_tol=DIGITS) for end in ("low", "high"))
    held = all(
        getattr(found, name) is not None and math.isclose(getattr(found, name), fact[name], rel_tol=DIGITS)
        for name in ("at_c", "mass_kg")
        if name in fact
    )
    return values and held


def add(score: Score, name: str, found: list[Found], facts: list[dict]) -> None:
    used = set()
    for fact in facts:
        place = next((at for at, one in enumerate(found) if is_it(one, fact)), None)
        score.said[fact["quantity"]] += 1
        if place is not None:
            score.right[fact["quantity"]] += 1
            used.add(place)
    score.found += len(found)
    score.wrong_and_sure += [
        f"{name}: {one.quantity} {one.as_typed}"
        for at, one in enumerate(found)
        if at not in used and one.sure == "sure"
    ]


def read_picture(jpeg: bytes) -> tuple[str, list[Found]]:
    """As the program reads what was photographed."""
    answer = read_sheet(jpeg, {"kind": "photo"})
    return answer["language"], [Found.model_validate(one) for one in answer["found"]]


def as_named(found: list[Found], facts: list[dict]) -> list[Found]:
    """With each product's name as the sheet has it that it is nearest to: a person reads a name with a letter
    wrong."""
    names = sorted({fact["product"] for fact in facts if "product" in fact})

    def nearest(name: str) -> str:
        return max(names, key=lambda one: SequenceMatcher(None, one, name).ratio(), default=name)

    return [one.model_copy(update={"product": nearest(one.product)}) if one.product else one for one in found]


def pictures() -> Iterator[tuple[str, bytes, dict]]:
    for one in sorted(SHEETS.glob("*.jpg")):
        yield one.stem, one.read_bytes(), json.loads(one.with_suffix(".json").read_text())


def score_of_pictures(names: Sequence[str] = ()) -> Score:
    """Over all that ship as pictures, or those named; two at once."""
    chosen = [one for one in pictures() if not names or one[0] in names]
    score = Score()
    with ThreadPoolExecutor(2) as pool:
        answers = pool.map(read_picture, [jpeg for _, jpeg, _ in chosen])
        for (name, _, truth), (language, found) in zip(chosen, answers, strict=True):
            if language != truth["language"]:
                score.wrong_and_sure.append(f"{name}: language {language}")
            add(score, name, as_named(found, truth["facts"]), truth["facts"])
    return score


def score_of_text(every: int = 1) -> Score:
    """Over all sheets that ship, or one of so many, as PDF with its text."""
    score = Score()
    for name, pdf, truth in itertools.islice(truths(), 0, None, every):
        language, found = read(read_pdf(pdf))
        if language != truth["language"]:
            score.wrong_and_sure.append(f"{name}: language {language}")
        add(score, name, found, truth["facts"])
    return score
