"""What was read on a finished pane, and what the law says of that."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from sqlalchemy.orm import Session

from elumbra.core.errors import LengthError
from elumbra.core.inspection import Fitted, verdicts_on_reading
from elumbra.core.law import Verdict
from elumbra.core.units import parse_length
from elumbra.core.work import Car, Window
from elumbra.storage.kept import looks
from elumbra.storage.kept_records import LookRecord
from elumbra.storage.records import InstalledReadingRecord
from elumbra.storage.store import installed_readings


def fitted_of(
    window: Window, looked: Sequence[LookRecord], read: Sequence[InstalledReadingRecord]
) -> tuple[dict[str, LookRecord], list[InstalledReadingRecord], Fitted]:
    """The looks and readings of the film that is on a window, oldest first, and what of them counts."""
    newest = {one.when: one for one in looked if one.film_id == (window.film_id or "")}
    readings = [one for one in read if one.film_id == window.film_id]
    return newest, readings, Fitted(_reading(readings), _deepest(newest.values()))


def verdicts_as_read(session: Session, car: Car, window: Window) -> tuple[Verdict, ...]:
    """What each state's law says of a finished window by meter and ruler; empty where nothing was read."""
    looked = looks(session).all(order="at", window_id=window.id)
    read = installed_readings(session).all(order="on_day", window_id=window.id)
    return verdicts_on_reading(car, window.id, fitted_of(window, looked, read)[2])


def _reading(readings: Sequence[InstalledReadingRecord]) -> float | None:
    """The reading that counts: the lowest of the newest day, for reading again does not make a pane lighter."""
    if not readings:
        return None
    newest = max(one.on_day for one in readings)
    return min(one.read_percent for one in readings if one.on_day == newest) / 100


def _deepest(looked: Iterable[LookRecord]) -> float | None:
    """The deepest ruler reading of a fitted strip [mm], of the newest look that has any."""
    for one in sorted(looked, key=lambda look: look.at, reverse=True):
        depths = []
        for typed in one.rulers.values():
            try:
                depths.append(parse_length(typed).mm)
            except LengthError:
                continue
        if depths:
            return float(max(depths))
    return None
