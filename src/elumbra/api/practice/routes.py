"""URLs of the practice glass."""

from __future__ import annotations

from typing import Any

from elumbra.api.base.bodies import IdPath
from elumbra.api.base.roles import EVERYONE, LEAD, allow
from elumbra.api.practice import home, operations
from elumbra.api.practice.schemas import (
    AloneBody,
    BeginBody,
    FrameOut,
    PracticeFile,
    PracticeOut,
    PracticeReplayOut,
    PracticeRunOut,
    StepQuery,
    StrokesBody,
    TodayBody,
)
from elumbra.api.web import ERRORS, Blueprint, Response, acting, answer, change, download, read, write
from elumbra.car.practice import STAGE
from elumbra.storage.practice import begin_run

bp = Blueprint("practice", __name__, url_prefix="/api/practice")
_FILE: dict[Any, Any] = {200: {"content": {"application/json": {"schema": {"type": "object"}}}}}


def _home(status: int = 200) -> Response:
    return answer(read(lambda session: home.home(session, acting())), status)


def _run(run_id: str, status: int = 200) -> Response:
    one = _opened(run_id)
    name = read(lambda session: operations.name_of(session, one.record.person_id))
    return answer(operations.run_out(one, acting(), name=name), status)


def _opened(run_id: str) -> operations.Opened:
    return read(lambda session: operations.opened(session, run_id, acting()))


@bp.get("", responses={200: PracticeOut, **ERRORS})
@allow(EVERYONE)
def show_home() -> Response:
    """Lessons, today's, one's record."""
    return _home()


@bp.put("/today", responses={200: PracticeOut, **ERRORS})
@allow(LEAD)
def set_today(body: TodayBody) -> Response:
    """Set a car's window as today's lesson."""
    write(lambda session: home.set_today(session, body, person_id=acting().id))
    return _home()


@bp.put("/people/<string:id>/alone", responses={200: PracticeOut, **ERRORS})
@allow(LEAD)
def set_alone(path: IdPath, body: AloneBody) -> Response:
    """Say what somebody may shrink alone."""
    write(lambda session: home.set_alone(session, path.id, body, person_id=acting().id))
    return _home()


@bp.post("/runs", responses={201: PracticeRunOut, **ERRORS})
@allow(EVERYONE)
def begin(body: BeginBody) -> Response:
    """Begin a run on a pane."""
    setup, lesson = read(lambda session: operations.setup_for(session, body))
    record = operations.new_run(setup, lesson, person_id=acting().id, seed=body.seed)
    return _run(write(lambda session: begin_run(session, record)), 201)


@bp.post("/runs/read", responses={201: PracticeRunOut, **ERRORS})
@allow(EVERYONE)
def read_in(body: PracticeFile) -> Response:
    """A run out of a file, to look at."""
    record, run = operations.read_in(body, person_id=acting().id)
    return _run(write(lambda session: operations.keep_whole(session, record, body.strokes, run)), 201)


@bp.get("/runs/<string:id>", responses={200: PracticeRunOut, **ERRORS})
@allow(EVERYONE)
def show_run(path: IdPath) -> Response:
    """A run as it stands."""
    return _run(path.id)


@bp.post("/runs/<string:id>/strokes", responses={200: FrameOut, **ERRORS})
@allow(EVERYONE)
def play(path: IdPath, body: StrokesBody) -> Response:
    """Play strokes; the step they begin after makes sure that each is played once."""
    since = STAGE.reached(path.id)
    one = read(lambda session: operations.opened(session, path.id, acting(), since=since))
    return answer(operations.taken(one, body, acting(), change))


@bp.get("/runs/<string:id>/at", responses={200: PracticeReplayOut, **ERRORS})
@allow(EVERYONE)
def replay(path: IdPath, query: StepQuery) -> Response:
    """A run at a step."""
    return answer(operations.replayed(_opened(path.id), query.step))


@bp.get("/runs/<string:id>/file", responses={**_FILE, **ERRORS})
@allow(EVERYONE)
def run_file(path: IdPath) -> Response:
    """A run as a file."""
    one = _opened(path.id)
    return download(
        operations.file_of(one), name=f"practice {one.record.title}.json", mimetype="application/json"
    )  # fmt: skip


@bp.post("/runs/<string:id>/shown", responses={201: PracticeRunOut, **ERRORS})
@allow(EVERYONE)
def show_how(path: IdPath) -> Response:
    """The robot on the same pane, film and day."""
    one = _opened(path.id)
    before = read(lambda session: operations.shown_before(session, one))
    if before is not None:
        return _run(before, 201)
    record, rows, run = operations.robot_record(one)
    return _run(write(lambda session: operations.keep_whole(session, record, rows, run)), 201)
