"""Whether film can take a pane: the required shrink as an interval, against what this film bears.

The harder word stands: an interval is judged by its upper end, so that not reading never helps. A further
reading is asked for only where the interval crosses a decision.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from scipy.special import ndtri

from elumbra.core.shrink.net import ShrinkError
from elumbra.core.starting import StartingValues

_TWO_SIDED = 1.959964  # standard deviations of a 95 % half-width
_QUANTILES = (np.arange(81) + 0.5) / 81


class ShrinkWord(StrEnum):
    """What it takes to lay film on a pane, from nothing to impossible."""

    FLAT = "lies flat"
    SNAP = "snap"
    CARD = "card"
    HARD = "hard"
    WILL_NOT = "will not shrink"

    @property
    def releases(self) -> bool:
        """Whether one piece of film can be cut for it."""
        return self is not ShrinkWord.WILL_NOT


@dataclass(frozen=True)
class Interval:
    """A share with its 95 % interval, cut off at 0."""

    value: float
    low: float
    high: float


@dataclass(frozen=True)
class Bears:
    """Up to where each word goes, for one film; shares."""

    flat: float
    snap: float
    card: float
    limit: float

    @classmethod
    def of(cls, limit: float, *, starting: StartingValues) -> Bears:
        """For a film that shrinks by at most ``limit``.

        Raises
        ------
        ShrinkError
            A limit that no film has.
        """
        if not 0 < limit <= _MOST_LIMIT:
            raise ShrinkError(
                f"A film that shrinks by at most {limit:.1%} cannot be heated onto curved glass. "
                "Put its shrink limit right at Films: 1.5 to 4 % are usual.",
                fields={"shrink_limit_percent": "Over 0 and at most 20 %."},
            )
        flat, snap = starting["lies_flat_most"], starting["snap_most"]
        card = limit * starting["shrink_safety_share"]
        return cls(min(flat, limit), min(snap, limit), card, limit)

    def word(self, shrink: float) -> ShrinkWord:
        """What it takes to shrink film by so much.

        Examples
        --------
        >>> bears = Bears(flat=0.001, snap=0.005, card=0.021, limit=0.03)
        >>> [bears.word(share).value for share in (0.0, 0.003, 0.02, 0.03, 0.031)]
        ['lies flat', 'snap', 'card', 'hard', 'will not shrink']
        """
        steps = (
            (self.flat, ShrinkWord.FLAT),
            (self.snap, ShrinkWord.SNAP),
            (self.card, ShrinkWord.CARD),
            (self.limit, ShrinkWord.HARD),
        )
        return next((word for most, word in steps if shrink <= most + _HAIR), ShrinkWord.WILL_NOT)


_MOST_LIMIT = 0.2
_HAIR = 1e-12


@dataclass(frozen=True)
class Verdict:
    """One piece of film on one pane."""

    shrink: Interval
    bears: Bears
    asks: str = ""  # the reading that would settle it, where the interval crosses a decision
    foot: bool = False  # its bottom edge is shrunk in any case

    @property
    def word(self) -> ShrinkWord:
        """The harder word; at least a snap where the bottom edge is shrunk in any case."""
        word = self.bears.word(self.shrink.high)
        return ShrinkWord.SNAP if self.foot and word is ShrinkWord.FLAT else word

    @property
    def foot_only(self) -> bool:
        """Whether nothing but the bottom edge is to be shrunk."""
        return self.foot and self.bears.word(self.shrink.high) is ShrinkWord.FLAT

    @property
    def crosses(self) -> bool:
        """Whether the interval leaves open if one piece will do."""
        return self.bears.word(self.shrink.low).releases and not self.word.releases


def product_interval(value: float, *, means: Sequence[float], sigmas: Sequence[float]) -> Interval:
    """The interval of a value that goes with the product of two curvatures.

    Parameters
    ----------
    value
        At the means.
    means, sigmas
        Of the two curvatures [1/mm], spread normally, as readings are; means over 0.

    Notes
    -----
    Quantiles of the product over a grid of both quantiles; curvatures under 0 count as straight.
    """
    ways = [np.maximum(mean + sigma * ndtri(_QUANTILES), 0.0) / mean for mean, sigma in zip(means, sigmas, strict=True)]
    products = np.sort(np.multiply.outer(*ways).ravel())
    low, high = np.quantile(products, [0.025, 0.975])
    return Interval(value, min(value * float(low), value), max(value * float(high), value))


def stepped_interval(value: float, steps: Sequence[float]) -> Interval:
    """The interval of a value that independent readings move by these steps, one sigma each."""
    half = _TWO_SIDED * float(np.sqrt(sum(step**2 for step in steps)))
    return Interval(value, max(value - half, 0.0), value + half)
