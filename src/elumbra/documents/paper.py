"""What all papers share: paper sizes, our own type, tables over pages."""

from __future__ import annotations

from collections.abc import Sequence
from enum import StrEnum
from functools import cache
from io import BytesIO
from pathlib import Path
from xml.sax.saxutils import escape

from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4, LETTER, landscape
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.platypus import Paragraph, SimpleDocTemplate, Spacer, Table, TableStyle

_FONTS = Path(__file__).parent / "fonts"
_RULE = HexColor("#8a8178")


class Paper(StrEnum):
    """Paper sizes that papers are laid out for."""

    LETTER = "letter"
    A4 = "a4"


@cache
def register_fonts() -> None:
    """Make the application's own type known to the PDF library."""
    for name in ("Barlow-Medium", "Barlow-Bold", "B612Mono-Regular", "B612Mono-Bold"):
        pdfmetrics.registerFont(TTFont(name, _FONTS / f"{name}.ttf"))
    pdfmetrics.registerFontFamily("Barlow-Medium", normal="Barlow-Medium", bold="Barlow-Bold")


def table_pdf(
    title: str, told: str, columns: Sequence[str], rows: Sequence[Sequence[str]], *, paper: Paper = Paper.LETTER
) -> bytes:
    """A list as a paper: title, one sentence, a table whose head stands on every page."""
    register_fonts()
    buffer = BytesIO()
    document = SimpleDocTemplate(
        buffer, pagesize=landscape(LETTER if paper is Paper.LETTER else A4), title=title, author="Elumbra",
        leftMargin=13 * mm, rightMargin=13 * mm, topMargin=13 * mm, bottomMargin=13 * mm,
    )  # fmt: skip
    plain = ParagraphStyle("plain", fontName="Barlow-Medium", fontSize=10, leading=12)
    bold = ParagraphStyle("bold", parent=plain, fontName="Barlow-Bold")
    head = ParagraphStyle("head", parent=bold, fontSize=18, leading=22)
    cells = [[Paragraph(escape(words), bold) for words in columns]]
    cells += [[Paragraph(escape(words), plain) for words in row] for row in rows]
    table = Table(cells, repeatRows=1, colWidths=[document.width / len(columns)] * len(columns))
    table.setStyle(TableStyle([("LINEBELOW", (0, 0), (-1, -1), 0.4, _RULE), ("VALIGN", (0, 0), (-1, -1), "TOP")]))
    document.build([Paragraph(escape(title), head), Paragraph(escape(told), plain), Spacer(1, 4 * mm), table])
    return buffer.getvalue()
