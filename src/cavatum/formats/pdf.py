"""Pages to print: the care note for who uses a piece, the record of a run, and drawings to scale over
several sheets.
On the workshop's own paper, with the shipped font; words and figures come in ready.
"""

from __future__ import annotations

import io
from functools import cache
from pathlib import Path
from typing import TYPE_CHECKING, Any, Literal
from xml.sax.saxutils import escape

from ..core.common.wording import Wording
from ..core.finish.care import CareNote
from ..core.learn.record_model import RunRecord
from ..core.pour.debrief import Debrief

if TYPE_CHECKING:  # reportlab is loaded only for a page
    from reportlab.platypus import Paragraph, Table

Paper = Literal["A4", "letter"]
FONTS = Path(__file__).parent / "fonts"
INK, SLATE, SPRUCE, LINE = "#20262B", "#5E6B73", "#1E5A50", "#C9C2B2"


@cache
def _fonts() -> None:
    from reportlab.pdfbase import pdfmetrics
    from reportlab.pdfbase.ttfonts import TTFont

    pdfmetrics.registerFont(TTFont("Public Sans", str(FONTS / "PublicSans-Regular.ttf")))
    pdfmetrics.registerFont(TTFont("Public Sans SemiBold", str(FONTS / "PublicSans-SemiBold.ttf")))


def _styles() -> dict[str, Any]:
    from reportlab.lib.styles import ParagraphStyle

    _fonts()
    plain = ParagraphStyle("plain", fontName="Public Sans", fontSize=10.5, leading=15, textColor=INK)
    return {
        "plain": plain,
        "slate": ParagraphStyle("slate", parent=plain, fontSize=9, leading=12.5, textColor=SLATE),
        "title": ParagraphStyle(
            "title", parent=plain, fontName="Public Sans SemiBold", fontSize=22, leading=27, spaceAfter=4
        ),
        "head": ParagraphStyle(
            "head",
            parent=plain,
            fontName="Public Sans SemiBold",
            fontSize=12,
            leading=16,
            spaceBefore=9,
            spaceAfter=1,
            keepWithNext=1,
            textColor=SPRUCE,
        ),
        "cell": ParagraphStyle("cell", parent=plain, fontSize=9, leading=12),
        "cell-head": ParagraphStyle(
            "cell-head",
            parent=plain,
            fontName="Public Sans SemiBold",
            fontSize=8.5,
            leading=11,
            textColor=SLATE,
        ),
    }


def page_mm(paper: Paper) -> tuple[float, float]:
    """Width and height of a sheet [mm]: ISO 216, ANSI/ASME Y14.1."""
    return {"A4": (210.0, 297.0), "letter": (215.9, 279.4)}[paper]


def _build(title: str, made_by: str, flow: list[Any], paper: Paper) -> bytes:
    from reportlab.lib.units import mm
    from reportlab.platypus import SimpleDocTemplate

    out = io.BytesIO()
    wide, high = page_mm(paper)

    def foot(canvas: Any, document: Any) -> None:
        canvas.setFont("Public Sans", 8)
        canvas.setFillColor(SLATE)
        canvas.drawString(22 * mm, 12 * mm, f"{title} · {made_by}")
        canvas.drawRightString((wide - 22) * mm, 12 * mm, f"page {document.page}")

    SimpleDocTemplate(
        out,
        pagesize=(wide * mm, high * mm),
        leftMargin=22 * mm,
        rightMargin=22 * mm,
        topMargin=20 * mm,
        bottomMargin=22 * mm,
        title=title,
        author=made_by,
        invariant=1,
    ).build(flow, onFirstPage=foot, onLaterPages=foot)
    return out.getvalue()


def _text(words: str, style: Any) -> Paragraph:
    from reportlab.platypus import Paragraph

    return Paragraph(escape(words), style)


def care_pdf(note: CareNote, wording: Wording) -> bytes:
    """One page for who takes the piece home."""
    from reportlab.platypus import HRFlowable

    style = _styles()
    flow = [
        _text(note.title, style["title"]),
        _text(
            " · ".join(
                one for one in ("How to look after it", note.for_whom, f"made by {note.made_by}") if one
            ),
            style["slate"],
        ),
        HRFlowable(width="100%", thickness=0.8, color=INK, spaceBefore=6, spaceAfter=4),
    ]
    for head, words in note.parts:
        flow += [_text(head, style["head"]), _text(words, style["plain"])]
    flow += [
        HRFlowable(width="100%", thickness=0.5, color=LINE, spaceBefore=12, spaceAfter=4),
        _text(
            "This note goes by what its maker knows of the resin; the resin's own data sheet comes "
            "before it.",
            style["slate"],
        ),
    ]
    return _build(note.title, note.made_by, flow, wording.workshop.sheet)


