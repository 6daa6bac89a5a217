"""A job: one car, its windows, the films chosen, and what follows from them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from elumbra.core.errors import CoreError, ReadingError
from elumbra.core.film import Film
from elumbra.core.light import Glass, GlassSource, metered_glass
from elumbra.core.measure import MeasuredPane, Measures, Readings, measure_pane
from elumbra.core.starting import StartingValues
from elumbra.core.work.facts import Coverage, VehicleFacts, WindowFacts
from elumbra.core.work.reasons import Reason


class Unmetered(StrEnum):
    """What the shop does before it cuts film for glass that nobody metered."""

    ASK = "ask"  # held until metered, or by a lead's reason
    WARN = "warn"  # told at Cut and on the cut list
    ALLOW = "allow"


@dataclass(frozen=True)
class Ordered:
    """What was accepted for a window with the quote; no film: it is not in the order."""

    film_id: str | None
    covers: Coverage


@dataclass(frozen=True, kw_only=True)
class Window(WindowFacts):
    """One pane of the car as surveyed; readings are seen from outside the car."""

    id: str
    label: str
    film_id: str | None = None
    layers: tuple[str, ...] = ()  # films that stay under the new one, outermost first
    reason: Reason | None = None  # why a film goes on though the law says no
    measures: Measures = Measures()
    same_as: str | None = None
    same_as_mirrored: bool = False
    cut_film: str | None = None  # film that was cut for it and not taken back
    ordered: Ordered | None = None  # None: no quote was accepted
    mirrored: bool = False  # resolved: its measures are those of the other side

    @property
    def readings(self) -> Readings:
        """Its tape readings by key."""
        return self.measures.readings

    @property
    def is_cut(self) -> bool:
        """Whether the film that is chosen has been cut for it."""
        return self.film_id is not None and self.cut_film == self.film_id

    @property
    def off_order(self) -> bool:
        """Whether its film is another than the accepted quote says."""
        return self.ordered is not None and self.film_id is not None and self.ordered != self.as_ordered

    @property
    def as_ordered(self) -> Ordered:
        """What an order of the film that is chosen now says."""
        return Ordered(self.film_id, self.coverage)

    @property
    def is_strip(self) -> bool:
        """Whether film covers only a strip at the top."""
        return self.coverage is Coverage.STRIP

    @property
    def bare(self) -> Glass | None:
        """What is there before the new film; None where nobody has read that."""
        through = self.bare_vlt_through_old_film
        if self.bare_readings_percent and self.bare_vlt_source is GlassSource.METERED:
            return metered_glass([one / 100 for one in self.bare_readings_percent], through_old_film=through)
        if self.bare_vlt_percent is None:
            return None
        return Glass(self.bare_vlt_percent / 100, self.bare_vlt_source, through_old_film=through)


@dataclass(frozen=True, kw_only=True)
class Vehicle(VehicleFacts):
    """The vehicle as the law sees it."""

    label: str


@dataclass(frozen=True)
class Job:
    """One car with its windows in walkaround order."""

    vehicle: Vehicle
    windows: tuple[Window, ...]
    films: Mapping[str, Film]
    unmetered: Unmetered = Unmetered.ASK  # what the shop does before it cuts film for glass that nobody metered


def resolve_same_glass(windows: Sequence[Window]) -> dict[str, Window]:
    """Windows by id, each "same glass as" given that window's measures; doing it twice changes nothing.

    Raises
    ------
    CoreError
        A window refers to one that is not in the job, or round in a circle.
    """
    by_id = {window.id: window for window in windows}
    return {window.id: _resolved(window, by_id) for window in windows}


def resolve_as_far_as_possible(windows: Sequence[Window]) -> tuple[dict[str, Window], dict[str, str]]:
    """Windows by id with shared glass resolved; of those that cannot be, the reason by id."""
    by_id = {window.id: window for window in windows}
    resolved, problems = {}, {}
    for window in windows:
        try:
            resolved[window.id] = _resolved(window, by_id)
        except CoreError as error:
            resolved[window.id], problems[window.id] = window, error.message
    return resolved, problems


def _resolved(window: Window, by_id: Mapping[str, Window]) -> Window:
    source, seen, turned = window, {window.id}, False
    while source.same_as is not None:
        if source.same_as not in by_id:
            raise CoreError(
                f"{window.label} is said to have the same glass as a window that is not in this job.",
                fields={"same_as": "Pick a window of this car."},
            )
        turned ^= source.same_as_mirrored
        source = by_id[source.same_as]
        if source.id in seen:
            raise CoreError(
                f"{window.label} refers to itself by way of “same glass as”. Measure one of the windows.",
                fields={"same_as": "Goes round in a circle."},
            )
        seen.add(source.id)
    if source is window:
        return replace(window, mirrored=False)
    return replace(window, measures=source.measures.on_window(window.readings), mirrored=turned)


def readings_stand(window: Window, windows: Sequence[Window]) -> bool:
    """Whether somebody stands by the readings that a window is drawn by, its own or those it shares."""
    by_id = {one.id: one for one in windows}
    for _ in windows:
        if window.same_as is None or window.same_as not in by_id:
            break
        window = by_id[window.same_as]
    return window.readings_kept


def measure_window(window: Window, *, starting: StartingValues) -> MeasuredPane:
    """One window's pane, already resolved; mirrored where its measures are the other side's.

    Raises
    ------
    ReadingError
        Impossible readings; the message names the window.
    """
    try:
        pane = measure_pane(window.measures, starting=starting)
    except ReadingError as error:
        raise ReadingError(f"{window.label}: {error.message}", fields=error.fields) from error
    return pane.mirrored() if window.mirrored else pane
