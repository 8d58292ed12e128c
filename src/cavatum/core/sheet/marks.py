"""Footnote marks that a picture's reader took for letters."""

from __future__ import annotations

from collections.abc import Iterator

from .page import Page, Word, rows_of
from .vocabulary import Vocabulary, folded, pieces

DAGGER = "†"
LOOKS_LIKE = ("t", "f", "+", "T")  # own judgement: what daggers were read as


def with_daggers(page: Page, vocabulary: Vocabulary) -> Page:
    """The page with its daggers, where a line begins with a lone sign that looks like one and goes on with a
    condition ("t at 25 °C"): that sign at the end of a word that is known without it is one too.

    Raises nothing. Valid for pages that were read from pictures. Source: own judgement.
    """
    sign = next(
        (row.cells[0].words[0].text for row in rows_of(page) if _is_note(row.cells[0].words, vocabulary)), ""
    )
    return (
        page.model_copy(
            update={"words": [two for one in page.words for two in _apart(one, sign, vocabulary)]}
        )
        if sign
        else page
    )


def _is_note(words: tuple[Word, ...], vocabulary: Vocabulary) -> bool:
    if words[0].text not in LOOKS_LIKE or len(words) < 2:
        return False
    return any(one.role == "at" for one in vocabulary.longest(pieces(folded(words[1].text)), 0)[1])


def _apart(word: Word, sign: str, vocabulary: Vocabulary) -> Iterator[Word]:
    bare = word.text.removesuffix(sign)
    if not bare:
        yield word.model_copy(update={"text": DAGGER})
    elif bare == word.text or vocabulary.knows(word.text) or not vocabulary.knows(bare):
        yield word
    else:
        ends = word.x1 - (word.x1 - word.x0) / len(word.text)
        yield word.model_copy(update={"text": bare, "x1": ends})
        yield word.model_copy(update={"text": DAGGER, "x0": ends})
