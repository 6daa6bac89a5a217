"""The data files that ship with the application, read from disk and parsed by the core."""

from __future__ import annotations

import json
from functools import cache
from pathlib import Path
from typing import Any

from elumbra.core.bay import StepBook, parse_step_book
from elumbra.core.inspection import FlawBook, parse_flaw_book
from elumbra.core.law import LawFile, parse_law_file
from elumbra.core.practice import Lesson, parse_lessons
from elumbra.core.pricing import PriceList, parse_prices
from elumbra.core.removal import RemovalTable, parse_removal_table
from elumbra.core.starting import StartingValues, parse_starting_values

_DATA = Path(__file__).parent.parent / "data"


def read_data(name: str) -> Any:
    """Content of a JSON file below ``elumbra/data``."""
    return json.loads((_DATA / name).read_text(encoding="utf-8"))


def read_bytes(name: str) -> bytes:
    """A file below ``elumbra/data`` as it is."""
    return (_DATA / name).read_bytes()


@cache
def starting_values() -> StartingValues:
    """The shipped starting values."""
    return parse_starting_values(read_data("starting_values.json"))


@cache
def law_file() -> LawFile:
    """The shipped rule book."""
    return parse_law_file(read_data("law/us_states.json"))


@cache
def openings() -> dict[str, Any]:
    """Windows of openings that hold several panes."""
    found: dict[str, Any] = read_data("bodies.json")["openings"]
    return found


@cache
def bodies() -> dict[str, Any]:
    """Window lists by body style, in walkaround order."""
    found: dict[str, Any] = read_data("bodies.json")["bodies"]
    return found


@cache
def step_book() -> StepBook:
    """The shipped steps of the work."""
    return parse_step_book(read_data("steps.json"))


@cache
def flaw_book() -> FlawBook:
    """The shipped flaw table."""
    return parse_flaw_book(read_data("flaws.json"))


@cache
def price_list() -> PriceList:
    """The shipped price list."""
    return parse_prices(read_data("prices.json"))


@cache
def removal_table() -> RemovalTable:
    """The shipped decision table of removal."""
    return parse_removal_table(read_data("removal.json"))


@cache
def lessons() -> tuple[Lesson, ...]:
    """The shipped lessons of the practice glass."""
    return parse_lessons(read_data("lessons.json"))
