"""A pane's curved outer face, as far as its crowns tell."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Surface:
    """Radii of a pane's outer face at its middle [mm]; None where it is straight that way."""

    radius_across: float | None
    radius_up: float | None


def radius_from_gap(*, gap: float, chord: float) -> float | None:
    """Radius of an arc from the gap under a straightedge at its middle [mm].

    Parameters
    ----------
    gap
        Sagitta [mm], 0 or more; 0 is straight.
    chord
        Distance between the points read, not the straightedge's length [mm], over 0.

    Notes
    -----
    R = chord² / (8 gap) + gap / 2 (heart, section 1).

    Examples
    --------
    >>> radius_from_gap(gap=0.0, chord=1000.0) is None
    True
    >>> radius_from_gap(gap=500.0, chord=1000.0)
    500.0
    """
    if gap <= 0:
        return None
    return chord**2 / (8 * gap) + gap / 2
