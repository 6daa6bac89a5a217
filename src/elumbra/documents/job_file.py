"""The job file: one documented, versioned JSON document that any shop's copy can open.

Lengths stand as they were typed (``39 3/8``, ``1000 mm``), light in percent. The JSON Schema
is generated from these models into ``docs/reference/job-file.schema.json``.
"""

from __future__ import annotations

import json
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import fields
from difflib import get_close_matches
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, StringConstraints, ValidationError
from pydantic.dataclasses import dataclass as checked

from elumbra.core.errors import CoreError
from elumbra.core.film import FilmFacts, StockFacts, StockKind, colours_in
from elumbra.core.glass import Curve
from elumbra.core.measure import Figure, Level, TapeMode
from elumbra.core.work import Coverage, ReasonKind, Unmetered, VehicleFacts, WindowFacts
from elumbra.documents.facts import with_facts

FORMAT = "elumbra-job"
FORMAT_VERSION = 8
READABLE = range(1, FORMAT_VERSION + 1)
LARGEST_FILE = 2_000_000
_DEEPEST = 24  # levels of nesting: a law condition is the deepest thing in a job
_LARGEST_NUMBER = 1e12

Name = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=120)]
Identifier = Annotated[str, StringConstraints(pattern=r"^[A-Za-z0-9_.:-]{1,64}$")]
Typed = Annotated[str, StringConstraints(strip_whitespace=True, max_length=40)]
Percent = Annotated[float, Field(ge=0, le=100, allow_inf_nan=False)]
Millimetres = Annotated[float, Field(ge=-10_000, le=10_000, allow_inf_nan=False)]
Point = tuple[Millimetres, Millimetres]
MOST_POINTS = 2000
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
    state: Annotated[str, StringConstraints(max_length=2)] = ""
    issued_on: Day = ""
    no_expiry: bool = False
    least_percent: Annotated[float, Field(ge=0, le=100)] | None = None
    citation: Annotated[str, StringConstraints(max_length=400)] = ""
    lapsed: bool = False  # it had run out when the file was written; whoever reads it looks at the day again


class CutPart(_Part):
    """Film that was cut for a window: which, of which lot and roll, when and by whom."""

    film: Identifier
    lot: Annotated[str, StringConstraints(max_length=60)] = ""
    roll: Annotated[str, StringConstraints(max_length=120)] = ""
    on: Day = ""
    person: Annotated[str, StringConstraints(max_length=120)] = ""


class OrderedPart(_Part):
    """What the accepted quote says of a window: which film, how far down; no film: it is not in the order."""

    film: Identifier | None = None
    covers: Coverage = Coverage.FULL


class ShelfPart(_Part):
    """The record of the glass shelf that a window's measures came from."""

    pane: Identifier
    revision: Annotated[int, Field(ge=1, le=100_000)]


_WITH_FACTS = ConfigDict(extra="forbid", str_strip_whitespace=True, allow_inf_nan=False)


@checked(frozen=True, kw_only=True, config=_WITH_FACTS)
class WindowPart(WindowFacts):
    """One window, in walkaround order. Readings are seen from outside the car."""

    id: Identifier
    label: Name
    reason: ReasonPart | None = None
    film: Identifier | None = None
    cut: CutPart | None = None
    ordered: OrderedPart | None = None  # none: no quote was accepted
    layers: Annotated[tuple[Identifier, ...], Field(max_length=4)] = ()
    curve: Curve = Curve.FLAT
    level: Level = Level.SIZE
    figure: Figure = Figure.FOUR
    readings: dict[str, ReadingPart] = Field(default_factory=dict)
    reentrant: Annotated[tuple[Name, ...], Field(max_length=8)] = ()  # corners that point inward
    drawn: Annotated[
        tuple[Point, ...], Field(max_length=MOST_POINTS)
    ] = ()  # outline from a file, mm, seen from outside
    shelf: ShelfPart | None = None
    same_as: SameAsPart | None = None


@checked(frozen=True, kw_only=True, config=_WITH_FACTS)
class VehiclePart(VehicleFacts):
    """The vehicle as the law sees it."""

    label: Name


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


