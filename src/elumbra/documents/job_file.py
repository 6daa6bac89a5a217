"""The job file: one documented, versioned JSON document that any shop's copy can open.

Lengths stand as they were typed (``39 3/8``, ``1000 mm``), light in percent. The JSON Schema
is generated from these models into ``docs/reference/job-file.schema.json``.
"""

from __future__ import annotations

import json
from collections.abc import Mapping
from difflib import get_close_matches
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, StringConstraints, ValidationError

from elumbra.core.cut import StripShape
from elumbra.core.errors import CoreError, LengthError
from elumbra.core.film import Construction, Film, LinerSide, LotFigure, Stock, StockKind, VltBasis, Warranty, check_film
from elumbra.core.glass import Curve, GlassType, Position, Side, WindowKind
from elumbra.core.law import (
    LAW_FORMAT,
    LAW_FORMAT_VERSION,
    LawBook,
    LawFile,
    RegisteredAs,
    VehicleClass,
    parse_law_file,
)
from elumbra.core.light import Glass, GlassSource, metered_glass
from elumbra.core.measure import Figure, Level, Reading, TapeMode
from elumbra.core.starting import StartingValues
from elumbra.core.units import parse_length
from elumbra.core.work import Feature, Job, Reason, ReasonKind, Vehicle, Window

FORMAT = "elumbra-job"
FORMAT_VERSION = 2
READABLE = (1, 2)
LARGEST_FILE = 2_000_000
_SQUARE_MM_PER_M2 = 1_000_000

Name = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=120)]
Identifier = Annotated[str, StringConstraints(pattern=r"^[A-Za-z0-9_.:-]{1,64}$")]
Typed = Annotated[str, StringConstraints(strip_whitespace=True, max_length=40)]
Percent = Annotated[float, Field(ge=0, le=100, allow_inf_nan=False)]
Day = Annotated[str, StringConstraints(pattern=r"^(\d{4}-(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01]))?$")]


class JobFileError(CoreError):
    """A job file that cannot be opened; ``fields`` maps the place in the file to the reason."""


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class ReadingPart(_Part):
    """One tape reading: as typed, and whether the tape lay on the glass or straight."""

    typed: Typed
    mode: TapeMode = TapeMode.SURFACE


class SameAsPart(_Part):
    """The window whose glass this one shares; mirrored for the other side of the car."""

    window: Identifier
    mirrored: bool = False


class ReasonPart(_Part):
    """A lead's reason for an unlawful film; the verdict stays, and this is printed beside it."""

    kind: ReasonKind
    film: Identifier
    wish: Annotated[str, StringConstraints(max_length=400)]
    document: Annotated[str, StringConstraints(max_length=120)] = ""
    expires_on: Day = ""
    note: Annotated[str, StringConstraints(max_length=400)] = ""
    person: Annotated[str, StringConstraints(max_length=120)] = ""
    on: Day = ""


class WindowPart(_Part):
    """One window, in walkaround order. Readings are seen from outside the car."""

    id: Identifier
    label: Name
    position: Position
    side: Side = Side.CENTRE
    kind: WindowKind
    glass_type: GlassType = GlassType.UNKNOWN
    bare_vlt_percent: Percent | None = None
    bare_vlt_source: GlassSource = GlassSource.ASSUMED
    bare_readings_percent: Annotated[list[Percent], Field(max_length=20)] = []
    bare_vlt_through_old_film: bool = False
    old_film: bool = False
    old_film_stays: bool = False
    layers: Annotated[list[Identifier], Field(max_length=4)] = []
    factory_glass: bool | None = None
    as1_mark: bool | None = None
    features: list[Feature] = []
    reason: ReasonPart | None = None
    film: Identifier | None = None
    coverage: Literal["full", "strip"] = "full"
    strip_shape: StripShape = StripShape.STRAIGHT
    strip_pieces: Annotated[int, Field(ge=1, le=2)] = 1
    curve: Curve = Curve.FLAT
    level: Level = Level.SIZE
    figure: Figure = Figure.FOUR
    readings: dict[str, ReadingPart] = Field(default_factory=dict)
    same_as: SameAsPart | None = None


