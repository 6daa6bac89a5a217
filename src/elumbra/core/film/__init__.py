"""Film products and the stock on the rack."""

from elumbra.core.film.codes import SHOP_LENGTH, SHOP_LETTERS, StockCode, parse_code
from elumbra.core.film.girth import FullRoll, Recount, check_full_roll, recount
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
from elumbra.core.film.stock import FACING, LinerSide, RackFacts, Stock, StockFacts, StockKind

__all__ = [
    "FACING",
    "PLAIN_COLOURS",
    "SHOP_LENGTH",
    "SHOP_LETTERS",
    "Colour",
    "Construction",
    "Film",
    "FilmFacts",
    "FullRoll",
    "LinerSide",
    "LotFigure",
    "RackFacts",
    "Recount",
    "Stock",
    "StockCode",
    "StockFacts",
    "StockKind",
    "VltBasis",
    "Warranty",
    "check_film",
    "check_full_roll",
    "colours_in",
    "parse_code",
    "recount",
    "reference_vlt",
]
