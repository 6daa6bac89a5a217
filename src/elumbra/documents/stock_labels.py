"""Labels for stock: what it is, and a code that a tablet's camera reads."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from reportlab.graphics import renderPDF
from reportlab.graphics.barcode.qr import QrCodeWidget
from reportlab.graphics.shapes import Drawing
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from elumbra.documents.labels import HIGH, WIDE, LabelOn, labels_pdf, write_lines


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
    """Labels for stock, one after another.

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
    return labels_pdf(labels, _draw, on=on)


def _draw(canvas: Canvas, label: StockLabel, x: float, y: float) -> None:
    side = HIGH - 8 * mm
    code = QrCodeWidget(label.code, barLevel="M")
    x0, y0, x1, y1 = code.getBounds()
    drawing = Drawing(side, side, transform=[side / (x1 - x0), 0, 0, side / (y1 - y0), 0, 0])
    drawing.add(code)
    renderPDF.draw(drawing, canvas, x + 2 * mm, y + 6 * mm)
    canvas.setFont("B612Mono-Bold", 9)
    canvas.drawCentredString(x + 2 * mm + side / 2, y + 3 * mm, label.code)
    room = WIDE - side - 8 * mm
    lines = [
        (label.name, "Barlow-Bold", 17.0),
        (label.film, "Barlow-Bold", 10.0),
        (label.size, "B612Mono-Bold", 10.0),
        (f"lot {label.lot}" if label.lot else "lot not noted", "Barlow-Medium", 9.0),
        (label.facing, "Barlow-Medium", 9.0),
        (f"received {label.received}" if label.received else "", "Barlow-Medium", 8.0),
    ]
    write_lines(canvas, lines, x + side + 5 * mm, y + HIGH - 3 * mm, room)
