"""A whole sheet: its language, its tables, its prose and its footnotes into what it says."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import replace

from .finding import Context, Hit, Item, context_of, hits_in, is_head, read_cells
from .grammar import Value
from .page import Cell, Page, Row, Word, rows_of
from .tokens import Token, tokens_of
from .vocabulary import Vocabulary, folded, pieces

PROSE_WORDS = 6  # a line of so many words whose column goes on below it is prose
LINE_GAP = 1.6  # of a line's height: what stands further below belongs to another paragraph
WRAPPED = 0.45  # of a line's height: a line that stands nearer below may go on a cell
TABLE_GAP = 3.0  # of a line's height: a table's head holds no further than over such a gap
BEGINS_WITH_NUMBER = re.compile(r"(?:\S+\s)?[<>≤≥~±-]?\d")
NOTE_MARK = re.compile(r"^(?:\*+|†|‡|[¹²³⁴⁵⁶]|[1-6]\))")


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
        any(meaning.role == "label" for meaning in vocabulary.longest(words, place)[1])
        for place in range(len(words))
    )


def hits_of(pages: Sequence[Page], vocabulary: Vocabulary) -> list[tuple[int, Hit]]:
    """All that the pages say, each with its page's number, in reading order.

    Raises nothing. Valid for upright pages with lines and tables. Source: own judgement of how sheets are
    laid out.
    """
    return [(page.number, hit) for page in pages for hit in _Sheet(page, vocabulary).hits()]


class _Sheet:
    def __init__(self, page: Page, vocabulary: Vocabulary) -> None:
        self._words = vocabulary
        rows = rows_of(page)
        prose = _prose(rows, {id(cell) for row in rows for cell in _beside_names(row, vocabulary)})
        in_prose = {id(cell) for block in prose for cell in block}
        self._lines = [*self._sentences(prose), *(_unwrapped(_without(rows, in_prose)))]
        self._lines.sort(key=lambda one: (one.top, one.cells[0].x0))
        self._notes = self._footnotes()

    def hits(self) -> Iterator[Hit]:
        heads: list[tuple[Cell, Context]] = []
        above: tuple[Row, list[list[Item]]] | None = None
        for line in self._lines:
            cells = read_cells(
                [tokens_of(one.words, self._words, at) for at, one in enumerate(line.cells)], self._words
            )
            if heads and above and line.top - above[0].bottom > TABLE_GAP * _height(line):
                heads = []
            if not line.is_prose and is_head(cells, self._words) and not _named_above(line, heads):
                heads = [
                    (cell, context_of(items, self._words))
                    for cell, items in zip(line.cells, cells, strict=True)
                ]
                above = (line, cells)
                continue
            over = [_head_over(cell, heads) for cell in line.cells]
            before = self._before(line, cells, above)
            yield from (self._noted(hit) for hit in hits_in(cells, over, before, self._words))
            above = (line, cells)

    def _sentences(self, blocks: Iterable[Sequence[Cell]]) -> Iterator[Row]:
        for block in blocks:
            words: list[Word] = []
            for word in (word for cell in block for word in cell.words):
                words.append(word)
                if self._ends_sentence(word.text):
                    yield Row((Cell(words=tuple(words), page=block[0].page),), is_prose=True)
                    words = []
            if words:
                yield Row((Cell(words=tuple(words), page=block[0].page),), is_prose=True)

    def _ends_sentence(self, text: str) -> bool:
        """A full stop behind a longer word, a number or a bracket: "min." and "approx." end none."""
        if not re.search(r"(?:[^\W\d]{4,}|[)%\d]|°[CF]|\b[hCFg])[.!?]$", text):
            return False
        meant = self._words.longest(pieces(folded(text)), 0)[1]
        return not any(one.role in ("most", "least", "about") for one in meant)

    def _before(
        self, line: Row, cells: Sequence[Sequence[Item]], above: tuple[Row, list[list[Item]]] | None
    ) -> Context:
        """A name that stands alone on the line above holds for this one: cards with the value under its
        name."""
        if above is None or line.is_prose or len(line.cells) != 1 or len(above[0].cells) != 1:
            return Context()
        own, said = cells[0], above[1][0]
        has_own = any(isinstance(one, Token) and one.kind == "LABEL" for one in own)
        is_name = not any(isinstance(one, Value) for one in said)
        is_near = line.top - above[0].bottom <= LINE_GAP * _height(line)
        stands_under = above[0].cells[0].overlaps(line.cells[0]) > 0
        if has_own or not (is_name and is_near and stands_under):
            return Context()
        return context_of(said, self._words)

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
        notes = tuple(one for mark in hit.marks for one in self._notes.get(mark, ()))
        nearest: dict[str, Value] = {}
        for one in (*hit.conditions, *notes, *hit.over):
            nearest.setdefault(one.kind, one)
        return replace(hit, conditions=tuple(nearest.values()))


def _height(line: Row) -> float:
    words = [word for cell in line.cells for word in cell.words]
    return sum(one.bottom - one.top for one in words) / len(words)


def _head_over(cell: Cell, heads: Sequence[tuple[Cell, Context]]) -> Context:
    """The head of the column this cell stands in: the one it is in line with."""
    best = min(heads, key=lambda one: _askew(cell, one[0]), default=None)
    slack = max(one.bottom - one.top for one in cell.words)
    return best[1] if best is not None and _askew(cell, best[0]) < slack else Context()


def _named_above(line: Row, heads: Sequence[tuple[Cell, Context]]) -> bool:
    """Whether every cell stands under a name: then its temperatures are values, and no head."""
    return bool(heads) and all(_head_over(cell, heads).labels for cell in line.cells) and _has_numbers(line)


def _has_numbers(line: Row) -> bool:
    return all(any(one.isdecimal() for one in cell.text) for cell in line.cells)


def _askew(cell: Cell, head: Cell) -> float:
    """How far their left edges, right edges or middles are apart, whichever is nearest."""
    left, right = abs(cell.x0 - head.x0), abs(cell.x1 - head.x1)
    return min(left, right, abs((cell.x0 + cell.x1) - (head.x0 + head.x1)) / 2)


def _beside_names(row: Row, vocabulary: Vocabulary) -> list[Cell]:
    """Cells that begin with a number, or with one word and a number, in a row that begins with a name."""
    names = [piece for word in row.cells[0].words for piece in pieces(folded(word.text))]
    return (
        [one for one in row.cells[1:] if BEGINS_WITH_NUMBER.match(one.text)]
        if _named(names, vocabulary)
        else []
    )


def _prose(rows: Sequence[Row], values: set[int]) -> list[list[Cell]]:
    """Cells that stand under each other as the lines of a paragraph; a column of values beside their names is
    none, however long they are.
    """
    open_blocks: list[list[Cell]] = []
    done: list[list[Cell]] = []
    for row in rows:
        going_on = [_block_of(cell, open_blocks) for cell in row.cells]
        left = _others(open_blocks, going_on)
        ended = [one for one in left if not _may_go_on(one[-1], row)]
        done += ended
        open_blocks = _others(left, ended) + going_on
    blocks = [one for one in [*done, *open_blocks] if not all(id(cell) in values for cell in one)]
    return [one for one in blocks if _is_prose(one)]


def _others(blocks: Sequence[list[Cell]], gone: Sequence[list[Cell]]) -> list[list[Cell]]:
    return [one for one in blocks if not any(one is two for two in gone)]


def _block_of(cell: Cell, blocks: Sequence[list[Cell]]) -> list[Cell]:
    """The paragraph that a cell goes on, with it; else a new one."""
    block = next((one for one in blocks if _goes_on(one[-1], cell)), None)
    if block is None:
        return [cell]
    block.append(cell)
    return block


def _unwrapped(rows: Sequence[Row]) -> list[Row]:
    """Rows of a table whose cells go on in the next line are one: it stands close below, its cells begin
    where those above begin, and there are fewer of them.
    """
    found: list[Row] = []
    for row in rows:
        last = found[-1] if found else None
        if last is not None and len(row.cells) < len(last.cells) and _wraps(last, row):
            found[-1] = Row(tuple(_with_more(one, row) for one in last.cells))
        else:
            found.append(row)
    return found


def _wraps(last: Row, row: Row) -> bool:
    height = max(one.bottom - one.top for one in row.cells)
    close = row.top - max(one.bottom for one in last.cells) < WRAPPED * height
    return close and all(
        any(abs(one.x0 - above.x0) < height / 4 for above in last.cells) for one in row.cells
    )


def _with_more(cell: Cell, row: Row) -> Cell:
    below = [one for one in row.cells if abs(one.x0 - cell.x0) < 1.0 + (one.bottom - one.top) / 4]
    return Cell(words=(*cell.words, *below[0].words), page=cell.page) if below else cell


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


def _without(rows: Sequence[Row], taken: set[int]) -> list[Row]:
    left = [tuple(one for one in row.cells if id(one) not in taken) for row in rows]
    return [Row(cells) for cells in left if cells]
