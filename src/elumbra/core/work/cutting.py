"""From a job to the blanks that must be cut, and the windows that cannot be yet."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from enum import StrEnum

from elumbra.core.cut import (
    WAYS,
    CutLine,
    CutMethod,
    Housing,
    Laid,
    PaneToCut,
    StripPlan,
    blank_for,
    check_outline,
    fixed_edge,
    hand_place,
    pattern_for,
    plan_strip,
)
from elumbra.core.errors import CoreError, ReadingError
from elumbra.core.geom.polygon import Points
from elumbra.core.glass import Outline
from elumbra.core.law import Question, VerdictWord
from elumbra.core.measure import CornerFit, MeasuredPane, describe_change, describe_swap, label
from elumbra.core.nest import Blank, HandPlace, Pattern
from elumbra.core.shrink import ShrinkError, Unrolled
from elumbra.core.starting import StartingValues
from elumbra.core.work.facts import no_film_reason
from elumbra.core.work.gate import hold_words, holding
from elumbra.core.work.heat import Shrinking, of_part, shrinking
from elumbra.core.work.job import Job, Unmetered, Window, readings_stand
from elumbra.core.work.reasons import ReasonKind
from elumbra.core.work.shade import WindowShade
from elumbra.core.work.unmetered import unmetered_risk, unmetered_words


@dataclass(frozen=True)
class ToCut:
    """What is cut of one film, by its way of cutting, and the panes it is for."""

    film_id: str
    blanks: tuple[Blank, ...]
    panes: Mapping[str, PaneToCut]
    patterns: tuple[Pattern, ...] = ()
    lines: Mapping[str, CutLine] = field(default_factory=dict)
    ready_cut: tuple[PaneToCut, ...] = ()  # of a kit: nothing to lay out

    @property
    def places(self) -> Mapping[str, HandPlace]:
        """By piece, where somebody put it, as seen from above."""
        return {pane.id: pane.by_hand for pane in self.panes.values() if pane.by_hand is not None}


class Station(StrEnum):
    """Where in a job a window is worked on, in the order it goes through them."""

    SURVEY = "survey"
    SHADE = "shade"
    STRIP_OFF = "strip_off"  # a siding, where old film comes off
    CUT = "cut"
    HEAT = "heat"
    BAY = "bay"
    LOOK = "look"
    HANDOVER = "handover"
    QUOTE = "quote"  # a siding: what was offered and accepted


@dataclass(frozen=True)
class Hold:
    """Why a window with film chosen is kept from the knife, and the place where that is mended."""

    reason: str
    station: Station
    questions: tuple[Question, ...] = ()  # whose answers release it
    word: VerdictWord | None = None  # where the law holds it


def hold_on(
    window: Window, pane: MeasuredPane, shade: WindowShade, *, kept: bool = False, unmetered: float = 0.0
) -> Hold | None:
    """Why a window with film chosen cannot be cut yet, with the mend; None when it can.

    What the law says is weighed by the gate; what was read must be a pane, and close. What was
    found may forbid film altogether. ``kept`` says that somebody stands by the readings; ``unmetered`` is the
    chance that a meter reads under the limit, where the shop asks about that.
    """
    if never := no_film_reason(window):
        return Hold(f"{never}. Take the film off this window.", Station.SHADE)
    if verdict := holding(shade.verdicts, window.reason, window.film_id):
        return Hold(hold_words(verdict, window.reason, window.film_id), Station.SHADE, verdict.questions, verdict.word)
    if shade.hangs_on_old_film and not _given(window, ReasonKind.BARE_GLASS_ASSUMED):
        return Hold(_UNDER_OLD_FILM, Station.SURVEY)
    if unmetered and not _given(window, ReasonKind.GLASS_NOT_METERED, ReasonKind.BARE_GLASS_ASSUMED):
        return Hold(f"{unmetered_words(unmetered)}. {_METER_IT}", Station.SURVEY)
    if window.off_order:
        return Hold(_OFF_ORDER, Station.QUOTE)
    if pane.problem:
        return Hold(pane.problem, Station.SURVEY)
    if pane.fit and pane.fit.alarm:
        return Hold(_does_not_close(pane.fit), Station.SURVEY)
    if pane.fit and pane.fit.softened and not kept:
        return Hold(_UNREAD_CROWNS, Station.SURVEY)
    if pane.outline is None:
        return Hold("Not measured. Read its greatest width and height.", Station.SURVEY)
    depth = window.readings.get("strip_depth")
    if window.is_strip and (depth is None or depth.mm <= 0):
        return Hold(_NO_DEPTH, Station.SURVEY)
    return None


_METER_IT = "Meter the bare glass at Survey, or have the lead give a reason at Shade."
_OFF_ORDER = "Not as in the accepted quote: price the change and have it accepted, or set the film back."
_NO_DEPTH = "How deep is the strip? Read its depth from the top of the glass."
_UNREAD_CROWNS = (
    "The readings do not close unless crowns that nobody has read explain it. "
    "Read the crowns at Curve, read again, or stand by the readings at Survey."
)
_UNDER_OLD_FILM = (
    "Old film is still on, so nobody knows the bare glass, and the law hangs on it. "
    "Take it off, say so at Survey and meter the glass; or the lead gives a reason at Shade."
)


def _given(window: Window, *kinds: ReasonKind) -> bool:
    """Whether the lead gave a reason of one of these kinds for the film that is chosen."""
    reason = window.reason
    return reason is not None and reason.kind in kinds and reason.film_id == window.film_id


def _does_not_close(fit: CornerFit) -> str:
    """What to do about readings that make no pane, likeliest slip first."""
    if fit.culprit:
        return f"The readings do not close. {describe_change(fit.culprit)}."
    if fit.swap:
        return f"The readings do not close. {describe_swap(fit.swap)}."
    first = f" Likeliest: {describe_change(fit.changes[0])}." if fit.changes else ""
    more = f" Read {label(fit.ask_for)} as well." if fit.ask_for else ""
    return f"The readings do not close: one of them is off.{first}{more}"


def windows_to_cut(
    job: Job,
    panes: Mapping[str, MeasuredPane],
    shades: Mapping[str, WindowShade],
    *,
    starting: StartingValues,
) -> tuple[dict[str, ToCut], dict[str, Hold]]:
    """Blanks by film, and windows with film that cannot be cut yet with the reason.

    The job's shared glass is resolved; panes and shades are by window.
    """
    to_cut: dict[str, dict[str, PaneToCut]] = {}
    held: dict[str, Hold] = {}
    pairs = mirror_pairs(job.windows)
    for window in job.windows:
        if window.film_id is None or window.is_cut:
            continue
        asks = job.unmetered is Unmetered.ASK
        risk = unmetered_risk(window, shades[window.id].verdicts, starting=starting) if asks else 0.0
        kept = readings_stand(window, job.windows)
        if hold := hold_on(window, panes[window.id], shades[window.id], kept=kept, unmetered=risk):
            held[window.id] = hold
            continue
        outline = panes[window.id].outline
        assert outline is not None
        method = window.cut_method or job.vehicle.cut_method
        if WAYS[method].laid is Laid.PATTERN and not outline.measured:
            held[window.id] = Hold(_NO_SHAPE, Station.SURVEY)
            continue
        try:
            check_outline(outline)
            shrunk = shrinking(window, panes[window.id], job.films.get(window.film_id), starting=starting)
            assert shrunk is not None
            if reason := _will_not_lie(window, outline, shrunk, starting=starting):
                held[window.id] = Hold(reason, Station.HEAT)
                continue
            found = pieces_of(window, panes[window.id], shrunk, pairs.get(window.id, ""), method)
            for pane in found:
                if WAYS[method].laid is Laid.PATTERN:
                    pattern_for(pane, starting=starting)
        except ShrinkError as error:
            held[window.id] = Hold(error.message, Station.HEAT)
            continue
        except CoreError as error:
            held[window.id] = Hold(
                error.message, Station.HEAT if "shrink_limit_percent" in error.fields else Station.SURVEY
            )
            continue
        to_cut.setdefault(window.film_id, {}).update({pane.id: pane for pane in found})
    by_film = {film_id: _of_film(film_id, group, starting) for film_id, group in to_cut.items()}
    return by_film, held


_NO_SHAPE = "A pattern needs its shape, not only its size. Read four sides and two diagonals at Survey."


def _of_film(film_id: str, panes: Mapping[str, PaneToCut], starting: StartingValues) -> ToCut:
    laid: dict[Laid, list[PaneToCut]] = {one: [] for one in Laid}
    for pane in panes.values():
        laid[WAYS[pane.method].laid].append(pane)
    patterns = [pattern_for(pane, starting=starting) for pane in laid[Laid.PATTERN]]
    return ToCut(
        film_id,
        tuple(blank_for(pane, starting=starting) for pane in laid[Laid.BLANK]),
        panes,
        tuple(pattern for pattern, _ in patterns),
        {pattern.id: line for pattern, line in patterns},
        tuple(laid[Laid.NOTHING]),
    )


def _will_not_lie(window: Window, outline: Outline, shrunk: Shrinking, *, starting: StartingValues) -> str:
    """Why a window's film will not shrink onto its glass, a sun strip piece by piece; empty where it will."""
    if not window.is_strip:
        return shrunk.held
    parts = (of_part(shrunk, ring) for ring in strip_rings(window, outline, starting=starting))
    return next((held for part in parts if (held := part.held)), "")


