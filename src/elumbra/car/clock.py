"""The shop's clock: wall times of its zone as minutes of a plan, and back, over days on which clocks change too.

Minutes count elapsed time from the midnight that begins the first day, so that a day has 23 or 25 hours where the
law of the place says so. A wall time that a change skips is taken an hour later; of one that comes twice, the first.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from functools import cache
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from elumbra.core.schedule import Stretch

WEEKDAYS = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
_FALLBACK = "UTC"


def known_zone(name: str) -> bool:
    """Whether there is such a time zone.

    Examples
    --------
    >>> known_zone("America/Chicago"), known_zone("Atlantis/Capital"), known_zone("")
    (True, False, False)
    """
    try:
        ZoneInfo(name)
    except (ZoneInfoNotFoundError, ValueError, OSError):
        return False
    return True


@cache
def machine_zone() -> str:
    """The zone that this machine says it is in; UTC where it does not say."""
    from pathlib import Path

    place = Path("/etc/localtime")
    if place.is_symlink():
        target = str(place.resolve())
        name = target.partition("zoneinfo/")[2]
        if name and known_zone(name):
            return name
    return _FALLBACK


@dataclass(frozen=True)
class DayClock:
    """Minutes from the beginning of a day in a zone."""

    day: date
    zone: str

    @property
    def _origin(self) -> datetime:
        return datetime.combine(self.day, time(), tzinfo=ZoneInfo(self.zone)).astimezone(UTC)

    def minute(self, moment: datetime) -> int:
        """A moment as a minute, rounded up; one without zone is UTC, as records keep it.

        Examples
        --------
        >>> DayClock(date(2026, 3, 8), "America/Chicago").minute(datetime(2026, 3, 8, 14, 0, tzinfo=UTC))
        480
        """
        zoned = moment if moment.tzinfo else moment.replace(tzinfo=UTC)
        return -int((self._origin - zoned).total_seconds() // 60)

    def moment(self, minute: int) -> datetime:
        """A minute as a moment in UTC."""
        return self._origin + timedelta(minutes=minute)

    def wall(self, day: date, clock: str) -> int:
        """A wall time of a day as a minute.

        Examples
        --------
        >>> spring = DayClock(date(2026, 3, 8), "America/Chicago")
        >>> spring.wall(date(2026, 3, 8), "08:00"), spring.wall(date(2026, 3, 9), "08:00")
        (420, 1860)
        """
        hours, minutes = clock.split(":")
        local = datetime.combine(day, time(int(hours), int(minutes)), tzinfo=ZoneInfo(self.zone))
        return self.minute(local)

    def words(self, minute: int) -> str:
        """A minute as people say it; with the day where it is another one.

        Examples
        --------
        >>> clock = DayClock(date(2026, 11, 27), "America/Chicago")
        >>> clock.words(870), clock.words(2010)
        ('2:30 PM', 'Saturday 9:30 AM')
        """
        local = self.moment(minute).astimezone(ZoneInfo(self.zone))
        said = f"{local.hour % 12 or 12}:{local.minute:02} {'AM' if local.hour < 12 else 'PM'}"
        return said if local.date() == self.day else f"{local:%A} {said}"

    def local_day(self, moment: datetime) -> date:
        """The day in the shop on which a moment falls."""
        zoned = moment if moment.tzinfo else moment.replace(tzinfo=UTC)
        return zoned.astimezone(ZoneInfo(self.zone)).date()


Hours = Mapping[str, Sequence[Mapping[str, str]]]
"""By weekday, spans of wall time."""


def stretches(
    clock: DayClock, days: Sequence[date], hours: Hours, *, off: frozenset[str] = frozenset()
) -> tuple[Stretch, ...]:
    """When somebody works on these days.

    Parameters
    ----------
    clock
        Of the first day.
    days
        In order.
    hours
        By weekday.
    off
        ISO days on which he does not.
    """
    found = []
    for day in days:
        if day.isoformat() in off:
            continue
        for span in hours.get(WEEKDAYS[day.weekday()], ()):
            start, end = clock.wall(day, span["start"]), clock.wall(day, span["end"])
            if end > start:
                found.append(Stretch(start, end))
    return tuple(found)
