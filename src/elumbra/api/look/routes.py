"""URLs of Look."""

from __future__ import annotations

from elumbra.api.base.bodies import IdPath, VersionBody
from elumbra.api.base.roles import BENCH, EVERYONE, LEAD, TRUSTED, allow
from elumbra.api.look import operations
from elumbra.api.look.schemas import (
    AnswerBody,
    DecideBody,
    FlawBody,
    FlawKindsOut,
    FlawPatch,
    LookAgainBody,
    LookBody,
    LookOut,
    StandardBody,
    StandardOut,
)
from elumbra.api.look.view import kinds_screen, look_screen, standard_screen
from elumbra.api.web import ERRORS, Blueprint, Response, acting, answer, read, write

bp = Blueprint("look", __name__, url_prefix="/api")


def _car(job_id: str, status: int = 200) -> Response:
    person = acting()
    return answer(read(lambda session: look_screen(session, job_id, person=person)), status)


@bp.get("/jobs/<string:id>/look", responses={200: LookOut, **ERRORS})
@allow(EVERYONE)
def show_look(path: IdPath) -> Response:
    """Every pane of a car as it was looked over."""
    return _car(path.id)


@bp.post("/windows/<string:id>/looks", responses={201: LookOut, **ERRORS})
@allow(BENCH)
def keep_look(path: IdPath, body: LookBody) -> Response:
    """A pane was looked over."""
    return _car(write(lambda session: operations.keep_look(session, path.id, body, person=acting())), 201)


@bp.post("/looks/<string:id>/remove", responses={200: LookOut, **ERRORS})
@allow(BENCH)
def take_look_back(path: IdPath, body: VersionBody) -> Response:
    """It was not, after all."""
    person = acting()
    return _car(
        write(lambda s: operations.take_look_back(s, path.id, version=body.version, person_id=person.id))
    )  # fmt: skip


@bp.post("/windows/<string:id>/flaws", responses={201: LookOut, **ERRORS})
@allow(BENCH)
def add_flaw(path: IdPath, body: FlawBody) -> Response:
    """Put a flaw on a pane."""
    return _car(write(lambda session: operations.add_flaw(session, path.id, body, person=acting())), 201)


@bp.patch("/flaws/<string:id>", responses={200: LookOut, **ERRORS})
@allow(BENCH)
def change_flaw(path: IdPath, body: FlawPatch) -> Response:
    """Change what is said of a flaw."""
    return _car(write(lambda session: operations.change_flaw(session, path.id, body, person_id=acting().id)))


@bp.post("/flaws/<string:id>/answer", responses={200: LookOut, **ERRORS})
@allow(BENCH)
def answer_question(path: IdPath, body: AnswerBody) -> Response:
    """Answer a question on its cause."""
    return _car(write(lambda session: operations.answer_question(session, path.id, body, person_id=acting().id)))


@bp.post("/flaws/<string:id>/decide", responses={200: LookOut, **ERRORS})
@allow(TRUSTED)
def decide(path: IdPath, body: DecideBody) -> Response:
    """Keep, touch up or redo."""
    return _car(write(lambda session: operations.decide(session, path.id, body, person=acting())))


@bp.post("/flaws/<string:id>/look-again", responses={200: LookOut, **ERRORS})
@allow(BENCH)
def look_again(path: IdPath, body: LookAgainBody) -> Response:
    """Looked at again: gone, or still there."""
    return _car(write(lambda session: operations.look_again(session, path.id, body, person_id=acting().id)))


@bp.post("/flaws/<string:id>/remove", responses={200: LookOut, **ERRORS})
@allow(BENCH)
def remove_flaw(path: IdPath, body: VersionBody) -> Response:
    """Put there by mistake."""
    person = acting()
    return _car(write(lambda s: operations.remove_flaw(s, path.id, version=body.version, person_id=person.id)))


@bp.post("/flaws/<string:id>/restore", responses={200: LookOut, **ERRORS})
@allow(BENCH)
def restore_flaw(path: IdPath, body: VersionBody) -> Response:
    """Undo that."""
    person = acting()
    return _car(write(lambda s: operations.restore_flaw(s, path.id, version=body.version, person_id=person.id)))


@bp.get("/flaw-kinds", responses={200: FlawKindsOut, **ERRORS})
@allow(EVERYONE)
def flaw_kinds() -> Response:
    """What can be seen on a filmed pane."""
    return answer(kinds_screen())


@bp.get("/look-standard", responses={200: StandardOut, **ERRORS})
@allow(EVERYONE)
def show_standard() -> Response:
    """What counts as good."""
    return answer(read(standard_screen))


@bp.put("/look-standard", responses={200: StandardOut, **ERRORS})
@allow(LEAD)
def keep_standard(body: StandardBody) -> Response:
    """Write the shop's standard."""
    write(lambda session: operations.keep_standard(session, body, person_id=acting().id))
    return answer(read(standard_screen))
