"""A line of a sheet as tokens: numbers, units, what is asked for, which part, and the small words between."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from .page import Word
from .vocabulary import Meaning, Vocabulary, folded, pieces

_SUPERSCRIPT = {"¹": "1", "²": "2", "³": "3", "⁴": "4", "⁵": "5", "⁶": "6"}
_VULGAR = {
    "¼": "1/4",
    "½": "1/2",
    "¾": "3/4",
    "⅓": "1/3",
    "⅔": "2/3",
    "⅛": "1/8",
    "⅜": "3/8",
    "⅝": "5/8",
    "⅞": "7/8",
}
_LENGTHS = ("m", "cm", "mm", "dm", "in", "ft", "inch", "foot")
_FRACTION = re.compile(r"(?:(\d+)[ -])?(\d+)/(\d+)")
AT_OR_TO, TO_OR_MOST = Meaning("to", "or at"), Meaning("to", "or most")
_MARKS = ("*", "†", "‡", *_SUPERSCRIPT)
SIGNS = {
    ":": "COLON", "(": "OPEN", ")": "CLOSE", "[": "OPEN", "]": "CLOSE", ",": "COMMA", ";": "STOP", ".":
    "STOP", "=": "EQUAL", "/": "SLASH", "+": "PLUS", "|": "STOP", "±": "SPREAD", "<": "MOST", ">": "LEAST",
    "≤": "MOST", "≥": "LEAST", "~": "ABOUT", "≈": "ABOUT", "@": "AT", "-": "DASH",
}  # fmt: skip


@dataclass(frozen=True, kw_only=True)
class Token:
    """kind: NUM, UNIT, LABEL, PART, BASIS, MARK, WORD, CELL or one of SIGNS. what: a unit, a quantity, a
    part, a number as it is written. cell: of which cell of its line.
    """

    kind: str
    what: str = ""
    text: str = ""
    words: tuple[Word, ...] = ()
    cell: int = 0


@dataclass(frozen=True, kw_only=True)
class _Piece:
    text: str
    word: Word
    is_glued: bool


def tokens_of(words: Sequence[Word], vocabulary: Vocabulary, cell: int = 0) -> list[Token]:
    """The tokens of one cell.

    Raises nothing. Valid for what the vocabulary knows: all else is a WORD. Source: formats/sheet_words.
    """
    taken, found, place = _pieces(words), list[Token](), 0
    texts = [one.text if one.word.sure == 1.0 else vocabulary.mended(one.text) for one in taken]
    while place < len(taken):
        token, used = _one(taken, texts, place, found, vocabulary)
        found.append(token if token.cell == cell else _in_cell(token, cell))
        place += used
    return found


def _in_cell(token: Token, cell: int) -> Token:
    return Token(kind=token.kind, what=token.what, text=token.text, words=token.words, cell=cell)


def _pieces(words: Sequence[Word]) -> list[_Piece]:
    found: list[_Piece] = []
    for word in words:
        text, last = word.text, ""
        for one in _VULGAR:
            text = text.replace(one, f" {_VULGAR[one]}")
        glued = False
        for run in re.findall(r"[¹²³⁴⁵⁶]|[^¹²³⁴⁵⁶\s]+", text):
            if run in _SUPERSCRIPT:
                if last in _LENGTHS and run in "²³":
                    found[-1] = _Piece(text=last + _SUPERSCRIPT[run], word=word, is_glued=found[-1].is_glued)
                else:
                    found.append(_Piece(text=run, word=word, is_glued=True))
                continue
            for piece in _numbers_whole(pieces(folded(run))):
                found.append(_Piece(text=piece, word=word, is_glued=glued))
                glued, last = True, piece
    return found


def _numbers_whole(parts: list[str]) -> list[str]:
    """ "1", ".", "10" is 1.10 where nothing stands between, and "3", "/", "4" three quarters."""
    found: list[str] = []
    for part in parts:
        joins = (
            len(found) >= 2
            and found[-1] in (".", ",", "/")
            and found[-2][-1:].isdecimal()
            and part.isdecimal()
        )
        if joins and (found[-1] != "/" or ("/" not in found[-2] and found[-2].isdecimal())):
            found[-2:] = [found[-2] + found[-1] + part]
        else:
            found.append(part)
    return found


def _one(
    taken: Sequence[_Piece], texts: Sequence[str], place: int, before: Sequence[Token], vocabulary: Vocabulary
) -> tuple[Token, int]:
    """The token that begins here, and how many pieces it takes."""
    piece = taken[place]
    if piece.text[0].isdecimal():
        return _number(taken, texts, place)
    used, meanings = vocabulary.longest(texts, place)
    meaning = _meant(meanings, before, texts, place + used)
    words = tuple(dict.fromkeys(one.word for one in taken[place : place + max(1, used)]))
    text = " ".join(texts[place : place + max(1, used)])
    if meaning is not None and meaning.role == "method":
        return _method(taken, texts, place, used)
    if meaning is not None:
        kind = "PARTS" if meaning.what == "parts" else meaning.role.upper()
        return Token(kind=kind, what=meaning.what, text=text, words=words), used
    if piece.text in _MARKS:
        return Token(kind="MARK", what=piece.text, text=piece.text, words=(piece.word,)), 1
    kind = SIGNS.get(piece.text, "WORD")
    return Token(kind=kind, what=piece.text, text=piece.text, words=(piece.word,)), 1


def _number(taken: Sequence[_Piece], texts: Sequence[str], place: int) -> tuple[Token, int]:
    """A number; with a fraction behind it, both. "2A" is the number and the part."""
    used, text = 1, texts[place]
    follows = texts[place + 1] if place + 1 < len(texts) else ""
    if text.isdecimal() and _FRACTION.fullmatch(follows):
        used, text = 2, f"{text} {follows}"
    elif text.isdecimal() and follows == "-" and place + 2 < len(texts) and _is_part_of_one(texts[place + 2]):
        used, text = 3, f"{text} {texts[place + 2]}"
    words = tuple(dict.fromkeys(one.word for one in taken[place : place + used]))
    return Token(kind="NUM", what=text, text=text, words=words), used


def _is_part_of_one(text: str) -> bool:
    """ "1-1/2" is one and a half; "1-3" a range."""
    found = _FRACTION.fullmatch(text)
    return found is not None and int(found[2]) < int(found[3])


def _method(taken: Sequence[_Piece], texts: Sequence[str], place: int, used: int) -> tuple[Token, int]:
    """A standard's name with its number, which is no value: "ISO 1675", "ASTM D 2393-19"."""
    end = place + used
    while end < len(texts) and (
        re.fullmatch(r"[a-z]{0,2}\d[\d./-]*|[a-z]|-|\d+[a-z]?", texts[end]) is not None
    ):
        end += 1
    words = tuple(dict.fromkeys(one.word for one in taken[place:end]))
    return Token(kind="METHOD", text=" ".join(texts[place:end]), words=words), end - place


