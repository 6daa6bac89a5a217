"""Papers as values: headings, sentences, tables, pictures, signatures; drawn as PDF or as one HTML file.

What a paper says is put together once and rendered twice, so that the file a customer takes home says what
the printed sheet says.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from io import BytesIO
from itertools import pairwise

from reportlab.lib.colors import Color
from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import (
    BaseDocTemplate,
    Flowable,
    Frame,
    Image,
    KeepTogether,
    NextPageTemplate,
    PageBreak,
    PageTemplate,
    Paragraph,
    Spacer,
    Table,
    TableStyle,
)

from elumbra.documents.cut_drawing import INK, RULE
from elumbra.documents.paper import Paper, marked, register_fonts

_MARGIN = 18 * mm
_WHITE = Color(1, 1, 1)


@dataclass(frozen=True)
class Heading:
    """A heading within a paper."""

    words: str


@dataclass(frozen=True)
class Words:
    """A paragraph."""

    words: str
    strong: bool = False
    large: bool = False  # the answer of the paper


@dataclass(frozen=True)
class Rows:
    """A table; its head stands on every page. The last ``sums`` rows are set apart as sums."""

    columns: Sequence[str]
    rows: Sequence[Sequence[str]]
    shares: Sequence[float] = ()  # of the width; equal where left out
    sums: int = 0


@dataclass(frozen=True)
class Picture:
    """A picture with what it shows."""

    content: bytes
    words: str
    marks: Sequence[tuple[float, float]] = ()


@dataclass(frozen=True)
class Signed:
    """A signature, or a line to sign on."""

    words: str
    strokes: Sequence[Sequence[Sequence[float]]] = ()


@dataclass(frozen=True)
class Label:
    """A label for the glass, framed, to cut out."""

    lines: Sequence[str]


Block = Heading | Words | Rows | Picture | Signed | Label


@dataclass(frozen=True)
class Sheet:
    """One paper."""

    title: str
    told: str  # whose, of which car
    blocks: Sequence[Block]


@dataclass(frozen=True)
class Letterhead:
    """In whose name papers go out."""

    shop: str
    lines: Sequence[str] = ()


def sheets_pdf(sheets: Sequence[Sheet], head: Letterhead, *, title: str, paper: Paper = Paper.LETTER) -> bytes:
    """Papers as one PDF, each beginning on a page of its own; its title and language are set for screen readers."""
    register_fonts()
    buffer = BytesIO()
    size = LETTER if paper is Paper.LETTER else A4
    document = BaseDocTemplate(
        buffer, pagesize=size, title=title, author=head.shop, lang="en-US", leftMargin=_MARGIN, rightMargin=_MARGIN,
        topMargin=16 * mm, bottomMargin=18 * mm, initialFontName="Barlow-Medium",
    )  # fmt: skip
    frame = Frame(_MARGIN, 18 * mm, size[0] - 2 * _MARGIN, size[1] - 34 * mm, 0, 0, 0, 0)
    templates = [PageTemplate(str(i), [frame], onPage=_page(sheet, head, size[0])) for i, sheet in enumerate(sheets)]
    document.addPageTemplates(templates)
    styles = _styles()
    story: list[Flowable] = []
    for i, sheet in enumerate(sheets):
        if i:
            story += [NextPageTemplate(str(i)), PageBreak()]
        story += _story(sheet, head, styles, frame.width)
    document.build(story)
    return buffer.getvalue()


def _page(sheet: Sheet, head: Letterhead, width: float) -> Callable[[Canvas, BaseDocTemplate], None]:
    def draw(canvas: Canvas, document: BaseDocTemplate) -> None:
        canvas.setViewerPreference("DisplayDocTitle", "true")
        foot = Paragraph(marked(f"{head.shop} · {sheet.title} · {sheet.told}"), _styles()["foot"])
        foot.wrap(width - 2 * _MARGIN - 20 * mm, 12 * mm)
        foot.drawOn(canvas, _MARGIN, 9 * mm)
        canvas.setFont("Barlow-Medium", 8)
        canvas.setFillColor(INK)
        canvas.drawRightString(width - _MARGIN, 9 * mm, str(document.page))

    return draw


def _styles() -> dict[str, ParagraphStyle]:
    plain = ParagraphStyle("plain", fontName="Barlow-Medium", fontSize=10.5, leading=13.5, textColor=INK)
    bold = ParagraphStyle("bold", parent=plain, fontName="Barlow-Bold")
    return {
        "plain": plain,
        "bold": bold,
        "cell": ParagraphStyle("cell", parent=plain, fontSize=9.5, leading=11.5),
        "cell_bold": ParagraphStyle("cell_bold", parent=bold, fontSize=9.5, leading=11.5),
        "large": ParagraphStyle("large", parent=bold, fontSize=17, leading=21),
        "head": ParagraphStyle("head", parent=bold, fontSize=20, leading=25),
        "second": ParagraphStyle("second", parent=bold, fontSize=13, leading=17, spaceBefore=8, keepWithNext=1),
        "foot": ParagraphStyle("foot", parent=plain, fontSize=8, leading=9.5),
    }


def _story(sheet: Sheet, head: Letterhead, styles: dict[str, ParagraphStyle], width: float) -> list[Flowable]:
    story: list[Flowable] = [
        Paragraph(marked(head.shop), styles["bold"]),
        *(Paragraph(marked(line), styles["foot"]) for line in head.lines),
        Spacer(1, 3 * mm),
        Paragraph(marked(sheet.title), styles["head"]),
        Paragraph(marked(sheet.told), styles["plain"]),
        Spacer(1, 3 * mm),
    ]
    for block in sheet.blocks:
        story += _block(block, styles, width)
    return story


def _block(block: Block, styles: dict[str, ParagraphStyle], width: float) -> list[Flowable]:
    match block:
        case Heading(words):
            return [Paragraph(marked(words), styles["second"])]
        case Words(words, strong, large):
            style = styles["large" if large else "bold" if strong else "plain"]
            return [Paragraph(marked(words), style), Spacer(1, 1.5 * mm)]
        case Rows():
            return [_table(block, styles, width), Spacer(1, 2 * mm)]
        case Picture(content, words):
            picture = Image(BytesIO(content))
            scale = min(width * 0.6 / picture.imageWidth, 70 * mm / picture.imageHeight)
            picture.drawWidth, picture.drawHeight = picture.imageWidth * scale, picture.imageHeight * scale
            picture.hAlign = "LEFT"
            return [KeepTogether([picture, Paragraph(marked(words), styles["cell"]), Spacer(1, 2 * mm)])]
        case Signed(words, strokes):
            signed = SignatureBox(strokes, width * 0.6, 24 * mm)
            return [KeepTogether([Spacer(1, 3 * mm), signed, Paragraph(marked(words), styles["plain"])])]
        case Label(lines):
            return [_label(lines, styles), Spacer(1, 3 * mm)]


def _table(block: Rows, styles: dict[str, ParagraphStyle], width: float) -> Table:
    shares = block.shares or [1 / len(block.columns)] * len(block.columns)
    first = len(block.rows) - block.sums
    cells = [[Paragraph(marked(words), styles["cell_bold"]) for words in block.columns]]
    cells += [
        [Paragraph(marked(words), styles["cell_bold" if i >= first else "cell"]) for words in row]
        for i, row in enumerate(block.rows)
    ]
    table = Table(cells, colWidths=[width * share for share in shares], repeatRows=1, hAlign="LEFT")
    table.setStyle(
        TableStyle(
            [
                ("LINEBELOW", (0, 0), (-1, 0), 0.9, INK),
                ("LINEBELOW", (0, 1), (-1, -1), 0.4, RULE),
                ("VALIGN", (0, 0), (-1, -1), "TOP"),
                ("LEFTPADDING", (0, 0), (-1, -1), 0),
                ("TOPPADDING", (0, 0), (-1, -1), 2),
                ("BOTTOMPADDING", (0, 0), (-1, -1), 3),
            ]
        )
    )
    return table


def _label(lines: Sequence[str], styles: dict[str, ParagraphStyle]) -> Table:
    cells = [[Paragraph(marked(line), styles["cell_bold" if i == 0 else "cell"])] for i, line in enumerate(lines)]
    table = Table(cells, colWidths=[86 * mm], hAlign="LEFT")
    table.setStyle(
        TableStyle([("BOX", (0, 0), (-1, -1), 1.2, INK), ("BACKGROUND", (0, 0), (-1, -1), _WHITE),
                    ("TOPPADDING", (0, 0), (-1, -1), 1), ("BOTTOMPADDING", (0, 0), (-1, -1), 2)])
    )  # fmt: skip
    return table


class SignatureBox(Flowable):
    """A signature from a screen, as lines of points (each 0 to 1 across and down), or a line to sign on."""

    def __init__(self, strokes: Sequence[Sequence[Sequence[float]]], width: float, height: float) -> None:
        super().__init__()
        self.strokes, self.width, self.height = strokes, width, height

    def wrap(self, *_: float) -> tuple[float, float]:
        """The room it takes."""
        return self.width, self.height

    def draw(self) -> None:
        """Draw it where the page puts it."""
        canvas: Canvas = self.canv
        canvas.setStrokeColor(INK)
        canvas.line(0, 0, self.width, 0)
        canvas.setLineWidth(1.2)
        for stroke in self.strokes:
            points = [(min(max(x, 0), 1) * self.width, (1 - min(max(y, 0), 1)) * self.height) for x, y in stroke]
            for (x0, y0), (x1, y1) in pairwise(points):
                canvas.line(x0, y0, x1, y1)
