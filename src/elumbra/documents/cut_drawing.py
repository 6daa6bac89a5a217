"""The stock to scale on the cut sheet, as it lies before the installer: cuts, pieces, offcuts, ruler."""

from __future__ import annotations

from reportlab.lib import colors
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfgen.canvas import Canvas
from reportlab.pdfgen.pathobject import PDFPathObject
from reportlab.platypus import Flowable

from elumbra.documents.plan import FilmPlan, PlanCut, PlanLeftover, PlanPiece, PlanStock, Point

INK = colors.HexColor("#201d1a")
SHADE = colors.HexColor("#e9e3da")
RULE = colors.HexColor("#a79f94")
_SUN = colors.HexColor("#b86e00")


class StockDrawing(Flowable):
    """The stock to scale, as it lies before the installer, with cuts, pieces and a ruler."""

    def __init__(self, film: FilmPlan, stock: PlanStock, width: float, *, tallest: float = 92 * mm) -> None:
        super().__init__()
        self.stock = stock
        self.pieces = [piece for piece in film.pieces if piece.stock_id == stock.id]
        self.cuts = [cut for cut in film.cuts if cut.stock_id == stock.id]
        self.kept = [rest for rest in film.leftovers if rest.stock_id == stock.id and rest.label]
        # A roll is drawn as far as it is pulled, a sheet or offcut as a whole.
        self.long = stock.used_mm if stock.kind == "roll" else stock.length_mm
        self.scale = min(width / max(self.long, 1), tallest / stock.width_mm)
        self.width, self.height = width, stock.width_mm * self.scale + 12 * mm

    def wrap(self, *_: float) -> tuple[float, float]:
        """The room it takes."""
        return self.width, self.height

    def draw(self) -> None:
        """Draw it where the page puts it."""
        canvas: Canvas = self.canv
        canvas.translate(0, 8 * mm)
        canvas.setStrokeColor(INK)
        canvas.setLineWidth(1.4)
        canvas.rect(0, 0, self.long * self.scale, self.stock.width_mm * self.scale)
        for rest in self.kept:
            self._rest(canvas, rest)
        for piece in self.pieces:
            self._piece(canvas, piece)
        for cut in self.cuts:
            self._cut(canvas, cut)
        self._ruler(canvas)
        self._arrow(canvas)

    def _rest(self, canvas: Canvas, rest: PlanLeftover) -> None:
        s = self.scale
        canvas.setLineWidth(0.5)
        canvas.rect(rest.x_mm * s, rest.y_mm * s, rest.along_mm * s, rest.across_mm * s)
        canvas.setFillColor(INK)
        x, y = (rest.x_mm + rest.along_mm / 2) * s, (rest.y_mm + rest.across_mm / 2) * s
        words, size = f"keep {rest.label}", 10.0
        while size > 5 and pdfmetrics.stringWidth(words, "Barlow-Bold", size) > rest.along_mm * s - 3:
            size -= 0.5
        canvas.setFont("Barlow-Bold", size)
        canvas.drawCentredString(x, y - 3, words)

    def _piece(self, canvas: Canvas, piece: PlanPiece) -> None:
        s = self.scale
        canvas.setFillColor(SHADE)
        canvas.setLineWidth(0.5)
        if piece.kind == "pattern":
            canvas.drawPath(self._path(canvas, piece.cut_line), stroke=1, fill=1)
            for (x1, y1), (x2, y2) in piece.ticks:
                canvas.line(x1 * s, y1 * s, x2 * s, y2 * s)
        else:
            canvas.rect(piece.x_mm * s, piece.y_mm * s, piece.along_mm * s, piece.across_mm * s, fill=1)
        # A pattern is cut along its own line; glass may reach past it, and past the film.
        if piece.kind == "blank":
            canvas.setDash(*((3, 2) if not piece.measured else ()))
            canvas.drawPath(self._path(canvas, piece.outline), stroke=1, fill=0)
            canvas.setDash()
        canvas.setFillColor(INK)
        x, y = (piece.x_mm + piece.along_mm / 2) * s, (piece.y_mm + piece.across_mm / 2) * s
        size = max(7.0, min(20.0, piece.across_mm * s / 3, piece.along_mm * s / 4))
        canvas.setFont("Barlow-Bold", size)
        canvas.drawCentredString(x, y + 1, piece.mark)
        for label_size in (9, 8, 7, 6):
            if pdfmetrics.stringWidth(piece.label, "Barlow-Medium", label_size) < piece.along_mm * s - 3:
                canvas.setFont("Barlow-Medium", label_size)
                canvas.drawCentredString(x, y - label_size, piece.label)
                break

    def _path(self, canvas: Canvas, ring: list[Point]) -> PDFPathObject:
        path = canvas.beginPath()
        for i, (x, y) in enumerate(ring):
            (path.moveTo if i == 0 else path.lineTo)(x * self.scale, y * self.scale)
        path.close()
        return path

    def _cut(self, canvas: Canvas, cut: PlanCut) -> None:
        s = self.scale
        canvas.setStrokeColor(_SUN)
        canvas.setLineWidth(1.1)
        (x1, y1), (x2, y2) = cut.start, cut.end
        canvas.line(x1 * s, y1 * s, x2 * s, y2 * s)
        # The number sits a third of the way along its cut, clear of where cuts meet.
        x, y = x1 * s + (x2 - x1) * s / 3, y1 * s + (y2 - y1) * s / 3
        canvas.setFillColor(colors.white)
        canvas.circle(x, y, 5.5, fill=1)
        canvas.setFillColor(INK)
        canvas.setFont("B612Mono-Bold", 7)
        canvas.drawCentredString(x, y - 2.5, str(cut.number))
        canvas.setStrokeColor(INK)

    def _ruler(self, canvas: Canvas) -> None:
        canvas.setLineWidth(0.4)
        canvas.setFont("B612Mono-Regular", 6.5)
        canvas.setFillColor(INK)
        step = 2 if self.long < 5000 else 10
        for inch in range(0, int(self.long / 25.4) + 1, step):
            x = inch * 25.4 * self.scale
            labelled = inch % (5 * step) == 0
            canvas.line(x, 0, x, -6 if labelled else -3)
            if labelled:
                canvas.drawCentredString(x, -13, str(inch))

    def _arrow(self, canvas: Canvas) -> None:
        """Machine direction: the way the roll unrolls."""
        y, start = self.stock.width_mm * self.scale + 5, 2.0
        canvas.setLineWidth(1)
        canvas.line(start, y, start + 40, y)
        canvas.line(start + 40, y, start + 35, y + 2.5)
        canvas.line(start + 40, y, start + 35, y - 2.5)
        canvas.setFont("Barlow-Medium", 8)
        words = f"along the roll (machine direction); {self.stock.facing}, near edge below, inches below"
        canvas.drawString(start + 45, y - 2.5, words)
