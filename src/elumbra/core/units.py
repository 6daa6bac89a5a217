"""Lengths as an installer types and reads them, and as the core keeps them (mm).

A tape is read in inches and fractions down to sixty-fourths; ``3' 3 1/4`` is three feet
three and a quarter inches. The same rules run in the browser
(``frontend/src/shared/logic/length.ts``) against the same table of cases
(``tests/catalogue/lengths.json``); what this module says decides.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from fractions import Fraction
from math import ceil, isfinite

from elumbra.core.errors import LengthError

MM_PER_INCH = Fraction(254, 10)
INCHES_PER_FOOT = 12
TAPE_DENOMINATORS = (2, 4, 8, 16, 32, 64)
_ROUNDING = 1e-6  # of a division

_VULGAR = {
    "½": "1/2", "¼": "1/4", "¾": "3/4", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8", "⅞": "7/8",
}  # fmt: skip
_METRIC = re.compile(r"^(?P<number>\d+(?:\.\d+)?|\.\d+) ?(?P<unit>mm|cm|m)$")
_METRIC_FACTOR = {"mm": Fraction(1), "cm": Fraction(10), "m": Fraction(1000)}
_IMPERIAL = re.compile(
    r"^(?:(?P<feet>\d+(?:\.\d+)?|\.\d+) ?(?:'|ft|feet|foot)[ -]?)?"
    r"(?:(?:(?P<decimal>\d+\.\d*|\.\d+)"
    r"|(?P<whole>\d+)(?:[ -](?P<num>\d+)/(?P<den>\d+))?"
    r"|(?P<only_num>\d+)/(?P<only_den>\d+))"
    r" ?(?:\"|inches|inch|in)?)?$"
)
_MEND = "Type it as on the tape: 39 3/8, 3' 3 1/4, 39.375 or 1000 mm."


@dataclass(frozen=True)
class Length:
    """A length kept twice: as it was typed and in millimetres."""

    typed: str
    mm: float


def parse_length(text: str) -> Length:
    """Read a length as typed beside the car; a bare number is inches.

    Parameters
    ----------
    text
        For example ``39 3/8``, ``39-3/8"``, ``3' 3 1/4``, ``39.375``, ``1000 mm``.

    Returns
    -------
    Length
        The text as typed (outer blanks removed) and its exact value in mm, 0 or more.

    Raises
    ------
    LengthError
        The text is empty, negative, not a length, or uses a fraction no tape has.

    Examples
    --------
    >>> parse_length("39 3/8").mm
    1000.125
    >>> parse_length("3' 3 1/4").mm
    996.95
    >>> parse_length("6.5'").mm == parse_length("6.5 ft").mm == parse_length("78").mm
    True
    >>> parse_length("1000 mm").mm
    1000.0
    >>> parse_length("")
    Traceback (most recent call last):
        ...
    elumbra.core.errors.LengthError: No size typed. Type it as on the tape: 39 3/8, 3' 3 1/4, 39.375 or 1000 mm.
    """
    typed = text.strip()
    if not typed:
        raise LengthError(f"No size typed. {_MEND}")
    plain = _plain(typed)
    if plain.startswith("-"):
        raise LengthError(f"“{typed}” is negative; a size is more than nothing. {_MEND}")
    if metric := _METRIC.match(plain):
        value = Fraction(metric["number"]) * _METRIC_FACTOR[metric["unit"]]
        return Length(typed, float(value))
    imperial = _IMPERIAL.match(plain)
    if imperial is None or plain in {'"', "in"}:
        raise LengthError(f"“{typed}” is not a size. {_MEND}")
    return Length(typed, float(_inches(imperial, typed) * MM_PER_INCH))


def _plain(typed: str) -> str:
    plain = typed.lower().replace("−", "-").replace("–", "-")
    for vulgar, ascii_fraction in _VULGAR.items():
        plain = plain.replace(vulgar, f" {ascii_fraction}")
    for mark in ("''", "″", "”", "“"):
        plain = plain.replace(mark, '"')
    for mark in ("′", "’", "‘"):
        plain = plain.replace(mark, "'")
    plain = plain.replace("⁄", "/")
    plain = re.sub(r"\s*/\s*", "/", plain)
    return re.sub(r"\s+", " ", plain).strip()


def _inches(match: re.Match[str], typed: str) -> Fraction:
    feet = Fraction(match["feet"] or 0)
    inches = Fraction(0)
    if match["decimal"]:
        inches = Fraction(match["decimal"].rstrip("."))
    elif match["whole"]:
        inches = Fraction(match["whole"])
        if match["num"]:
            inches += _tape_fraction(match["num"], match["den"], typed)
    elif match["only_num"]:
        inches = _tape_fraction(match["only_num"], match["only_den"], typed)
    if feet.denominator != 1 and inches:
        raise LengthError(f"“{typed}” has a part of a foot and inches after it; type one or the other. {_MEND}")
    if match["feet"] and inches >= INCHES_PER_FOOT:
        raise LengthError(
            f"“{typed}” has {float(inches):g} inches after the feet; that part runs from 0 to under 12. {_MEND}"
        )
    return feet * INCHES_PER_FOOT + inches


def _tape_fraction(numerator: str, denominator: str, typed: str) -> Fraction:
    if int(denominator) not in TAPE_DENOMINATORS:
        raise LengthError(
            f"“{typed}” has a fraction in {denominator}ths; a tape has halves, 4ths, 8ths, 16ths, 32nds and 64ths."
        )
    fraction = Fraction(int(numerator), int(denominator))
    if fraction >= 1:
        raise LengthError(f"“{typed}” has a fraction of one inch or more; carry it into the inches.")
    return fraction


def format_inches(length_mm: float, *, denominator: int = 16) -> str:
    """A length as a tape shows it, rounded to the nearest division.

    Parameters
    ----------
    length_mm
        Length [mm]; negative lengths keep their sign.
    denominator
        Finest division of the tape: 2, 4, 8, 16, 32 or 64.

    Examples
    --------
    >>> format_inches(1000.125)
    '39 3/8'
    >>> format_inches(6.35)
    '1/4'
    >>> format_inches(0)
    '0'
    """
    sign = "-" if length_mm < 0 else ""
    steps = round(abs(length_mm) / float(MM_PER_INCH) * denominator)
    whole, rest = divmod(steps, denominator)
    if rest == 0:
        return f"{sign if whole else ''}{whole}"
    fraction = Fraction(rest, denominator)
    return f"{sign}{whole} {fraction}" if whole else f"{sign}{fraction}"


def up_to_sixteenth(length_mm: float) -> float:
    """A length rounded up to the sixteenth of an inch that the ruler shows [mm]; what is one already stays.

    Examples
    --------
    >>> format_inches(up_to_sixteenth(25.5))
    '1 1/16'
    """
    step = float(MM_PER_INCH) / 16
    return ceil(length_mm / step - _ROUNDING) * step if isfinite(length_mm) else length_mm


def inches(length_in: float) -> float:
    """Inches to mm, for figures that the trade states in inches.

    Examples
    --------
    >>> inches(1)
    25.4
    """
    return float(length_in) * float(MM_PER_INCH)
