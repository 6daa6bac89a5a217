"""What must be made before a car may go, window by window; what a lead may let go is told apart."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum


class Lack(StrEnum):
    """What is still missing on a window."""

    FILM = "film"  # nobody booked it off the rack, from a kit or from another shop
    WORK = "work"
    REMOVAL = "removal"
    SCRAP = "scrap"
    LOOK = "look"

    @property
    def may_be_let_go(self) -> bool:
        """Whether a lead may deliver without it; what is on the car is looked at, and what was spoilt is settled."""
        return self in (Lack.FILM, Lack.WORK, Lack.REMOVAL)


@dataclass(frozen=True, kw_only=True)
class WindowWork:
    """What was ordered for a window, and how far that is. Moments in seconds, by one clock."""

    label: str
    film: bool = False  # ordered
    booked: bool = False  # the film that is chosen was cut here or elsewhere, or came in a kit
    begun: bool = False
    made: bool = False  # film is on
    next_step: str = ""
    refusal: str = ""  # why no film can go on at all
    made_at: float | None = None
    looked_at: float | None = None  # the newest final look
    removal: bool = False  # old film comes off
    removed: bool = False
    scrap: Sequence[str] = ()  # spoilt pieces, by their events, of which nobody said what film they were


def lacks(work: WindowWork) -> list[tuple[Lack, str]]:
    """What a window still lacks before its car may go, with a sentence each; empty where it lacks nothing.

    Examples
    --------
    >>> [words for _, words in lacks(WindowWork(label="Rear", film=True))]
    ['Rear: its film is not booked as cut, and not on yet']
    >>> lacks(WindowWork(label="Driver rear", film=True, booked=True, made=True, made_at=60.0, looked_at=90.0))
    []
    """
    found = []
    if work.removal and not work.removed:
        found.append((Lack.REMOVAL, "old film not off yet"))
    if work.scrap:
        words = "a piece is scrap that nobody booked: book what was cut, or say that no film was used"
        found.append((Lack.SCRAP, words))
    untouched = not work.booked and not work.begun and not work.refusal
    if work.film and not work.booked:
        words = "its film is not booked as cut, and not on yet" if untouched else "its film was never booked as cut"
        found.append((Lack.FILM, words))
    if work.film and not work.made and not untouched:
        found.append((Lack.WORK, _unfinished(work)))
    if work.film and work.made and work.looked_at is None:
        found.append((Lack.LOOK, "not looked over at the end"))
    if work.film and work.made and work.looked_at is not None and not looked_after(work.looked_at, work.made_at):
        found.append((Lack.LOOK, "looked over before its last work: look at it again"))
    return [(lack, f"{work.label}: {words}") for lack, words in found]


def looked_after(looked_at: float, made_at: float | None) -> bool:
    """Whether a look came after the work [s]; looks are kept to the second, so one in the same second counts.

    Examples
    --------
    >>> looked_after(60.0, 60.4), looked_after(59.0, 60.4), looked_after(59.0, None)
    (True, False, True)
    """
    return made_at is None or math.floor(looked_at) >= math.floor(made_at)


def _unfinished(work: WindowWork) -> str:
    if work.refusal:
        return f"no film can go on: {work.refusal}"
    if work.begun and work.next_step:
        return f"work not finished, next: {work.next_step}"
    return "no film on yet"
