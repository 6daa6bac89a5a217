"""The cut sheet: a PDF for the bench, Letter or A4, readable at arm's length.

For each roll or offcut: how much to pull, which side is up, the drawing with numbered cuts
and a ruler, the cuts as a list, the pieces as a table. The darkness and law of every window
stand at the end with their source.
"""

from __future__ import annotations

from io import BytesIO
from typing import Any
from xml.sax.saxutils import escape

from reportlab.lib.pagesizes import A4, LETTER, landscape
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfbase.pdfmetrics import stringWidth
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
from elumbra.documents.cut_drawing import INK, RULE, SHADE, StockDrawing
from elumbra.documents.paper import Paper, register_fonts
from elumbra.documents.plan import FilmPlan, PlanCut, PlanDocument, PlanPiece, PlanStock

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


def cut_sheet_pdf(plan: PlanDocument, *, paper: Paper = Paper.LETTER, prices: bool = True) -> bytes:
    """Print a plan document.

    Parameters
    ----------
    plan
        A plan, finished or not; an unproven one says so.
    paper
        Letter or A4, laid sideways.
    prices
        Whether it says what the film costs.

    Returns
    -------
    bytes
        The PDF.
    """
    register_fonts()
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
    document.build(_story(plan, document.width, prices=prices), canvasmaker=_CountedCanvas)
    return buffer.getvalue()


