"""URLs of films and stock."""

from __future__ import annotations

from typing import Any

from elumbra.api.base.bodies import IdPath, PaperQuery, VersionBody
from elumbra.api.base.roles import BENCH, EVERYONE, HANDS, LEAD, allow
from elumbra.api.rack import lists, operations, recounts, stock_page
from elumbra.api.rack.schemas import (
    BinBody,
    CodePath,
    FilmChange,
    FilmFields,
    FilmPage,
    FoundOut,
    FullRollBody,
    GirthQuery,
    LabelQuery,
    OffcutsOut,
    PurchaseOut,
    RackOut,
    RecountOut,
    SlitBody,
    StockChange,
    StockNew,
    StockPage,
    UsedOut,
)
from elumbra.api.web import ERRORS, Blueprint, Response, acting, answer, download, read, write
from elumbra.documents.paper import table_pdf
from elumbra.documents.stock_labels import stock_labels_pdf
from elumbra.documents.table_csv import table_csv

bp = Blueprint("rack", __name__, url_prefix="/api")
_BINARY = {"schema": {"type": "string", "format": "binary"}}
_PDF: dict[Any, Any] = {200: {"content": {"application/pdf": _BINARY}}}
_CSV: dict[Any, Any] = {200: {"content": {"text/csv": {"schema": {"type": "string"}}}}}


@bp.get("/rack", responses={200: RackOut, **ERRORS})
@allow(EVERYONE)
def get_rack() -> Response:
    """All films and all stock."""
    return answer(read(operations.rack))


@bp.post("/films", responses={201: RackOut, **ERRORS})
@allow(LEAD)
def create_film(body: FilmFields) -> Response:
    """A new film."""
    write(lambda session: operations.create_film(session, body, person_id=acting().id))
    return answer(read(operations.rack), 201)


@bp.put("/films/<string:id>", responses={200: RackOut, **ERRORS})
@allow(LEAD)
def change_film(path: IdPath, body: FilmChange) -> Response:
    """A film's new data."""
    write(lambda session: operations.change_film(session, path.id, body, person_id=acting().id))
    return answer(read(operations.rack))


@bp.get("/films/<string:id>", responses={200: FilmPage, **ERRORS})
@allow(EVERYONE)
def film_page(path: IdPath) -> Response:
    """What a film does, and how its figure has held on cars."""
    return answer(read(lambda session: operations.film_page(session, path.id)))


@bp.post("/installed-readings/<string:id>/remove", responses={200: FilmPage, **ERRORS})
@allow(LEAD)
def remove_reading(path: IdPath, body: VersionBody) -> Response:
    """Strike a reading after installation."""
    film_id = write(
        lambda session: operations.remove_reading(session, path.id, version=body.version, person_id=acting().id)
    )
    return answer(read(lambda session: operations.film_page(session, film_id)))


@bp.post("/stock", responses={201: RackOut, **ERRORS})
@allow(BENCH)
def create_stock(body: StockNew) -> Response:
    """A new roll, offcut or sheet."""
    write(lambda session: operations.create_stock(session, body, person_id=acting().id))
    return answer(read(operations.rack), 201)


@bp.put("/stock/<string:id>", responses={200: RackOut, **ERRORS})
@allow(HANDS)
def change_stock(path: IdPath, body: StockChange) -> Response:
    """New data of a roll, offcut or sheet."""
    write(lambda session: operations.change_stock(session, path.id, body, person_id=acting().id))
    return answer(read(operations.rack))


@bp.post("/stock/<string:id>/slit", responses={200: RackOut, **ERRORS})
@allow(HANDS)
def slit_stock(path: IdPath, body: SlitBody) -> Response:
    """Slit a roll along its length into two."""
    write(lambda session: operations.slit_stock(session, path.id, body, person_id=acting().id))
    return answer(read(operations.rack))


@bp.post("/stock/<string:id>/bin", responses={200: RackOut, **ERRORS})
@allow(HANDS)
def bin_stock(path: IdPath, body: BinBody) -> Response:
    """Throw away what is left of a piece of stock."""
    write(lambda session: operations.bin_stock(session, path.id, body, person_id=acting().id))
    return answer(read(operations.rack))


