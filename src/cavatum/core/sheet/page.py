"""Words and where they stand on a page; lines and cells made of them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from statistics import median
from typing import Annotated

from pydantic import Field

from ..common.working import Data

SAME_LINE = 0.5  # of a word's height: how far apart the middles of two words of one line may be
CELL_GAP = 1.1  # of the text's height: a wider gap begins another cell


class Word(Data):
    """x0, top, x1, bottom: in the page's own units, from its upper left corner. sure: of the reading of a
    picture, 0 to 1; 1 where the text was there.
    """

    text: Annotated[str, Field(max_length=200)]
    x0: float
    top: float
    x1: float
    bottom: float
    sure: float = 1.0


class Page(Data):
    number: int
    width: float
    height: float
    words: list[Word]


class Place(Data):
    """A place on a page."""

    page: int
    x0: float
    top: float
    x1: float
    bottom: float


@dataclass(frozen=True, kw_only=True)
class Cell:
    """Words of one line that stand close together: a cell of a table, a column of a page, or a line of
    prose."""

    words: tuple[Word, ...]
    page: int

    @property
    def text(self) -> str:
        return " ".join(one.text for one in self.words)

    @property
    def x0(self) -> float:
        return min(one.x0 for one in self.words)

    @property
    def x1(self) -> float:
        return max(one.x1 for one in self.words)

    @property
    def top(self) -> float:
        return min(one.top for one in self.words)

    @property
    def bottom(self) -> float:
        return max(one.bottom for one in self.words)

    def overlaps(self, other: Cell) -> float:
        """How much of the narrower one stands above or below the other, 0 to 1."""
        shared = min(self.x1, other.x1) - max(self.x0, other.x0)
        return max(0.0, shared) / max(1e-9, min(self.x1 - self.x0, other.x1 - other.x0))


@dataclass(frozen=True)
class Row:
    """What is read from left to right: cells of one line of a page, or a sentence over several."""

    cells: tuple[Cell, ...]
    is_prose: bool = False

    @property
    def top(self) -> float:
        return min(one.top for one in self.cells)

    @property
    def bottom(self) -> float:
        return max(one.bottom for one in self.cells)


def box_of(words: Sequence[Word], page: int) -> Place:
    """The smallest place that holds all these words.

    Raises ValueError without words. Exact. Source: none needed.
    """
    return Place(
        page=page,
        x0=min(one.x0 for one in words),
        top=min(one.top for one in words),
        x1=max(one.x1 for one in words),
        bottom=max(one.bottom for one in words),
    )


def rows_of(page: Page) -> list[Row]:
    """The page's lines from the top, each taken apart where a gap is wider than between words.

    Raises nothing. Valid for text that stands upright. Source: own judgement (SAME_LINE, CELL_GAP).
    """
    lines: list[list[Word]] = []
    for word in sorted(page.words, key=lambda one: ((one.top + one.bottom) / 2, one.x0)):
        middle = (word.top + word.bottom) / 2
        if lines and abs(middle - _middle(lines[-1])) <= SAME_LINE * _height([*lines[-1], word]):
            lines[-1].append(word)
        else:
            lines.append([word])
    return [Row(tuple(_cells(sorted(one, key=lambda word: word.x0), page.number))) for one in lines]


def _middle(line: Sequence[Word]) -> float:
    return median((one.top + one.bottom) / 2 for one in line)


def _height(line: Sequence[Word]) -> float:
    return median(one.bottom - one.top for one in line)


def _cells(line: Sequence[Word], page: int) -> list[Cell]:
    gap = CELL_GAP * _height(line)
    cells = [[line[0]]]
    for word in line[1:]:
        if word.x0 - max(one.x1 for one in cells[-1]) > gap:
            cells.append([word])
        else:
            cells[-1].append(word)
    return [Cell(words=tuple(one), page=page) for one in cells]
