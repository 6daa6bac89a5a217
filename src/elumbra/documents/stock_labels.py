"""Labels for stock: what it is, and a code that a tablet's camera reads."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from io import BytesIO

from reportlab.graphics import renderPDF
from reportlab.graphics.barcode.qr import QrCodeWidget
from reportlab.graphics.shapes import Drawing
from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.units import mm
from reportlab.pdfbase.pdfmetrics import stringWidth
from reportlab.pdfgen.canvas import Canvas

from elumbra.documents.paper import register_fonts

_WIDE, _HIGH = 89 * mm, 36 * mm
_COLUMNS, _ROWS = 2, 7


class LabelOn(StrEnum):
    """What labels are printed on."""

    LETTER = "letter"  # a sheet of fourteen
    A4 = "a4"
    ROLL = "roll"  # one 89 × 36 mm label a page


@dataclass(frozen=True)
class StockLabel:
    """What stands on one label."""

    film: str
    name: str  # on the rack
    code: str
    size: str
    lot: str
    facing: str
    received: str = ""


def stock_labels_pdf(labels: Sequence[StockLabel], *, on: LabelOn) -> bytes:
    """Labels, one after another.

    Parameters
    ----------
    labels
        In the order in which they are printed.
    on
        A sheet of two by seven, or a roll of labels.

    Returns
    -------
    bytes
        The PDF.
    """
    register_fonts()
    buffer = BytesIO()
    page = {LabelOn.LETTER: LETTER, LabelOn.A4: A4, LabelOn.ROLL: (_WIDE, _HIGH)}[on]
    canvas = Canvas(buffer, pagesize=page, pageCompression=1)
    canvas.setTitle("Labels")
    left, top = (page[0] - _COLUMNS * _WIDE) / 2, page[1] - (page[1] - _ROWS * _HIGH) / 2
    for i, label in enumerate(labels):
        place = i % (_COLUMNS * _ROWS)
        if i and (on is LabelOn.ROLL or place == 0):
            canvas.showPage()
        if on is LabelOn.ROLL:
            _draw(canvas, label, 0, 0, framed=False)
        else:
            x, y = left + place % _COLUMNS * _WIDE, top - (place // _COLUMNS + 1) * _HIGH
            _draw(canvas, label, x, y, framed=True)
    canvas.save()
    return buffer.getvalue()


def _draw(canvas: Canvas, label: StockLabel, x: float, y: float, *, framed: bool) -> None:
    if framed:
        canvas.setDash(1, 2)
        canvas.setLineWidth(0.4)
        canvas.rect(x, y, _WIDE, _HIGH)
        canvas.setDash()
    side = _HIGH - 8 * mm
    code = QrCodeWidget(label.code, barLevel="M")
    x0, y0, x1, y1 = code.getBounds()
    drawing = Drawing(side, side, transform=[side / (x1 - x0), 0, 0, side / (y1 - y0), 0, 0])
    drawing.add(code)
    renderPDF.draw(drawing, canvas, x + 2 * mm, y + 6 * mm)
    canvas.setFont("B612Mono-Bold", 9)
    canvas.drawCentredString(x + 2 * mm + side / 2, y + 3 * mm, label.code)
    at, room = x + side + 5 * mm, _WIDE - side - 8 * mm
    lines = [
        (label.name, "Barlow-Bold", 17.0),
        (label.film, "Barlow-Bold", 10.0),
        (label.size, "B612Mono-Bold", 10.0),
        (f"lot {label.lot}" if label.lot else "lot not noted", "Barlow-Medium", 9.0),
        (label.facing, "Barlow-Medium", 9.0),
        (f"received {label.received}" if label.received else "", "Barlow-Medium", 8.0),
    ]
    baseline = y + _HIGH - 3 * mm
    for words, font, size in lines:
        while size > 5 and stringWidth(words, font, size) > room:
            size -= 0.5
        baseline -= size * 1.12
        canvas.setFont(font, size)
        canvas.drawString(at, baseline, words)
