"""A whole sheet: its language, its tables, its prose and its footnotes into what it says."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

from .finding import Context, Hit, Item, context_of, hits_in, is_head, read_cells
from .grammar import Value
from .page import Cell, Page, Row, Word, rows_of
from .tokens import Token, tokens_of
from .vocabulary import Vocabulary, folded, pieces

PROSE_WORDS = 6  # a line of so many words whose column goes on below it is prose
LINE_GAP = 1.6  # of a line's height: what stands further below belongs to another paragraph
TABLE_GAP = 3.0  # of a line's height: a table's head holds no further than over such a gap
NOTE_MARK = re.compile(r"^(?:\*+|†|‡|[¹²³⁴⁵⁶]|[1-6]\))")


@dataclass(frozen=True, kw_only=True)
class Line:
    """What is read from left to right: a row of a table, or a sentence that may go over several lines."""

    cells: tuple[Cell, ...]
    is_prose: bool = False

    @property
    def top(self) -> float:
        return min(one.top for one in self.cells)

    @property
    def bottom(self) -> float:
        return max(one.bottom for one in self.cells)


def language_of(pages: Sequence[Page], known: Mapping[str, Vocabulary]) -> str:
    """The language whose small words stand on the pages most often.

    known  one vocabulary a language, not empty
    Raises nothing. Valid for a page of one language and more than a few words. Source: own judgement.
    """
    words = [piece for page in pages for word in page.words for piece in pieces(folded(word.text))]
    counts = {
        name: sum(one in vocabulary.common for one in words) + 3 * _named(words, vocabulary)
        for name, vocabulary in known.items()
    }
    return max(counts, key=lambda name: counts[name])


def _named(words: Sequence[str], vocabulary: Vocabulary) -> int:
    return sum(
        any(meaning.role == "label" for meaning in vocabulary.longest(words, place)[1]) for place in range(len(words))
    )


def hits_of(pages: Sequence[Page], vocabulary: Vocabulary) -> list[tuple[int, Hit]]:
    """All that the pages say, each with its page's number, in reading order.

    Raises nothing. Valid for upright pages with lines and tables. Source: own judgement of how sheets are laid out.
    """
    return [(page.number, hit) for page in pages for hit in _Sheet(page, vocabulary).hits()]


class _Sheet:
    def __init__(self, page: Page, vocabulary: Vocabulary) -> None:
        self._words = vocabulary
        rows = rows_of(page)
        prose = _prose(rows)
        in_prose = {id(cell) for block in prose for cell in block}
        self._lines = [*_sentences(prose), *_left(rows, in_prose)]
        self._lines.sort(key=lambda one: (one.top, one.cells[0].x0))
        self._notes = self._footnotes()

    def hits(self) -> Iterator[Hit]:
        heads: list[tuple[Cell, Context]] = []
        above: tuple[Line, list[list[Item]]] | None = None
        for line in self._lines:
            cells = read_cells([tokens_of(one.words, self._words, at) for at, one in enumerate(line.cells)], self._words)
            if heads and above and line.top - above[0].bottom > TABLE_GAP * _height(line):
                heads = []
            if not line.is_prose and is_head(cells):
                heads = [(cell, context_of(items, self._words)) for cell, items in zip(line.cells, cells, strict=True)]
                above = (line, cells)
                continue
            over = [_head_over(cell, heads) for cell in line.cells]
            before = self._before(line, cells, above)
            yield from (self._noted(hit) for hit in hits_in(cells, over, before, self._words))
            above = (line, cells)

    def _before(self, line: Line, cells: Sequence[Sequence[Item]], above: tuple[Line, list[list[Item]]] | None) -> Context:
        """A name that stands alone on the line above holds for this one: cards with the value under its name."""
        own = any(isinstance(one, Token) and one.kind == "LABEL" for cell in cells for one in cell)
        if own or above is None or line.is_prose:
            return Context()
        said = [one for cell in above[1] for one in cell]
        if any(isinstance(one, Value) for one in said) or len(above[0].cells) != len(line.cells):
            return Context()
        close = line.top - above[0].bottom <= LINE_GAP * _height(line)
        if len(line.cells) == 1 and close and above[0].cells[0].overlaps(line.cells[0]) > 0:
            return context_of(above[1][0], self._words)
        return Context()

    def _footnotes(self) -> dict[str, tuple[Value, ...]]:
        """Conditions by the mark they stand under: "* at 25 °C, 150 g"."""
        found: dict[str, tuple[Value, ...]] = {}
        for line in self._lines:
            text = " ".join(cell.text for cell in line.cells)
            mark = NOTE_MARK.match(text)
            if mark is None:
                continue
            words = [word for cell in line.cells for word in cell.words]
            items = read_cells([tokens_of(words, self._words)], self._words)[0]
            found[mark.group().rstrip(")")] = context_of(items, self._words).conditions
        return found

    def _noted(self, hit: Hit) -> Hit:
        more = tuple(one for mark in hit.marks for one in self._notes.get(mark, ()))
        kinds = {one.kind for one in hit.conditions}
        return replace(hit, conditions=(*hit.conditions, *(one for one in more if one.kind not in kinds)))


def _height(line: Line) -> float:
    words = [word for cell in line.cells for word in cell.words]
    return sum(one.bottom - one.top for one in words) / len(words)


def _head_over(cell: Cell, heads: Sequence[tuple[Cell, Context]]) -> Context:
    """The head of the column this cell stands in: the one that overlaps it, or the nearest to its left edge."""
    best = max(heads, key=lambda one: one[0].overlaps(cell), default=None)
    if best is None:
        return Context()
    if best[0].overlaps(cell) > 0:
        return best[1]
    near = min(heads, key=lambda one: abs((one[0].x0 + one[0].x1) - (cell.x0 + cell.x1)))
    return near[1]


def _prose(rows: Sequence[Row]) -> list[list[Cell]]:
    """Cells that stand under each other as the lines of a paragraph."""
    open_blocks: list[list[Cell]] = []
    done: list[list[Cell]] = []
    for row in rows:
        going_on: list[list[Cell]] = []
        for cell in row.cells:
            block = next((one for one in open_blocks if _goes_on(one[-1], cell)), None)
            if block is None:
                going_on.append([cell])
            else:
                block.append(cell)
                going_on.append(block)
                open_blocks = [one for one in open_blocks if one is not block]
        done += [one for one in open_blocks if not _may_go_on(one[-1], row)]
        open_blocks = [one for one in open_blocks if _may_go_on(one[-1], row)] + going_on
    return [one for one in [*done, *open_blocks] if _is_prose(one)]


def _goes_on(last: Cell, cell: Cell) -> bool:
    height = max(one.bottom - one.top for one in last.words)
    return (
        abs(last.x0 - cell.x0) < 2 * height
        and cell.top - last.bottom < (LINE_GAP - 1) * height
        and not NOTE_MARK.match(cell.text)
    )


def _may_go_on(last: Cell, row: Row) -> bool:
    return row.top - last.bottom < LINE_GAP * (last.bottom - last.top)


def _is_prose(block: Sequence[Cell]) -> bool:
    longest = max(len(one.words) for one in block[:-1]) if len(block) > 1 else 0
    full = sum(len(one.words) >= PROSE_WORDS for one in block[:-1])
    return longest >= PROSE_WORDS and full * 2 > len(block) - 1


def _sentences(blocks: Iterable[Sequence[Cell]]) -> Iterator[Line]:
    for block in blocks:
        words: list[Word] = []
        for word in (word for cell in block for word in cell.words):
            words.append(word)
            if _ends_sentence(word.text):
                yield Line(cells=(Cell(words=tuple(words), page=block[0].page),), is_prose=True)
                words = []
        if words:
            yield Line(cells=(Cell(words=tuple(words), page=block[0].page),), is_prose=True)


def _ends_sentence(text: str) -> bool:
    """A full stop behind a word of more than four letters, or behind a closing bracket: "min." and "max." end none."""
    return re.search(r"(?:[^\W\d]{5,}|[)%\d]|°[CF]|\b[hCF])[.!?]$", text) is not None


def _left(rows: Sequence[Row], taken: set[int]) -> Iterator[Line]:
    for row in rows:
        cells = tuple(one for one in row.cells if id(one) not in taken)
        if cells:
            yield Line(cells=cells)