class VehiclePart(_Part):
    """The vehicle as the law sees it."""

    label: Name
    vehicle_class: VehicleClass
    states: Annotated[list[str], Field(min_length=1, max_length=6)]
    mirrors_both_sides: bool | None = None
    model_year: Annotated[int, Field(ge=1900, le=2100)] | None = None
    registered_as: RegisteredAs | None = None
    no_glass_at: list[Position] = []


class JobPart(_Part):
    """The job itself."""

    title: Name
    customer: Annotated[str, StringConstraints(max_length=120)] = ""
    note: Annotated[str, StringConstraints(max_length=2000)] = ""
    vehicle: VehiclePart
    windows: Annotated[list[WindowPart], Field(max_length=60)]


class LotPart(_Part):
    """A lot's own VLT, as the shop's readings after installation show it."""

    lot: Annotated[str, StringConstraints(max_length=60)]
    vlt_percent: Percent
    pm_points: Percent
    readings: Annotated[int, Field(ge=1)]


class FilmPart(_Part):
    """A film as its sheet describes it."""

    id: Identifier
    name: Name
    construction: Construction
    vlt_percent: Percent
    vlt_basis: VltBasis = VltBasis.UNKNOWN
    reflectance_percent: Percent | None = None
    colour: Name = "neutral"
    mirror_finish: bool = False
    solar_transmittance_percent: Percent | None = None
    solar_reflectance_percent: Percent | None = None
    shrink_limit_percent: Percent | None = None
    reflectance_inside_percent: Percent | None = None
    uv_rejection_percent: Percent | None = None
    warranty: Warranty = Warranty.UNKNOWN
    warranty_years: Annotated[float, Field(gt=0, le=50, allow_inf_nan=False)] | None = None
    lot: LotPart | None = None


class StockPart(_Part):
    """A roll, offcut or sheet; length runs along the roll (machine direction)."""

    id: Identifier
    film: Identifier
    kind: StockKind
    label: Name
    width: Typed
    length: Typed
    price_per_m2: Annotated[float, Field(ge=0, le=10_000, allow_inf_nan=False)]
    lot: Annotated[str, StringConstraints(max_length=60)] = ""
    liner: LinerSide = LinerSide.UP


class LawPart(_Part):
    """The law that the job was judged by: the records of its states as they stood, the shop's words in them."""

    version: Annotated[str, StringConstraints(max_length=60)]
    day: Day
    records: Annotated[list[dict[str, Any]], Field(max_length=6)]


class JobFile(_Part):
    """A whole job with the films it names and the stock it may be cut from."""

    format: Literal["elumbra-job"] = "elumbra-job"
    format_version: Literal[1, 2] = 2
    job: JobPart
    films: Annotated[list[FilmPart], Field(max_length=200)]
    stock: Annotated[list[StockPart], Field(max_length=500)]
    starting_values: dict[str, float] = Field(default_factory=dict)
    law: LawPart | None = None


def parse_job_file(content: bytes) -> JobFile:
    """Read a job file's bytes.

    Raises
    ------
    JobFileError
        Broken, foreign, future or huge; every wrong field is named by its place in the file.
    """
    if len(content) > LARGEST_FILE:
        raise JobFileError(
            f"This file has {len(content) / 1e6:.1f} MB; a job file has at most {LARGEST_FILE / 1e6:.0f} MB. "
            "Is it the right file?"
        )
    try:
        document = json.loads(content.decode("utf-8"))
    except UnicodeDecodeError as error:
        raise JobFileError("This file is not text in UTF-8. Export the job again as JSON.") from error
    except json.JSONDecodeError as error:
        raise JobFileError(
            f"This file is broken at line {error.lineno}, column {error.colno}: {error.msg}. Export the job again."
        ) from error
    except RecursionError as error:
        raise JobFileError("This file is nested far deeper than a job. Export the job again.") from error
    if not isinstance(document, dict) or document.get("format") != FORMAT:
        raise JobFileError("This is not an Elumbra job file: its “format” is not “elumbra-job”.")
    version = document.get("format_version")
    if version not in READABLE:
        raise JobFileError(
            f"This job file has format version {version}; this program reads up to version {FORMAT_VERSION}. "
            "Update the program, or export the job for this version."
        )
    try:
        parsed = JobFile.model_validate(document)
    except ValidationError as error:
        fields = {_place(problem["loc"]): _sentence(problem) for problem in error.errors()}
        place, sentence = next(iter(fields.items()))
        more = f" ({len(fields) - 1} more)" if len(fields) > 1 else ""
        raise JobFileError(f"{place}: {sentence}{more}", fields=fields) from error
    _check_references(parsed)
    return parsed


