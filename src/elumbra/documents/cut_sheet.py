"""The cut sheet: a PDF for the bench, Letter or A4, readable at arm's length.

For each roll or offcut: how much to pull, which side is up, the drawing with numbered cuts
and a ruler, the cuts as a list, the pieces as a table. The darkness and law of every window
stand at the end with their source.
"""

from __future__ import annotations

from enum import StrEnum
from functools import cache
from io import BytesIO
from pathlib import Path
from xml.sax.saxutils import escape

from reportlab.lib import colors
from reportlab.lib.pagesizes import A4, LETTER, landscape
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import (
    BaseDocTemplate,
    Flowable,
    Frame,
    KeepTogether,
    PageBreak,
    PageTemplate,
    Paragraph,
    Spacer,
    Table,
    TableStyle,
)

from elumbra.core.units import format_inches
from elumbra.documents.plan import FilmPlan, PlanCut, PlanDocument, PlanPiece, PlanStock

_FONTS = Path(__file__).parent / "fonts"
_INK = colors.HexColor("#201d1a")
_SUN = colors.HexColor("#b86e00")
_SHADE = colors.HexColor("#e9e3da")
_RULE = colors.HexColor("#a79f94")
_TURNS: dict[float, str] = {
    0: "upright, foot on the near edge",
    180: "upside down, foot on the far edge",
    90: "sideways, foot to the right",
}
_CUT_WORDS = {
    "across_roll": "across the roll at",
    "along": "along the roll at",
    "across_lane": "across the strip at",
}
_CAUTION = (
    "Cut away from yourself, cap the blade, bin used segments. Check the liner side with two tabs of tape before "
    "the first cut. The figures inform; they are not legal advice: the law itself and the local officer's meter decide."
)


class Paper(StrEnum):
    """Paper sizes the sheet is laid out for."""

    LETTER = "letter"
    A4 = "a4"


@cache
def _register_fonts() -> None:
    for name in ("Barlow-Medium", "Barlow-Bold", "B612Mono-Regular", "B612Mono-Bold"):
        pdfmetrics.registerFont(TTFont(name, _FONTS / f"{name}.ttf"))
    pdfmetrics.registerFontFamily("Barlow-Medium", normal="Barlow-Medium", bold="Barlow-Bold")


def cut_sheet_pdf(plan: PlanDocument, *, paper: Paper = Paper.LETTER) -> bytes:
    """Print a plan document.

    Parameters
    ----------
    plan
        A plan, finished or not; an unproven one says so.
    paper
        Letter or A4, laid sideways.

    Returns
    -------
    bytes
        The PDF.
    """
    _register_fonts()
    buffer = BytesIO()
    size = landscape(LETTER if paper is Paper.LETTER else A4)
    document = BaseDocTemplate(
        buffer, pagesize=size, title=f"Cut sheet: {plan.title}", author="Elumbra",
        leftMargin=13 * mm, rightMargin=13 * mm, topMargin=20 * mm, bottomMargin=15 * mm,
    )  # fmt: skip
    frame = Frame(
        document.leftMargin, document.bottomMargin, document.width, document.height,
        leftPadding=0, rightPadding=0, topPadding=0, bottomPadding=0, id="body",
    )  # fmt: skip

    def decorate(canvas: Canvas, _: BaseDocTemplate) -> None:
        _page_frame(canvas, plan, size, document)

    document.addPageTemplates([PageTemplate(id="sheet", frames=[frame], onPage=decorate)])
    document.build(_story(plan, document.width))
    return buffer.getvalue()


def _page_frame(canvas: Canvas, plan: PlanDocument, size: tuple[float, float], document: BaseDocTemplate) -> None:
    canvas.saveState()
    canvas.setFillColor(_INK)
    canvas.setFont("Barlow-Bold", 15)
    canvas.drawString(document.leftMargin, size[1] - 13 * mm, f"{plan.title} · {plan.vehicle}")
    canvas.setFont("Barlow-Medium", 10)
    canvas.drawRightString(
        size[0] - document.rightMargin, size[1] - 13 * mm, f"Cut sheet · page {canvas.getPageNumber()}"
    )
    canvas.setStrokeColor(_INK)
    canvas.line(document.leftMargin, size[1] - 16 * mm, size[0] - document.rightMargin, size[1] - 16 * mm)
    if unlawful := [verdict.label for verdict in plan.verdicts if verdict.goes_on]:
        canvas.setFont("Barlow-Bold", 9)
        words = f"NOT LAWFUL AS IT STANDS, goes on by the lead's reason (see Darkness and law): {', '.join(unlawful)}"
        canvas.drawString(document.leftMargin, 11.5 * mm, words)
    canvas.setFont("Barlow-Medium", 7.5)
    canvas.drawString(document.leftMargin, 8 * mm, _CAUTION)
    canvas.restoreState()


def _style(name: str, size: float, *, bold: bool = False, before: float = 0) -> ParagraphStyle:
    return ParagraphStyle(
        name, fontName="Barlow-Bold" if bold else "Barlow-Medium", fontSize=size, leading=size * 1.25,
        textColor=_INK, spaceBefore=before,
    )  # fmt: skip


