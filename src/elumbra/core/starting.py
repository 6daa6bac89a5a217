"""Starting values: the figures the trade does by feel, in one versioned data file.

A figure is never a literal in code: it is looked up here by name, shown with its basis as
"our starting value", and the shop can change it within its stated range.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from difflib import get_close_matches
from typing import Any

from elumbra.core.errors import StartingValueError


@dataclass(frozen=True)
class StartingValue:
    """One figure: its value in core units, the range it may be set to, and where it is from."""

    name: str
    label: str
    value: float
    unit: str
    low: float
    high: float
    basis: str
    changed_by_shop: bool = False


@dataclass(frozen=True)
class StartingValues:
    """All figures of one version, looked up by name."""

    version: str
    values: Mapping[str, StartingValue]
    roll_widths_mm: Sequence[float]

    def __hash__(self) -> int:
        own = frozenset((v.name, v.value) for v in self.values.values() if v.changed_by_shop)
        return hash((self.version, own))

    def __getitem__(self, name: str) -> float:
        entry = self.values.get(name)
        return entry.value if entry is not None else self.of(name).value

    def of(self, name: str) -> StartingValue:
        """The whole entry, for a "why".

        Raises
        ------
        StartingValueError
            No such figure; the nearest name is given.
        """
        if name not in self.values:
            near = get_close_matches(name, self.values, n=1)
            hint = f" Did you mean “{near[0]}”?" if near else ""
            raise StartingValueError(f"There is no starting value “{name}”.{hint}")
        return self.values[name]

    def clamped(self, changes: Mapping[str, float]) -> tuple[dict[str, float], list[str]]:
        """The shop's own figures brought into range, and what had to be changed, in words.

        A release may narrow a range or drop a figure: what the shop set before then still works.
        """
        kept: dict[str, float] = {}
        told = []
        for name, value in changes.items():
            entry = self.values.get(name)
            if entry is None:
                told.append(f"“{name}” is no figure of this release; the shop's {value:g} is not used.")
                continue
            kept[name] = min(max(value, entry.low), entry.high)
            if kept[name] != value:
                told.append(
                    f"{entry.label}: the shop's {value:g} {entry.unit} lies outside {entry.low:g} to {entry.high:g}; "
                    f"{kept[name]:g} is used. Set it anew at Shop."
                )
        return kept, told

    def with_shop_values(self, changes: Mapping[str, float]) -> StartingValues:
        """The same figures with the shop's own in place, each checked against its range."""
        values = dict(self.values)
        for name, value in changes.items():
            entry = self.of(name)
            if not entry.low <= value <= entry.high:
                raise StartingValueError(
                    f"{entry.label}: {value:g} {entry.unit} is outside {entry.low:g} to {entry.high:g} {entry.unit}.",
                    fields={name: f"Must lie between {entry.low:g} and {entry.high:g} {entry.unit}."},
                )
            values[name] = replace(entry, value=float(value), changed_by_shop=True)
        return replace(self, values=values)


def parse_starting_values(document: Mapping[str, Any]) -> StartingValues:
    """Read the data file's content.

    Raises
    ------
    StartingValueError
        A value lies outside its own range, or a name stands twice.
    """
    values: dict[str, StartingValue] = {}
    for row in document["values"]:
        entry = StartingValue(**row)
        if entry.name in values:
            raise StartingValueError(f"Starting value “{entry.name}” stands twice.")
        if not entry.low <= entry.value <= entry.high:
            raise StartingValueError(f"Starting value “{entry.name}” lies outside its own range.")
        values[entry.name] = entry
    return StartingValues(str(document["version"]), values, tuple(document["roll_widths_mm"]))
