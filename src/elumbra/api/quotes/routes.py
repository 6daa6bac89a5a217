"""URLs of quotes."""

from __future__ import annotations

from typing import Any

from elumbra.api.base.bodies import IdPath, PaperQuery
from elumbra.api.base.roles import EVERYONE, LEAD, OWNER, TRUSTED, allow
from elumbra.api.car_view.letterhead import letterhead
from elumbra.api.quotes import operations
from elumbra.api.quotes.schemas import AcceptBody, OfferBody, PriceListBody, PriceListOut, QuoteOut, StartingPricesBody
from elumbra.api.web import ERRORS, Blueprint, Response, acting, answer, download, read, write

bp = Blueprint("quotes", __name__, url_prefix="/api")
_PDF: dict[Any, Any] = {200: {"content": {"application/pdf": {"schema": {"type": "string", "format": "binary"}}}}}


def _quote(job_id: str, status: int = 200) -> Response:
    return answer(read(lambda session: operations.quote_of(session, job_id)), status)


@bp.get("/jobs/<string:id>/quote", responses={200: QuoteOut, **ERRORS})
@allow(EVERYONE, money=True)
def show_quote(path: IdPath) -> Response:
    """What the car costs as it stands, and every version that was offered."""
    return _quote(path.id)


@bp.post("/jobs/<string:id>/quotes", responses={201: QuoteOut, **ERRORS})
@allow(EVERYONE, money=True)
def offer(path: IdPath, body: OfferBody) -> Response:
    """Offer the car as it stands."""
    return _quote(write(lambda session: operations.offer(session, path.id, body, person=acting())), 201)


@bp.post("/quotes/<string:id>/accept", responses={200: QuoteOut, **ERRORS})
@allow(TRUSTED, money=True)
def accept(path: IdPath, body: AcceptBody) -> Response:
    """The customer accepts a version."""
    return _quote(write(lambda session: operations.accept(session, path.id, body, person=acting())))


@bp.get("/quotes/<string:id>/paper.pdf", responses={**_PDF, **ERRORS})
@allow(EVERYONE, money=True)
def quote_paper(path: IdPath, query: PaperQuery) -> Response:
    """A version on paper."""
    name, content = read(
        lambda session: operations.quote_paper(session, path.id, query.paper, letterhead(session))
    )  # fmt: skip
    return download(content, name=f"{name}.pdf", mimetype="application/pdf", inline=True)


@bp.get("/price-list", responses={200: PriceListOut, **ERRORS})
@allow(EVERYONE, money=True)
def show_prices() -> Response:
    """The shop's price list."""
    return answer(read(operations.prices))


@bp.put("/price-list", responses={200: PriceListOut, **ERRORS})
@allow(LEAD, money=True)
def keep_prices(body: PriceListBody) -> Response:
    """Say the shop's prices."""
    write(lambda session: operations.keep_prices(session, body, person_id=acting().id))
    return answer(read(operations.prices))


@bp.post("/price-list/starting", responses={200: PriceListOut, **ERRORS})
@allow(OWNER, money=True)
def keep_starting_prices(body: StartingPricesBody) -> Response:
    """An owner's yes to the starting prices: they are the shop's own from now on."""
    write(lambda session: operations.keep_starting_prices(session, version=body.version, person_id=acting().id))
    return answer(read(operations.prices))
