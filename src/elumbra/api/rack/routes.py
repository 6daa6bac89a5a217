"""URLs of films and stock."""

from __future__ import annotations

from flask import Response
from flask_openapi3 import APIBlueprint

from elumbra.api.answers import ERRORS, IdPath, VersionBody, answer
from elumbra.api.rack import operations
from elumbra.api.rack.schemas import FilmChange, FilmFields, FilmPage, RackOut, StockChange, StockFields
from elumbra.api.roles import BENCH, EVERYONE, LEAD, allow
from elumbra.api.unit_of_work import acting, db

bp = APIBlueprint("rack", __name__, url_prefix="/api")


@bp.get("/rack", responses={200: RackOut, **ERRORS})
@allow(EVERYONE)
def get_rack() -> Response:
    """All films and all stock."""
    return answer(operations.rack(db()))


@bp.post("/films", responses={201: RackOut, **ERRORS})
@allow(LEAD)
def create_film(body: FilmFields) -> Response:
    """A new film."""
    return answer(operations.create_film(db(), body, person_id=acting().id), 201)


@bp.put("/films/<string:id>", responses={200: RackOut, **ERRORS})
@allow(LEAD)
def change_film(path: IdPath, body: FilmChange) -> Response:
    """A film's new data."""
    return answer(operations.change_film(db(), path.id, body, person_id=acting().id))


@bp.post("/films/<string:id>/remove", responses={200: RackOut, **ERRORS})
@allow(LEAD)
def remove_film(path: IdPath, body: VersionBody) -> Response:
    """Take a film off file."""
    return answer(operations.remove_film(db(), path.id, version=body.version, person_id=acting().id))


@bp.get("/films/<string:id>", responses={200: FilmPage, **ERRORS})
@allow(EVERYONE)
def film_page(path: IdPath) -> Response:
    """What a film does, and how its figure has held on cars."""
    return answer(operations.film_page(db(), path.id))


@bp.post("/installed-readings/<string:id>/remove", responses={200: FilmPage, **ERRORS})
@allow(LEAD)
def remove_reading(path: IdPath) -> Response:
    """Strike a reading after installation."""
    return answer(operations.remove_reading(db(), path.id, person_id=acting().id))


@bp.post("/stock", responses={201: RackOut, **ERRORS})
@allow(BENCH)
def create_stock(body: StockFields) -> Response:
    """A new roll, offcut or sheet."""
    return answer(operations.create_stock(db(), body, person_id=acting().id), 201)


@bp.put("/stock/<string:id>", responses={200: RackOut, **ERRORS})
@allow(BENCH)
def change_stock(path: IdPath, body: StockChange) -> Response:
    """New data of a roll, offcut or sheet."""
    return answer(operations.change_stock(db(), path.id, body, person_id=acting().id))


@bp.post("/stock/<string:id>/remove", responses={200: RackOut, **ERRORS})
@allow(BENCH)
def remove_stock(path: IdPath, body: VersionBody) -> Response:
    """Take stock off the rack."""
    return answer(operations.remove_stock(db(), path.id, version=body.version, person_id=acting().id))


@bp.post("/stock/<string:id>/restore", responses={200: RackOut, **ERRORS})
@allow(BENCH)
def restore_stock(path: IdPath, body: VersionBody) -> Response:
    """Put stock back on the rack."""
    return answer(operations.restore_stock(db(), path.id, version=body.version, person_id=acting().id))