def _place(location: tuple[int | str, ...]) -> str:
    place = ""
    for part in location:
        place += f"[{part}]" if isinstance(part, int) else f".{part}"
    return place.lstrip(".")


def _sentence(problem: Mapping[str, Any]) -> str:
    if problem["type"] == "extra_forbidden":
        name = str(problem["loc"][-1])
        near = get_close_matches(name, _all_field_names(), n=1)
        hint = f" Did you mean “{near[0]}”?" if near else ""
        return f"“{name}” is not a field here.{hint}"
    return f"{problem['msg']}."


def _all_field_names() -> list[str]:
    parts: tuple[type[_Part], ...] = (
        JobFile, JobPart, VehiclePart, WindowPart, ReadingPart, SameAsPart, ReasonPart, FilmPart, LotPart, StockPart,
        LawPart,
    )  # fmt: skip
    return sorted({name for part in parts for name in part.model_fields})


def _check_references(document: JobFile) -> None:
    fields: dict[str, str] = {}
    films = [film.id for film in document.films]
    windows = [window.id for window in document.job.windows]
    for place, ids in (("films", films), ("job.windows", windows), ("stock", [s.id for s in document.stock])):
        for repeated in {name for name in ids if ids.count(name) > 1}:
            fields[place] = f"“{repeated}” stands more than once."
    for i, window in enumerate(document.job.windows):
        if window.film is not None and window.film not in films:
            fields[f"job.windows[{i}].film"] = f"There is no film “{window.film}” in this file."
        for layer in window.layers:
            if layer not in films:
                fields[f"job.windows[{i}].layers"] = f"There is no film “{layer}” in this file."
        if window.same_as and window.same_as.window not in windows:
            fields[f"job.windows[{i}].same_as"] = f"There is no window “{window.same_as.window}” in this file."
    for i, stock in enumerate(document.stock):
        if stock.film not in films:
            fields[f"stock[{i}].film"] = f"There is no film “{stock.film}” in this file."
    if fields:
        place, sentence = next(iter(fields.items()))
        raise JobFileError(f"{place}: {sentence}", fields=fields)


def to_bytes(document: JobFile) -> bytes:
    """A job file's bytes, ready to be written; reading them back gives the same document."""
    return (json.dumps(document.model_dump(mode="json"), indent=2, ensure_ascii=False) + "\n").encode()


def core_film(part: FilmPart) -> Film:
    """A film as the core knows it."""

    def share(percent: float | None) -> float | None:
        return None if percent is None else percent / 100

    return Film(
        id=part.id,
        name=part.name,
        construction=part.construction,
        vlt=part.vlt_percent / 100,
        vlt_basis=part.vlt_basis,
        reflectance=share(part.reflectance_percent),
        colour=part.colour,
        mirror_finish=part.mirror_finish,
        solar_transmittance=share(part.solar_transmittance_percent),
        solar_reflectance=share(part.solar_reflectance_percent),
        shrink_limit=share(part.shrink_limit_percent),
        reflectance_inside=share(part.reflectance_inside_percent),
        uv_rejection=share(part.uv_rejection_percent),
        warranty=part.warranty,
        warranty_years=part.warranty_years,
        lot=LotFigure(lot.lot, lot.vlt_percent / 100, lot.pm_points / 100, lot.readings) if (lot := part.lot) else None,
    )


