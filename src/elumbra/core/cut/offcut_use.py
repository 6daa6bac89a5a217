"""What a piece of film that is left over can still become, whatever is booked."""

from __future__ import annotations

from elumbra.core.starting import StartingValues

_HAIR = 1e-6


def offcut_uses(along: float, across: float, *, starting: StartingValues) -> tuple[str, ...]:
    """Sun strips and quarter windows that a rectangle holds, either way round, in words.

    Parameters
    ----------
    along, across
        Of the rectangle [mm].
    starting
        How much film a strip and a quarter window take.
    """
    strips = _count(along, across, starting["strip_length_mm"], starting["strip_band_mm"])
    quarters = _count(along, across, starting["quarter_long_mm"], starting["quarter_short_mm"])
    told = []
    if strips:
        told.append("a sun strip" if strips == 1 else f"{strips} sun strips")
    if quarters:
        told.append("a quarter window" if quarters == 1 else f"{quarters} quarter windows")
    return tuple(told)


def _count(along: float, across: float, long: float, short: float) -> int:
    """How many of a size lie in a rectangle in rows, all one way round."""
    return max(
        int((along + _HAIR) // one) * int((across + _HAIR) // other) for one, other in ((long, short), (short, long))
    )
