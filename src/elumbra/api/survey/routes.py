"""URLs of windows."""

from __future__ import annotations

from elumbra.api.base.bodies import Id, IdPath, VersionBody
from elumbra.api.base.roles import BENCH, EVERYONE, LEAD, allow
from elumbra.api.car_view.schemas import JobOut
from elumbra.api.car_view.view import job_screen
from elumbra.api.survey import meter, operations, photos
from elumbra.api.survey.schemas import (
    MeterAddress,
    MeterIn,
    MeterOut,
    MeterStateOut,
    MoveIn,
    OpeningIn,
    PhotoIn,
    PhotoPath,
    PhotoQuery,
    WindowCreate,
    WindowPatch,
)
from elumbra.api.web import ERRORS, Blueprint, Response, acting, answer, download, read, write

bp = Blueprint("survey", __name__, url_prefix="/api")


@bp.post("/jobs/<string:id>/windows", responses={201: JobOut, **ERRORS})
@allow(BENCH)
def add_window(path: IdPath, body: WindowCreate) -> Response:
    """A further window."""
    job_id = write(lambda session: operations.add_window(session, path.id, body, person_id=acting().id))
    return answer(read(lambda session: job_screen(session, job_id)), 201)


@bp.patch("/windows/<string:id>", responses={200: JobOut, **ERRORS})
@allow(EVERYONE)
def change_window(path: IdPath, body: WindowPatch) -> Response:
    """Change a window or its readings."""
    job_id = write(lambda session: operations.change_window(session, path.id, body, person_id=acting().id))
    return answer(read(lambda session: job_screen(session, job_id)))


@bp.post("/windows/<string:id>/remove", responses={200: JobOut, **ERRORS})
@allow(BENCH)
def remove_window(path: IdPath, body: VersionBody) -> Response:
    """Take a window out of its job."""
    job_id = write(
        lambda session: operations.remove_window(session, path.id, version=body.version, person_id=acting().id)
    )
    return answer(read(lambda session: job_screen(session, job_id)))


@bp.post("/windows/<string:id>/restore", responses={200: JobOut, **ERRORS})
@allow(BENCH)
def restore_window(path: IdPath, body: VersionBody) -> Response:
    """Bring a removed window back."""
    job_id = write(
        lambda session: operations.restore_window(session, path.id, version=body.version, person_id=acting().id)
    )
    return answer(read(lambda session: job_screen(session, job_id)))


class OtherSideBody(VersionBody):
    """The window on the other side."""

    other_id: Id


@bp.post("/windows/<string:id>/as-other-side", responses={200: JobOut, **ERRORS})
@allow(EVERYONE)
def answer_as_other_side(path: IdPath, body: OtherSideBody) -> Response:
    """Answer every finding as the other side has it."""
    job_id = write(
        lambda session: operations.as_other_side(
            session, path.id, body.other_id, version=body.version, person_id=acting().id
        )
    )
    return answer(read(lambda session: job_screen(session, job_id)))


@bp.post("/windows/<string:id>/turn-over", responses={200: JobOut, **ERRORS})
@allow(EVERYONE)
def turn_over(path: IdPath, body: VersionBody) -> Response:
    """Take the readings for those of the mirror image."""
    job_id = write(lambda session: operations.turn_over(session, path.id, version=body.version, person_id=acting().id))
    return answer(read(lambda session: job_screen(session, job_id)))


@bp.post("/windows/<string:id>/move", responses={200: JobOut, **ERRORS})
@allow(EVERYONE)
def move_window(path: IdPath, body: MoveIn) -> Response:
    """One place earlier or later in the walkaround order."""
    job_id = write(
        lambda session: operations.move_window(
            session, path.id, by=body.by, version=body.version, person_id=acting().id
        )
    )
    return answer(read(lambda session: job_screen(session, job_id)))


@bp.post("/jobs/<string:id>/openings", responses={201: JobOut, **ERRORS})
@allow(BENCH)
def add_opening(path: IdPath, body: OpeningIn) -> Response:
    """The panes of one opening."""
    job_id = write(lambda session: operations.add_opening(session, path.id, body.opening, person_id=acting().id))
    return answer(read(lambda session: job_screen(session, job_id)), 201)


@bp.post("/jobs/<string:id>/photos", responses={201: JobOut, **ERRORS})
@allow(EVERYONE)
def add_photo(path: IdPath, body: PhotoIn) -> Response:
    """Keep a picture of the car."""
    job_id = write(lambda session: photos.add(session, path.id, body, person_id=acting().id))
    return answer(read(lambda session: job_screen(session, job_id)), 201)


@bp.get("/jobs/<string:id>/photos/<string:photo_id>", responses={200: None, **ERRORS})
@allow(EVERYONE)
def show_photo(path: PhotoPath, query: PhotoQuery) -> Response:
    """A picture of the car; its small copy where that is asked for."""
    name, content, kind = read(lambda session: photos.shown(session, path.id, path.photo_id, small=query.small))
    return download(content, name=name, mimetype=kind, inline=True)


@bp.get("/meter", responses={200: MeterStateOut, **ERRORS})
@allow(EVERYONE)
def meter_state() -> Response:
    """Whether the light meter answers."""
    return answer(meter.state(read(meter.address)))


@bp.put("/meter", responses={200: MeterStateOut, **ERRORS})
@allow(LEAD)
def set_meter(body: MeterAddress) -> Response:
    """Say where the light meter is."""
    write(lambda session: meter.set_address(session, body.address, version=body.version, person_id=acting().id))
    return answer(meter.state(read(meter.address)))


@bp.post("/meter/readings", responses={200: MeterOut, **ERRORS})
@allow(EVERYONE)
def read_meter(body: MeterIn) -> Response:
    """Read the pane that the light meter sits on; nothing is kept by that."""
    at, apart = read(lambda session: (meter.address(session)[0], meter.apart(session)))
    return answer(meter.readings(at, times=body.times, apart=apart))
