"""A pane in its case: what conditions share to weigh it."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from elumbra.core.film import Film
from elumbra.core.glass import Position
from elumbra.core.law.facts import Asks, CarFacts, PaneFacts, Question
from elumbra.core.law.finding import Finding, LightTest, State
from elumbra.core.law.records import Jurisdiction
from elumbra.core.light import percent, risk_below
from elumbra.core.starting import StartingValues

SAME_SHARE = 1e-9  # a figure this near its limit is at it: rounding, not light
NO_FILM = "There is no film on it."


class Case(NamedTuple):
    """One pane of one car under one record."""

    law: Jurisdiction
    pane: PaneFacts
    car: CarFacts
    starting: StartingValues
    film: Film | None  # the pane's own

    @property
    def where(self) -> str:
        """The pane's legal position in words, with its preposition."""
        if self.pane.is_strip:
            return "in the strip"
        words = self.pane.position.value.replace("_", " ")
        below = " below the strip" if self.pane.position is Position.WINDSHIELD else ""
        return f"at the {words}{below}"


def bare_glass_question(pane: PaneFacts) -> Question:
    """What the glass passes before film; why a reading was not taken stands before it."""
    doubt = f"{pane.doubt} " if pane.doubt else ""
    return Question(Asks.BARE_VLT, f"{doubt}What does the bare glass of {pane_name(pane)} pass?", pane.id)


def compared(
    case: Case,
    vlt: float,
    pm: float,
    limit: float,
    asked: Callable[[], str],
    subject: str = "",
    *,
    metered: bool = True,
) -> Finding:
    """A figure against a limit: broken when its mean is under, close when a meter may well read under it.

    A figure under the limit that a meter will hardly read under limit less tolerance is kept
    ``within`` the tolerance, where the law grants the meter one.
    """
    test = LightTest(vlt, limit, risk_below(vlt, pm, limit, starting=case.starting))
    if vlt < limit - SAME_SHARE:

        def under() -> str:
            return f"{subject}{percent(vlt)} is {points_words(limit - vlt)} under {asked()}."

        granted = (case.law.tolerance_points or 0.0) / 100 if metered else 0.0
        risk = risk_below(vlt, pm, limit - granted, starting=case.starting)
        if granted and vlt >= limit - granted - SAME_SHARE and risk <= case.starting["clears_risk"]:
            return Finding(
                State.KEPT,
                lambda: (
                    f"{under()} {case.law.name} grants the meter {100 * granted:g} points: "
                    f"under {percent(limit - granted)} it reads with {chance(risk)}."
                ),
                within=True,
                light=test,
            )
        return Finding(State.BROKEN, under, light=test)
    close = test.risk > case.starting["clears_risk"]

    def over() -> str:
        words = f"{subject}{percent(vlt)} is {points_words(vlt - limit)} over {asked()}"
        return f"{words}, yet a meter may read under it: {chance(test.risk)}." if close else f"{words}."

    return Finding(State.KEPT, over, close=close, light=test)


def points_words(share: float) -> str:
    """A difference of light in points.

    Examples
    --------
    >>> points_words(0.031), points_words(0.0), points_words(0.0002)
    ('3.1 points', '0.0 points', 'less than 0.1 points')
    """
    points = abs(100 * share)
    return "less than 0.1 points" if 1e-6 < points < 0.05 else f"{points:.1f} points"


def chance(risk: float) -> str:
    """A chance in words."""
    return f"{risk * 100:.0f} chances in 100" if risk >= 0.01 else "under 1 chance in 100"


def pane_name(pane: PaneFacts) -> str:
    """The pane's own name, else its position."""
    return pane.label or f"the {pane.position.value.replace('_', ' ')}"
