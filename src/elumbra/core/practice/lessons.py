"""The lessons, from a data file: which pane, which film, which school, and what they teach."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

from elumbra.core.errors import CoreError


class School(StrEnum):
    """How film lies while it is shrunk (handbook, section 8)."""

    DRY = "dry"  # floats on dry residue
    WET = "wet"  # on slip; the water is pressed out first
    SNAP = "snap"  # on slip, one warm pass along the edge, for little shrink


@dataclass(frozen=True)
class Lesson:
    """One lesson. ``pane`` is a pane of the glass shelf's file."""

    key: str
    title: str
    teaches: str
    pane: Mapping[str, Any]
    film: str  # in words
    limit: float  # the most that the film shrinks, a share
    school: School


def parse_lessons(document: Mapping[str, Any]) -> tuple[Lesson, ...]:
    """The lessons of a data file, in order.

    Raises
    ------
    CoreError
        A key twice.
    """
    found: dict[str, Lesson] = {}
    for row in document["lessons"]:
        lesson = Lesson(**{**row, "school": School(row["school"])})
        if lesson.key in found:
            raise CoreError(f"Lesson “{lesson.key}” stands twice.")
        found[lesson.key] = lesson
    return tuple(found.values())
