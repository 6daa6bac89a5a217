"""Shares of shrink in words, alike on screens and papers."""

from __future__ import annotations

from elumbra.core.shrink import Interval

_MANY, _SOME = 9.95, 0.95  # percent: told to whole ones, to tenths, else to hundredths


def percent(share: float) -> str:
    """A share as percent, to two figures.

    Examples
    --------
    >>> percent(0.0143), percent(0.0004), percent(0.12), percent(0.03)
    ('1.4', '0.04', '12', '3')
    """
    return f"{100 * share:.{_digits(share)}f}".removesuffix(".0")


def _digits(share: float) -> int:
    """After the point: none from ten percent, one from one percent, else two."""
    return 0 if 100 * share >= _MANY else 1 if 100 * share >= _SOME else 2


def interval_words(shrink: Interval) -> str:
    """A shrink with its interval, as it stands on screens and papers.

    Examples
    --------
    >>> interval_words(Interval(0.014, 0.012, 0.016))
    '1.4 % (1.2 to 1.6)'
    >>> interval_words(Interval(0.033, 0.03, 0.036))
    '3.3 % (3.0 to 3.6)'
    """
    digits = _digits(shrink.value)
    value, low, high = (f"{100 * share:.{digits}f}" for share in (shrink.value, shrink.low, shrink.high))
    return f"{value} % ({low} to {high})"
