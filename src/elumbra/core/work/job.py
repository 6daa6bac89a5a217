"""A job: one car, its windows, the films chosen, and what follows from them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

from elumbra.core.cut import PaneToCut, blank_for
from elumbra.core.errors import CoreError, ReadingError
from elumbra.core.film import Film
from elumbra.core.glass import Curve, GlassType, Outline, Position, Side, WindowKind
from elumbra.core.law import LawBook, PaneFacts, VehicleClass, Verdict, judge, worst
from elumbra.core.light import Combined, Glass, combine
from elumbra.core.measure import Figure, Level, MeasuredPane, Reading, measure_pane
from elumbra.core.nest import Blank
from elumbra.core.starting import StartingValues


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
    film_id: str | None = None
    is_strip: bool = False
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


@dataclass(frozen=True)
class Job:
    """One car with its windows in walkaround order."""

    vehicle: Vehicle
    windows: tuple[Window, ...]
    films: Mapping[str, Film]


@dataclass(frozen=True)
class WindowShade:
    """How dark a window will be and what each state says of it."""

    combined: Combined | None  # glass and chosen film; bare glass without film
    bare: Combined | None
    verdicts: tuple[Verdict, ...]  # one a state, in the job's order; empty without film
    worst: Verdict | None


@dataclass(frozen=True)
class ToCut:
    """Blanks of one film, and windows that cannot be cut yet with the reason."""

    film_id: str
    blanks: tuple[Blank, ...]
    panes: Mapping[str, PaneToCut]


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
    own = {key: reading for key, reading in window.readings.items() if key in ("strip_depth", "as1_depth")}
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


def shade_window(
    window: Window, film: Film | None, vehicle: Vehicle, law: LawBook, *, starting: StartingValues
) -> WindowShade:
    """Combined darkness of one window and each state's verdict on it."""
    bare = combine(window.bare, None, starting=starting) if window.bare else None
    combined = combine(window.bare, film, starting=starting) if window.bare else None
    if film is None:
        return WindowShade(bare, bare, (), None)
    depth, as1 = window.readings.get("strip_depth"), window.readings.get("as1_depth")
    facts = PaneFacts(
        vehicle_class=vehicle.vehicle_class,
        position=window.position,
        film=film,
        combined=combined,
        is_strip=window.is_strip,
        strip_depth=depth.mm if depth and depth.mm > 0 else None,
        as1_depth=as1.mm if as1 and as1.mm > 0 else None,
        mirrors_both_sides=vehicle.mirrors_both_sides,
        model_year=vehicle.model_year,
    )
    verdicts = tuple(judge(law.of(code), facts, starting=starting) for code in vehicle.states)
    return WindowShade(combined, bare, verdicts, worst(verdicts))


def shade_job(job: Job, law: LawBook, *, starting: StartingValues) -> dict[str, WindowShade]:
    """Shade of every window of a job."""
    return {
        window.id: shade_window(window, _film(job, window), job.vehicle, law, starting=starting)
        for window in job.windows
    }


def _film(job: Job, window: Window) -> Film | None:
    return job.films[window.film_id] if window.film_id else None


def cannot_cut(window: Window, outline: Outline | None) -> str | None:
    """Why a window with film chosen cannot be cut yet, with the mend; None when it can."""
    if window.glass_type is GlassType.PLASTIC:
        return "Plastic takes no film. Take the film off this window."
    if outline is None:
        return "Not measured. Read its greatest width and height."
    depth = window.readings.get("strip_depth")
    if window.is_strip and (depth is None or depth.mm <= 0):
        return "How deep is the strip? Read its depth from the top of the glass."
    return None


def windows_to_cut(
    job: Job, measured: Mapping[str, MeasuredPane], *, starting: StartingValues
) -> tuple[dict[str, ToCut], dict[str, str]]:
    """Blanks by film, and windows with film that cannot be cut yet with the reason."""
    panes: dict[str, dict[str, PaneToCut]] = {}
    held: dict[str, str] = {}
    pairs = _mirror_pairs(job.windows)
    for window in resolve_same_glass(job.windows).values():
        if window.film_id is None:
            continue
        outline = measured[window.id].outline
        if reason := cannot_cut(window, outline):
            held[window.id] = reason
            continue
        assert outline is not None
        panes.setdefault(window.film_id, {})[window.id] = PaneToCut(
            id=window.id,
            label=window.label,
            kind=window.kind,
            curve=window.curve,
            outline=outline,
            strip_depth=window.readings["strip_depth"].mm if window.is_strip else None,
            pair=pairs.get(window.id, ""),
        )
    by_film = {
        film_id: ToCut(film_id, tuple(blank_for(pane, starting=starting) for pane in group.values()), group)
        for film_id, group in panes.items()
    }
    return by_film, held


def _mirror_pairs(windows: Sequence[Window]) -> dict[str, str]:
    """Windows that are each other's mirror image and get the same film, by a shared name."""
    by_id = {window.id: window for window in windows}
    pairs: dict[str, str] = {}
    for window in windows:
        other = by_id.get(window.same_as or "")
        if other and window.same_as_mirrored and other.film_id == window.film_id and other.id not in pairs:
            pairs[window.id] = pairs[other.id] = other.id
    return pairs
