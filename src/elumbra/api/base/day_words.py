"""Days, times of day and hours as requests and answers write them."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date
from typing import Annotated, Any, Literal

from pydantic import Field

from elumbra.api.base.bodies import Body
from elumbra.core.errors import CoreError

Weekday = Literal["mon", "tue", "wed", "thu", "fri", "sat", "sun"]
Clock = Annotated[str, Field(pattern=r"^([01][0-9]|2[0-3]):[0-5][0-9]$")]
FIRST_YEAR, LAST_YEAR = 2000, 2100
# A date that may be counted from and to: one at the end of all time may not.
Date = Annotated[date, Field(ge=date(FIRST_YEAR, 1, 1), le=date(LAST_YEAR, 12, 31))]
Day = Annotated[str, Field(pattern=r"^\d{4}-\d{2}-\d{2}$")]


class ClockSpan(Body):
    """From one time of day to a later one."""

    start: Clock
    end: Clock


Hours = dict[Weekday, Annotated[list[ClockSpan], Field(max_length=6)]]


def checked_day(text: str, field: str = "day") -> date:
    """A day that there is.

    Raises
    ------
    CoreError
        There is no such day.
    """
    try:
        found = date.fromisoformat(text)
    except ValueError as error:
        raise CoreError(f"“{text}” is no day.", fields={field: "A day such as 2026-12-24."}) from error
    if not FIRST_YEAR <= found.year <= LAST_YEAR:
        raise CoreError(f"{text} is not a day of this century.", fields={field: "A day of this century."})
    return found


def checked_hours(hours: Mapping[str, Any]) -> dict[str, Any]:
    """Hours by weekday, in order.

    Raises
    ------
    CoreError
        A span that ends before it begins, or two that overlap.
    """
    return {day: checked_spans(spans, day) for day, spans in hours.items()}


def checked_spans(spans: list[dict[str, str]], day: str) -> list[dict[str, str]]:
    """Spans of one day, in order. Raises as ``checked_hours`` does."""
    ordered = sorted(spans, key=lambda one: one["start"])
    last = ""
    for one in ordered:
        if one["end"] <= one["start"]:
            span = f"{one['start']} to {one['end']} on {day}"
            raise CoreError(f"{span} ends before it begins.", fields={"hours": "Turn it round."})
        if one["start"] < last:
            raise CoreError(f"Two spans on {day} overlap at {one['start']}.", fields={"hours": "Join them."})
        last = one["end"]
    return ordered
