"""What all papers share: paper sizes, our own type, tables over pages."""

from __future__ import annotations

import re
from collections.abc import Sequence
from enum import StrEnum
from functools import cache
from io import BytesIO
from itertools import groupby
from pathlib import Path
from xml.sax.saxutils import escape

import arabic_reshaper
from bidi import get_display
from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4, LETTER, landscape
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.cidfonts import UnicodeCIDFont
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
    for name in ("DejaVuSans", "DejaVuSans-Bold"):
        pdfmetrics.registerFont(TTFont(name, _FONTS / f"{name}.ttf"))
    for name in _FAR_EASTERN:
        pdfmetrics.registerFont(UnicodeCIDFont(name))


_FAR_EASTERN = ("STSong-Light", "HeiseiKakuGo-W5", "HYGothic-Medium")
"""Chinese, Japanese, Korean: fonts that every PDF viewer brings along."""
_KANA, _HANGUL, _HAN = (0x3040, 0x30FF), (0xAC00, 0xD7AF), ((0x2E80, 0x303F), (0x3400, 0x9FFF), (0xF900, 0xFAFF))
_RIGHT_TO_LEFT = re.compile("[\u0590-\u08ff\ufb1d-\ufdff\ufe70-\ufeff]")


def marked(words: str) -> str:
    """Words as a paragraph takes them: markup in them is text, and letters that our type lacks come from another.

    Right-to-left scripts are shaped and set in reading order. A letter that no font here has shows as a box.

    Examples
    --------
    >>> marked("A & <b>")
    'A &amp; &lt;b&gt;'
    >>> marked("Жук")
    '<font name="DejaVuSans">Жук</font>'
    """
    if words.isascii():
        return escape(words)
    if _RIGHT_TO_LEFT.search(words):
        words = str(get_display(arabic_reshaper.reshape(words)))
    known = _known_letters()
    japanese = any(_KANA[0] <= ord(one) <= _KANA[1] for one in words)
    runs = groupby(words, key=lambda one: _font_for(one, known, japanese=japanese))
    return "".join(_in_font(font, "".join(letters)) for font, letters in runs)


def _in_font(font: str, words: str) -> str:
    return f'<font name="{font}">{escape(words)}</font>' if font else escape(words)


def _font_for(letter: str, known: frozenset[int], *, japanese: bool) -> str:
    """The font that has a letter; empty for our own type."""
    code = ord(letter)
    if code in known or letter.isspace():
        return ""
    if _HANGUL[0] <= code <= _HANGUL[1]:
        return "HYGothic-Medium"
    if _KANA[0] <= code <= _KANA[1]:
        return "HeiseiKakuGo-W5"
    if any(low <= code <= high for low, high in _HAN):
        return "HeiseiKakuGo-W5" if japanese else "STSong-Light"
    return "DejaVuSans"


@cache
def _known_letters() -> frozenset[int]:
    register_fonts()
    return frozenset(pdfmetrics.getFont("Barlow-Medium").face.charToGlyph)


def table_pdf(
    title: str, told: str, columns: Sequence[str], rows: Sequence[Sequence[str]], *, paper: Paper = Paper.LETTER
) -> bytes:
    """A list as a paper: title, one sentence, a table whose head stands on every page."""
    register_fonts()
    buffer = BytesIO()
    document = SimpleDocTemplate(
        buffer, pagesize=landscape(LETTER if paper is Paper.LETTER else A4), title=title, author="Elumbra",
        lang="en-US", leftMargin=13 * mm, rightMargin=13 * mm, topMargin=13 * mm, bottomMargin=13 * mm,
    )  # fmt: skip
    plain = ParagraphStyle("plain", fontName="Barlow-Medium", fontSize=10, leading=12)
    bold = ParagraphStyle("bold", parent=plain, fontName="Barlow-Bold")
    head = ParagraphStyle("head", parent=bold, fontSize=18, leading=22)
    cells = [[Paragraph(marked(words), bold) for words in columns]]
    cells += [[Paragraph(marked(words), plain) for words in row] for row in rows]
    table = Table(cells, repeatRows=1, colWidths=[document.width / len(columns)] * len(columns))
    table.setStyle(TableStyle([("LINEBELOW", (0, 0), (-1, -1), 0.4, _RULE), ("VALIGN", (0, 0), (-1, -1), "TOP")]))
    document.build([Paragraph(marked(title), head), Paragraph(marked(told), plain), Spacer(1, 4 * mm), table])
    return buffer.getvalue()