@checked(frozen=True, kw_only=True, config=_WITH_FACTS)
class FilmPart(FilmFacts):
    """A film as its sheet describes it."""

    id: Identifier
    lot: LotPart | None = None


@with_facts(StockFacts)
class StockPart(_Part):
    """A roll, offcut or sheet; length runs along the roll (machine direction)."""

    id: Identifier
    film: Identifier
    kind: StockKind
    label: Name
    width: Typed
    length: Typed
    price_per_m2: Annotated[float, Field(ge=0, le=10_000, allow_inf_nan=False)]


class SourcePart(_Part):
    """Who confirmed or overruled a field of the law, with what citation, from when."""

    overruled: bool
    citation: Annotated[str, StringConstraints(max_length=400)]
    effective_from: Day = ""
    person: Annotated[str, StringConstraints(max_length=120)] = ""
    at: Annotated[str, StringConstraints(max_length=40)] = ""


class LawPart(_Part):
    """The law that the job was judged by: the records of its states as they stood, the shop's words in them."""

    version: Annotated[str, StringConstraints(max_length=60)]
    day: Day
    records: Annotated[list[dict[str, Any]], Field(max_length=6)]
    sources: dict[str, dict[str, SourcePart]] = Field(default_factory=dict)  # by state and field


class JobFile(_Part):
    """A whole job with the films it names and the stock it may be cut from."""

    format: Literal["elumbra-job"] = "elumbra-job"
    format_version: Literal[1, 2, 3, 4, 5, 6, 7, 8] = 8
    job: JobPart
    films: Annotated[list[FilmPart], Field(max_length=200)]
    stock: Annotated[list[StockPart], Field(max_length=500)]
    starting_values: dict[str, float] = Field(default_factory=dict)
    unmetered_glass: Unmetered = Unmetered.ASK
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
    document = _json(content)
    if not isinstance(document, dict) or document.get("format") != FORMAT:
        raise JobFileError("This is not an Elumbra job file: its “format” is not “elumbra-job”.")
    version = document.get("format_version")
    if not isinstance(version, int) or version not in READABLE:
        raise JobFileError(
            f"This job file has format version {version}; this program reads up to version {FORMAT_VERSION}. "
            "Update the program, or export the job for this version."
        )
    if version < 4:
        for film in document.get("films") or ():
            _upgrade_film(film)
    if version < 5:
        job = document.get("job")
        for window in (job.get("windows") if isinstance(job, dict) else None) or ():
            _upgrade_window(window)
    try:
        parsed = JobFile.model_validate(document)
    except ValidationError as error:
        places = {_place(problem["loc"]): _sentence(problem) for problem in error.errors()}
        place, sentence = next(iter(places.items()))
        more = f" ({len(places) - 1} more)" if len(places) > 1 else ""
        raise JobFileError(f"{place}: {sentence}{more}", fields=places) from error
    check_references(parsed)
    return parsed


def _upgrade_film(film: Any) -> None:
    """A film of format version 3 and before: free text for its colour, and a box that was off unless ticked."""
    if not isinstance(film, dict):
        return
    if isinstance(words := film.pop("colour", None), str):
        film.setdefault("colours", [colour.value for colour in colours_in(words)])
        film.setdefault("colour_words", words[:120])
    if film.get("mirror_finish") is False:
        film["mirror_finish"] = None


def _upgrade_window(window: Any) -> None:
    """A window of format version 4 and before: a list of what is in or at the glass instead of findings."""
    if isinstance(window, dict) and isinstance(features := window.pop("features", None), list):
        window["findings"] = findings_of_features(features)


def findings_of_features(features: Iterable[Any]) -> dict[str, Any]:
    """Findings for what windows carried before there was a table of findings.

    Examples
    --------
    >>> findings_of_features(["camera", "chip"])
    {'housing': 'yes', 'condition': ['chipped']}
    """
    known: dict[str, tuple[str, Any]] = {
        "antenna": ("antenna", "yes"),
        "defroster": ("defroster", "yes"),
        "camera": ("housing", "yes"),
        "brake_light": ("brake_light", "seen"),
        "chip": ("condition", ["chipped"]),
    }
    return dict(known[one] for one in features if one in known)


