"""Several readings of one pane: which are kept, their mean and their spread."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from statistics import median


@dataclass(frozen=True)
class Settled:
    """Readings of one pane with those that cannot be of it set aside; fractions."""

    kept: tuple[float, ...]
    refused: tuple[float, ...]

    @property
    def mean(self) -> float:
        """Mean of what is kept."""
        return sum(self.kept) / len(self.kept)

    @property
    def spread(self) -> float:
        """Greatest less least of what is kept."""
        return max(self.kept) - min(self.kept)


def settle(readings: Sequence[float], *, apart: float) -> Settled:
    """Keep the readings that lie about their median, refuse the others.

    Parameters
    ----------
    readings
        One or more, fractions from 0 to 1.
    apart
        How far readings of one pane may lie apart (fraction); half of that about the median.

    Examples
    --------
    >>> settle([0.71, 0.72, 0.86], apart=0.04).refused
    (0.86,)
    >>> settle([0.71], apart=0.04)
    Settled(kept=(0.71,), refused=())
    """
    middle = median(readings)
    near = tuple(one for one in readings if abs(one - middle) <= apart / 2 + 1e-9)
    kept = near or (min(readings, key=lambda one: abs(one - middle)),)
    refused = tuple(one for one in readings if one not in kept)
    return Settled(kept, refused)
