"""A pane with its film on: what the meter reads, against what was foretold and what the law says of the reading.

*Lawful* is said of a reading alone: only where the law's word on it is Clears or Close, and the figure that was
read is at or over the limit. Within the meter's tolerance the three figures are printed without that word.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from elumbra.core.law import Verdict, VerdictWord, judge
from elumbra.core.light import combine, metered_glass
from elumbra.core.work import Car

_SAME = 1e-9


class Wording(StrEnum):
    """What a certificate may say of one window."""

    LAWFUL = "lawful"
    WITHIN = "within_tolerance"
    NONE = "none"


@dataclass(frozen=True)
class Fitted:
    """What was read on the finished pane; None where nobody read it."""

    reading: float | None = None  # VLT, 0 to 1
    deepest_mm: float | None = None  # of a strip, by the ruler from the top of the glass


@dataclass(frozen=True)
class Certified:
    """What a certificate may say of a window, and why it may not."""

    wording: Wording
    why: str  # where there is none: what is missing, and where it is given
    reading: float | None
    limit: float | None
    tolerance_points: float | None
    verdicts: tuple[Verdict, ...]


def verdicts_on_reading(car: Car, window_id: str, fitted: Fitted) -> tuple[Verdict, ...]:
    """What each state's law says of a window as it was read, not as it was foretold.

    A strip is judged by its deepest fitted reading. Empty where the window has no film, or nothing was read.
    """
    window, pane = car.window(window_id), car.shaded.by_window[window_id]
    if pane.film is None:
        return ()
    if window.is_strip:
        if fitted.deepest_mm is None:
            return ()
        pane = replace(pane, strip_depth=fitted.deepest_mm)
    elif fitted.reading is None:
        return ()
    if fitted.reading is not None:
        read = combine(metered_glass([fitted.reading]), None, starting=car.starting)
        pane = replace(pane, combined=read)
    panes = tuple(pane if one.id == window_id else one for one in car.shaded.car.panes)
    facts = replace(car.shaded.car, panes=panes)
    return tuple(judge(car.law.of(code), pane, facts, starting=car.starting) for code in car.job.vehicle.states)


def certify(verdicts: Sequence[Verdict], fitted: Fitted, *, strip: bool) -> Certified:
    """What a certificate may say.

    Parameters
    ----------
    verdicts
        The law's words on the reading, one a state.
    fitted
        What was read.
    strip
        Whether the film is a strip at the top, which is judged by its depth.
    """
    limits = [one.limit for one in verdicts if one.limit is not None]
    limit = max(limits, default=None)
    tolerance = next((one.tolerance_points for one in verdicts if one.limit == limit), None)

    def told(wording: Wording, why: str = "") -> Certified:
        return Certified(wording, why, fitted.reading, limit, tolerance, tuple(verdicts))

    if strip and fitted.deepest_mm is None:
        return told(Wording.NONE, "The strip was not measured: read the ruler at Look.")
    if not strip and fitted.reading is None:
        return told(Wording.NONE, "The finished pane was not metered: read it at Look.")
    if not verdicts:
        return told(Wording.NONE, "No law was asked: say the state at Survey.")
    words = {one.word for one in verdicts}
    if words <= {VerdictWord.CLEARS, VerdictWord.CLOSE}:
        if limit is None or (fitted.reading is not None and fitted.reading >= limit - _SAME):
            return told(Wording.LAWFUL)
        return told(Wording.NONE, "A light limit holds here and the finished pane was not metered: read it at Look.")
    if words <= {VerdictWord.CLEARS, VerdictWord.CLOSE, VerdictWord.WITHIN_TOLERANCE}:
        return told(Wording.WITHIN)
    worst = min(verdicts, key=lambda one: list(VerdictWord).index(one.word))
    return told(Wording.NONE, f"{worst.word.value}: {worst.sentence}")


def may_be_labelled(certified: Mapping[str, Certified]) -> list[str]:
    """Windows that a certificate speaks of, in order.

    Examples
    --------
    >>> may_be_labelled({"a": Certified(Wording.NONE, "not read", None, None, None, ())})
    []
    """
    return [window_id for window_id, one in certified.items() if one.wording is not Wording.NONE]