def _json(content: bytes) -> Any:
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
    except ValueError as error:  # a number of more digits than Python reads
        raise JobFileError("This file holds a number that nothing on a car can be. Export the job again.") from error
    check_content(document)
    return document


def check_content(document: Any) -> None:
    """Refuse what can be no record of ours: nested too deep, a number or text that nothing can hold.

    Raises
    ------
    JobFileError
        What it is, in a sentence.
    """
    level = [document]
    for _ in range(_DEEPEST):
        below: list[Any] = []
        for value in level:
            if isinstance(value, dict):
                below += [*value.keys(), *value.values()]
            elif isinstance(value, list):
                below += value
            elif isinstance(value, str):
                _check_text(value)
            elif isinstance(value, int | float) and not abs(value) <= _LARGEST_NUMBER:
                raise JobFileError(f"{str(value)[:40]} is a number that nothing on a car can be.")
        if not below:
            return
        level = below
    raise JobFileError("This is nested far deeper than anything here. Export it again.")


def _check_text(value: str) -> None:
    try:
        value.encode()
    except UnicodeEncodeError as error:
        raise JobFileError("A text here holds half a character, which nothing can store or print.") from error
    if "\x00" in value:
        raise JobFileError("A text here holds a character that nothing can print.")


def _place(location: tuple[int | str, ...]) -> str:
    place = ""
    for part in location:
        place += f"[{part}]" if isinstance(part, int) else f".{part}"
    return place.lstrip(".")


def _sentence(problem: Mapping[str, Any]) -> str:
    if problem["type"] in ("extra_forbidden", "unexpected_keyword_argument"):
        name = str(problem["loc"][-1])
        near = get_close_matches(name, _all_field_names(), n=1)
        hint = f" Did you mean “{near[0]}”?" if near else ""
        return f"“{name}” is not a field here.{hint}"
    return f"{problem['msg']}."


def _all_field_names() -> list[str]:
    models = (JobFile, JobPart, ReadingPart, SameAsPart, ReasonPart, CutPart, LotPart, StockPart, LawPart, SourcePart)
    names = {name for model in models for name in model.model_fields}
    return sorted(names.union(*({one.name for one in fields(kind)} for kind in (WindowPart, VehiclePart, FilmPart))))


def check_references(document: JobFile) -> None:
    """Refuse a document that names a window or film that is not in it.

    Raises
    ------
    JobFileError
        Every such place, with what it names.
    """
    problems: dict[str, str] = {}
    films = [film.id for film in document.films]
    windows = [window.id for window in document.job.windows]
    for place, ids in (("films", films), ("job.windows", windows), ("stock", [s.id for s in document.stock])):
        for repeated in {name for name in ids if ids.count(name) > 1}:
            problems[place] = f"“{repeated}” stands more than once."
    for i, window in enumerate(document.job.windows):
        for place, film_id in _films_named(window):
            if film_id not in films:
                problems[f"job.windows[{i}].{place}"] = f"There is no film “{film_id}” in this file."
        if window.same_as and window.same_as.window not in windows:
            problems[f"job.windows[{i}].same_as"] = f"There is no window “{window.same_as.window}” in this file."
    for i, stock in enumerate(document.stock):
        if stock.film not in films:
            problems[f"stock[{i}].film"] = f"There is no film “{stock.film}” in this file."
    if problems:
        place, sentence = next(iter(problems.items()))
        raise JobFileError(f"{place}: {sentence}", fields=problems)


def _films_named(window: WindowPart) -> Iterator[tuple[str, str]]:
    """Every film that a window names, with the place where it does."""
    if window.film is not None:
        yield "film", window.film
    if window.reason is not None:
        yield "reason.film", window.reason.film
    if window.cut is not None:
        yield "cut.film", window.cut.film
    yield from (("layers", layer) for layer in window.layers)


def to_bytes(document: JobFile) -> bytes:
    """A job file's bytes, ready to be written; reading them back gives the same document."""
    return (json.dumps(document.model_dump(mode="json"), indent=2, ensure_ascii=False) + "\n").encode()
