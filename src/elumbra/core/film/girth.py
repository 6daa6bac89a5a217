"""How much is left on a roll, from a tape round it.

Film wound on a core of radius r up to radius R has the side area π(R² − r²), and that is its length
times its thickness, liner and the air between the turns included. Thickness is calibrated on full
rolls of the same film, whose length is known; nothing is taken for granted without one.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import hypot, pi, sqrt

from elumbra.core.errors import CoreError

_TWO_SIGMA = 1.96


@dataclass(frozen=True)
class FullRoll:
    """A full roll as it was calibrated on; all in mm."""

    girth: float  # round the film
    core: float  # round the bare core
    length: float


@dataclass(frozen=True)
class Recount:
    """What a girth tells of the length left [mm]; ``pm`` is a 95 % half-width."""

    length: float
    pm: float
    thickness: float  # of one turn [mm]
    rolls: int  # that it was calibrated on

    @property
    def low(self) -> float:
        """No less is left, at 95 % [mm]."""
        return max(0.0, self.length - self.pm)

    @property
    def high(self) -> float:
        """No more is left, at 95 % [mm]."""
        return self.length + self.pm

    def agrees_with(self, left: float) -> bool:
        """Whether what the ledger says [mm] may be true."""
        return self.low <= left <= self.high


def recount(girth: float, core: float, calibrated: Sequence[FullRoll], *, tape_sigma: float) -> Recount:
    """The length left on a roll.

    Parameters
    ----------
    girth, core
        Round the roll, and round its bare core [mm].
    calibrated
        Full rolls of the same film.
    tape_sigma
        Spread of one reading of the tape [mm].

    Returns
    -------
    Recount
        With its spread: the reading of this girth, of those on full rolls, and, from the second
        roll on, how far their thicknesses differ.

    Raises
    ------
    CoreError
        Nothing to calibrate on, or a girth less than its core's.

    Examples
    --------
    A full roll read again is full, give or take what a tape cannot tell:

    >>> full = FullRoll(girth=328.0, core=270.0, length=30_480.0)
    >>> again = recount(328.0, 270.0, [full], tape_sigma=0.8)
    >>> round(again.length), round(again.pm, -2), round(again.thickness, 3)
    (30480, 1700.0, 0.091)
    """
    if not calibrated:
        raise CoreError("No full roll of this film has been measured. Put the tape round a full one first.")
    _check_girth(girth, core)
    thicknesses = [_side(roll.girth, roll.core) / roll.length for roll in calibrated]
    thickness = sum(thicknesses) / len(thicknesses)
    length = _side(girth, core) / thickness
    read = _side_sigma(girth, core, tape_sigma) / thickness
    own = sqrt(sum((_side_sigma(r.girth, r.core, tape_sigma) / r.length) ** 2 for r in calibrated)) / len(thicknesses)
    apart = sqrt(sum((one - thickness) ** 2 for one in thicknesses)) / len(thicknesses)
    relative = max(own, apart) / thickness
    return Recount(length, _TWO_SIGMA * hypot(read, relative * length), thickness, len(calibrated))


def check_full_roll(roll: FullRoll) -> None:
    """Refuse a calibration that no film gives.

    Raises
    ------
    CoreError
        ``fields`` names the reading.
    """
    _check_girth(roll.girth, roll.core)
    thickness = _side(roll.girth, roll.core) / roll.length
    if not _THINNEST <= thickness <= _THICKEST:
        words = f"That would be film {thickness:.3f} mm thick with its liner; it comes {_THINNEST} to {_THICKEST} mm."
        raise CoreError(f"{words} Read the girth and the length again.", fields={"girth": words})


_THINNEST, _THICKEST = 0.03, 0.4


def _check_girth(girth: float, core: float) -> None:
    if not 0 < core < girth:
        words = "The tape round the roll must read more than round its core."
        raise CoreError(words, fields={"girth": words})


def _side(girth: float, core: float) -> float:
    """Area of the roll's side [mm²]."""
    return (girth**2 - core**2) / (4 * pi)


def _side_sigma(girth: float, core: float, sigma: float) -> float:
    return hypot(girth, core) * sigma / (2 * pi)
