"""Taking old film off, on paper: what it costs, what it risks, and the customer's signature."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from io import BytesIO

from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.platypus import Flowable, Paragraph, SimpleDocTemplate, Spacer, Table, TableStyle

from elumbra.documents.cut_drawing import RULE
from elumbra.documents.paper import Paper, marked, register_fonts
from elumbra.documents.sheet import SignatureBox


@dataclass(frozen=True)
class RemovalRow:
    """One window of the quote."""

    label: str
    way: str
    clean: str
    lines: str  # risk that a defroster line lifts
    price: str


_RISKS = (
    (
        "Old film is two layers under glue. It may come off in one, in pieces, or leave a layer or glue that is then "
        "scraped. The price is a range because nobody can see that beforehand."
    ),
    (
        "Defroster and antenna lines are printed on the glass. They can lift with old film however carefully it is "
        "taken off; a lifted line is not put back. The worst case is a new back glass, which the owner bears unless "
        "agreed otherwise here."
    ),
    (
        "Scratches and stains that old film covered show when it is off. The bare glass is metered anew, and what the "
        "law allows on it may change."
    ),
)


def removal_pdf(
    title: str,
    customer: str,
    rows: Sequence[RemovalRow],
    *,
    total: str,
    signed: str = "",
    strokes: Sequence[Sequence[Sequence[float]]] = (),
    paper: Paper = Paper.LETTER,
) -> bytes:
    """Quote and acknowledgement in one.

    Parameters
    ----------
    title, customer
        Job and car; whose it is.
    rows
        Windows.
    total
        Price of all that is still on, in words.
    signed
        Who acknowledged it and how; empty leaves a line to sign on.
    strokes
        A signature from a screen, as lines of points, each 0 to 1 across and down.
    paper
        Letter or A4, upright.
    """
    register_fonts()
    buffer = BytesIO()
    document = SimpleDocTemplate(
        buffer, pagesize=LETTER if paper is Paper.LETTER else A4, title=f"Old film {title}", author="Elumbra",
        lang="en-US", leftMargin=18 * mm, rightMargin=18 * mm, topMargin=16 * mm, bottomMargin=16 * mm,
    )  # fmt: skip
    plain = ParagraphStyle("plain", fontName="Barlow-Medium", fontSize=10.5, leading=13.5)
    bold = ParagraphStyle("bold", parent=plain, fontName="Barlow-Bold")
    head = ParagraphStyle("head", parent=bold, fontSize=19, leading=24)
    story: list[Flowable] = [
        Paragraph("Taking old film off: price and risk", head),
        Paragraph(marked(f"{title}{f' · {customer}' if customer else ''}"), plain),
        Spacer(1, 4 * mm),
        _table(rows, document.width, plain, bold),
        Spacer(1, 3 * mm),
        Paragraph(f"All together {marked(total)}. Estimates of the shop; each is a range.", bold),
        Spacer(1, 4 * mm),
    ]
    for words in _RISKS:
        story += [Paragraph(words, plain), Spacer(1, 2 * mm)]
    story += [
        Paragraph("I have read this, I agree to the price and I bear the risk named above.", bold),
        Spacer(1, 4 * mm),
        SignatureBox(strokes, document.width * 0.6, 26 * mm),
        Paragraph(marked(signed) if signed else "Name, date, signature", plain),
        Spacer(1, 3 * mm),
        Paragraph("This paper informs; local law and what was agreed in writing come first.", plain),
    ]
    document.build(story)
    return buffer.getvalue()


def _table(rows: Sequence[RemovalRow], width: float, plain: ParagraphStyle, bold: ParagraphStyle) -> Table:
    cells = [[Paragraph(words, bold) for words in ("Window", "Way", "Clean peel", "A line lifts", "Price")]]
    cells += [
        [Paragraph(marked(words), plain) for words in (row.label, row.way, row.clean, row.lines, row.price)]
        for row in rows
    ]
    table = Table(cells, colWidths=[width * share for share in (0.25, 0.27, 0.16, 0.15, 0.17)], repeatRows=1)
    table.setStyle(TableStyle([("LINEBELOW", (0, 0), (-1, -1), 0.4, RULE), ("VALIGN", (0, 0), (-1, -1), "TOP")]))
    return table
