"""Labels for pieces: which window of which car, from which film, and which way up its pane stands."""

from __future__ import annotations

from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from elumbra.core.units import format_inches
from elumbra.documents.labels import HIGH, WIDE, LabelOn, labels_pdf, write_lines
from elumbra.documents.plan import FilmPlan, PlanDocument, PlanPiece

_DRAWN = 24 * mm


def piece_labels_pdf(plan: PlanDocument, *, on: LabelOn) -> bytes:
    """One label for each piece of a plan, in the order of their marks, film by film."""
    labels = [(plan, film, piece) for film in plan.films for piece in film.pieces]
    return labels_pdf(labels, _draw, on=on)


def _draw(canvas: Canvas, label: tuple[PlanDocument, FilmPlan, PlanPiece], x: float, y: float) -> None:
    plan, film, piece = label
    stock = next(one for one in film.stocks if one.id == piece.stock_id)
    canvas.setFont("Barlow-Bold", 30)
    canvas.drawCentredString(x + 16 * mm, y + HIGH - 11 * mm, piece.mark)
    _outline(canvas, piece, x + 4 * mm, y + 2.5 * mm)
    number = f"{plan.number}, " if plan.number is not None else ""
    size = f"{format_inches(piece.along_mm)} × {format_inches(piece.across_mm)} in"
    told = (stock.facing, piece.twin_words, piece.unlawful.split(";")[0])
    lines = [
        (piece.label, "Barlow-Bold", 14.0),
        (f"{number}{plan.vehicle}", "Barlow-Medium", 10.0),
        (film.film_name, "Barlow-Bold", 10.0),
        (f"{size}, off {stock.label}", "B612Mono-Bold", 9.0),
        (f"lot {stock.lot}" if stock.lot else "lot not noted", "Barlow-Medium", 9.0),
        ("; ".join(words for words in told if words), "Barlow-Medium", 8.0),
    ]
    write_lines(canvas, lines, x + 32 * mm, y + HIGH - 3 * mm, WIDE - 34 * mm)


def _outline(canvas: Canvas, piece: PlanPiece, x: float, y: float) -> None:
    """The pane as it lies on the film, in miniature."""
    ring = piece.cut_line or piece.outline
    low_x, low_y = min(point[0] for point in ring), min(point[1] for point in ring)
    wide, high = max(point[0] for point in ring) - low_x, max(point[1] for point in ring) - low_y
    scale = min(_DRAWN / max(wide, 1.0), 19 * mm / max(high, 1.0))
    path = canvas.beginPath()
    for i, (px, py) in enumerate(ring):
        (path.lineTo if i else path.moveTo)(x + (px - low_x) * scale, y + (py - low_y) * scale)
    path.close()
    canvas.setLineWidth(0.8)
    canvas.drawPath(path)
