"""Film products and the stock on the rack."""

from elumbra.core.film.product import (
    PLAIN_COLOURS,
    Colour,
    Construction,
    Film,
    FilmFacts,
    LotFigure,
    VltBasis,
    Warranty,
    check_film,
    colours_in,
    reference_vlt,
)
from elumbra.core.film.stock import FACING, LinerSide, Stock, StockKind

__all__ = [
    "FACING",
    "PLAIN_COLOURS",
    "Colour",
    "Construction",
    "Film",
    "FilmFacts",
    "LinerSide",
    "LotFigure",
    "Stock",
    "StockKind",
    "VltBasis",
    "Warranty",
    "check_film",
    "colours_in",
    "reference_vlt",
]