@bp.get("/stock/<string:id>", responses={200: StockPage, **ERRORS})
@allow(EVERYONE)
def get_stock(path: IdPath) -> Response:
    """A piece of stock with its ledger."""
    return answer(read(lambda session: stock_page.stock_page(session, path.id)))


@bp.get("/stock/<string:id>/recount", responses={200: RecountOut, **ERRORS})
@allow(EVERYONE)
def recount(path: IdPath, query: GirthQuery) -> Response:
    """What a tape round a roll tells of its length; nothing is written."""
    return answer(read(lambda session: recounts.recounted(session, path.id, query)))


@bp.post("/films/<string:id>/full-rolls", responses={201: FilmPage, **ERRORS})
@allow(BENCH)
def full_roll_read(path: IdPath, body: FullRollBody) -> Response:
    """A tape round a full roll, to know the film's thickness by."""
    write(lambda session: recounts.full_roll_read(session, path.id, body, person=acting()))
    return answer(read(lambda session: operations.film_page(session, path.id)), 201)


@bp.post("/full-rolls/<string:id>/remove", responses={200: FilmPage, **ERRORS})
@allow(BENCH)
def strike_full_roll(path: IdPath, body: VersionBody) -> Response:
    """Take a full roll's reading out of the calibration."""
    film_id = write(
        lambda session: recounts.strike_full_roll(session, path.id, version=body.version, person_id=acting().id)
    )
    return answer(read(lambda session: operations.film_page(session, film_id)))


@bp.get("/codes/<string:code>", responses={200: FoundOut, **ERRORS})
@allow(EVERYONE)
def find_code(path: CodePath) -> Response:
    """The piece of stock that a label's code is on."""
    return answer(read(lambda session: stock_page.find_code(session, path.code)))


@bp.get("/labels.pdf", responses={**_PDF, **ERRORS})
@allow(EVERYONE)
def labels(query: LabelQuery) -> Response:
    """Labels for pieces of stock."""
    ids = [one for one in query.ids.split(",") if one]
    made = read(lambda session: stock_page.labels(session, ids))
    return download(stock_labels_pdf(made, on=query.on), name="labels.pdf", mimetype="application/pdf")


@bp.get("/rack/offcuts", responses={200: OffcutsOut, **ERRORS})
@allow(EVERYONE)
def offcuts() -> Response:
    """What each offcut and sheet can still become."""
    return answer(read(stock_page.offcuts))


@bp.get("/rack/purchase", responses={200: PurchaseOut, **ERRORS})
@allow(EVERYONE, money=True)
def purchase() -> Response:
    """What to buy for the booked jobs."""
    return answer(read(lists.purchase_list))


@bp.get("/rack/purchase.csv", responses={**_CSV, **ERRORS})
@allow(EVERYONE, money=True)
def purchase_csv() -> Response:
    """What to buy, as CSV."""
    rows = lists.purchase_rows(read(lists.purchase_list))
    return download(table_csv(lists.PURCHASE_COLUMNS, rows), name="to-buy.csv", mimetype="text/csv")


@bp.get("/rack/purchase.pdf", responses={**_PDF, **ERRORS})
@allow(EVERYONE, money=True)
def purchase_pdf(query: PaperQuery) -> Response:
    """What to buy, as PDF."""
    rows = lists.purchase_rows(read(lists.purchase_list))
    told = "From the newest cut plan of every booked job. Lengths in inches."
    pdf = table_pdf("Film to buy", told, lists.PURCHASE_COLUMNS, rows, paper=query.paper)
    return download(pdf, name="to-buy.pdf", mimetype="application/pdf")


@bp.get("/rack/used", responses={200: UsedOut, **ERRORS})
@allow(EVERYONE, money=True)
def used() -> Response:
    """Film used and wasted by job."""
    return answer(read(lists.film_used))


@bp.get("/rack/used.csv", responses={**_CSV, **ERRORS})
@allow(EVERYONE, money=True)
def used_csv() -> Response:
    """Film used and wasted by job, as CSV."""
    rows = lists.used_rows(read(lists.film_used))
    return download(table_csv(lists.USED_COLUMNS, rows), name="film-used.csv", mimetype="text/csv")
