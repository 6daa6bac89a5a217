"""The day on paper: who does what when drawn to time, the cars with their promises, and each person's list."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from io import BytesIO
from itertools import zip_longest

from reportlab.lib.colors import Color, HexColor
from reportlab.lib.pagesizes import A4, LETTER, landscape
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfbase.pdfmetrics import stringWidth
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Flowable, Paragraph, SimpleDocTemplate, Spacer, Table, TableStyle
from reportlab.platypus.doctemplate import LayoutError

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
class Stretch:
    """What a person does at one car in one place without a break between."""

    begins: str
    ends: str
    where: str
    what: str


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
    lists: Sequence[tuple[str, Sequence[Stretch]]]  # by person
    told: Sequence[str]


CAR_COLUMNS = ("Car", "Comes", "Bay", "Ready", "Promised", "Kept on", "Pick-up", "Note")
_ON_ONE_PAGE = 10  # cars


def day_sheet_pdf(day: DayPaper, *, paper: Paper = Paper.LETTER) -> bytes:
    """A day as a PDF, lying: up to ten cars on one page, in smaller type where they need it; more cars on several."""
    register_fonts()
    if len(day.cars) <= _ON_ONE_PAGE:
        for size in _SIZES:
            content, pages = _drawn(day, paper, size, stacked=True)
            if pages == 1:
                return content
    return _drawn(day, paper, _SIZES[0], stacked=False)[0]


_SIZES = (1.0, 0.9, 0.8, 0.7, 0.6)  # of type and lines, from what reads best to the least that can be read


def _drawn(day: DayPaper, paper: Paper, size: float, *, stacked: bool) -> tuple[bytes, int]:
    """The paper at one size of type, and its pages; 0 where a person's column is longer than a page."""
    buffer = BytesIO()
    document = SimpleDocTemplate(
        buffer, pagesize=landscape(LETTER if paper is Paper.LETTER else A4), title=f"Day sheet {day.title}",
        author="Elumbra", lang="en-US", leftMargin=12 * mm, rightMargin=12 * mm, topMargin=10 * mm,
        bottomMargin=10 * mm,
    )  # fmt: skip
    plain = _type("Barlow-Medium", 9 * size)
    story: list[Flowable] = [Paragraph(marked(day.headline), _type("Barlow-Bold", 20 * size))]
    story.append(Paragraph(marked(day.title), _type("Barlow-Bold", 12 * size)))
    story += [Paragraph(marked(words), plain) for words in day.told]
    story += [Spacer(1, 2 * mm), _Drawing(day, document.width, _LANE * size), Spacer(1, 2 * mm)]
    if day.cars:
        shares = (0.24, 0.12, 0.08, 0.12, 0.12, 0.07, 0.12, 0.13)
        story.append(_table(CAR_COLUMNS, day.cars, [document.width * one for one in shares], plain))
    if day.lists:
        story += [Spacer(1, 3 * mm), _side_by_side(day.lists, document.width, size, stacked=stacked)]
    try:
        document.build(story)
    except LayoutError:
        return b"", 0
    return buffer.getvalue(), document.page


def _type(font: str, points: float) -> ParagraphStyle:
    return ParagraphStyle(font, fontName=font, fontSize=points, leading=1.17 * points, textColor=INK)


def _side_by_side(lists: Sequence[tuple[str, Sequence[Stretch]]], width: float, size: float, *, stacked: bool) -> Table:
    """Each person's day in a column, stretch by stretch: close on one page, in rows where it goes over several."""
    plain, small = _type("Barlow-Medium", 9 * size), _type("Barlow-Medium", 8 * size)
    columns = [[_stretch(one, small) for one in stretches] for _, stretches in lists]
    cells = [[Paragraph(f"<b>{marked(name)}</b>", plain) for name, _ in lists]]
    cells += [columns] if stacked else [list(row) for row in zip_longest(*columns, fillvalue="")]
    table = Table(cells, colWidths=[width / len(lists)] * len(lists), repeatRows=1)
    table.setStyle(_LINES)
    return table


def _stretch(one: Stretch, style: ParagraphStyle) -> Paragraph:
    hours = f"<b>{marked(one.begins)} to {marked(one.ends)}</b>"
    return Paragraph(f"{hours} {marked(one.where)}: {marked(one.what)}", style)


_LINES = TableStyle(
    [
        ("LINEBELOW", (0, 0), (-1, -1), 0.3, RULE),
        ("VALIGN", (0, 0), (-1, -1), "TOP"),
        ("TOPPADDING", (0, 0), (-1, -1), 1.5),
        ("BOTTOMPADDING", (0, 0), (-1, -1), 1.5),
        ("LEFTPADDING", (0, 0), (-1, -1), 2),
    ]
)


def _table(
    columns: Sequence[str], rows: Sequence[Sequence[str]], widths: Sequence[float], plain: ParagraphStyle
) -> Table:
    cells = [[Paragraph(f"<b>{one}</b>", plain) for one in columns]]
    cells += [[Paragraph(marked(one), plain) for one in row] for row in rows]
    table = Table(cells, colWidths=list(widths), repeatRows=1)
    table.setStyle(_LINES)
    return table


class _Drawing(Flowable):  # type: ignore[misc]
    """Lines of people and bays, to one scale of time."""

    def __init__(self, day: DayPaper, width: float, lane: float) -> None:
        super().__init__()
        self.day, self.width, self.lane = day, width, lane
        self.height = 6 * mm + lane * len(day.lanes)

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
            y = top - (i + 1) * self.lane
            canvas.setFillColor(INK)
            canvas.setFont("Barlow-Bold", 9)
            canvas.drawString(0, y + 0.55 * self.lane, lane.name)
            canvas.setFont("Barlow-Medium", 7)
            canvas.drawString(0, y + 0.2 * self.lane, lane.told[:34])
            for bar in lane.bars:
                if bar.end > day.begins:
                    self._bar(canvas, bar, y + 1 * mm, scale)
            canvas.setStrokeColor(RULE)
            canvas.line(0, y, self.width, y)

    def _bar(self, canvas: Canvas, bar: Bar, y: float, scale: float) -> None:
        begins = max(bar.start, self.day.begins)  # a car may stand here since the day before
        x = _NAME + (begins - self.day.begins) * scale
        width = max(0.6, (min(bar.end, self.day.ends) - begins) * scale)
        tint: Color = _TINTS[bar.group % len(_TINTS)]
        canvas.setStrokeColor(INK)
        if bar.until > bar.end:
            end = _NAME + (min(bar.until, self.day.ends) - self.day.begins) * scale
            canvas.setDash(1, 1.5)
            canvas.line(x + width, y + 1 * mm, end, y + 1 * mm)
            canvas.setDash()
        canvas.setFillColor(tint)
        canvas.rect(x, y, width, self.lane - 2 * mm, fill=1)
        canvas.setFillColor(INK)
        canvas.setFont("Barlow-Medium", 7)
        if stringWidth(bar.words, "Barlow-Medium", 7) < width - 2:
            canvas.drawString(x + 1.2, y + (self.lane - 2 * mm) / 2 - 2.4, bar.words)
