"""A photo or scan of a sheet into a page of words by Debian's tesseract: turned upright, its light evened
out, its lines made level. In the child only; the picture goes to the program through a pipe, and nothing is
written.
"""

from __future__ import annotations

import csv
import io
import re
import shutil
import subprocess
from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor

import cv2
import numpy as np
from numpy.typing import NDArray

from ..core.common.errors import DomainError
from ..core.sheet.page import Page, Word
from .photos_in import read_photo
from .sheet_words import misread

LANGUAGES = {"en": "eng", "de": "deu", "fr": "fra", "es": "spa", "it": "ita"}
READINGS = (("4", 1.0), ("6", 0.83))  # tesseract's page segmentation modes, and sizes
LETTER, SPECK, MOST_SCALE = 20.0, 5, 3.0  # px of small letters, and of what is none; own judgement
SURE_OF_UP = 1.5  # own judgement, of tesseract's confidence
AT_ONCE = 2  # readings side by side, of one process's core each
LONGER_SIDE = 3000  # px: letters of a page are then some 30 high
MOST_SKEW = 6.0  # degrees searched either way
PATIENCE_S = 150.0  # of waiting; of its processor's time the child's limit counts
SEEN, INK, LEAST_INK = 1200, 185, 500  # px looked at for the lean; darker is ink; so many of it at least
PAPER = 215  # brighter is paper
AIR = 0.2  # of a letter's height, above and below it: a line of type is so much taller than its letters
RULE_DARKER = 14  # own judgement: of 255, than the paper on both its sides
FEWEST, STRETCHED = 3, 1.38  # own judgement: lost dashes gave 1.47, sound numbers 1.32 at the most
_NUMBER = re.compile(r"^\d{2,}h?$")
_DASHES = re.compile(r"[-–—]{2,}")
_STUCK = re.compile(
    r"^(\d*(?:h|min)?|t)(a|à|at|bei|bis|to|e|y|et)(\d+(?:[.,]\d+)?°?[CF].*)$"  # 4ha25°C, a25°C, †a25°C
    r"|^(\d+(?:[.,]\d+)?(?:h|min)?)(a|à|bis|to)(\d+(?:[.,]\d+)?)$"  # 3a8, 4ha23
)
Floats = NDArray[np.float64]


def grey_of(data: bytes) -> np.ndarray:
    """A photo in grey.

    Raises DomainError: what formats/photos_in.py refuses.
    """
    return cv2.cvtColor(read_photo(data, LONGER_SIDE), cv2.COLOR_BGR2GRAY)


def straight(grey: np.ndarray) -> np.ndarray:
    """Upright, level, its light evened out: as a person compares it.

    Raises DomainError: tesseract is missing.
    """
    return _levelled(_upright(_evened(grey)))


def page_of(picture: np.ndarray, language: str, reading: int = 0) -> Page:
    """The words that stand on a straight picture without rules: as lines of one column, or, as a second
    reading, as one block at another size, so that a slip of the one is seen beside the other. A number whose
    dash was lost is left out of the second, which doubts it. Places are the picture's own.

    Raises DomainError: tesseract or its data of the language is missing, or takes over PATIENCE_S.
    """
    high, wide = picture.shape
    mode, share = READINGS[reading]
    scale = share * _scale_for(picture)
    sized = cv2.resize(picture, None, fx=scale, fy=scale, interpolation=cv2.INTER_CUBIC)
    words = [_shrunk(one, scale) for one in _words(sized, language, mode)]
    if reading:
        wide_apart = stretched(words)
        words = [one for one in words if one not in wide_apart]
    return Page(number=1, width=wide, height=high, words=words)


def stretched(words: Sequence[Word]) -> list[Word]:
    """Numbers that are wider than their figures, by the page's others: "2-6h" that was read as "26h"."""
    numbers = [one for one in words if _NUMBER.match(one.text)]
    shape = [(one.x1 - one.x0) / len(one.text) / (one.bottom - one.top) for one in numbers]
    usual = float(np.median(shape)) if len(numbers) >= FEWEST else np.inf
    return [one for one, of_it in zip(numbers, shape, strict=True) if of_it > STRETCHED * usual]


def pages_of(pictures: Sequence[np.ndarray], language: str) -> tuple[list[Page], list[Page]]:
    """The pages of both readings, two at a time.

    Raises DomainError: as page_of.
    """
    wanted = [(picture, language, reading) for reading in range(len(READINGS)) for picture in pictures]
    with ThreadPoolExecutor(AT_ONCE) as pool:
        pages = list(pool.map(lambda one: page_of(*one), wanted))
    return pages[: len(pictures)], pages[len(pictures) :]


