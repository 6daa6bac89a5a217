"""Tables as CSV that a spreadsheet opens: no cell of them is worked out by it."""

from __future__ import annotations

import csv
from collections.abc import Sequence
from io import StringIO

_WORKED_OUT = ("=", "+", "-", "@", "\t", "\r", "\n", "＝", "＋", "－", "＠")


def table_csv(columns: Sequence[str], rows: Sequence[Sequence[str]]) -> bytes:
    """A table as CSV, UTF-8 with its mark; text that a spreadsheet would work out stays text."""
    buffer = StringIO()
    writer = csv.writer(buffer)
    writer.writerow(columns)
    writer.writerows([[as_text(cell) for cell in row] for row in rows])
    return buffer.getvalue().encode("utf-8-sig")


def as_text(cell: str) -> str:
    """A cell that stays what it says; figures below nothing stay figures.

    Examples
    --------
    >>> as_text("=1+1"), as_text("-5.25"), as_text("-2+3"), as_text("plain")
    ("'=1+1", '-5.25', "'-2+3", 'plain')
    """
    if cell[:1] not in _WORKED_OUT or _is_figure(cell):
        return cell
    return f"'{cell}"


def _is_figure(cell: str) -> bool:
    return cell[:1] == "-" and cell[1:].replace(".", "", 1).isdigit() and cell.isascii()
