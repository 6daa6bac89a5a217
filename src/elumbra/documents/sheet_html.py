"""Papers as one HTML file that needs nothing else."""

from __future__ import annotations

import base64
from collections.abc import Sequence
from html import escape

from elumbra.documents.sheet import Block, Heading, Label, Letterhead, Picture, Rows, Sheet, Signed, Words

_POLICY = "default-src 'none'; img-src data:; style-src 'unsafe-inline'"
_CSS = """
:root{color-scheme:light}body{margin:0;background:#f4f0e8;color:#1d1a17;font:17px/1.45 system-ui,sans-serif}
main{max-width:46rem;margin:0 auto;padding:1.2rem}section{background:#fff;border:1px solid #b9b0a4;
padding:1.2rem 1.4rem;margin:0 0 1.2rem}
a{color:#6d3600}h1{font-size:1.9rem;margin:0}h2{font-size:1.5rem;margin:0 0 .2rem}
h3{margin:1.1rem 0 .3rem}table{border-collapse:collapse;width:100%;font-size:.95rem}th,td{text-align:left;
vertical-align:top;padding:.25rem .6rem .25rem 0;border-bottom:1px solid #cfc7bb}th{border-bottom:2px solid #1d1a17}
.large{font-size:1.45rem;font-weight:700;line-height:1.2}.label{border:2px solid #1d1a17;padding:.5rem .8rem;
max-width:24rem}img,svg{max-width:100%;height:auto}figure{margin:.6rem 0}
nav a{display:inline-block;margin:0 1rem .5rem 0}
@media print{body{background:#fff}section{border:0;break-after:page}nav{display:none}}
"""


def sheets_html(sheets: Sequence[Sheet], head: Letterhead, *, title: str, pdf: bytes | None = None) -> bytes:
    """Papers and pictures in one file that needs nothing else: no script, nothing fetched.

    Parameters
    ----------
    sheets, head
        What stands in it.
    title
        Its title.
    pdf
        The same papers to print, carried along.
    """
    parts = [
        "<!doctype html>",
        '<html lang="en"><head><meta charset="utf-8">',
        '<meta name="viewport" content="width=device-width, initial-scale=1">',
        f'<meta http-equiv="Content-Security-Policy" content="{_POLICY}">',
        f"<title>{escape(title)}</title><style>{_CSS}</style></head><body><main>",
        f"<header><h1>{escape(head.shop)}</h1>{''.join(f'<div>{escape(one)}</div>' for one in head.lines)}",
        f"<p>{escape(title)}</p></header><nav>",
        *(f'<a href="#s{i}">{escape(sheet.title)}</a>' for i, sheet in enumerate(sheets)),
    ]
    if pdf is not None:
        data = base64.b64encode(pdf).decode()
        parts.append(f'<a download="papers.pdf" href="data:application/pdf;base64,{data}">All papers as PDF</a>')
    parts.append("</nav>")
    for i, sheet in enumerate(sheets):
        parts.append(f'<section id="s{i}"><h2 dir="auto">{escape(sheet.title)}</h2>')
        parts.append(f'<p dir="auto">{escape(sheet.told)}</p>')
        parts += [_html(block) for block in sheet.blocks]
        parts.append("</section>")
    parts.append("</main></body></html>")
    return "\n".join(parts).encode()


def _html(block: Block) -> str:
    match block:
        case Heading(words):
            return f'<h3 dir="auto">{escape(words)}</h3>'
        case Words(words, strong, large):
            kind = ' class="large"' if large else ""
            text = escape(words)
            return f'<p dir="auto"{kind}>{f"<strong>{text}</strong>" if strong else text}</p>'
        case Rows(columns, rows):
            heads = "".join(f'<th scope="col">{escape(one)}</th>' for one in columns)
            body = "".join(
                "<tr>" + "".join(f'<td dir="auto">{escape(one)}</td>' for one in row) + "</tr>" for row in rows
            )
            return f"<table><thead><tr>{heads}</tr></thead><tbody>{body}</tbody></table>"
        case Picture(content, words):
            data = base64.b64encode(content).decode()
            text = escape(words)
            picture = f'<img alt="{text}" src="data:image/jpeg;base64,{data}">'
            return f"<figure>{picture}<figcaption>{text}</figcaption></figure>"
        case Signed(words, strokes):
            lines = "".join(
                f'<polyline points="{" ".join(f"{400 * x:.1f},{110 * y:.1f}" for x, y in stroke)}"/>'
                for stroke in strokes
            )
            pen = '<g fill="none" stroke="#1d1a17" stroke-width="2">'
            box = '<svg viewBox="0 0 400 110" width="400" role="img" aria-label="Signature">'
            drawn = f'{box}{pen}{lines}<path d="M0 108H400"/></g></svg>'
            return f'<figure>{drawn}<figcaption dir="auto">{escape(words)}</figcaption></figure>'
        case Label(lines):
            return f'<div class="label">{"<br>".join(escape(one) for one in lines)}</div>'