class _CountedCanvas(Canvas):
    """Knows how many pages there are before it prints the number of any."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self._pages: list[dict[str, Any]] = []

    def showPage(self) -> None:  # noqa: N802  the library's name
        """Keep the page until their number is known."""
        self._pages.append(dict(self.__dict__))
        self._startPage()

    def save(self) -> None:
        """Print each page with its number of all."""
        for page in self._pages:
            self.__dict__.update(page)
            self.setFillColor(INK)
            self.setFont("Barlow-Medium", 10)
            width, height = self._pagesize
            words = f"page {self.getPageNumber()} of {len(self._pages)}"
            self.drawRightString(width - 13 * mm, height - 13 * mm, words)
            super().showPage()
        super().save()


def _page_frame(canvas: Canvas, plan: PlanDocument, size: tuple[float, float], document: BaseDocTemplate) -> None:
    canvas.saveState()
    canvas.setFillColor(INK)
    canvas.setFont("Barlow-Bold", 15)
    number = f"{plan.number} · " if plan.number is not None else ""
    title = f"{number}{plan.title}"
    canvas.drawString(document.leftMargin, size[1] - 13 * mm, title)
    told = [plan.vehicle if plan.vehicle not in plan.title else "", plan.customer, ", ".join(plan.states)]
    facts = " · ".join(part for part in (*told, f"cut sheet {plan.printed_on}".strip()) if part)
    start = document.leftMargin + stringWidth(title, "Barlow-Bold", 15) + 4 * mm
    canvas.setFont("Barlow-Medium", 10)
    canvas.drawString(start, size[1] - 13 * mm, _short(facts, size[0] - document.rightMargin - 26 * mm - start))
    canvas.setStrokeColor(INK)
    canvas.line(document.leftMargin, size[1] - 16 * mm, size[0] - document.rightMargin, size[1] - 16 * mm)
    if unlawful := [verdict.label for verdict in plan.verdicts if verdict.goes_on]:
        canvas.setFont("Barlow-Bold", 9)
        words = f"NOT LAWFUL AS IT STANDS, goes on by the lead's reason (see Darkness and law): {', '.join(unlawful)}"
        canvas.drawString(document.leftMargin, 11.5 * mm, words)
    canvas.setFont("Barlow-Medium", 7.5)
    canvas.drawString(document.leftMargin, 8 * mm, _CAUTION)
    canvas.restoreState()


def _short(words: str, room: float) -> str:
    """As much of a line as there is room for."""
    while words and stringWidth(words, "Barlow-Medium", 10) > room:
        words = words[:-2].rstrip() + "…" if len(words) > 2 else ""
    return words


def _style(name: str, size: float, *, bold: bool = False, before: float = 0) -> ParagraphStyle:
    return ParagraphStyle(
        name, fontName="Barlow-Bold" if bold else "Barlow-Medium", fontSize=size, leading=size * 1.25,
        textColor=INK, spaceBefore=before,
    )  # fmt: skip


def _story(plan: PlanDocument, width: float, *, prices: bool) -> list[Flowable]:
    story: list[Flowable] = _gate(plan)
    drawn = False
    for film in plan.films:
        for stock in (stock for stock in film.stocks if stock.used_mm > 0):
            if drawn:
                story.append(PageBreak())
            # What is held back stands on the first page too: its drawing is lower by as much.
            tallest = (92 if drawn else max(62, 84 - 9 * len(plan.held))) * mm
            drawn = True
            story += _stock_pages(film, stock, width, tallest=tallest, prices=prices)
        story += _unplaced(film)
    if not drawn:
        story.append(
            Paragraph("Nothing to cut: no film is chosen, or nothing is ready.", _style("empty", 16, bold=True))
        )
    if plan.notes:
        story += [Spacer(1, 4 * mm), KeepTogether(_notes(plan))]
    if plan.verdicts:
        story += [
            Spacer(1, 5 * mm),
            KeepTogether([Paragraph("Darkness and law", _style("law", 13, bold=True)), _law_table(plan, width)]),
        ]
    return story


def _notes(plan: PlanDocument) -> list[Flowable]:
    """What the survey found that counts at the knife."""
    lines: list[Flowable] = [Paragraph("Found at the survey", _style("notes", 13, bold=True))]
    for note in plan.notes:
        words = f"<b>{escape(note.label)}.</b> {escape(note.found)}: {escape(note.words)}. {escape(note.caution)}"
        lines.append(Paragraph(words, _style("note", 10.5, before=2)))
    return lines


def _gate(plan: PlanDocument) -> list[Flowable]:
    """How many windows are ready, and each that is held back with its reason: first, before any drawing."""
    lines: list[Flowable] = []
    if plan.ready:
        lines.append(Paragraph(escape(plan.ready), _style("ready", 15, bold=True)))
    for held in plan.held:
        words = f"<b>Held back: {escape(held.label)}.</b> {escape(held.reason)}"
        lines.append(Paragraph(words, _style("held", 10.5, before=2)))
    return [*lines, Spacer(1, 3 * mm)] if lines else []


def _kept(film: FilmPlan, stock: PlanStock) -> list[Flowable]:
    """What goes back on the rack, with the label to write on it."""
    kept = [rest for rest in film.leftovers if rest.stock_id == stock.id and rest.label]
    if not kept:
        return []
    words = "; ".join(
        f"<b>{escape(rest.label)}</b>, {format_inches(rest.across_mm)} × {format_inches(rest.along_mm)} in"
        + (f", in one piece: it is {escape(rest.use)}" if rest.use else "")
        for rest in kept
    )
    return [Paragraph(f"Keep, and label: {words}", _style("kept", 12, before=4))]


def _stock_pages(film: FilmPlan, stock: PlanStock, width: float, *, tallest: float, prices: bool) -> list[Flowable]:
    pieces = [piece for piece in film.pieces if piece.stock_id == stock.id]
    cuts = [cut for cut in film.cuts if cut.stock_id == stock.id]
    order = "Pull" if stock.kind == "roll" else "Take"
    pulls = [cut.at_mm for cut in cuts if cut.kind == "across_roll"] if stock.kind == "roll" else []
    lengths = ", then ".join(f"{format_inches(one)} in" for one in (pulls if len(pulls) > 1 else [stock.used_mm]))
    headline = f"{order} {lengths} from {escape(stock.label)}"
    facts = (
        f"{escape(film.film_name)} · {format_inches(stock.width_mm)} in wide"
        f"{f' · lot {escape(stock.lot)}' if stock.lot else ''} · <b>{escape(stock.facing.upper())}</b> · "
        f"{_standing(film, prices=prices)}"
    )
    return [
        Paragraph(headline, _style("headline", 24, bold=True)),
        Paragraph(facts, _style("facts", 11)),
        Spacer(1, 2 * mm),
        StockDrawing(film, stock, width, tallest=tallest),
        *_kept(film, stock),
        Spacer(1, 3 * mm),
        _cut_table(cuts, width),
        Spacer(1, 3 * mm),
        _piece_table(pieces, width),
    ]


def _standing(film: FilmPlan, *, prices: bool) -> str:
    score = film.score
    cost = f"film ${score.new_film:.2f} · " if prices else ""
    proof = "least cost, proven within three-stage knife cuts" if film.proven else "best found, not proven"
    return f"{cost}{score.yield_percent:.0f} % of it on the car · {proof}"


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
                ("TEXTCOLOR", (0, 0), (-1, -1), INK),
                ("LINEBELOW", (0, 0), (-1, -1), 0.4, RULE),
                ("BACKGROUND", (0, 0), (-1, 0), SHADE),
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
        pair = piece.twin_words
        edge = ", factory edge at the foot" if piece.factory_edge else ""
        if piece.play_mm is not None:
            edge += f", only {format_inches(piece.play_mm)} in of play each side"
        size = f"{format_inches(piece.along_mm)} × {format_inches(piece.across_mm)}"
        lies = Paragraph(_TURNS.get(piece.turn, f"turned {piece.turn:g}°") + edge, body)
        named = escape(piece.label) + (f" <b>{escape(piece.unlawful.split(';')[0])}</b>" if piece.unlawful else "")
        rows.append([piece.mark, Paragraph(named, body), piece.side, size, lies, Paragraph(pair, body)])
        if piece.kind == "pattern":
            words = f"{_TURNS.get(piece.turn, '')}, {piece.drawn_as}. Cut line: {escape(piece.allowance_words)}"
            lies = Paragraph(words, body)
            rows[-1][4] = lies
    shares = [0.06, 0.18, 0.09, 0.19, 0.32, 0.16]
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
        doubt = " The answer hangs on fields nobody has confirmed." if verdict.unconfirmed else ""
        if verdict.tolerance_points is not None and verdict.limit_percent is not None:
            doubt += (
                f" Under the limit of {verdict.limit_percent:g} %, within the {verdict.tolerance_points:g} points "
                "that the law grants the meter."
            )
        if verdict.unmetered:
            doubt += f" {verdict.unmetered}."
        if verdict.others:
            doubt += f" Also: {verdict.others}."
        if verdict.goes_on:
            doubt += f" NOT LAWFUL AS IT STANDS. Goes on by the lead's reason: {verdict.reason}."
        elif verdict.reason:
            doubt += f" On record: {verdict.reason}."
        rows.append(
            [
                Paragraph(escape(verdict.label), body),
                Paragraph(escape(verdict.film_name or ""), body),
                passes,
                Paragraph(f"<b>{escape(verdict.word or '')}</b><br/>{escape(verdict.state or '')}", body),
                Paragraph(escape(verdict.sentence + doubt), body),
                Paragraph(escape(verdict.citation), body),
            ]
        )
    return _table(rows, [width * share for share in (0.13, 0.14, 0.12, 0.1, 0.33, 0.18)])