def _story(plan: PlanDocument, width: float) -> list[Flowable]:
    story: list[Flowable] = []
    for film in plan.films:
        for stock in (stock for stock in film.stocks if stock.used_mm > 0):
            if story:
                story.append(PageBreak())
            story += _stock_pages(film, stock, width)
        story += _unplaced(film)
    if not story:
        story.append(
            Paragraph("Nothing to cut: no film is chosen, or nothing is measured.", _style("empty", 16, bold=True))
        )
    for held in plan.held:
        story.append(
            Paragraph(f"<b>Not cut: {escape(held.label)}.</b> {escape(held.reason)}", _style("held", 11, before=6))
        )
    if plan.verdicts:
        story += [
            Spacer(1, 5 * mm),
            KeepTogether([Paragraph("Darkness and law", _style("law", 13, bold=True)), _law_table(plan, width)]),
        ]
    return story


def _stock_pages(film: FilmPlan, stock: PlanStock, width: float) -> list[Flowable]:
    pieces = [piece for piece in film.pieces if piece.stock_id == stock.id]
    cuts = [cut for cut in film.cuts if cut.stock_id == stock.id]
    order = "Pull" if stock.kind == "roll" else "Take"
    headline = f"{order} {format_inches(stock.used_mm)} in from {escape(stock.label)}"
    facts = (
        f"{escape(film.film_name)} · {format_inches(stock.width_mm)} in wide"
        f"{f' · lot {escape(stock.lot)}' if stock.lot else ''} · <b>{escape(stock.facing.upper())}</b> · "
        f"{_standing(film)}"
    )
    return [
        Paragraph(headline, _style("headline", 24, bold=True)),
        Paragraph(facts, _style("facts", 11)),
        Spacer(1, 2 * mm),
        _Drawing(stock, pieces, cuts, width),
        Spacer(1, 3 * mm),
        _cut_table(cuts, width),
        Spacer(1, 3 * mm),
        _piece_table(pieces, width),
    ]


def _standing(film: FilmPlan) -> str:
    score = film.score
    proof = "least cost, proven within three-stage knife cuts" if film.proven else "best found, not proven"
    return f"film ${score.new_film:.2f} · {score.yield_percent:.0f} % of it on the car · {proof}"


def _unplaced(film: FilmPlan) -> list[Flowable]:
    lines: list[Flowable] = []
    for item in film.unplaced:
        pull = (
            f" Pull a {format_inches(item.pull_width_mm)} in roll."
            if item.pull_width_mm
            else " No customary roll is that wide."
        )
        words = f"<b>No film for {escape(item.label)}.</b> {escape(item.reason)}{pull}"
        lines.append(Paragraph(words, _style("unplaced", 13, before=6)))
    return lines


def _table(rows: list[list[Flowable | str]], widths: list[float]) -> Table:
    table = Table(rows, colWidths=widths, repeatRows=1)
    table.setStyle(
        TableStyle(
            [
                ("FONT", (0, 0), (-1, -1), "Barlow-Medium", 10.5),
                ("FONT", (0, 0), (-1, 0), "Barlow-Bold", 9),
                ("TEXTCOLOR", (0, 0), (-1, -1), _INK),
                ("LINEBELOW", (0, 0), (-1, -1), 0.4, _RULE),
                ("BACKGROUND", (0, 0), (-1, 0), _SHADE),
                ("VALIGN", (0, 0), (-1, -1), "MIDDLE"),
                ("TOPPADDING", (0, 0), (-1, -1), 2),
                ("BOTTOMPADDING", (0, 0), (-1, -1), 2.5),
            ]
        )
    )
    return table


def _cut_table(cuts: list[PlanCut], width: float) -> Table:
    """Cuts in two columns side by side, in working order down the left one first."""
    half = (len(cuts) + 1) // 2
    rows: list[list[Flowable | str]] = [["Cut", "Knife", "Ruler, in", "from", "Cut", "Knife", "Ruler, in", "from"]]
    for i in range(half):
        left = _cut_cells(cuts[i])
        right = _cut_cells(cuts[i + half]) if i + half < len(cuts) else ["", "", "", ""]
        rows.append([*left, *right])
    shares = [0.05, 0.155, 0.105, 0.19]
    table = _table(rows, [width * share for share in shares * 2])
    for column in (0, 2, 4, 6):
        table.setStyle(TableStyle([("FONT", (column, 1), (column, -1), "B612Mono-Bold", 11)]))
    return table


def _cut_cells(cut: PlanCut) -> list[Flowable | str]:
    return [str(cut.number), _CUT_WORDS[cut.kind], format_inches(cut.at_mm), cut.measured_from]