def _meant(
    meanings: Sequence[Meaning], before: Sequence[Token], texts: Sequence[str], after: int
) -> Meaning | None:
    """Of several meanings the one that fits where it stands: a unit stands behind a number, or alone in
    brackets or behind a comma ("pot life (min)"); "min" elsewhere is the least.
    """
    last = before[-1].kind if before else "CELL"
    units = [one for one in meanings if one.role == "unit"]
    others = [one for one in meanings if one.role != "unit"]
    if units and _stands_for_unit(last, texts, after):
        return units[0]
    if not others:
        return None
    return _of_several(others, _is_letter_of_a_part(last, texts, after))


def _of_several(others: Sequence[Meaning], is_beside_a_number: bool) -> Meaning | None:
    roles = {one.role for one in others}
    if "to" in roles and roles & {"at", "most"}:  # one word for both in some languages: the grammar tells
        return AT_OR_TO if "at" in roles else TO_OR_MOST
    letter = next((one for one in others if one.role == "part" and one.what in ("a1", "b1")), None)
    if letter is None:
        return others[0]
    return Meaning("part", letter.what[0]) if is_beside_a_number else None


def _stands_for_unit(last: str, texts: Sequence[str], after: int) -> bool:
    if last == "NUM":
        return True
    rest = [one for one in texts[after : after + 2] if one != "."]
    return last in ("OPEN", "COMMA", "SLASH", "CELL", "IN") and (not rest or rest[0] in (")", "]", ",", "/"))


def _is_letter_of_a_part(last: str, texts: Sequence[str], after: int) -> bool:
    """A bare letter is a part beside a number, a colon or another letter only."""
    if last in ("NUM", "COLON", "PLUS", "SLASH", "PARTS", "CELL", "OPEN"):
        return True
    return after < len(texts) and texts[after] in (":", "+", "/", "=", ")")


def value_of(written: str, *, comma: bool) -> tuple[float, bool]:
    """A number as it is written, and whether it can be read in one way only. comma: the sheet's language has
    a decimal comma.

    Raises ValueError: no number. Exact. Source: how numbers are written in English and on the continent.
    """
    fraction = _FRACTION.fullmatch(written)
    if fraction:
        whole, top, bottom = (int(one or 0) for one in fraction.groups())
        if not bottom:
            raise ValueError(written)
        return whole + top / bottom, True
    marks = re.findall(r"[.,]", written)
    if len(marks) == 1:
        return _with_one_mark(written, marks[0], "," if comma else ".")
    if len(set(marks)) == 2:  # the last is the decimal one
        return float(written.replace(marks[0], "").replace(",", ".")), True
    return float(re.sub(r"[.,]", "", written)), True


def _with_one_mark(written: str, mark: str, decimal: str) -> tuple[float, bool]:
    """Three digits behind the mark that marks no decimals here are thousands, perhaps."""
    head, tail = written.split(mark)
    if len(tail) != 3 or head == "0" or mark == decimal:
        return float(f"{head}.{tail}"), True
    if len(head) <= 3:
        return float(head + tail), False
    return float(f"{head}.{tail}"), False
