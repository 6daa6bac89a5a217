"""A job: one car, its windows, the films chosen, and what follows from them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from enum import StrEnum

from elumbra.core.cut import StripShape
from elumbra.core.errors import CoreError, ReadingError
from elumbra.core.film import Film
from elumbra.core.glass import Curve, GlassType, Position, Side, WindowKind
from elumbra.core.law import RegisteredAs, VehicleClass
from elumbra.core.light import Glass
from elumbra.core.measure import STRIP_KEYS, Figure, Level, MeasuredPane, Reading, measure_pane
from elumbra.core.starting import StartingValues
from elumbra.core.work.reasons import Reason


class Feature(StrEnum):
    """What is in or at a pane and changes what may be done there."""

    ANTENNA = "antenna"  # printed or laid in the glass
    DEFROSTER = "defroster"
    CAMERA = "camera"  # camera or sensor housing at the top
    BRAKE_LIGHT = "brake_light"
    CHIP = "chip"  # chipped or pitted


@dataclass(frozen=True)
class Window:
    """One pane of the car as surveyed; readings are seen from outside the car."""

    id: str
    label: str
    position: Position
    side: Side
    kind: WindowKind
    glass_type: GlassType = GlassType.UNKNOWN
    bare: Glass | None = None
    old_film: bool = False
    old_film_stays: bool = False
    layers: tuple[str, ...] = ()  # films that stay under the new one, outermost first
    film_id: str | None = None
    factory_glass: bool | None = None  # None: told from a meter's reading where there is one
    as1_mark: bool | None = None  # False: the glass bears no AS-1 line
    features: frozenset[Feature] = frozenset()
    reason: Reason | None = None  # why a film goes on though the law says no
    is_strip: bool = False
    strip_shape: StripShape = StripShape.STRAIGHT
    strip_pieces: int = 1
    curve: Curve = Curve.FLAT
    level: Level = Level.SIZE
    figure: Figure = Figure.FOUR
    readings: Mapping[str, Reading] = field(default_factory=dict)
    same_as: str | None = None
    same_as_mirrored: bool = False


@dataclass(frozen=True)
class Vehicle:
    """What the law asks of the vehicle as a whole; None where nobody said."""

    label: str
    vehicle_class: VehicleClass
    states: tuple[str, ...]
    mirrors_both_sides: bool | None = None
    model_year: int | None = None
    registered_as: RegisteredAs | None = None
    no_glass_at: frozenset[Position] = frozenset()


@dataclass(frozen=True)
class Job:
    """One car with its windows in walkaround order."""

    vehicle: Vehicle
    windows: tuple[Window, ...]
    films: Mapping[str, Film]


def resolve_same_glass(windows: Sequence[Window]) -> dict[str, Window]:
    """Windows by id, each "same glass as" replaced by that window's measures.

    Raises
    ------
    CoreError
        A window refers to one that is not in the job, or round in a circle.
    """
    by_id = {window.id: window for window in windows}
    return {window.id: _resolved(window, by_id) for window in windows}


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
    own = {key: reading for key, reading in window.readings.items() if key in STRIP_KEYS}
    readings = {**source.readings, **own} if source is not window else window.readings
    return replace(
        window,
        level=source.level,
        figure=source.figure,
        curve=source.curve,
        readings=readings,
        same_as_mirrored=turned,
    )


def measure_windows(job: Job, *, starting: StartingValues) -> dict[str, MeasuredPane]:
    """Every window's pane as far as it is known.

    Raises
    ------
    ReadingError
        Impossible readings; the message names the window.
    """
    return {window.id: measure_window(window, starting=starting) for window in resolve_same_glass(job.windows).values()}


def measure_window(window: Window, *, starting: StartingValues) -> MeasuredPane:
    """One window's pane, already resolved; mirrored where its measures are the other side's."""
    try:
        pane = measure_pane(
            window.readings, level=window.level, figure=window.figure, curve=window.curve, starting=starting
        )
    except ReadingError as error:
        raise ReadingError(f"{window.label}: {error.message}", fields=error.fields) from error
    if window.same_as and window.same_as_mirrored and pane.outline:
        return replace(pane, outline=pane.outline.mirrored())
    return pane
