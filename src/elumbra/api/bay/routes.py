"""URLs of the bay."""

from __future__ import annotations

from typing import Any

from elumbra.api.base.bodies import IdPath
from elumbra.api.base.roles import BENCH, EVERYONE, LEAD, allow
from elumbra.api.bay import operations, thermometer
from elumbra.api.bay.papers import card_of
from elumbra.api.bay.schemas import (
    BayOut,
    BayQuery,
    CardQuery,
    EventsBody,
    OwnSchoolsBody,
    SchoolsOut,
    ShopSchoolsBody,
    ThermometerAddress,
    ThermometerOut,
)
from elumbra.api.bay.view import bay_of
from elumbra.api.web import ERRORS, Blueprint, Response, acting, answer, download, read, write

bp = Blueprint("bay", __name__, url_prefix="/api")
_PDF: dict[Any, Any] = {200: {"content": {"application/pdf": {"schema": {"type": "string", "format": "binary"}}}}}


@bp.get("/jobs/<string:id>/bay", responses={200: BayOut, **ERRORS})
@allow(EVERYONE)
def show_bay(path: IdPath, query: BayQuery) -> Response:
    """The work of one car: every run with all it needs, so that it goes on without the server."""
    person = acting()
    return answer(read(lambda session: bay_of(session, path.id, person=person, unit=query.unit)))


@bp.post("/jobs/<string:id>/bay/events", responses={200: BayOut, **ERRORS})
@allow(BENCH)
def note_events(path: IdPath, body: EventsBody) -> Response:
    """Keep what happened on a screen; sent twice, it is kept once."""
    person, noted = acting(), operations.Noted()

    def do(session: Any) -> str:
        found = operations.note(session, path.id, body, person=person)
        noted.told, noted.refused = found.told, found.refused
        return path.id

    write(do)
    return answer(
        read(
            lambda session: bay_of(
                session, path.id, person=person, unit=body.unit, told=noted.told, refused=noted.refused
            )
        )
    )


@bp.get("/jobs/<string:id>/job-card.pdf", responses={**_PDF, **ERRORS})
@allow(EVERYONE)
def job_card(path: IdPath, query: CardQuery) -> Response:
    """The whole run on paper."""
    person = acting()
    name, content = read(lambda session: card_of(session, path.id, query, person=person))
    return download(content, name=f"job card {name}.pdf", mimetype="application/pdf", inline=True)


@bp.get("/bay-schools", responses={200: SchoolsOut, **ERRORS})
@allow(EVERYONE)
def show_schools() -> Response:
    """How shop and person work where installers disagree."""
    return _schools()


@bp.put("/bay-schools/shop", responses={200: SchoolsOut, **ERRORS})
@allow(LEAD)
def set_shop_schools(body: ShopSchoolsBody) -> Response:
    """Say how the shop works."""
    write(lambda session: operations.set_shop_schools(session, body, person_id=acting().id))
    return _schools()


@bp.put("/bay-schools/own", responses={200: SchoolsOut, **ERRORS})
@allow(EVERYONE)
def set_own_schools(body: OwnSchoolsBody) -> Response:
    """Say how one works oneself."""
    write(lambda session: operations.set_own_schools(session, body, person_id=acting().id))
    return _schools()


def _schools() -> Response:
    return answer(read(lambda session: operations.schools(session, acting().id)))


@bp.get("/thermometer", responses={200: ThermometerOut, **ERRORS})
@allow(EVERYONE)
def thermometer_state() -> Response:
    """What the thermometer reads."""
    return answer(thermometer.state(read(thermometer.address)))


@bp.put("/thermometer", responses={200: ThermometerOut, **ERRORS})
@allow(LEAD)
def set_thermometer(body: ThermometerAddress) -> Response:
    """Say where the thermometer is."""
    write(lambda session: thermometer.set_address(session, body.address, version=body.version, person_id=acting().id))
    return answer(thermometer.state(read(thermometer.address)))
