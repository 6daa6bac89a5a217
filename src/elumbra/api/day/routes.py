"""URLs of the day sheet, of bookings and promises, and of the calendar."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel

from elumbra.api.base.bodies import IdPath
from elumbra.api.base.day_words import checked_day
from elumbra.api.base.roles import ANYBODY, EVERYONE, LEAD, TRUSTED, allow
from elumbra.api.day import operations, promises
from elumbra.api.day.schemas import (
    BookingBody,
    BookingOut,
    DayDecisions,
    DayPath,
    DaySheetOut,
    DayStampOut,
    PromiseOut,
    PromiseQuery,
    RescueOut,
    SheetPaperQuery,
    ShopDayBody,
    ShopDayOut,
    UnbookBody,
)
from elumbra.api.web import ERRORS, Blueprint, Response, acting, answer, current_app, download, read, write

bp = Blueprint("day", __name__, url_prefix="/api")
_PDF: dict[Any, Any] = {200: {"content": {"application/pdf": {"schema": {"type": "string", "format": "binary"}}}}}
_ICS: dict[Any, Any] = {200: {"content": {"text/calendar": {"schema": {"type": "string", "format": "binary"}}}}}
_SHEET = {200: DaySheetOut, **ERRORS}


class DayJobPath(DayPath):
    """A car on a day."""

    id: str


class KeyPath(BaseModel):
    """The secret part of the feed's address."""

    key: str


def _show(day: str) -> Response:
    chosen = checked_day(day)
    return answer(read(lambda session: operations.show(session, chosen)))


@bp.get("/days/<string:day>", responses=_SHEET)
@allow(EVERYONE)
def show_day(path: DayPath) -> Response:
    """The sheet of a day with the best plan that is known."""
    return _show(path.day)


@bp.get("/days/<string:day>/stamp", responses={200: DayStampOut, **ERRORS})
@allow(EVERYONE)
def day_stamp(path: DayPath) -> Response:
    """Whether anything has changed, for screens that follow."""
    day = checked_day(path.day)
    return answer(DayStampOut(stamp=read(lambda session: operations.stamp_of(session, day))))


@bp.post("/days/<string:day>/plan", responses=_SHEET)
@allow(EVERYONE)
def plan_day_better(path: DayPath) -> Response:
    """Have a better plan looked for."""
    day = checked_day(path.day)
    write(lambda session: operations.ask_better(session, day))
    current_app.config["TASKS"].wake()
    return _show(path.day)


@bp.put("/days/<string:day>", responses=_SHEET)
@allow(TRUSTED)
def decide_day(path: DayPath, body: DayDecisions) -> Response:
    """Put by hand what stays; say who is away, what is cut together, how the weather is."""
    day = checked_day(path.day)
    write(lambda session: operations.decide(session, day, body, person_id=acting().id))
    return _show(path.day)


@bp.get("/days/<string:day>/rescue/<string:id>", responses={200: RescueOut, **ERRORS})
@allow(EVERYONE)
def rescue_promise(path: DayJobPath) -> Response:
    """What would save a promise."""
    day = checked_day(path.day)
    return answer(read(lambda session: promises.rescue(session, day, path.id)))


@bp.get("/days/<string:day>/sheet.pdf", responses={**_PDF, **ERRORS})
@allow(EVERYONE)
def day_paper_file(path: DayPath, query: SheetPaperQuery) -> Response:
    """The day on paper."""
    day = checked_day(path.day)
    content = read(lambda session: operations.printed(session, day, query))
    return download(content, name=f"day sheet {path.day}.pdf", mimetype="application/pdf", inline=True)


@bp.get("/jobs/<string:id>/booking", responses={200: BookingOut, **ERRORS})
@allow(EVERYONE)
def show_booking(path: IdPath) -> Response:
    """When a job's car comes and goes."""
    return answer(read(lambda session: promises.booking_of(session, path.id)))


@bp.put("/jobs/<string:id>/booking", responses={200: BookingOut, **ERRORS})
@allow(TRUSTED)
def book_job(path: IdPath, body: BookingBody) -> Response:
    """Book a car and promise a time."""
    write(lambda session: promises.book(session, path.id, body, person_id=acting().id))
    return answer(read(lambda session: promises.booking_of(session, path.id)))


@bp.post("/jobs/<string:id>/booking/remove", responses={200: BookingOut, **ERRORS})
@allow(TRUSTED)
def unbook_job(path: IdPath, body: UnbookBody) -> Response:
    """Take a booking back."""
    write(lambda session: promises.unbook(session, path.id, version=body.version, person_id=acting().id))
    return answer(read(lambda session: promises.booking_of(session, path.id)))


@bp.get("/jobs/<string:id>/promise", responses={200: PromiseOut, **ERRORS})
@allow(EVERYONE)
def honest_promise(path: IdPath, query: PromiseQuery) -> Response:
    """The earliest honest time for a car."""
    return answer(read(lambda session: promises.promise_for(session, path.id, query.drop_off_at)))


@bp.get("/shop-day", responses={200: ShopDayOut, **ERRORS})
@allow(EVERYONE)
def show_shop_day() -> Response:
    """How the shop runs its days."""
    return answer(read(operations.shop_day_out))


@bp.put("/shop-day", responses={200: ShopDayOut, **ERRORS})
@allow(LEAD)
def set_shop_day(body: ShopDayBody) -> Response:
    """Say how the shop runs its days."""
    write(lambda session: operations.set_shop_day(session, body, person_id=acting().id))
    return answer(read(operations.shop_day_out))


@bp.post("/shop-day/calendar", responses={200: ShopDayOut, **ERRORS})
@allow(LEAD)
def new_calendar() -> Response:
    """A new address for the calendar feed."""
    write(lambda session: operations.new_calendar_key(session, person_id=acting().id))
    return answer(read(operations.shop_day_out))


@bp.get("/calendar.ics", responses={**_ICS, **ERRORS})
@allow(EVERYONE)
def calendar_file() -> Response:
    """All booked cars as an iCalendar file."""
    content = read(lambda session: operations.calendar(session, key=None))
    return download(content, name="elumbra.ics", mimetype="text/calendar; charset=utf-8")


@bp.get("/calendar/<string:key>.ics", responses={**_ICS, **ERRORS})
@allow(ANYBODY)
def calendar_feed(path: KeyPath) -> Response:
    """All booked cars for a calendar program, by an address that nobody guesses."""
    content = read(lambda session: operations.calendar(session, key=path.key))
    return download(content, name="elumbra.ics", mimetype="text/calendar; charset=utf-8")
