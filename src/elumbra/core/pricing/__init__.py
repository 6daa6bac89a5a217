"""Pricing: the shop's price list, and quotes with versions.

Vocabulary
----------
scope
    What an accepted quote covers: by window, film and how much of the pane. Cut and Bay work from it.
own line
    What somebody typed: a discount, a courtesy, something that is on no list.
"""

from elumbra.core.pricing.prices import TAXABLE, PricedFor, PriceError, PriceList, dollars, parse_prices
from elumbra.core.pricing.quote import (
    Agreed,
    Line,
    OwnLine,
    changes,
    difference,
    price_lines,
    removal_line,
    scope_of,
    total,
)

__all__ = [
    "TAXABLE",
    "Agreed",
    "Line",
    "OwnLine",
    "PriceError",
    "PriceList",
    "PricedFor",
    "changes",
    "difference",
    "dollars",
    "parse_prices",
    "price_lines",
    "removal_line",
    "scope_of",
    "total",
]
