"""The order round the car, with its reasons."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from elumbra.core.bay.day import SunSide
from elumbra.core.bay.run import Run
from elumbra.core.glass import Side, WindowKind


@dataclass(frozen=True)
class ToDo:
    """A window that is worked on today."""

    id: str
    label: str
    kind: WindowKind
    side: Side
    run: Run


@dataclass(frozen=True)
class Placed:
    """A window's place in the order, and why."""

    id: str
    why: str


_BACK = (WindowKind.HATCH, WindowKind.BACK_GLASS)


def order_round(windows: Sequence[ToDo], *, sun: SunSide, hot: bool) -> tuple[Placed, ...]:
    """The order that is proposed (handbook, sections 4 and 11).

    Unattended work first, then the back glass (an open hatch stays up), slow quarters early, the sun's side
    last when it is hot; else as one walks round the car.
    """
    ranked = []
    for place, one in enumerate(windows):
        rank, why = _rank(one, sun=sun, hot=hot)
        ranked.append((rank, place, Placed(one.id, why)))
    return tuple(placed for _, _, placed in sorted(ranked, key=lambda one: one[:2]))


def _rank(one: ToDo, *, sun: SunSide, hot: bool) -> tuple[int, str]:
    waits = sum(step.wait for step in one.run.steps)
    if waits and one.kind in _BACK:
        stays = "; the hatch stays up" if one.kind is WindowKind.HATCH else ""
        return 0, f"Back glass first, and {waits:.0f} min of it run unattended{stays}"
    if waits:
        return 1, f"{waits:.0f} min of it run unattended: started early"
    if one.kind in _BACK:
        return 2, "Back glass first; the hatch stays up" if one.kind is WindowKind.HATCH else "Back glass first"
    if one.kind is WindowKind.QUARTER:
        return 3, "Slow out of all proportion: done early"
    in_sun = (sun is SunSide.DRIVER and one.side is Side.DRIVER) or (
        sun is SunSide.PASSENGER and one.side is Side.PASSENGER
    )
    if hot and in_sun:
        return 6, "Sun side last: it is hot"
    if one.kind is WindowKind.WINDSHIELD:
        return 5, "Windshield when the cabin is free"
    return 4, "As one walks round the car"


def arranged(proposed: Sequence[Placed], said: Sequence[str]) -> tuple[Placed, ...]:
    """The order that somebody gave by dragging; windows that came later follow as proposed."""
    by_id = {one.id: one for one in proposed}
    first = [by_id[one] for one in dict.fromkeys(said) if one in by_id]
    moved = {one.id for one in first}
    kept = [one.id for one in proposed]
    own = [one if kept.index(one.id) == place else Placed(one.id, "Your order") for place, one in enumerate(first)]
    return (*own, *(one for one in proposed if one.id not in moved))
