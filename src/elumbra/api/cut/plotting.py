"""The cutter on the network: what it is at, a plan's cut lines sent to it, paused, gone on with, stopped."""

from __future__ import annotations

from sqlalchemy.orm import Session

from elumbra.api.cut.operations import stock_plan
from elumbra.api.cut.schemas import CutterOut, CutterSend
from elumbra.core.errors import CoreError
from elumbra.devices import cutter
from elumbra.documents.cutter_files import CutterSettings, in_cutting_order, to_hpgl
from elumbra.storage.kept_settings import keep, kept

_SETTING = "cutter"


def address(session: Session) -> tuple[str, int]:
    """Where the cutter is, and the version of that setting: 0 while nobody said."""
    return kept(session, _SETTING, cutter.DEFAULT_ADDRESS)


def set_address(session: Session, value: str, *, version: int, person_id: str) -> str:
    """Say where the cutter is.

    Raises
    ------
    CutterError
        No address.
    """
    cutter.check_address(value)
    return keep(session, _SETTING, value.strip(), version=version, person_id=person_id)


def state(where: tuple[str, int]) -> CutterOut:
    """What the cutter is at; that none answers is told as well."""
    at, version = where
    try:
        found = cutter.read_state(at)
    except cutter.CutterError as error:
        return CutterOut(
            address=at, version=version, there=False, state="", told=error.message, done=0, total=0, seconds_left=0
        )
    return _out(at, version, found)


def _out(at: str, version: int, found: cutter.CutterState) -> CutterOut:
    return CutterOut(
        address=at, version=version, there=True, state=found.state, told=f"{found.name}: {found.words}",
        done=found.done, total=found.total, seconds_left=found.seconds_left,
    )  # fmt: skip


def content_of(session: Session, job_id: str, body: CutterSend) -> bytes:
    """The cut lines of one stock from piece ``after`` on, as the cutter reads them.

    Raises
    ------
    CoreError
        All of it is cut already.
    """
    _, film, _ = stock_plan(session, job_id, body)
    if body.after >= len(in_cutting_order(film, body.stock_id)):
        raise CoreError("All pieces of this stock are cut already.")
    how = CutterSettings(speed_mm_s=body.speed_mm_s, force_g=body.force_g, overcut_mm=body.overcut_mm, marks=body.marks)
    return to_hpgl(film, body.stock_id, how, after=body.after)


def send(where: tuple[str, int], content: bytes) -> CutterOut:
    """Begin to cut.

    Raises
    ------
    CutterError
        The cutter does not answer or does not take the job.
    """
    return _out(*where, cutter.send(where[0], content))


def order(where: tuple[str, int], word: str) -> CutterOut:
    """Pause, go on or stop.

    Raises
    ------
    CutterError
        The cutter does not answer, or has nothing to do that to.
    """
    return _out(*where, cutter.order(where[0], word))