def lay_out_strip(window: Window, outline: Outline, depth: float, *, starting: StartingValues) -> StripPlan:
    """A window's strip as it was planned: shape, pieces, housing.

    Raises
    ------
    CoreError
        A strip that does not fit on the glass.
    """
    width, deep = window.readings.get("housing_width"), window.readings.get("housing_depth")
    housing = Housing(width.mm, deep.mm if deep else 0.0) if width and width.mm > 0 else None
    return plan_strip(
        outline, depth=depth, shape=window.strip_shape, pieces=window.strip_pieces, housing=housing, starting=starting
    )


def strip_rings(window: Window, outline: Outline, *, starting: StartingValues) -> tuple[Points, ...]:
    """The pieces of a window's sun strip, seen from outside.

    Raises
    ------
    CoreError
        Its depth is not read, or it does not fit on the glass.
    """
    depth = window.readings.get("strip_depth")
    if depth is None or depth.mm <= 0:
        raise ReadingError(_NO_DEPTH)
    return tuple(lay_out_strip(window, outline, depth.mm, starting=starting).pieces)


def piece_of(window: Window, pane: MeasuredPane, shrunk: Shrinking) -> PaneToCut:
    """The piece for what a window's film covers as if it were a pattern in one."""
    assert pane.outline is not None
    outline = Outline(shrunk.on.ring, shrunk.on.ring, pane.outline.measured)
    return PaneToCut(
        id=window.id, label=window.label, kind=window.kind, outline=outline, window_id=window.id,
        method=CutMethod.PLOTTER, flatten=shrunk.flatten, is_strip=window.is_strip,
        edge=fixed_edge(window.findings),
    )  # fmt: skip


