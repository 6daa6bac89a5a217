"""The shop's price list: what a window costs by its kind and film, and what comes on top."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from fractions import Fraction
from math import floor
from types import MappingProxyType
from typing import Any

from elumbra.core.errors import CoreError
from elumbra.core.film import Construction
from elumbra.core.glass import WindowKind

MOST_CENTS = 10_000_000
_HUNDRED = 100


class PricedFor(StrEnum):
    """What a line is for."""

    FILM = "film"
    REMOVAL = "removal"
    EXTRA = "extra"  # further work that the survey found
    OWN = "own"  # typed by the shop: a discount, a courtesy
    TAX = "tax"


TAXABLE = frozenset(PricedFor) - {PricedFor.TAX}


class PriceError(CoreError):
    """A price that cannot be; ``fields`` names it."""


@dataclass(frozen=True)
class PriceList:
    """Prices in cents; factors by kind of film; tax in percent of what is taxed."""

    windows: Mapping[WindowKind, int]  # a whole pane with the plainest film
    strip: int  # a strip at the top of a windshield
    films: Mapping[Construction, float]  # factor on the window's price
    own_films: Mapping[str, float] = field(default_factory=dict)  # by film, in place of its kind's factor
    minute: int = _HUNDRED  # of further work that the survey found
    tax_percent: float = 0.0
    taxed: frozenset[PricedFor] = TAXABLE  # labor often is not: the shop says so
    tax_by_line: bool = False  # each line's tax is rounded, in place of the sum's
    own: bool = False  # the shop's, no longer ours

    def factor(self, film_id: str, construction: Construction) -> float:
        """What a film does to a window's price."""
        return self.own_films.get(film_id, self.films[construction])


def parse_prices(document: Mapping[str, Any], *, own: bool = False) -> PriceList:
    """A price list as it is kept: dollars, by name.

    Raises
    ------
    PriceError
        A kind of window or film without a price, or a price that is none.
    """
    fields: dict[str, str] = {}
    windows = {kind: _cents(document.get("windows", {}).get(kind.value), kind.value, fields) for kind in WindowKind}
    films = {
        one: _factor(document.get("films", {}).get(one.value), f"films.{one.value}", fields) for one in Construction
    }
    own_films = {
        str(name): _factor(value, f"own_films.{name}", fields)
        for name, value in (document.get("own_films") or {}).items()
    }
    strip = _cents(document.get("strip"), "strip", fields)
    minute = _cents(document.get("minute"), "minute", fields)
    tax = document.get("tax_percent", 0.0)
    if not isinstance(tax, int | float) or not 0 <= tax <= 50:
        fields["tax_percent"] = "Between 0 and 50 %."
    taxed = document.get("taxed", sorted(TAXABLE))
    if not isinstance(taxed, list) or not set(taxed) <= TAXABLE:
        fields["taxed"] = f"Any of {', '.join(sorted(TAXABLE))}."
        taxed = []
    if fields:
        name, sentence = next(iter(fields.items()))
        raise PriceError(f"{name.replace('_', ' ').replace('.', ' ')}: {sentence}", fields=fields)
    return PriceList(
        MappingProxyType(windows), strip, MappingProxyType(films), MappingProxyType(own_films), minute, float(tax),
        frozenset(PricedFor(one) for one in taxed), document.get("tax_by_line") is True, own,
    )  # fmt: skip


def _cents(value: Any, name: str, fields: dict[str, str]) -> int:
    if not isinstance(value, int | float) or isinstance(value, bool) or not 0 <= value * _HUNDRED <= MOST_CENTS:
        fields[name] = f"A price between 0 and {MOST_CENTS // _HUNDRED:,} $."
        return 0
    return round(value * _HUNDRED)


def _factor(value: Any, name: str, fields: dict[str, str]) -> float:
    if not isinstance(value, int | float) or isinstance(value, bool) or not 0 < value <= 20:
        fields[name] = "A factor over 0 and up to 20."
        return 1.0
    return float(value)


def half_away(exact: Fraction) -> int:
    """The nearest whole number, a half away from zero: how money is rounded.

    Examples
    --------
    >>> [half_away(Fraction(one, 2)) for one in (-3, -1, 1, 3, 4)]
    [-2, -1, 1, 2, 2]
    """
    return floor(abs(exact) + Fraction(1, 2)) * (1 if exact >= 0 else -1)


def dollars(cents: int) -> str:
    """Money as papers show it.

    Examples
    --------
    >>> dollars(125050), dollars(-500), dollars(0)
    ('$1,250.50', '-$5.00', '$0.00')
    """
    return f"{'-' if cents < 0 else ''}${abs(cents) / _HUNDRED:,.2f}"
