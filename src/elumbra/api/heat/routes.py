"""URLs of Heat."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from elumbra.api.base.bodies import IdPath
from elumbra.api.base.roles import EVERYONE, LEAD, allow
from elumbra.api.heat import operations
from elumbra.api.heat.papers import sheet_of
from elumbra.api.heat.schemas import (
    CarHeatOut,
    PartQuery,
    SchoolBody,
    SchoolOut,
    SheetQuery,
    ShrinkOut,
    ShrinkQuery,
    WaysOutOut,
)
from elumbra.api.heat.ways import ways_of
from elumbra.api.web import ERRORS, Blueprint, Response, acting, answer, download, read, write
from elumbra.documents.heat_sheet import pattern_drawing, wall_sheet_pdf
from elumbra.documents.outline_out import PaneDrawing, to_dxf, to_svg

bp = Blueprint("heat", __name__, url_prefix="/api")
_PDF: dict[Any, Any] = {200: {"content": {"application/pdf": {"schema": {"type": "string", "format": "binary"}}}}}
_SVG: dict[Any, Any] = {200: {"content": {"image/svg+xml": {"schema": {"type": "string"}}}}}
_DXF: dict[Any, Any] = {200: {"content": {"image/vnd.dxf": {"schema": {"type": "string"}}}}}


@bp.get("/windows/<string:id>/shrink", responses={200: ShrinkOut, **ERRORS})
@allow(EVERYONE)
def shrink(path: IdPath, query: ShrinkQuery) -> Response:
    """How film lies on a window's glass, as it was decided or as it is tried."""
    return answer(read(lambda session: operations.shrink_of(session, path.id, query)))


@bp.get("/windows/<string:id>/shrink/ways", responses={200: WaysOutOut, **ERRORS})
@allow(EVERYONE)
def ways(path: IdPath) -> Response:
    """Ways to get film onto it, with what each costs."""
    return answer(read(lambda session: ways_of(session, path.id)))


@bp.get("/jobs/<string:id>/shrink", responses={200: CarHeatOut, **ERRORS})
@allow(EVERYONE)
def whole_car(path: IdPath) -> Response:
    """Every window of a car at a glance."""
    return answer(read(lambda session: operations.car_heat(session, path.id)))


@bp.get("/windows/<string:id>/wall-sheet.pdf", responses={**_PDF, **ERRORS})
@allow(EVERYONE)
def wall_sheet(path: IdPath, query: SheetQuery) -> Response:
    """The wall sheet of a window."""
    sheet = read(lambda session: sheet_of(session, path.id, query.part))
    content = wall_sheet_pdf(sheet.title, sheet.label, sheet.view, paper=query.paper)
    return download(content, name=f"heat {sheet.label} {sheet.title}.pdf", mimetype="application/pdf", inline=True)


@bp.get("/windows/<string:id>/pattern.svg", responses={**_SVG, **ERRORS})
@allow(EVERYONE)
def pattern_svg(path: IdPath, query: PartQuery) -> Response:
    """The true pattern as a drawing, seen from outside."""
    return _pattern(path.id, query.part, to_svg, "svg", "image/svg+xml")


@bp.get("/windows/<string:id>/pattern.dxf", responses={**_DXF, **ERRORS})
@allow(EVERYONE)
def pattern_dxf(path: IdPath, query: PartQuery) -> Response:
    """The true pattern as DXF in millimetres, seen from outside."""
    return _pattern(path.id, query.part, to_dxf, "dxf", "image/vnd.dxf")


def _pattern(window_id: str, part: int, write_it: Callable[[PaneDrawing], bytes], ending: str, kind: str) -> Response:
    sheet = read(lambda session: sheet_of(session, window_id, part))
    return download(write_it(pattern_drawing(sheet.words, sheet.view)), name=f"{sheet.words}.{ending}", mimetype=kind)


@bp.get("/shrink-school", responses={200: SchoolOut, **ERRORS})
@allow(EVERYONE)
def school() -> Response:
    """How the shop shrinks, where it does not follow what is computed."""
    return answer(read(operations.school))


@bp.put("/shrink-school", responses={200: SchoolOut, **ERRORS})
@allow(LEAD)
def set_school(body: SchoolBody) -> Response:
    """Say how the shop shrinks."""
    write(lambda session: operations.set_school(session, body, person_id=acting().id))
    return answer(read(operations.school))
