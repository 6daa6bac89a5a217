"""Pricing: the shop's price list, and quotes with versions.

Vocabulary
----------
scope
    What an accepted quote covers: by window, film and how much of the pane. Cut and Bay work from it.
own line
    What somebody typed: a discount, a courtesy, something that is on no list.
"""

from elumbra.core.pricing.prices import PriceError, PriceList, dollars, parse_prices
from elumbra.core.pricing.quote import Line, OwnLine, PricedFor, changes, price_lines, scope_of, total

__all__ = [
    "Line",
    "OwnLine",
    "PriceError",
    "PriceList",
    "PricedFor",
    "changes",
    "dollars",
    "parse_prices",
    "price_lines",
    "scope_of",
    "total",
]