def core_stock(part: StockPart) -> Stock:
    """A roll, offcut or sheet as the core knows it.

    Raises
    ------
    LengthError
        A size that is not a length.
    """
    return Stock(
        id=part.id,
        film_id=part.film,
        kind=part.kind,
        width=parse_length(part.width).mm,
        length=parse_length(part.length).mm,
        price=part.price_per_m2 / _SQUARE_MM_PER_M2,
        lot=part.lot,
        liner=part.liner,
        label=part.label,
    )


def core_window(part: WindowPart) -> Window:
    """A window as the core knows it.

    Raises
    ------
    LengthError
        A reading that is not a length; the message names the window and the reading.
    """
    readings = {}
    for key, reading in part.readings.items():
        try:
            length = parse_length(reading.typed)
        except LengthError as error:
            raise LengthError(f"{part.label}, {key}: {error.message}", fields={key: error.message}) from error
        readings[key] = Reading(length.typed, length.mm, reading.mode)
    return Window(
        id=part.id,
        label=part.label,
        position=part.position,
        side=part.side,
        kind=part.kind,
        glass_type=part.glass_type,
        bare=_core_glass(part),
        old_film=part.old_film,
        old_film_stays=part.old_film_stays,
        layers=tuple(part.layers),
        factory_glass=part.factory_glass,
        as1_mark=part.as1_mark,
        features=frozenset(part.features),
        reason=_core_reason(part.reason),
        film_id=part.film,
        is_strip=part.coverage == "strip",
        strip_shape=part.strip_shape,
        strip_pieces=part.strip_pieces,
        curve=part.curve,
        level=part.level,
        figure=part.figure,
        readings=readings,
        same_as=part.same_as.window if part.same_as else None,
        same_as_mirrored=bool(part.same_as and part.same_as.mirrored),
    )


def _core_glass(part: WindowPart) -> Glass | None:
    through = part.bare_vlt_through_old_film
    if part.bare_readings_percent and part.bare_vlt_source is GlassSource.METERED:
        return metered_glass([percent / 100 for percent in part.bare_readings_percent], through_old_film=through)
    if part.bare_vlt_percent is None:
        return None
    return Glass(part.bare_vlt_percent / 100, part.bare_vlt_source, through_old_film=through)


def _core_reason(part: ReasonPart | None) -> Reason | None:
    if part is None:
        return None
    return Reason(
        part.kind, part.film, part.wish, part.document, part.expires_on, part.note, part.person, part.on
    )  # fmt: skip


def core_vehicle(part: VehiclePart) -> Vehicle:
    """A vehicle as the core knows it."""
    return Vehicle(
        part.label, part.vehicle_class, tuple(part.states), part.mirrors_both_sides, part.model_year,
        part.registered_as, frozenset(part.no_glass_at),
    )  # fmt: skip


def law_of(document: JobFile, shipped: LawFile, *, today: str) -> LawBook:
    """The law that a job file is judged by: the one it was judged by before, else what holds today.

    Raises
    ------
    LawError
        A record in the file that cannot be used.
    """
    if document.law is None:
        return shipped.on(today)
    part = document.law
    header = {"format": LAW_FORMAT, "format_version": LAW_FORMAT_VERSION, "compiled": ""}
    return parse_law_file(header | {"version": part.version, "records": part.records}).on(part.day)


def core_job(document: JobFile, *, starting: StartingValues) -> Job:
    """The whole job as the core knows it, its films checked.

    Raises
    ------
    FilmError, LengthError, ReadingError
        What cannot be, with its field.
    """
    films = {part.id: core_film(part) for part in document.films}
    for film in films.values():
        check_film(film, starting=starting)
    windows = tuple(core_window(part) for part in document.job.windows)
    return Job(core_vehicle(document.job.vehicle), windows, films)
