"""Heat on paper: the wall sheet, and the true pattern as SVG and DXF."""

from __future__ import annotations

from collections.abc import Sequence
from io import BytesIO
from xml.sax.saxutils import escape

import numpy as np
from reportlab.lib.pagesizes import A4, LETTER, landscape
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Flowable, Paragraph, SimpleDocTemplate, Spacer

from elumbra.core.geom import span_at
from elumbra.core.geom.polygon import Points
from elumbra.core.shrink import Unrolled
from elumbra.core.units import format_inches
from elumbra.core.work import HeatView, percent
from elumbra.documents.cut_drawing import INK, RULE, SHADE
from elumbra.documents.outline_out import PaneDrawing
from elumbra.documents.paper import Paper, register_fonts


def pattern_drawing(title: str, view: HeatView) -> PaneDrawing:
    """The true pattern's lines: the pane, the cut line, ticks for cross line and centre."""
    ticks = tuple(np.array(tick) for tick in view.line.ticks)
    return PaneDrawing(title, {"glass": (view.outline,), "cut": (view.line.ring,)}, {"mark": ticks})


def wall_sheet_pdf(title: str, label: str, view: HeatView, *, paper: Paper = Paper.LETTER) -> bytes:
    """One window to hang beside the car: the map to scale, the H, the order, in large type.

    Parameters
    ----------
    title
        Job and car.
    label
        The window.
    view
        How its film lies.
    paper
        Letter or A4, laid sideways.
    """
    register_fonts()
    buffer = BytesIO()
    document = SimpleDocTemplate(
        buffer, pagesize=landscape(LETTER if paper is Paper.LETTER else A4), title=f"Heat: {label}", author="Elumbra",
        leftMargin=13 * mm, rightMargin=13 * mm, topMargin=11 * mm, bottomMargin=11 * mm,
    )  # fmt: skip
    plain = ParagraphStyle("plain", fontName="Barlow-Medium", fontSize=11.5, leading=14)
    head = ParagraphStyle("head", parent=plain, fontName="Barlow-Bold", fontSize=20, leading=24)
    small = ParagraphStyle("small", parent=plain, fontSize=9.5, leading=11.5, textColor=INK)
    story: list[Flowable] = [
        Paragraph(f"{escape(label)} · {escape(title)}", small),
        Paragraph(escape(view.sentence), head),
        Spacer(1, 3 * mm),
        _MapDrawing(view, document.width, 98 * mm),
        Spacer(1, 3 * mm),
    ]
    story += [Paragraph(f"{number}. {escape(words)}", plain) for number, words in enumerate(view.steps, start=1)]
    school = "; ".join(one.words for one in view.school)
    if view.plan.minutes:
        story.append(Paragraph(f"<b>Heat:</b> {escape(view.temperature)}", plain))
    story += [Paragraph(f"<b>School:</b> {escape(school)}.", plain)]
    story += [Paragraph(f"<b>Caution:</b> {escape(words)}", small) for words in view.cautions]
    zones = "; ".join(
        f"{zone.quarter.value} {percent(zone.largest)} %, {len(zone.fingers)} fingers about "
        f"{format_inches(zone.height)} in high" for zone in view.plan.zones if zone.fingers
    )  # fmt: skip
    if zones:
        story.append(Paragraph(f"{escape(zones)} (an estimate). About {view.plan.minutes:.0f} min.", small))
    document.build(story)
    return buffer.getvalue()


class _MapDrawing(Flowable):
    """The pane to scale with contours, fingers, the H and the order of bites."""

    def __init__(self, view: HeatView, width: float, tallest: float) -> None:
        super().__init__()
        self.view = view
        both = np.vstack([view.outline, view.line.ring])
        self.low, high = both.min(axis=0), both.max(axis=0)
        size = high - self.low
        self.scale = min(width / float(size[0]), tallest / float(size[1]))
        self.width, self.height = width, float(size[1]) * self.scale
        self.left = (width - float(size[0]) * self.scale) / 2

    def wrap(self, *_: float) -> tuple[float, float]:
        """The room it takes."""
        return self.width, self.height

    def draw(self) -> None:
        """Draw it where the page puts it."""
        canvas: Canvas = self.canv
        view = self.view
        canvas.setStrokeColor(RULE)
        canvas.setFillColor(SHADE)
        self._ring(canvas, view.line.ring, fill=1)
        canvas.setStrokeColor(INK)
        canvas.setLineWidth(1.2)
        self._ring(canvas, view.outline, fill=0)
        for contour in view.contours:
            canvas.setLineWidth(2.2 if contour.is_limit else 0.7)
            for line in contour.lines:
                self._line(canvas, line)
                x, y = self._at(line[len(line) // 2])
                canvas.setFillColor(INK)
                canvas.setFont("Barlow-Bold", 7.5)
                canvas.drawCentredString(x, y + 1.5, f"{percent(abs(contour.shrink))} %")
        canvas.setLineWidth(0.5)
        canvas.setDash(2, 2)
        for finger in view.fingers:
            self._line(canvas, np.array([finger.start, finger.end]))
        canvas.setDash()
        self._letter_h(canvas)
        canvas.setFont("B612Mono-Bold", 9)
        for bite in view.bites:
            x, y = self._at(bite.ring.mean(axis=0))
            canvas.setFillColor(SHADE)
            canvas.circle(x, y, 7, fill=1, stroke=1)
            canvas.setFillColor(INK)
            canvas.drawCentredString(x, y - 3, str(bite.number))

    def _letter_h(self, canvas: Canvas) -> None:
        """The cross line and the two side lines."""
        view = self.view
        ring = view.outline
        across = view.laid.way is Unrolled.ACROSS
        canvas.setLineWidth(2.4)
        for line in h_lines(ring, view.plan.side_lines, across=across):
            self._line(canvas, np.array(line))

    def _at(self, point: Sequence[float] | Points) -> tuple[float, float]:
        x, y = (float(one) for one in (np.asarray(point) - self.low) * self.scale)
        return self.left + x, y

    def _ring(self, canvas: Canvas, ring: Points, *, fill: int) -> None:
        path = canvas.beginPath()
        for i, point in enumerate(ring):
            (path.moveTo if i == 0 else path.lineTo)(*self._at(point))
        path.close()
        canvas.drawPath(path, stroke=1, fill=fill)

    def _line(self, canvas: Canvas, line: Points) -> None:
        path = canvas.beginPath()
        for i, point in enumerate(line):
            (path.moveTo if i == 0 else path.lineTo)(*self._at(point))
        canvas.drawPath(path, stroke=1, fill=0)


def h_lines(
    ring: Points, side_lines: tuple[float, float], *, across: bool
) -> list[tuple[tuple[float, float], tuple[float, float]]]:
    """The three lines of the H on a pane's flat film, as seen from outside."""
    way = 1 if across else 0
    left, right = span_at(ring, way, 0.0)
    cross = ((left, 0.0), (right, 0.0)) if across else ((0.0, left), (0.0, right))
    found = [cross]
    for place in side_lines:
        low, high = span_at(ring, 1 - way, place)
        found.append(((place, low), (place, high)) if across else ((low, place), (high, place)))
    return found