def _scale_for(picture: np.ndarray) -> float:
    """How much larger its letters are best read: tesseract wants them some LETTER high."""
    _, _, found, _ = cv2.connectedComponentsWithStats((picture < INK).astype(np.uint8), connectivity=8)
    heights = found[1:, cv2.CC_STAT_HEIGHT]
    letters = heights[(heights >= SPECK) & (heights < max(picture.shape) // 20)]
    return float(np.clip(LETTER / np.median(letters), 1.0, MOST_SCALE)) if len(letters) else 1.0


def _shrunk(word: Word, scale: float) -> Word:
    places = {name: getattr(word, name) / scale for name in ("x0", "top", "x1", "bottom")}
    return word.model_copy(update=places)


def _words(picture: np.ndarray, language: str, mode: str) -> list[Word]:
    table = _tesseract(picture, ["-l", LANGUAGES.get(language, "eng"), "--psm", mode, "tsv"])
    words: list[Word] = []
    for row in csv.DictReader(io.StringIO(table), delimiter="\t", quoting=csv.QUOTE_NONE):
        text = (row["text"] or "").strip()
        if row["level"] == "5" and text and float(row["conf"]) >= 0:
            left, top, wide, high = (int(row[name]) for name in ("left", "top", "width", "height"))
            above, below = _ink_of(picture[top : top + high, left : left + wide])
            air = AIR * (below - above)
            word = Word(
                text=as_meant(text)[:200],
                x0=left,
                top=top + above - air,
                x1=left + wide,
                bottom=top + below + air,
                sure=float(row["conf"]) / 100,
            )
            words += apart(word)
    return words


def _ink_of(box: np.ndarray) -> tuple[int, int]:
    """From which row to which a word's ink goes: tesseract's boxes are as tall as a table's rows."""
    rows = np.flatnonzero((box < INK).any(axis=1))
    return (int(rows[0]), int(rows[-1]) + 1) if len(rows) else (0, box.shape[0])


def as_meant(text: str) -> str:
    """The text as it stands on paper, where tesseract takes a sign for another."""
    text = _DASHES.sub("–", text)
    for sign, slips in misread().items():
        for slip in slips:
            bare = text.rstrip(",.;)")
            if bare.endswith(slip) and (bare == slip or not bare[-len(slip) - 1].isalpha()):
                return bare[: -len(slip)] + sign + text[len(bare) :]
    return text


def apart(word: Word) -> list[Word]:
    """Numbers and small words that stuck together, as words of their own: "a25°C", "4ha25°C", "3a8"."""
    found = _STUCK.match(word.text)
    if found is None:
        return [word]
    letter = (word.x1 - word.x0) / len(word.text)
    return [
        word.model_copy(
            update={
                "text": found[one],
                "x0": word.x0 + letter * found.start(one),
                "x1": word.x0 + letter * found.end(one),
            }
        )
        for one in range(1, 7)
        if found[one]
    ]


def _tesseract(picture: np.ndarray, options: Sequence[str]) -> str:
    program = shutil.which("tesseract")
    if program is None:
        raise DomainError(
            argument="photo of a sheet",
            value="a picture",
            allowed="reading pictures needs Debian's tesseract-ocr",
            way_out="Start Cavatum again to install it, or drop the PDF.",
            code="left-out",
        )
    png = cv2.imencode(".png", picture)[1].tobytes()
    try:
        done = subprocess.run(
            [program, "stdin", "stdout", "--dpi", "250", *options],
            input=png,
            capture_output=True,
            timeout=PATIENCE_S,
            check=False,
        )
    except subprocess.TimeoutExpired as error:
        raise _too_long(f"over {PATIENCE_S:.0f} s of reading") from error
    if done.returncode < 0:  # ended by a limit of the child's, which it has too
        raise _too_long("too much for one reading")
    return done.stdout.decode("utf-8", "replace")


def _too_long(value: str) -> DomainError:
    return DomainError(
        argument="photo of a sheet",
        value=value,
        allowed="one page is read at a time",
        way_out="Take one page, closer, without what lies round it.",
        code="too-heavy",
    )


def _evened(grey: np.ndarray) -> np.ndarray:
    """Divided by the paper's own brightness, so that shade and stains go."""
    size = max(31, min(grey.shape) // 40 | 1)
    small = cv2.resize(grey, None, fx=0.25, fy=0.25, interpolation=cv2.INTER_AREA)
    paper = cv2.dilate(small, np.ones((9, 9), np.uint8))
    paper = cv2.GaussianBlur(cv2.medianBlur(paper, 21), (0, 0), size / 8)
    paper = cv2.resize(paper, (grey.shape[1], grey.shape[0]), interpolation=cv2.INTER_LINEAR)
    return cv2.divide(grey, np.maximum(paper, 1), scale=245)


def _upright(picture: np.ndarray) -> np.ndarray:
    """Turned by the quarters that tesseract finds it lies by. Where it is not sure, it is asked once more of
    the picture turned by one; else the way that reads with most certainty.
    """
    plain = without_rules(picture)
    turn, certainty = _turn_of(plain)
    if certainty < SURE_OF_UP:
        again, more = _turn_of(np.rot90(plain))
        if more > certainty:
            turn, certainty = (again + 1) % 4, more
    if certainty < SURE_OF_UP:
        turn = max(range(4), key=lambda one: _readable(np.rot90(plain, one)))
    return np.ascontiguousarray(np.rot90(picture, turn))


def _turn_of(picture: np.ndarray) -> tuple[int, float]:
    """Quarters to turn it by against the clock, and tesseract's confidence; (0, 0) where it finds none."""
    said = _tesseract(np.ascontiguousarray(picture), ["--psm", "0"])
    told = dict(line.split(": ", 1) for line in said.splitlines() if ": " in line)
    quarters = -int(told.get("Rotate", "0")) // 90 % 4
    return quarters, float(told.get("Orientation confidence", "0"))


def _readable(picture: np.ndarray) -> float:
    """How many letters are read with certainty, at a glance."""
    small = cv2.resize(picture, None, fx=0.7, fy=0.7, interpolation=cv2.INTER_AREA)
    return sum(one.sure * len(one.text) for one in _words(small, "en", "6") if one.sure > 0.5)


def _ink(picture: np.ndarray) -> tuple[Floats, Floats]:
    """Where there is ink, from the middle, on a picture of SEEN."""
    scale = SEEN / max(picture.shape)
    small = cv2.resize(picture, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA)
    down, right = np.nonzero(small < INK)
    return right - small.shape[1] / 2, down - small.shape[0] / 2


def _levelled(picture: np.ndarray) -> np.ndarray:
    """As if the camera had looked straight down: lines level over the whole page, columns upright.

    A line's slope is taken as s0 + s1 y, a column's lean as t0 + t1 x; those are sought at which the ink
    falls into the sharpest rows, then columns.
    """
    x, y = _ink(picture)
    if len(x) < LEAST_INK:
        return picture
    high, wide = (SEEN * one / max(picture.shape) for one in picture.shape)
    leans = np.tan(np.radians(np.arange(-MOST_SKEW, MOST_SKEW + 0.1, 0.4)))
    slope, change = _sharpest(y, x, high, max(leans, key=lambda one: _sharpness(y - one * x)))
    level = y - (slope + change * y / high) * x
    lean, lean_change = _sharpest(x, level, wide, -slope)
    return _remapped(picture, (slope, change), (lean, lean_change))


def _sharpest(across: Floats, along: Floats, size: float, near: float) -> tuple[float, float]:
    """Slope, and its change over the page, at which ink falls into the sharpest rows."""
    best = (near, 0.0)
    for step, reach in ((0.004, 4), (0.001, 5)):
        tried = [
            (best[0] + i * step, best[1] + 2 * j * step)
            for i in range(-reach, reach + 1)
            for j in range(-reach, reach + 1)
        ]
        best = max(tried, key=lambda one: _sharpness(across - (one[0] + one[1] * across / size) * along))
    return best


def _sharpness(places: Floats) -> float:
    rows = np.bincount((places - places.min()).astype(np.int64))
    return float(np.square(np.diff(rows.astype(np.float64))).sum())


def _remapped(picture: np.ndarray, slope: tuple[float, float], lean: tuple[float, float]) -> np.ndarray:
    """y' = y - (s0 + s1 y) x,  x' = x - (t0 + t1 x) y', about the middle; what was outside is white."""
    high, wide = picture.shape
    down, right = np.mgrid[0:high, 0:wide].astype(np.float32)
    level, upright = down - high / 2, right - wide / 2
    x = upright
    for _ in range(3):
        x = upright + (lean[0] + lean[1] * x / wide) * level
    y = level
    for _ in range(3):
        y = level + (slope[0] + slope[1] * y / high) * x
    return cv2.remap(picture, (x + wide / 2).astype(np.float32), (y + high / 2).astype(np.float32),
                     cv2.INTER_LINEAR, borderValue=255)  # fmt: skip


def without_rules(picture: np.ndarray) -> np.ndarray:
    """Black on white, with the lines of tables painted out: they are read as letters else, and stretch the
    words beside them. A line is thin across and long along: darker than both its sides, joined over gaps.

    Raises nothing.
    """
    clean = picture.copy()
    long, thin = max(picture.shape) // 7, max(picture.shape) // 400
    for along, across in (((1, 0), (0, 1)), ((0, 1), (1, 0))):
        darker = cv2.morphologyEx(picture, cv2.MORPH_BLACKHAT, _bar(across, thin))
        mask = cv2.dilate((darker > RULE_DARKER).astype(np.uint8), _bar(across, 3))
        mask = cv2.morphologyEx(mask, cv2.MORPH_CLOSE, _bar(along, thin))
        rules = cv2.morphologyEx(mask, cv2.MORPH_OPEN, _bar(along, long))
        clean[cv2.dilate(rules, np.ones((3, 3), np.uint8)) > 0] = 255
    # Paper becomes white, so that no edge is left where a line was.
    return cv2.convertScaleAbs(clean, alpha=255 / PAPER)


def _bar(direction: tuple[int, int], length: int) -> np.ndarray:
    right, down = (1 + one * (length - 1) for one in direction)
    return cv2.getStructuringElement(cv2.MORPH_RECT, (right, down))
