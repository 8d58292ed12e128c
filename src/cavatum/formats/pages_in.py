"""Files with a data sheet in them into pages of words: PDF, HTML, plain text. In the child only."""

from __future__ import annotations

import io
from collections.abc import Iterable, Iterator
from typing import Any

from ..core.common.errors import DomainError
from ..core.sheet.page import Page, Word

LEAST_WIDE = 72  # letters of a text's page
MOST_PAGES = 24
MOST_WORDS = 20_000
RAISED = 0.8  # of the line's height: smaller, a digit behind a word is a footnote's mark
SUPERSCRIPT = str.maketrans("123456", "¹²³⁴⁵⁶")
TEXT_WIDTH, TEXT_HEIGHT, LINE = 7.0, 12.0, 18.0  # of a page that is made of text alone


def read_pdf(data: bytes) -> list[Page]:
    """Words of each page, with small raised digits as superscripts.

    Raises DomainError: locked by a password, over MOST_PAGES pages, no PDF.
    """
    import pdfplumber
    from pdfminer.pdfdocument import PDFPasswordIncorrect
    from pdfplumber.utils.exceptions import PdfminerException

    try:
        document = pdfplumber.open(io.BytesIO(data))
    except PdfminerException as error:
        if any(
            isinstance(one, PDFPasswordIncorrect) for one in (*error.args, error.__cause__, error.__context__)
        ):
            raise _refused("locked with a password", "Save it without the password.", "locked") from error
        raise
    with document:
        if len(document.pages) > MOST_PAGES:
            raise _refused(
                f"{len(document.pages)} pages", "Choose the pages with the values.", "too-many-pages"
            )
        return [_page(one, number) for number, one in enumerate(document.pages, 1)]


def _page(page: Any, number: int) -> Page:
    found = page.extract_words(x_tolerance=1.5, y_tolerance=2, extra_attrs=["size"], use_text_flow=False)
    if len(found) > MOST_WORDS:
        raise _refused(f"{len(found)} words on a page", "Choose the pages with the values.", "too-many-words")
    words = [
        Word(text=one["text"][:200], x0=one["x0"], top=one["top"], x1=one["x1"], bottom=one["bottom"])
        for one in found
    ]
    page.close()
    return Page(number=number, width=float(page.width), height=float(page.height), words=list(_marked(words)))


def _marked(words: list[Word]) -> Iterator[Word]:
    """A small digit that hangs on the word before it is a footnote's mark, or an exponent."""
    for place, word in enumerate(words):
        last = words[place - 1] if place else None
        high = (last.bottom - last.top) if last else 0.0
        is_small = (
            last is not None
            and word.bottom - word.top < RAISED * high
            and abs(word.x0 - last.x1) < 0.3 * high
            and word.bottom < last.bottom
        )
        if word.text.isdigit() and (is_small or _begins_note(words, place)):
            yield word.model_copy(update={"text": word.text.translate(SUPERSCRIPT)})
        else:
            yield word


def _begins_note(words: list[Word], place: int) -> bool:
    """A small digit before larger text at the beginning of a line."""
    word = words[place]
    after = words[place + 1] if place + 1 < len(words) else None
    before = words[place - 1] if place else None
    if after is None or (before is not None and before.bottom > word.bottom and before.x1 < word.x0):
        return False
    high = after.bottom - after.top
    return (
        word.bottom - word.top < RAISED * high and abs(after.x0 - word.x1) < high and after.bottom > word.top
    )


def read_html(data: bytes) -> list[Page]:
    """The text of a saved page in its order, tables with their columns; scripts, styles and what is linked
    are left out.

    Raises DomainError: too many words.
    """
    from lxml import html

    root = html.document_fromstring(
        data, parser=html.HTMLParser(no_network=True, huge_tree=False, encoding=_charset(data))
    )
    for gone in root.xpath(UNSEEN):
        if gone.getparent() is not None:  # a comment may stand before the page itself
            gone.drop_tree()
    lines: list[str] = []
    _flow(root, lines, 0)
    return [_lines(lines)]