def pieces_of(window: Window, pane: MeasuredPane, shrunk: Shrinking, pair: str, method: CutMethod) -> list[PaneToCut]:
    """What is cut for a window: its pane, the strips that it is cut in, or the one or two pieces of its sun strip."""
    starting, outline = shrunk.on.starting, pane.outline
    assert outline is not None
    whole = PaneToCut(
        id=window.id, label=window.label, kind=window.kind, outline=outline, pair=pair,
        window_id=window.id, play=window.play_mm, method=method,
        edge=fixed_edge(window.findings),
        by_hand=hand_place(window.by_hand, ""),
    )  # fmt: skip
    pattern = WAYS[method].laid is Laid.PATTERN
    if not window.is_strip and not shrunk.strips:
        return [replace(whole, unrolled=shrunk.unrolled(pattern=pattern), flatten=shrunk.flatten if pattern else None)]
    if not window.is_strip:
        return _in_strips(whole, window, pane, shrunk, pattern=pattern)
    plan = lay_out_strip(window, outline, window.readings["strip_depth"].mm, starting=starting)
    sides = ("left", "right") if len(plan.pieces) == 2 else ("",)
    found = []
    for side, ring in zip(sides, plan.pieces, strict=True):
        part = of_part(shrunk, ring)
        found.append(
            replace(
                whole,
                id=f"{window.id}:{side}" if side else window.id,
                label=f"{window.label} strip{', ' + side if side else ''}",
                outline=Outline(ring, ring, outline.measured),
                is_strip=True,
                pair="",
                by_hand=hand_place(window.by_hand, side),
                flatten=part.flatten if pattern else None,
            )
        )
    return found


def _in_strips(
    whole: PaneToCut, window: Window, pane: MeasuredPane, shrunk: Shrinking, *, pattern: bool
) -> list[PaneToCut]:
    """One pane in several strips, numbered from the top: each overlaps the next at its foot."""
    found = []
    several = len(shrunk.strips)
    for number, strip in enumerate(shrunk.strips, start=1):
        part = of_part(shrunk, strip.ring)
        inner = frozenset(edge for edge, last in (("top", 1), ("bottom", several)) if number != last)
        found.append(
            replace(
                whole,
                id=f"{window.id}:strip_{number}",
                label=f"{window.label}, strip {number} of {several}",
                outline=Outline(strip.ring, strip.ring, pane.outline.measured if pane.outline else False),
                pair="",
                edge=whole.edge.without(inner),
                inner=inner,
                by_hand=hand_place(window.by_hand, f"strip_{number}"),
                unrolled=frozenset({Unrolled.ACROSS}),
                flatten=part.flatten if pattern else None,
            )
        )
    return found


def mirror_pairs(windows: Sequence[Window]) -> dict[str, str]:
    """Windows that are each other's mirror image and get the same film, by a shared name."""
    by_id = {window.id: window for window in windows}
    pairs: dict[str, str] = {}
    for window in windows:
        other = by_id.get(window.same_as or "")
        if other and window.same_as_mirrored and other.film_id == window.film_id and other.id not in pairs:
            pairs[window.id] = pairs[other.id] = other.id
    return pairs
