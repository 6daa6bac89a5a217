"""The decision table of removal, read from its data file and checked."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from difflib import get_close_matches
from typing import Any

from elumbra.core.errors import CoreError
from elumbra.core.removal.case import GlueWay, Tool, Way

SIGNS = (
    "old", "brittle", "purple", "bubbled", "two_layers", "cold", "cold_unknown", "no_sun", "sun", "no_night", "chipped",
    "lines", "lines_unknown", "not_plain",
)  # fmt: skip
"""What a row may ask; ``signs_of`` says when each is there."""

Signs = frozenset[str]


class RemovalError(CoreError):
    """The table says something that cannot be; the message names the place."""


@dataclass(frozen=True)
class Refusal:
    """Why a way is not taken."""

    when: Signs
    say: str


@dataclass(frozen=True)
class WayRow:
    """A way with its customary figures."""

    id: Way
    words: str
    tools: frozenset[Tool]
    section: str
    minutes: Mapping[str, tuple[float, float]]
    wait: tuple[float, float]
    clean: float
    lines: float
    why: str
    refusals: tuple[Refusal, ...]


@dataclass(frozen=True)
class Change:
    """What a sign does to each way."""

    id: str
    words: str
    when: Signs
    clean: Mapping[str, float]
    minutes: Mapping[str, float]
    lines: float
    section: str


@dataclass(frozen=True)
class GlueRow:
    """A way of taking glue off."""

    id: GlueWay
    words: str
    tools: frozenset[Tool]
    minutes: tuple[float, float]
    section: str
    refusals: tuple[Refusal, ...]


@dataclass(frozen=True)
class RemovalTable:
    """All rows of one version."""

    version: str
    ways: tuple[WayRow, ...]
    changes: tuple[Change, ...]
    glue: tuple[GlueRow, ...]
    never: tuple[str, ...]


def parse_removal_table(document: Mapping[str, Any]) -> RemovalTable:
    """The file's content.

    Raises
    ------
    RemovalError
        An unknown way, tool or sign; the nearest known one is named.
    """
    ways = tuple(
        WayRow(
            id=_named(Way, row["id"], "way"),
            words=row["words"],
            tools=frozenset(_named(Tool, one, "tool") for one in row["tools"]),
            section=row["section"],
            minutes={group: (float(low), float(high)) for group, (low, high) in row["minutes"].items()},
            wait=(float(row["wait"][0]), float(row["wait"][1])),
            clean=float(row["clean"]),
            lines=float(row["lines"]),
            why=row["why"],
            refusals=tuple(
                Refusal(_signs(one["if"]), one["say"]) for one in document["refusals"] if one["way"] == row["id"]
            ),
        )
        for row in document["ways"]
    )
    known = {way.id for way in ways}
    for one in document["refusals"]:
        if _named(Way, one["way"], "way") not in known:
            raise RemovalError(f"“{one['way']}” is refused, but is no way of this table.")
    changes = tuple(
        Change(
            row["id"], row["words"], _signs(row["if"]), row["clean"], row["minutes"], float(row["lines"]),
            row["section"],
        )
        for row in document["changes"]
    )  # fmt: skip
    glue = tuple(
        GlueRow(
            id=_named(GlueWay, row["id"], "way with glue"),
            words=row["words"],
            tools=frozenset(_named(Tool, one, "tool") for one in row["tools"]),
            minutes=(float(row["minutes"][0]), float(row["minutes"][1])),
            section=row["section"],
            refusals=tuple(Refusal(_signs(one["if"]), one["say"]) for one in row["refuse"]),
        )
        for row in document["glue"]
    )
    return RemovalTable(str(document["version"]), ways, changes, glue, tuple(document["never"]))


def _signs(row: Mapping[str, Any]) -> Signs:
    for name in row:
        if name not in SIGNS:
            near = get_close_matches(name, SIGNS, n=1, cutoff=0.0)[0]
            raise RemovalError(f"“{name}” is no sign; the nearest known one is “{near}”.")
    return frozenset(row)


def _named(kind: Any, word: Any, what: str) -> Any:
    try:
        return kind(word)
    except ValueError:
        near = get_close_matches(str(word), [str(one) for one in kind], n=1, cutoff=0.0)[0]
        raise RemovalError(f"“{word}” is no {what}; the nearest known one is “{near}”.") from None