# What no reader sees: scripts, other pages inside this one, and what is hidden.
UNSEEN = (
    "//script | //style | //noscript | //template | //iframe | //object | //svg | //comment() | //*[@hidden]"
    " | //*[contains(translate(@style, ' ', ''), 'display:none')]"
    " | //*[contains(translate(@style, ' ', ''), 'visibility:hidden')]"
)


def _charset(data: bytes) -> str:
    try:
        data.decode("utf-8")
    except UnicodeDecodeError:
        return "windows-1252"
    return "utf-8"


BLOCKS = frozenset(
    [
        "p",
        "div",
        "li",
        "ul",
        "ol",
        "h1",
        "h2",
        "h3",
        "h4",
        "h5",
        "h6",
        "dt",
        "dd",
        "dl",
        "section",
        "article",
        "header",
        "footer",
        "main",
        "figure",
        "br",
        "tr",
        "table",
    ]
)
DEEPEST = 60  # elements within each other


def _flow(element: Any, lines: list[str], depth: int) -> None:
    if depth > DEEPEST:
        raise _refused("elements within each other without end", "Copy its text and paste it.", "too-deep")
    if element.tag == "table":
        lines += _table(element)
        lines.append("")
        return
    if element.tag in BLOCKS:
        lines.append("")
    _write(element.text, lines, is_raised=element.tag == "sup")
    for child in element:
        if isinstance(child.tag, str):
            _flow(child, lines, depth + 1)
        _write(child.tail, lines)
    if element.tag in BLOCKS:
        lines.append("")


def _write(text: str | None, lines: list[str], *, is_raised: bool = False) -> None:
    said = " ".join((text or "").split())
    if not said:
        return
    if is_raised and said.isdecimal():
        said = said.translate(SUPERSCRIPT)
    if not lines:
        lines.append("")
    glue = "" if is_raised or not lines[-1] or said[0] in ".,;:)" else " "
    lines[-1] += glue + said


def _table(table: Any) -> Iterator[str]:
    """Rows with each column as wide as its widest cell."""
    rows = [[_cell(cell) for cell in row.xpath("./td | ./th")] for row in table.xpath(".//tr")]
    columns = max((len(row) for row in rows), default=0)
    widths = [max((len(row[at]) for row in rows if at < len(row)), default=0) + 4 for at in range(columns)]
    return ("".join(cell.ljust(width) for cell, width in zip(row, widths, strict=False)) for row in rows)


def _cell(cell: Any) -> str:
    lines: list[str] = []
    _write(cell.text, lines)
    for child in cell:
        if isinstance(child.tag, str):
            inner: list[str] = []
            _flow(child, inner, 0)
            _write(" ".join(inner), lines, is_raised=child.tag == "sup")
        _write(child.tail, lines)
    return " ".join(" ".join(lines).split())


def read_text(text: str) -> list[Page]:
    """Lines of plain text as a page; a tab, or three blanks, begins another cell.

    Raises DomainError: too many words.
    """
    return [_lines(line.replace("\t", "    ") for line in text.splitlines())]


def _lines(lines: Iterable[str]) -> Page:
    words: list[Word] = []
    widest = LEAST_WIDE  # a few words are shown no larger than a page of them
    for row, line in enumerate(lines):
        widest, at = max(widest, len(line)), 0
        for part in line.split():
            at = line.index(part, at)
            words.append(
                Word(
                    text=part[:200],
                    x0=at * TEXT_WIDTH,
                    x1=(at + len(part)) * TEXT_WIDTH,
                    top=row * LINE,
                    bottom=row * LINE + TEXT_HEIGHT,
                )
            )
            at += len(part)
    if len(words) > MOST_WORDS:
        raise _refused(f"{len(words)} words", "Choose the part with the values.", "too-many-words")
    bottom = max((one.bottom for one in words), default=TEXT_HEIGHT)
    return Page(number=1, width=widest * TEXT_WIDTH, height=bottom + LINE / 2, words=words)


def _refused(value: str, way_out: str, code: str) -> DomainError:
    return DomainError(
        argument="data sheet",
        value=value,
        allowed=f"at most {MOST_PAGES} pages of text are read",
        way_out=way_out,
        code=code,
    )
