"""Booked cars as an iCalendar file, and read back from one (RFC 5545, by the ``icalendar`` library)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime

from icalendar import Calendar, Event

from elumbra.core.errors import CoreError

_PRODUCT = "-//Elumbra//day sheet//EN"
_NOTED = datetime(2000, 1, 1, tzinfo=UTC)  # no clock is asked, so that the same bookings give the same file


class CalendarError(CoreError):
    """A file that is no calendar of ours."""


@dataclass(frozen=True)
class Appointment:
    """A car that comes and goes."""

    uid: str
    title: str
    begins: datetime
    ends: datetime
    customer: str = ""
    note: str = ""
    sequence: int = 0


def calendar_file(appointments: Sequence[Appointment]) -> bytes:
    """Appointments as an iCalendar file, in UTC.

    Examples
    --------
    >>> parse_calendar(calendar_file([]))
    []
    """
    calendar = Calendar()
    calendar.add("prodid", _PRODUCT)
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", "Elumbra")
    for one in sorted(appointments, key=lambda each: (each.begins, each.uid)):
        event = Event()
        event.add("uid", one.uid)
        event.add("summary", one.title)
        event.add("dtstart", one.begins.astimezone(UTC))
        event.add("dtend", one.ends.astimezone(UTC))
        event.add("dtstamp", _NOTED)
        event.add("sequence", one.sequence)
        if one.note:
            event.add("description", one.note)
        if one.customer:
            event.add("contact", one.customer)
        calendar.add_component(event)
    return bytes(calendar.to_ical())


def parse_calendar(content: bytes) -> list[Appointment]:
    """Appointments of an iCalendar file.

    Raises
    ------
    CalendarError
        Not a calendar.
    """
    try:
        calendar = Calendar.from_ical(content)
    except ValueError as error:
        raise CalendarError("This is no calendar file.") from error
    return [
        Appointment(
            uid=str(event["uid"]), title=str(event.get("summary", "")), begins=event.decoded("dtstart"),
            ends=event.decoded("dtend"), customer=str(event.get("contact", "")),
            note=str(event.get("description", "")), sequence=int(event.get("sequence", 0)),
        )
        for event in calendar.walk("VEVENT")
    ]  # fmt: skip
