"""URLs of films and stock."""

from __future__ import annotations

from elumbra.api.base.bodies import IdPath, VersionBody
from elumbra.api.base.roles import BENCH, EVERYONE, LEAD, allow
from elumbra.api.rack import operations
from elumbra.api.rack.schemas import FilmChange, FilmFields, FilmPage, RackOut, SlitBody, StockChange, StockNew
from elumbra.api.web import ERRORS, Blueprint, Response, acting, answer, read, write

bp = Blueprint("rack", __name__, url_prefix="/api")


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


@bp.post("/films/<string:id>/remove", responses={200: RackOut, **ERRORS})
@allow(LEAD)
def remove_film(path: IdPath, body: VersionBody) -> Response:
    """Take a film off file."""
    write(lambda session: operations.remove_film(session, path.id, version=body.version, person_id=acting().id))
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
@allow(BENCH)
def change_stock(path: IdPath, body: StockChange) -> Response:
    """New data of a roll, offcut or sheet."""
    write(lambda session: operations.change_stock(session, path.id, body, person_id=acting().id))
    return answer(read(operations.rack))


@bp.post("/stock/<string:id>/slit", responses={200: RackOut, **ERRORS})
@allow(BENCH)
def slit_stock(path: IdPath, body: SlitBody) -> Response:
    """Slit a roll along its length into two."""
    write(lambda session: operations.slit_stock(session, path.id, body, person_id=acting().id))
    return answer(read(operations.rack))


@bp.post("/stock/<string:id>/remove", responses={200: RackOut, **ERRORS})
@allow(BENCH)
def remove_stock(path: IdPath, body: VersionBody) -> Response:
    """Take stock off the rack."""
    write(lambda session: operations.remove_stock(session, path.id, version=body.version, person_id=acting().id))
    return answer(read(operations.rack))


@bp.post("/stock/<string:id>/restore", responses={200: RackOut, **ERRORS})
@allow(BENCH)
def restore_stock(path: IdPath, body: VersionBody) -> Response:
    """Put stock back on the rack."""
    write(lambda session: operations.restore_stock(session, path.id, version=body.version, person_id=acting().id))
    return answer(read(operations.rack))