def _piece_table(pieces: list[PlanPiece], width: float) -> Table:
    rows: list[list[Flowable | str]] = [["Piece", "Window", "Side of car", "Along × across, in", "Lies", "Pair"]]
    body = _style("piece", 10)
    for piece in pieces:
        pair = f"stack with {piece.pair_mark}, second turned over" if piece.pair_mark else ""
        edge = ", factory edge at the foot" if piece.factory_edge else ""
        size = f"{format_inches(piece.along_mm)} × {format_inches(piece.across_mm)}"
        lies = Paragraph(_TURNS.get(piece.turn, f"turned {piece.turn:g}°") + edge, body)
        named = escape(piece.label) + (f" <b>{escape(piece.unlawful.split(';')[0])}</b>" if piece.unlawful else "")
        rows.append([piece.mark, Paragraph(named, body), piece.side, size, lies, Paragraph(pair, body)])
    shares = [0.06, 0.2, 0.1, 0.19, 0.27, 0.18]
    table = _table(rows, [width * share for share in shares])
    table.setStyle(
        TableStyle([("FONT", (0, 1), (0, -1), "B612Mono-Bold", 12), ("FONT", (3, 1), (3, -1), "B612Mono-Regular", 10)])
    )
    return table


def _law_table(plan: PlanDocument, width: float) -> Table:
    body = _style("cell", 9.5)
    rows: list[list[Flowable | str]] = [["Window", "Film", "Passes", "Verdict", "Why", "Source"]]
    for verdict in plan.verdicts:
        passes = "not known" if verdict.vlt_percent is None else f"{verdict.vlt_percent:.1f} % ±{verdict.pm_points:.1f}"
        doubt = " Rests on fields nobody has confirmed." if verdict.unconfirmed else ""
        if verdict.tolerance_points is not None:
            doubt += f" The law grants {verdict.tolerance_points:g} points of tolerance; not used here."
        if verdict.goes_on:
            doubt += f" NOT LAWFUL AS IT STANDS. Goes on by the lead's reason: {verdict.reason}."
        elif verdict.reason:
            doubt += f" On record: {verdict.reason}."
        rows.append(
            [
                Paragraph(escape(verdict.label), body),
                Paragraph(escape(verdict.film_name or ""), body),
                passes,
                Paragraph(f"<b>{escape(verdict.word or '')}</b>", body),
                Paragraph(escape(verdict.sentence + doubt), body),
                Paragraph(escape(verdict.citation), body),
            ]
        )
    return _table(rows, [width * share for share in (0.13, 0.14, 0.12, 0.1, 0.33, 0.18)])


class _Drawing(Flowable):
    """The stock to scale, as it lies before the installer, with cuts, pieces and a ruler."""

    def __init__(self, stock: PlanStock, pieces: list[PlanPiece], cuts: list[PlanCut], width: float) -> None:
        super().__init__()
        self.stock, self.pieces, self.cuts = stock, pieces, cuts
        self.scale = min(width / max(stock.used_mm, 1), 70 * mm / stock.width_mm)
        self.width, self.height = width, stock.width_mm * self.scale + 12 * mm

    def wrap(self, *_: float) -> tuple[float, float]:
        return self.width, self.height

    def draw(self) -> None:
        canvas: Canvas = self.canv
        canvas.translate(0, 8 * mm)
        canvas.setStrokeColor(_INK)
        canvas.setLineWidth(1.4)
        canvas.rect(0, 0, self.stock.used_mm * self.scale, self.stock.width_mm * self.scale)
        for piece in self.pieces:
            self._piece(canvas, piece)
        for cut in self.cuts:
            self._cut(canvas, cut)
        self._ruler(canvas)
        self._arrow(canvas)

    def _piece(self, canvas: Canvas, piece: PlanPiece) -> None:
        s = self.scale
        canvas.setFillColor(_SHADE)
        canvas.setLineWidth(0.5)
        canvas.rect(piece.x_mm * s, piece.y_mm * s, piece.along_mm * s, piece.across_mm * s, fill=1)
        path = canvas.beginPath()
        for i, (x, y) in enumerate(piece.outline):
            (path.moveTo if i == 0 else path.lineTo)(x * s, y * s)
        path.close()
        canvas.setDash(*((3, 2) if not piece.measured else ()))
        canvas.drawPath(path, stroke=1, fill=0)
        canvas.setDash()
        canvas.setFillColor(_INK)
        x, y = (piece.x_mm + piece.along_mm / 2) * s, (piece.y_mm + piece.across_mm / 2) * s
        size = max(7.0, min(20.0, piece.across_mm * s / 3, piece.along_mm * s / 4))
        canvas.setFont("Barlow-Bold", size)
        canvas.drawCentredString(x, y + 1, piece.mark)
        for label_size in (9, 8, 7, 6):
            if pdfmetrics.stringWidth(piece.label, "Barlow-Medium", label_size) < piece.along_mm * s - 3:
                canvas.setFont("Barlow-Medium", label_size)
                canvas.drawCentredString(x, y - label_size, piece.label)
                break

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
        canvas.setFillColor(_INK)
        canvas.setFont("B612Mono-Bold", 7)
        canvas.drawCentredString(x, y - 2.5, str(cut.number))
        canvas.setStrokeColor(_INK)

    def _ruler(self, canvas: Canvas) -> None:
        canvas.setLineWidth(0.4)
        canvas.setFont("B612Mono-Regular", 6.5)
        canvas.setFillColor(_INK)
        step = 2 if self.stock.used_mm < 5000 else 10
        for inch in range(0, int(self.stock.used_mm / 25.4) + 1, step):
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
