"""What all labels share: a sheet of fourteen or a roll, and lines that shrink until they fit."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from enum import StrEnum
from io import BytesIO
from typing import TypeVar

from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.units import mm
from reportlab.pdfbase.pdfmetrics import stringWidth
from reportlab.pdfgen.canvas import Canvas

from elumbra.documents.paper import register_fonts

WIDE, HIGH = 89 * mm, 36 * mm
_COLUMNS, _ROWS = 2, 7

Label = TypeVar("Label")


class LabelOn(StrEnum):
    """What labels are printed on."""

    LETTER = "letter"  # a sheet of fourteen
    A4 = "a4"
    ROLL = "roll"  # one 89 × 36 mm label a page


def labels_pdf(labels: Sequence[Label], draw: Callable[[Canvas, Label, float, float], None], *, on: LabelOn) -> bytes:
    """Labels one after another, each drawn from its lower left corner."""
    register_fonts()
    buffer = BytesIO()
    page = {LabelOn.LETTER: LETTER, LabelOn.A4: A4, LabelOn.ROLL: (WIDE, HIGH)}[on]
    canvas = Canvas(buffer, pagesize=page, pageCompression=1)
    canvas.setTitle("Labels")
    left, top = (page[0] - _COLUMNS * WIDE) / 2, page[1] - (page[1] - _ROWS * HIGH) / 2
    for i, label in enumerate(labels):
        place = i % (_COLUMNS * _ROWS)
        if i and (on is LabelOn.ROLL or place == 0):
            canvas.showPage()
        if on is LabelOn.ROLL:
            draw(canvas, label, 0, 0)
        else:
            x, y = left + place % _COLUMNS * WIDE, top - (place // _COLUMNS + 1) * HIGH
            _frame(canvas, x, y)
            draw(canvas, label, x, y)
    canvas.save()
    return buffer.getvalue()


def _frame(canvas: Canvas, x: float, y: float) -> None:
    canvas.setDash(1, 2)
    canvas.setLineWidth(0.4)
    canvas.rect(x, y, WIDE, HIGH)
    canvas.setDash()


def write_lines(canvas: Canvas, lines: Sequence[tuple[str, str, float]], x: float, top: float, room: float) -> None:
    """Lines (words, font, size) one under another, each shrunk until it fits the room."""
    baseline = top
    for words, font, size in lines:
        while size > 5 and stringWidth(words, font, size) > room:
            size -= 0.5
        baseline -= size * 1.12
        canvas.setFont(font, size)
        canvas.drawString(x, baseline, words)
