"""Footnote marks that a picture's reader took for letters."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from .page import Page, Word, rows_of
from .vocabulary import Vocabulary, folded, pieces

DAGGER = "†"
LOOKS_LIKE = ("t", "f", "+", "T", "F", DAGGER)  # own judgement: what daggers were read as


def with_daggers(page: Page, vocabulary: Vocabulary) -> Page:
    """The page with its daggers, where a line begins with a sign that looks like one and goes on with a
    condition ("t at 25 °C", "Fat 25 °C"): such a sign at the end of a word that is known without it is one
    too.

    Raises nothing. Valid for pages that were read from pictures. Source: own judgement.
    """
    begun = [row.cells[0].words for row in rows_of(page)]
    notes = [one[0] for one in begun if _is_note(one, vocabulary)]
    if not notes:
        return page
    words = [two for one in page.words for two in _apart(one, notes, vocabulary)]
    return page.model_copy(update={"words": words})


def _is_note(words: Sequence[Word], vocabulary: Vocabulary) -> bool:
    first = words[0].text
    if not first.startswith(LOOKS_LIKE) or len(words) < 2:
        return False
    if len(first) == 1:
        return _is_at(words[1].text, vocabulary)
    return _is_at(first[1:], vocabulary) and not vocabulary.knows(first)


def _is_at(text: str, vocabulary: Vocabulary) -> bool:
    return any(one.role == "at" for one in vocabulary.longest(pieces(folded(text)), 0)[1])


def _apart(word: Word, notes: Sequence[Word], vocabulary: Vocabulary) -> Iterator[Word]:
    signs = {one.text[0] for one in notes}
    if word.text in signs:
        yield word.model_copy(update={"text": DAGGER})
    elif any(word is one for one in notes):
        yield from _cut(word, 1, DAGGER, word.text[1:])
    elif (
        word.text.endswith(LOOKS_LIKE)
        and vocabulary.knows(word.text[:-1])
        and not vocabulary.knows(word.text)
    ):
        yield from _cut(word, len(word.text) - 1, word.text[:-1], DAGGER)
    else:
        yield word


def _cut(word: Word, after: int, before: str, behind: str) -> Iterator[Word]:
    at = word.x0 + (word.x1 - word.x0) * after / len(word.text)
    yield word.model_copy(update={"text": before, "x1": at})
    yield word.model_copy(update={"text": behind, "x0": at})
