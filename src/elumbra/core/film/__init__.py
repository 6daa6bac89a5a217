"""Film products and the stock on the rack."""

from elumbra.core.film.product import Construction, Film, VltBasis, check_film
from elumbra.core.film.stock import FACING, LinerSide, Stock, StockKind

__all__ = ["FACING", "Construction", "Film", "LinerSide", "Stock", "StockKind", "VltBasis", "check_film"]
