"""How a window's film shrinks onto its glass: worked out once for Cut, Heat, papers and files."""

from __future__ import annotations

from dataclasses import dataclass, replace

from elumbra.core.film import Film
from elumbra.core.geom.polygon import Points
from elumbra.core.glass import DOORS, Curve
from elumbra.core.measure import MeasuredPane, label
from elumbra.core.shrink import Bears, ShrinkError, Strip, Unrolled, Verdict
from elumbra.core.starting import StartingValues
from elumbra.core.work.heat_words import interval_words, percent
from elumbra.core.work.in_strips import defroster_lines, strips_of
from elumbra.core.work.job import Window
from elumbra.core.work.laid import CrossLine, Laid, OnGlass, lay, within


def film_bears(film: Film | None, *, starting: StartingValues) -> Bears:
    """What a film bears; the starting value where its sheet gives no limit."""
    limit = film.shrink_limit if film is not None else None
    return Bears.of(starting["film_shrink_limit"] if limit is None else limit, starting=starting)


@dataclass(frozen=True)
class Shrinking:
    """A window's film on its glass, as it is cut: in one piece or in strips, upright or turned."""

    on: OnGlass
    way: Unrolled
    line: CrossLine | None
    bears: Bears
    limit_known: bool  # the film's own figure
    reason: str = ""  # a person's, for one piece all the same
    strips: tuple[Strip, ...] = ()
    rolls: bool = False  # a door's glass: its bottom edge is shrunk unless it was read and is flat

    @property
    def verdict(self) -> Verdict:
        """Whether this film can take it. At a door a snap of the bottom edge is the mildest, until crowns are read.

        Raises
        ------
        CoreError
            It cannot be laid.
        """
        crowns = self.on.pane.crowns
        return replace(self.laid.verdict(self.bears), foot=self.rolls and not (crowns and crowns.all_read))

    @property
    def is_turned(self) -> bool:
        """Whether the roll's direction runs up the pane."""
        return self.way is Unrolled.UP

    @property
    def laid(self) -> Laid:
        """The piece as one, at its anchor.

        Raises
        ------
        CoreError
            It cannot be laid.
        """
        return lay(self.on, self.way, self.line)

    def unrolled(self, *, pattern: bool = False) -> frozenset[Unrolled]:
        """Ways in which the film may be turned.

        As it was decided at Heat; else across, and up where what it then needs stays within the safe
        share of its limit. A true pattern is drawn for one way: it is turned only where both are alike.
        """
        if self.way is Unrolled.UP or self.line is not None:
            return frozenset({self.way})
        try:
            turned = within(self.on, Unrolled.UP, self.bears.flat if pattern else self.bears.card)
        except ShrinkError:
            turned = False  # what does not lie turned is not turned: it is no reason to hold what lies across
        return frozenset(Unrolled) if turned else frozenset({Unrolled.ACROSS})

    def flatten(self, drawn: Points) -> Points:
        """Points of the pane's drawing on the flat film; glass called flat is its own drawing."""
        return drawn if self.on.measures.curve is Curve.FLAT else self.laid.flatten(drawn)

    @property
    def settled_by(self) -> str:
        """The reading that would settle whether one piece will do; empty where none is open.

        Raises
        ------
        CoreError
            It cannot be laid.
        """
        return self.verdict.asks if self.held else ""

    @property
    def held(self) -> str:
        """Why it cannot be cut in one piece, and the mend; empty where it can.

        Raises
        ------
        CoreError
            It cannot be laid.
        """
        if self.strips:
            return ""
        if self.line is not None:
            _ = self.laid.placed  # a line that a person put must run across the glass
        if self.reason or (self.line is None and within(self.on, self.way, self.bears.limit)):
            return ""
        verdict = self.verdict
        if verdict.word.releases:
            return ""
        told = (
            f"Will not shrink in one piece: {interval_words(verdict.shrink)}, "
            f"this film takes {percent(self.bears.limit)} %."
        )
        if verdict.asks:
            told += f" Reading {label(verdict.asks)} would settle it."
        return f"{told} At Heat: another film, the other way round, or strips."


def on_glass(window: Window, pane: MeasuredPane, *, starting: StartingValues) -> OnGlass | None:
    """A window's glass as film meets it; None while it is not measured."""
    if pane.outline is None or pane.lie is None:
        return None
    return OnGlass(window.measures, window.mirrored, pane, starting)


def shrinking(window: Window, pane: MeasuredPane, film: Film | None, *, starting: StartingValues) -> Shrinking | None:
    """How a window's film goes on, by what was decided at Heat; None while the window is not measured.

    Raises
    ------
    CoreError
        A film that no heat shrinks; readings that no glass has; strips that cannot be.
    """
    on = on_glass(window, pane, starting=starting)
    if on is None:
        return None
    bears = film_bears(film, starting=starting)
    known = film is not None and film.shrink_limit is not None
    way = Unrolled.UP if window.film_turned else Unrolled.ACROSS
    line = CrossLine(window.cross_line_mm, window.cross_slope) if window.cross_line_mm is not None else None
    reason = window.one_piece_because if window.one_piece_film == window.film_id else ""
    found = Shrinking(on, way, line, bears, known, reason, rolls=window.kind in DOORS)
    if window.in_strips and not window.is_strip:
        lines = defroster_lines(window, pane)
        return replace(found, line=None, strips=strips_of(on, bears.limit, lines))
    return found


def of_part(whole: Shrinking, part: Points) -> Shrinking:
    """A piece that covers a part of the pane, at the best anchor of its own."""
    ring = tuple(map(tuple, part.tolist()))
    return replace(whole, on=replace(whole.on, part=ring), line=None, strips=())
