"""The job card: the whole run of a car on paper, to tick with a pen."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from io import BytesIO

from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Flowable, KeepTogether, Paragraph, SimpleDocTemplate, Spacer, Table, TableStyle

from elumbra.documents.cut_drawing import INK, RULE
from elumbra.documents.paper import Paper, marked, register_fonts


@dataclass(frozen=True)
class CardStep:
    """One line of the card."""

    phase: str  # where a new one begins
    say: str
    caution: str
    check: str
    wait: float
    special: bool
    done: bool


@dataclass(frozen=True)
class CardRun:
    """One window's part of the card."""

    label: str
    told: str
    minutes: float
    steps: tuple[CardStep, ...]


def job_card_pdf(title: str, told: Sequence[str], runs: Sequence[CardRun], *, paper: Paper = Paper.LETTER) -> bytes:
    """The card of a whole car.

    Parameters
    ----------
    title
        Job and car.
    told
        What holds for the day, in sentences.
    runs
        In the order they are worked on.
    paper
        Letter or A4, upright.
    """
    register_fonts()
    buffer = BytesIO()
    document = SimpleDocTemplate(
        buffer, pagesize=LETTER if paper is Paper.LETTER else A4, title=f"Job card {title}", author="Elumbra",
        lang="en-US", leftMargin=13 * mm, rightMargin=13 * mm, topMargin=12 * mm, bottomMargin=14 * mm,
    )  # fmt: skip
    plain = ParagraphStyle("plain", fontName="Barlow-Medium", fontSize=10, leading=12)
    small = ParagraphStyle("small", parent=plain, fontSize=8.5, leading=10, textColor=INK)
    head = ParagraphStyle("head", parent=plain, fontName="Barlow-Bold", fontSize=19, leading=23)
    second = ParagraphStyle("second", parent=head, fontSize=13, leading=17)
    story: list[Flowable] = [Paragraph(f"Job card · {marked(title)}", head)]
    story += [Paragraph(marked(words), plain) for words in told]
    for run in runs:
        top: list[Flowable] = [
            Spacer(1, 4 * mm),
            Paragraph(f"{marked(run.label)}, about {run.minutes:.0f} min", second),
        ]
        if run.told:
            top.append(Paragraph(marked(run.told), small))
        rows = [_row(step, plain, small) for step in run.steps]
        if not rows:
            story.append(KeepTogether(top))
            continue
        tables = [_table(rows[:3], document.width), *([_table(rows[3:], document.width)] if rows[3:] else [])]
        story += [KeepTogether([*top, tables[0]]), *tables[1:]]
    document.build(story, onFirstPage=_foot(title), onLaterPages=_foot(title))
    return buffer.getvalue()


def _row(step: CardStep, plain: ParagraphStyle, small: ParagraphStyle) -> list[Flowable]:
    words = f"<b>{marked(step.say)}</b>" if step.special else marked(step.say)
    if step.wait:
        words += f" · wait {step.wait:.0f} min"
    extra = " · ".join(one for one in (step.check, f"Caution: {step.caution}" if step.caution else "") if one)
    if extra:
        words += f'<br/><font size="8">{marked(extra)}</font>'
    return [_Box(done=step.done), Paragraph(marked(step.phase), small), Paragraph(words, plain)]


def _table(rows: list[list[Flowable]], width: float) -> Table:
    table = Table(rows, colWidths=[9 * mm, 27 * mm, width - 36 * mm])
    table.setStyle(
        TableStyle(
            [
                ("LINEBELOW", (0, 0), (-1, -1), 0.3, RULE),
                ("VALIGN", (0, 0), (-1, -1), "TOP"),
                ("TOPPADDING", (0, 0), (-1, -1), 2),
                ("BOTTOMPADDING", (0, 0), (-1, -1), 2),
            ]
        )
    )
    return table


class _Box(Flowable):
    """A box to tick; crossed where the step is done already."""

    def __init__(self, *, done: bool) -> None:
        super().__init__()
        self.done, self.width, self.height = done, 4 * mm, 4 * mm

    def wrap(self, *_: float) -> tuple[float, float]:
        """The room it takes."""
        return self.width, self.height

    def draw(self) -> None:
        """Draw it where the page puts it."""
        canvas: Canvas = self.canv
        canvas.setStrokeColor(INK)
        canvas.rect(0, 0, self.width, self.height)
        if self.done:
            canvas.line(0, 0, self.width, self.height)
            canvas.line(0, self.height, self.width, 0)


def _foot(title: str) -> Callable[[Canvas, SimpleDocTemplate], None]:
    def draw(canvas: Canvas, document: SimpleDocTemplate) -> None:
        canvas.setFont("Barlow-Medium", 8)
        canvas.setFillColor(INK)
        canvas.drawString(13 * mm, 8 * mm, f"{title} · cautions: local law and licensed practice come first")
        canvas.drawRightString(document.pagesize[0] - 13 * mm, 8 * mm, str(document.page))

    return draw
