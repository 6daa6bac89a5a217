"""Glass that nobody metered, under film that a meter may read below the limit: asked, told, or left as it is."""

from __future__ import annotations

from collections.abc import Iterable

from elumbra.core.law import State, Verdict
from elumbra.core.light import GlassSource
from elumbra.core.starting import StartingValues
from elumbra.core.work.job import Window


def unmetered_risk(window: Window, verdicts: Iterable[Verdict], *, starting: StartingValues) -> float:
    """Chance (0 to 1) that a meter reads under a limit on glass that nobody metered.

    Nothing where the glass was metered, where no limit is judged, where the law's answer holds the film anyway, and up
    to the share that is not worth asking about.
    """
    if window.bare_vlt_source is GlassSource.METERED:
        return 0.0
    kept = (one.risk for one in verdicts if one.whole.state is State.KEPT and one.risk is not None)
    risk = max(kept, default=0.0)
    return risk if risk > starting["unmetered_risk_share"] else 0.0


def unmetered_words(risk: float) -> str:
    """How it is told at Cut and on the cut list.

    Examples
    --------
    >>> unmetered_words(0.204)
    'Glass not metered: 20 % chance a meter reads under'
    """
    return f"Glass not metered: {100 * risk:.0f} % chance a meter reads under"
