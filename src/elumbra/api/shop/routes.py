"""URLs of starting values and of what pick lists need."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field

from elumbra import __version__
from elumbra.api.base.bodies import Body, Version
from elumbra.api.base.roles import ANYBODY, EVERYONE, LEAD, allow
from elumbra.api.shop import operations
from elumbra.api.shop.operations import PickLists, StartingValuesOut, UnmeteredOut, WaysOut
from elumbra.api.web import ERRORS, Blueprint, Response, acting, answer, read, write
from elumbra.core.cut import CutMethod
from elumbra.core.work import Unmetered

bp = Blueprint("shop", __name__, url_prefix="/api")


class HealthOut(BaseModel):
    """The server is there."""

    ok: bool
    version: str


class NamePath(BaseModel):
    """The name of a starting value."""

    name: Annotated[str, Field(min_length=1, max_length=64)]


class ValueBody(Body):
    """The shop's own figure; null goes back to our starting value."""

    value: Annotated[float, Field(ge=-1e9, le=1e9)] | None
    version: Version  # of the shop's own figure that was looked at; 0 while there never was one


class HomeBody(Body):
    """The states whose law new jobs are judged by."""

    states: Annotated[list[str], Field(min_length=1, max_length=6)]
    version: Version  # of the setting that was looked at; 0 while it was never said


class ShopWayBody(Body):
    """How the shop cuts."""

    way: CutMethod
    version: Version  # of the setting that was looked at; 0 while it was never said


class UnmeteredBody(Body):
    """What the shop does before it cuts film for glass that nobody metered."""

    does: Unmetered
    version: Version  # of the setting that was looked at; 0 while it was never said


class OwnWayBody(Body):
    """How one cuts oneself; null: as the shop."""

    way: CutMethod | None
    version: Version


@bp.get("/health", responses={200: HealthOut, **ERRORS})
@allow(ANYBODY)
def health() -> Response:
    """Whether the server is there."""
    return answer(HealthOut(ok=True, version=__version__))


@bp.get("/pick-lists", responses={200: PickLists, **ERRORS})
@allow(EVERYONE)
def pick_lists() -> Response:
    """Body styles and states."""
    return answer(read(operations.pick_lists))


@bp.put("/home-states", responses={200: PickLists, **ERRORS})
@allow(LEAD)
def set_home(body: HomeBody) -> Response:
    """Say where the shop is: whose law new jobs are judged by."""
    write(
        lambda session: operations.set_home(session, body.states, version=body.version, person_id=acting().id)
    )  # fmt: skip
    return answer(read(operations.pick_lists))


@bp.get("/ways-of-cutting", responses={200: WaysOut, **ERRORS})
@allow(EVERYONE)
def ways_of_cutting() -> Response:
    """How new jobs are cut unless somebody says otherwise."""
    return _ways()


@bp.put("/ways-of-cutting/shop", responses={200: WaysOut, **ERRORS})
@allow(LEAD)
def set_shop_way(body: ShopWayBody) -> Response:
    """Say how the shop cuts."""
    write(lambda session: operations.set_shop_way(session, body.way, version=body.version, person_id=acting().id))
    return _ways()


@bp.put("/ways-of-cutting/own", responses={200: WaysOut, **ERRORS})
@allow(EVERYONE)
def set_own_way(body: OwnWayBody) -> Response:
    """Say how one cuts oneself."""
    write(lambda session: operations.set_own_way(session, body.way, version=body.version, person_id=acting().id))
    return _ways()


def _ways() -> Response:
    return answer(read(lambda session: operations.ways(session, person_id=acting().id)))


@bp.get("/unmetered-glass", responses={200: UnmeteredOut, **ERRORS})
@allow(EVERYONE)
def show_unmetered() -> Response:
    """What the shop does before it cuts film for glass that nobody metered."""
    return answer(read(operations.unmetered))


@bp.put("/unmetered-glass", responses={200: UnmeteredOut, **ERRORS})
@allow(LEAD)
def set_unmetered(body: UnmeteredBody) -> Response:
    """Say what the shop does before it cuts film for glass that nobody metered."""
    write(lambda session: operations.set_unmetered(session, body.does, version=body.version, person_id=acting().id))
    return answer(read(operations.unmetered))


@bp.get("/starting-values", responses={200: StartingValuesOut, **ERRORS})
@allow(EVERYONE)
def list_starting_values() -> Response:
    """All figures with range and basis."""
    return answer(read(operations.starting_values))


@bp.put("/starting-values/<string:name>", responses={200: StartingValuesOut, **ERRORS})
@allow(LEAD)
def set_starting_value(path: NamePath, body: ValueBody) -> Response:
    """Set the shop's own figure."""
    write(
        lambda session: operations.set_value(
            session, path.name, body.value, version=body.version, person_id=acting().id
        )
    )
    return answer(read(operations.starting_values))
