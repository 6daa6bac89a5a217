"""URLs of the archive."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated

from pydantic import BaseModel, Field

from elumbra.api.archive import operations
from elumbra.api.archive.schemas import Archivable, ArchiveBody, ArchivedOut
from elumbra.api.base.roles import LEAD, allow
from elumbra.api.web import ERRORS, Blueprint, Response, acting, answer, read, write

bp = Blueprint("archive", __name__, url_prefix="/api")


class KindPath(BaseModel):
    """A kind of thing."""

    kind: Archivable


class ItemPath(KindPath):
    """One thing of a kind."""

    id: Annotated[str, Field(min_length=1, max_length=64)]


@bp.get("/archive/<string:kind>", responses={200: ArchivedOut, **ERRORS})
@allow(LEAD)
def show_archived(path: KindPath) -> Response:
    """All of a kind that is in the archive."""
    return answer(read(lambda session: operations.archived(session, path.kind)))


@bp.post("/archive/<string:kind>/<string:id>", responses={200: ArchivedOut, **ERRORS})
@allow(LEAD)
def archive_it(path: ItemPath, body: ArchiveBody) -> Response:
    """Take something out of its list."""
    return _changed(operations.archive, path, body.version)


@bp.post("/archive/<string:kind>/<string:id>/restore", responses={200: ArchivedOut, **ERRORS})
@allow(LEAD)
def restore_it(path: ItemPath, body: ArchiveBody) -> Response:
    """Bring something back to its list."""
    return _changed(operations.restore, path, body.version)


def _changed(change: Callable[..., str], path: ItemPath, version: int) -> Response:
    """Do it, and answer what is in the archive now."""
    write(lambda session: change(session, path.kind, path.id, version=version, person_id=acting().id))
    return answer(read(lambda session: operations.archived(session, path.kind)))