def record_pdf(record: RunRecord, debrief: Debrief, wording: Wording) -> bytes:
    """A run in figures: planned and used, temperatures, tests, what went wrong, words."""
    from reportlab.platypus import HRFlowable

    style = _styles()
    ended = wording.moment(record.ended_at) if record.ended_at else "still open"
    about = (
        f"{record.kind_of_work} · run {record.run_id} · {wording.moment(record.begun_at)} to {ended} · room "
        f"{wording.temperature(record.room_c)}"
    )
    flow = [
        _text(record.piece, style["title"]),
        _text(about, style["slate"]),
        HRFlowable(width="100%", thickness=0.8, color=INK, spaceBefore=6, spaceAfter=4),
    ]
    for head, heads, rows in _tables_of(record, wording):
        flow += [_text(head, style["head"]), _table(style, heads, rows)] if rows else []
    for head, lines in (
        ("Mishaps and troubles", record.went_wrong),
        ("Notes", record.notes),
        ("What Cavatum says of it", [f"{one.title}. {one.text} {one.todo}" for one in debrief.says]),
        ("The maker's own word", [f"{record.stars} of 5. {record.words}"] if record.stars else []),
    ):
        flow += (
            [_text(head, style["head"]), *(_text(line, style["plain"]) for line in lines)] if lines else []
        )
    return _build(record.piece, wording.workshop.name, flow, wording.workshop.sheet)


def _tables_of(record: RunRecord, wording: Wording) -> list[tuple[str, list[str], list[list[str]]]]:
    def mass(kg: float | None, none: str = "") -> str:
        return none if kg is None else wording.mass(kg)

    def warm(celsius: float | None, none: str = "") -> str:
        return none if celsius is None else wording.temperature(celsius)

    def share(value: float | None) -> str:
        return "" if value is None else f"{value:+.1%}"

    batches = [
        [
            f"{one.pour}.{one.batch}",
            one.system,
            mass(one.planned_kg),
            mass(one.weighed_kg, "not weighed"),
            share(one.ratio_off),
            ", ".join(one.lots),
            ", ".join(f"{colour.name} {mass(colour.kg)}" for colour in one.colours),
            mass(one.residue_kg),
        ]
        for one in record.batches
    ]
    pours = [
        [
            one.called,
            wording.moment(one.poured_at) if one.poured_at else "",
            wording.length(one.depth_m),
            warm(one.peak_predicted_c, "not computed"),
            warm(one.peak_measured_c),
            f"{one.pace:.2f}" if one.pace else "",
        ]
        for one in record.pours
    ]
    tests = [
        [
            one.title,
            wording.duration(one.expected_s),
            "; ".join(f"{wording.duration(max(at, 0))}: {result}" for at, result in one.tried) or "left out",
        ]
        for one in record.tests
    ]
    return [
        (
            "Batches",
            ["pour", "resin", "planned", "weighed", "ratio off", "lots", "colours", "left in cup"],
            batches,
        ),
        (
            "Pours",
            ["pour", "poured", "deepest", "hottest predicted", "hottest read", "took, of predicted"],
            pours,
        ),
        ("Tests", ["test", "expected after", "tried"], tests),
    ]


def _table(style: dict[str, Any], heads: list[str], rows: list[list[str]]) -> Table:
    from reportlab.platypus import Table, TableStyle

    cells = [
        [_text(one, style["cell-head"]) for one in heads],
        *([_text(one, style["cell"]) for one in row] for row in rows),
    ]
    return Table(
        cells,
        hAlign="LEFT",
        repeatRows=1,
        style=TableStyle(
            [
                ("LINEBELOW", (0, 0), (-1, -1), 0.4, LINE),
                ("VALIGN", (0, 0), (-1, -1), "TOP"),
                ("LEFTPADDING", (0, 0), (-1, -1), 0),
                ("TOPPADDING", (0, 0), (-1, -1), 2),
                ("BOTTOMPADDING", (0, 0), (-1, -1), 3),
            ]
        ),
    )
