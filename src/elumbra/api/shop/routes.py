"""URLs of starting values and of what pick lists need."""

from __future__ import annotations

from flask import Response
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel

from elumbra import __version__
from elumbra.api.answers import ERRORS, Body, answer
from elumbra.api.roles import ANYBODY, EVERYONE, LEAD, allow
from elumbra.api.shop import operations
from elumbra.api.shop.operations import PickLists, StartingValuesOut
from elumbra.api.unit_of_work import acting, db

bp = APIBlueprint("shop", __name__, url_prefix="/api")


class HealthOut(BaseModel):
    """The server is there."""

    ok: bool
    version: str


class NamePath(BaseModel):
    """The name of a starting value."""

    name: str


class ValueBody(Body):
    """The shop's own figure; null goes back to our starting value."""

    value: float | None


@bp.get("/health", responses={200: HealthOut})
@allow(ANYBODY)
def health() -> Response:
    """Whether the server is there."""
    return answer(HealthOut(ok=True, version=__version__))


@bp.get("/pick-lists", responses={200: PickLists, **ERRORS})
@allow(EVERYONE)
def pick_lists() -> Response:
    """Body styles and states."""
    return answer(operations.pick_lists(db()))


@bp.get("/starting-values", responses={200: StartingValuesOut, **ERRORS})
@allow(EVERYONE)
def list_starting_values() -> Response:
    """All figures with range and basis."""
    return answer(operations.starting_values(db()))


@bp.put("/starting-values/<string:name>", responses={200: StartingValuesOut, **ERRORS})
@allow(LEAD)
def set_starting_value(path: NamePath, body: ValueBody) -> Response:
    """Set the shop's own figure."""
    return answer(operations.set_value(db(), path.name, body.value, person_id=acting().id))
