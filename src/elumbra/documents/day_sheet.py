"""The day on paper: who does what when drawn to time, the cars with their promises, and each person's list."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from io import BytesIO

from reportlab.lib.colors import Color, HexColor
from reportlab.lib.pagesizes import A4, LETTER, landscape
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfbase.pdfmetrics import stringWidth
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Flowable, KeepTogether, Paragraph, SimpleDocTemplate, Spacer, Table, TableStyle

from elumbra.documents.cut_drawing import INK, RULE
from elumbra.documents.paper import Paper, marked, register_fonts

_TINTS = tuple(HexColor(one) for one in ("#f3dfae", "#d9d2e4", "#cfe0d4", "#f0cfc2", "#cfdde6", "#e6dcc8"))
_NAME, _LANE = 30 * mm, 9 * mm


@dataclass(frozen=True)
class Bar:
    """Something on a line of the drawing, in minutes of the day."""

    start: int
    end: int
    words: str
    group: int  # cars have a tint each
    until: int = 0  # something dries until then


@dataclass(frozen=True)
class Lane:
    """A person's or a bay's line."""

    name: str
    told: str
    bars: tuple[Bar, ...]


@dataclass(frozen=True)
class DayPaper:
    """A day as it is printed."""

    title: str
    headline: str
    begins: int
    ends: int
    marks: Sequence[tuple[int, str]]
    lanes: Sequence[Lane]
    cars: Sequence[Sequence[str]]
    lists: Sequence[tuple[str, Sequence[Sequence[str]]]]
    told: Sequence[str]


CAR_COLUMNS = ("Car", "Comes", "Bay", "Ready", "Promised", "Kept on", "Pick-up", "Note")
TASK_COLUMNS = ("From", "To", "Car", "Where", "What")


def day_sheet_pdf(day: DayPaper, *, paper: Paper = Paper.LETTER) -> bytes:
    """A day as a PDF, lying."""
    register_fonts()
    buffer = BytesIO()
    document = SimpleDocTemplate(
        buffer, pagesize=landscape(LETTER if paper is Paper.LETTER else A4), title=f"Day sheet {day.title}",
        author="Elumbra", lang="en-US", leftMargin=12 * mm, rightMargin=12 * mm, topMargin=11 * mm,
        bottomMargin=12 * mm,
    )  # fmt: skip
    plain = ParagraphStyle("plain", fontName="Barlow-Medium", fontSize=9.5, leading=11.5, textColor=INK)
    head = ParagraphStyle("head", parent=plain, fontName="Barlow-Bold", fontSize=20, leading=24)
    second = ParagraphStyle("second", parent=plain, fontName="Barlow-Bold", fontSize=12, leading=15)
    story: list[Flowable] = [Paragraph(f"{marked(day.headline)}", head), Paragraph(marked(day.title), second)]
    story += [Paragraph(marked(words), plain) for words in day.told]
    story += [Spacer(1, 3 * mm), _Drawing(day, document.width), Spacer(1, 3 * mm)]
    if day.cars:
        shares = (0.22, 0.1, 0.08, 0.1, 0.12, 0.07, 0.14, 0.17)
        story.append(_table(CAR_COLUMNS, day.cars, [document.width * one for one in shares], plain))
    for name, rows in day.lists:
        parts = (0.08, 0.08, 0.26, 0.28, 0.3)
        table = _table(TASK_COLUMNS, rows, [document.width * one for one in parts], plain)
        story += [Spacer(1, 4 * mm), KeepTogether([Paragraph(marked(name), second), Spacer(1, 1 * mm)]), table]
    document.build(story)
    return buffer.getvalue()


def _table(
    columns: Sequence[str], rows: Sequence[Sequence[str]], widths: Sequence[float], plain: ParagraphStyle
) -> Table:
    cells = [[Paragraph(f"<b>{one}</b>", plain) for one in columns]]
    cells += [[Paragraph(marked(one), plain) for one in row] for row in rows]
    table = Table(cells, colWidths=list(widths), repeatRows=1)
    table.setStyle(
        TableStyle(
            [
                ("LINEBELOW", (0, 0), (-1, -1), 0.3, RULE),
                ("VALIGN", (0, 0), (-1, -1), "TOP"),
                ("TOPPADDING", (0, 0), (-1, -1), 1.5),
                ("BOTTOMPADDING", (0, 0), (-1, -1), 1.5),
                ("LEFTPADDING", (0, 0), (-1, -1), 2),
            ]
        )
    )
    return table


class _Drawing(Flowable):  # type: ignore[misc]
    """Lines of people and bays, to one scale of time."""

    def __init__(self, day: DayPaper, width: float) -> None:
        super().__init__()
        self.day, self.width = day, width
        self.height = 6 * mm + _LANE * len(day.lanes)

    def wrap(self, *_: float) -> tuple[float, float]:
        """The room it takes."""
        return self.width, self.height

    def draw(self) -> None:
        """Draw it where the page puts it."""
        canvas: Canvas = self.canv
        day = self.day
        scale = (self.width - _NAME) / max(1, day.ends - day.begins)
        top = self.height - 6 * mm
        canvas.setLineWidth(0.3)
        for minute, words in day.marks:
            x = _NAME + (minute - day.begins) * scale
            canvas.setStrokeColor(RULE)
            canvas.line(x, 0, x, top)
            canvas.setFillColor(INK)
            canvas.setFont("B612Mono-Regular", 7)
            canvas.drawString(x + 1, top + 1.5 * mm, words)
        for i, lane in enumerate(day.lanes):
            y = top - (i + 1) * _LANE
            canvas.setFillColor(INK)
            canvas.setFont("Barlow-Bold", 9)
            canvas.drawString(0, y + 5 * mm, lane.name)
            canvas.setFont("Barlow-Medium", 7)
            canvas.drawString(0, y + 2 * mm, lane.told[:34])
            for bar in lane.bars:
                self._bar(canvas, bar, y + 1 * mm, scale)
            canvas.setStrokeColor(RULE)
            canvas.line(0, y, self.width, y)

    def _bar(self, canvas: Canvas, bar: Bar, y: float, scale: float) -> None:
        x = _NAME + (bar.start - self.day.begins) * scale
        width = max(0.6, (min(bar.end, self.day.ends) - bar.start) * scale)
        tint: Color = _TINTS[bar.group % len(_TINTS)]
        canvas.setStrokeColor(INK)
        if bar.until > bar.end:
            end = _NAME + (min(bar.until, self.day.ends) - self.day.begins) * scale
            canvas.setDash(1, 1.5)
            canvas.line(x + width, y + 1 * mm, end, y + 1 * mm)
            canvas.setDash()
        canvas.setFillColor(tint)
        canvas.rect(x, y, width, _LANE - 2 * mm, fill=1)
        canvas.setFillColor(INK)
        canvas.setFont("Barlow-Medium", 7)
        if stringWidth(bar.words, "Barlow-Medium", 7) < width - 2:
            canvas.drawString(x + 1.2, y + 2.4 * mm, bar.words)
