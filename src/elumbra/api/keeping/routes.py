"""URLs of copies of the shop, for its owner."""

from __future__ import annotations

import tempfile
from pathlib import Path
from typing import Any

from elumbra.api.base.refusals import ApiError
from elumbra.api.base.roles import OWNER, allow
from elumbra.api.keeping import operations
from elumbra.api.keeping.operations import Keeper
from elumbra.api.keeping.schemas import CopyBody, KeepingBody, KeepingOut, RehearsalOut, RestoreBody, RestoredOut
from elumbra.api.web import ERRORS, Blueprint, Response, acting, answer, current_app, download, read, write
from elumbra.storage import clock
from elumbra.storage.database import Database
from elumbra.storage.whole_shop import export_shop

bp = Blueprint("keeping", __name__, url_prefix="/api/keeping")
_ZIP: dict[Any, Any] = {200: {"content": {"application/zip": {"schema": {"type": "string", "format": "binary"}}}}}


def _keeper() -> Keeper:
    found: Keeper | None = current_app.config.get("KEEPER")
    if found is None:
        raise ApiError("refused", "This server keeps no copies: it was started without a data folder.")
    return found


def _database() -> Database:
    database: Database = current_app.config["DATABASE"]
    return database


def _page() -> Response:
    keeper, database = _keeper(), _database()
    return answer(read(lambda session: operations.page(session, database, keeper)))


@bp.get("", responses={200: KeepingOut, **ERRORS})
@allow(OWNER)
def show_keeping() -> Response:
    """Copies, sizes and rules."""
    return _page()


@bp.put("", responses={200: KeepingOut, **ERRORS})
@allow(OWNER)
def set_keeping(body: KeepingBody) -> Response:
    """Where copies go besides."""
    write(lambda session: operations.set_second_folder(session, body, person_id=acting().id))
    return _page()


@bp.post("/copy", responses={200: KeepingOut, **ERRORS})
@allow(OWNER)
def copy_now() -> Response:
    """A copy by hand."""
    _keeper().copy_now()
    return _page()


@bp.post("/rehearse", responses={200: RehearsalOut, **ERRORS})
@allow(OWNER)
def rehearse_copy(body: CopyBody) -> Response:
    """What putting a copy back would give; nothing is touched."""
    return answer(operations.rehearse(_database(), _keeper(), body.name))


@bp.post("/restore", responses={200: RestoredOut, **ERRORS})
@allow(OWNER)
def restore_copy(body: RestoreBody) -> Response:
    """Put a copy in the place of the shop."""
    return answer(operations.restore(_database(), _keeper(), body))


@bp.get("/shop.zip", responses={**_ZIP, **ERRORS})
@allow(OWNER)
def whole_shop() -> Response:
    """The whole shop as open files."""
    keeper = _keeper()
    with tempfile.TemporaryDirectory(prefix="elumbra-shop-") as scratch:
        out = Path(scratch) / "shop.zip"
        export_shop(_database().path, keeper.photos, out)
        content = out.read_bytes()
    return download(content, name=f"elumbra shop {clock.today_iso()}.zip", mimetype="application/zip")
