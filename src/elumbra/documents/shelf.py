"""The glass shelf's file: one documented, versioned JSON document, and a pane as it is kept.

The JSON Schema is generated from these models into ``docs/reference/shelf-file.schema.json``.
"""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, StringConstraints, TypeAdapter, ValidationError
from pydantic.dataclasses import dataclass as checked

from elumbra.core.errors import CoreError, LengthError
from elumbra.core.glass import Curve
from elumbra.core.measure import Figure as PaneFigure
from elumbra.core.measure import FrozenReadings, Level, MeasuredPane, Measures, Reading, measure_pane
from elumbra.core.starting import StartingValues
from elumbra.core.survey import WINDOW_FINDINGS, check_answers
from elumbra.core.units import parse_length
from elumbra.core.work import GlassFacts
from elumbra.documents.job_file import MOST_POINTS, Day, Name, Point, ReadingPart, check_content

FORMAT = "elumbra-shelf"
FORMAT_VERSION = 1
LARGEST_FILE = 40_000_000
MOST_CARS = 5_000
MOST_PANES = 60

Text = Annotated[str, StringConstraints(strip_whitespace=True, max_length=400)]


class ShelfFileError(CoreError):
    """A shelf file that cannot be opened; ``fields`` maps the place in the file to the reason."""


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class FittedPart(_Part):
    """How a piece cut by a pane fitted: right, short or long, by how much, at which edge."""

    word: Literal["right", "short", "long"]
    edge: Annotated[str, StringConstraints(max_length=40)] = ""
    by: Annotated[str, StringConstraints(strip_whitespace=True, max_length=40)] = ""
    note: Text = ""
    person: Annotated[str, StringConstraints(max_length=120)] = ""
    on: Day = ""


@checked(frozen=True, kw_only=True, config=ConfigDict(extra="forbid", str_strip_whitespace=True))
class PanePart(GlassFacts):
    """A measured pane, seen from outside the car."""

    label: Name
    curve: Curve = Curve.FLAT
    level: Level = Level.SIZE
    figure: PaneFigure = PaneFigure.FOUR
    readings: Annotated[dict[str, ReadingPart], Field(max_length=80)] = Field(default_factory=dict)
    reentrant: Annotated[tuple[Name, ...], Field(max_length=8)] = ()
    drawn: Annotated[tuple[Point, ...], Field(max_length=MOST_POINTS)] = ()
    findings: Annotated[dict[str, str | tuple[str, ...]], Field(max_length=80)] = Field(default_factory=dict)
    trim: Text = ""
    measured_by: Annotated[str, StringConstraints(max_length=120)] = ""
    made_up: bool = False
    same_as: Annotated[int, Field(ge=0, le=MOST_PANES)] | None = None  # place of the pane of the other side, mirrored
    fitted: FittedPart | None = None


class CarPart(_Part):
    """A car with its panes in walkaround order."""

    name: Name
    years: Annotated[str, StringConstraints(strip_whitespace=True, max_length=40)] = ""
    body: Name
    doors: Annotated[int, Field(ge=0, le=8)] | None = None
    trim: Text = ""
    panes: Annotated[tuple[PanePart, ...], Field(max_length=MOST_PANES)]


class ShelfFile(_Part):
    """A whole shelf, or some cars of it."""

    format: Literal["elumbra-shelf"] = "elumbra-shelf"
    format_version: Literal[1] = 1
    cars: Annotated[list[CarPart], Field(max_length=MOST_CARS)]


def drawn_part(ring: Sequence[Sequence[float]]) -> dict[str, Any]:
    """What a pane says of itself when its outline came from a drawing."""
    return {
        "figure": PaneFigure.DRAWN,
        "level": Level.SHAPE,
        "drawn": tuple((x, y) for x, y in ring),
        "readings": {},
        "reentrant": (),
        "same_as": None,
    }


def pane_measures(part: PanePart) -> Measures:
    """A pane's measures as the core knows them.

    Raises
    ------
    LengthError
        A reading that is no length.
    FindingError
        A finding that there is not.
    """
    check_answers(part.findings, WINDOW_FINDINGS)
    readings = {}
    for key, one in part.readings.items():
        try:
            length = parse_length(one.typed)
        except LengthError as error:
            raise LengthError(f"{part.label}, {key}: {error.message}", fields={key: error.message}) from error
        readings[key] = Reading(length.typed, length.mm, one.mode)
    return Measures(
        part.level, part.figure, part.curve, FrozenReadings(readings), frozenset(part.reentrant), part.drawn
    )


def measured(part: PanePart, *, starting: StartingValues) -> MeasuredPane:
    """A pane worked out.

    Raises
    ------
    ReadingError, LengthError
        Readings that no pane can have.
    """
    return measure_pane(pane_measures(part), starting=starting)


def parse_shelf_file(content: bytes) -> ShelfFile:
    """Read a shelf file's bytes.

    Raises
    ------
    ShelfFileError
        Broken, foreign, future or huge; every wrong field is named by its place in the file.
    """
    if len(content) > LARGEST_FILE:
        raise ShelfFileError(
            f"This file has {len(content) / 1e6:.0f} MB; a shelf has at most {LARGEST_FILE / 1e6:.0f}."
        )
    try:
        document = json.loads(content.decode("utf-8"))
    except (UnicodeDecodeError, ValueError, RecursionError) as error:
        raise ShelfFileError("This file is no JSON text that can be read. Export the shelf again.") from error
    check_content(document)
    if not isinstance(document, dict) or document.get("format") != FORMAT:
        raise ShelfFileError("This is not an Elumbra shelf file: its “format” is not “elumbra-shelf”.")
    if (version := document.get("format_version")) != FORMAT_VERSION:
        raise ShelfFileError(
            f"This shelf file has format version {version}; this program reads version {FORMAT_VERSION}. "
            "Update the program, or export the shelf for this version."
        )
    try:
        parsed = ShelfFile.model_validate(document)
    except ValidationError as error:
        places = {_place(problem["loc"]): f"{problem['msg']}." for problem in error.errors()}
        place, sentence = next(iter(places.items()))
        more = f" ({len(places) - 1} more)" if len(places) > 1 else ""
        raise ShelfFileError(f"{place}: {sentence}{more}", fields=places) from error
    for i, car in enumerate(parsed.cars):
        for k, pane in enumerate(car.panes):
            if pane.same_as is not None and (pane.same_as >= len(car.panes) or pane.same_as == k):
                place = f"cars[{i}].panes[{k}].same_as"
                raise ShelfFileError(f"{place}: There is no such other pane.", fields={place: "No such pane."})
    return parsed


def _place(location: tuple[int | str, ...]) -> str:
    place = ""
    for part in location:
        place += f"[{part}]" if isinstance(part, int) else f".{part}"
    return place.lstrip(".")


def to_bytes(document: ShelfFile) -> bytes:
    """A shelf file's bytes; reading them back gives the same document."""
    return (json.dumps(document.model_dump(mode="json"), indent=1, ensure_ascii=False) + "\n").encode()


_PANE = TypeAdapter(PanePart)


def plain(part: PanePart) -> dict[str, Any]:
    """A pane as a record keeps it."""
    kept: dict[str, Any] = _PANE.dump_python(part, mode="json")
    return kept


def pane_part(content: Mapping[str, Any]) -> PanePart:
    """A pane from what a record keeps."""
    return _PANE.validate_python(content)
