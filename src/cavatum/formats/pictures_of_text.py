"""A photo or scan of a sheet into a page of words by Debian's tesseract: turned upright, its light evened
out, its lines made level. In the child only; the picture goes to the program through a pipe, and nothing is
written.
"""

from __future__ import annotations

import csv
import io
import shutil
import subprocess
from collections.abc import Sequence

import cv2
import numpy as np

from ..core.common.errors import DomainError
from ..core.sheet.page import Page, Word
from .photos_in import read_photo

LANGUAGES = {"en": "eng", "de": "deu", "fr": "fra", "es": "spa", "it": "ita"}
LONGER_SIDE = 3000  # px: letters of a page are then some 30 high
MOST_SKEW = 6.0  # degrees searched either way
PATIENCE_S = 25.0
LEAST_WORDS = 3


def straightened(data: bytes) -> np.ndarray:
    """Grey, upright, level, black on white.

    Raises DomainError: what formats/photos_in.py refuses.
    """
    grey = cv2.cvtColor(read_photo(data, LONGER_SIDE), cv2.COLOR_BGR2GRAY)
    even = _evened(grey)
    return _without_rules(_levelled(_upright(even)))


def page_of(picture: np.ndarray, language: str, number: int = 1) -> Page:
    """The words that stand on a straightened picture, each with how sure it is; their lines level, as if the
    camera had looked straight down.

    Raises DomainError: tesseract or its data of the language is missing, or takes over PATIENCE_S.
    """
    table = _tesseract(picture, ["-l", LANGUAGES.get(language, "eng"), "--psm", "11", "tsv"])
    lines: dict[tuple[str, ...], list[Word]] = {}
    for row in csv.DictReader(io.StringIO(table), delimiter="\t", quoting=csv.QUOTE_NONE):
        text = (row["text"] or "").strip()
        if row["level"] == "5" and text and float(row["conf"]) >= 0:
            left, top, wide, high = (float(row[name]) for name in ("left", "top", "width", "height"))
            line = tuple(row[name] for name in ("block_num", "par_num", "line_num"))
            word = Word(
                text=text[:200],
                x0=left,
                top=top,
                x1=left + wide,
                bottom=top + high,
                sure=float(row["conf"]) / 100,
            )
            lines.setdefault(line, []).append(word)
    return Page(
        number=number, width=picture.shape[1], height=picture.shape[0], words=_level(list(lines.values()))
    )


def _level(lines: Sequence[Sequence[Word]]) -> list[Word]:
    """What is left of a lean, which changes down the page where the camera stood askew: taken out of every
    word's height, by a straight fit over the lean of the longer lines.
    """
    leans = [
        (np.polyfit([(one.x0 + one.x1) / 2 for one in line], [one.bottom for one in line], 1)[0], line[0].top)
        for line in lines
        if len(line) >= LEAST_WORDS
    ]
    if len(leans) < 4:
        return [word for line in lines for word in line]
    slopes, heights = (np.array(one) for one in zip(*leans, strict=True))
    sound = np.abs(slopes - np.median(slopes)) < 0.02
    change, begin = np.polyfit(heights[sound], slopes[sound], 1)
    shifted = []
    for word in (word for line in lines for word in line):
        down = float((begin + change * word.top) * word.x0)
        shifted.append(word.model_copy(update={"top": word.top - down, "bottom": word.bottom - down}))
    return shifted


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
        raise DomainError(
            argument="photo of a sheet",
            value=f"over {PATIENCE_S:.0f} s of reading",
            allowed="one page is read at a time",
            way_out="Take one page, closer, without what lies round it.",
            code="too-heavy",
        ) from error
    return done.stdout.decode("utf-8", "replace")


def _evened(grey: np.ndarray) -> np.ndarray:
    """Divided by the paper's own brightness, so that shade and stains go."""
    size = max(31, min(grey.shape) // 40 | 1)
    small = cv2.resize(grey, None, fx=0.25, fy=0.25, interpolation=cv2.INTER_AREA)
    paper = cv2.dilate(small, np.ones((9, 9), np.uint8))
    paper = cv2.GaussianBlur(cv2.medianBlur(paper, 21), (0, 0), size / 8)
    paper = cv2.resize(paper, (grey.shape[1], grey.shape[0]), interpolation=cv2.INTER_LINEAR)
    return cv2.divide(grey, np.maximum(paper, 1), scale=245)


def _upright(picture: np.ndarray) -> np.ndarray:
    """Turned by the quarter that tesseract finds it lies by; left as it is where it finds none."""
    said = _tesseract(cv2.resize(picture, None, fx=0.6, fy=0.6, interpolation=cv2.INTER_AREA), ["--psm", "0"])
    turn = next((line.split(":")[1].strip() for line in said.splitlines() if line.startswith("Rotate:")), "0")
    quarters = {"90": cv2.ROTATE_90_CLOCKWISE, "180": cv2.ROTATE_180, "270": cv2.ROTATE_90_COUNTERCLOCKWISE}
    return cv2.rotate(picture, quarters[turn]) if turn in quarters else picture


def _levelled(picture: np.ndarray) -> np.ndarray:
    """Turned by the angle at which its lines stand out most."""
    small = cv2.resize(picture, None, fx=0.3, fy=0.3, interpolation=cv2.INTER_AREA)
    ink = (small < 150).astype(np.uint8) * 255
    rough = max(np.arange(-MOST_SKEW, MOST_SKEW + 0.1, 0.5), key=lambda angle: _sharpness(ink, float(angle)))
    fine = max(np.arange(rough - 0.4, rough + 0.41, 0.1), key=lambda angle: _sharpness(ink, float(angle)))
    return _turned(picture, float(fine), 255)


def _without_rules(picture: np.ndarray) -> np.ndarray:
    """The lines of tables painted white: they are read as letters else."""
    ink = (picture < 190).astype(np.uint8) * 255
    clean = picture.copy()
    long = max(picture.shape) // 18
    for along, across in (((long, 1), (1, 3)), ((1, long), (3, 1))):
        thick = cv2.dilate(
            ink, cv2.getStructuringElement(cv2.MORPH_RECT, across)
        )  # a rule may lean by a pixel or two
        rules = cv2.morphologyEx(thick, cv2.MORPH_OPEN, cv2.getStructuringElement(cv2.MORPH_RECT, along))
        clean[cv2.dilate(rules, np.ones((3, 3), np.uint8)) > 0] = 255
    return clean


def _sharpness(ink: np.ndarray, angle: float) -> float:
    profile = _turned(ink, angle, 0).sum(axis=1, dtype=np.float64)
    return float(np.square(np.diff(profile)).sum())


def _turned(picture: np.ndarray, angle: float, border: int) -> np.ndarray:
    high, wide = picture.shape
    matrix = cv2.getRotationMatrix2D((wide / 2, high / 2), angle, 1.0)
    return cv2.warpAffine(picture, matrix, (wide, high), flags=cv2.INTER_LINEAR, borderValue=border)
