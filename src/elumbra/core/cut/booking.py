"""What a cut takes off the rack: every count of it used, kept or waste, and none lost.

Lengths on the rack are whole counts of 0.0125 mm along the roll. A pulled section is shared out
by area, for its waste lies beside the pieces as well as behind them.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

COUNTS_PER_MM = 80  # a sixteenth of an inch is 127


@dataclass(frozen=True)
class Booking:
    """Counts along the roll taken off one piece of stock, and what became of them."""

    used: int
    kept: int
    waste: int

    @property
    def taken(self) -> int:
        """All of it."""
        return self.used + self.kept + self.waste


def book(*, taken: int, width: float, used_area: float, kept_area: float) -> Booking:
    """Share a length taken out by area.

    Parameters
    ----------
    taken
        Counts along the roll, full width.
    width
        Of the stock [mm].
    used_area, kept_area
        Of the pieces, and of the leftovers that go back on the rack [mm²].

    Raises
    ------
    ValueError
        More area used and kept than was taken.

    Examples
    --------
    >>> book(taken=80_000, width=500.0, used_area=400_000.0, kept_area=50_000.0)
    Booking(used=64000, kept=8000, waste=8000)
    """
    area = taken / COUNTS_PER_MM * width
    if used_area + kept_area > area * (1 + 1e-6) + 1.0:
        raise ValueError(f"{used_area + kept_area:.0f} mm² cannot come out of {area:.0f} mm²")
    used = min(taken, round(taken * used_area / area)) if area else 0
    kept = min(taken - used, round(taken * kept_area / area)) if area else 0
    return Booking(used, kept, taken - used - kept)


def shared_out(whole: Booking, areas: Sequence[float]) -> list[Booking]:
    """What each of several jobs took of a length cut for all of them; no count is lost.

    Parameters
    ----------
    whole
        What was booked for all.
    areas
        Of each job's pieces [mm²]. What goes back on the rack is booked with the first that has any.

    Examples
    --------
    >>> shared_out(Booking(used=10, kept=4, waste=3), [2.0, 0.0, 1.0])
    [Booking(used=7, kept=4, waste=2), Booking(used=0, kept=0, waste=0), Booking(used=3, kept=0, waste=1)]
    """
    used, waste = _apportioned(whole.used, areas), _apportioned(whole.waste, areas)
    first = next((i for i, area in enumerate(areas) if area > 0), 0)
    return [Booking(used[i], whole.kept if i == first else 0, waste[i]) for i in range(len(areas))]


def _apportioned(count: int, weights: Sequence[float]) -> list[int]:
    """Whole counts in proportion, the largest remainders rounded up."""
    total = sum(weights)
    if not total:
        return [count, *([0] * (len(weights) - 1))]
    exact = [count * weight / total for weight in weights]
    found = [int(part) for part in exact]
    by_rest = sorted(range(len(exact)), key=lambda i: (found[i] - exact[i], i))
    for i in by_rest[: count - sum(found)]:
        found[i] += 1
    return found
