"""From a job to the blanks that must be cut, and the windows that cannot be yet."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from elumbra.core.cut import Housing, PaneToCut, StripPlan, blank_for, plan_strip
from elumbra.core.errors import CoreError
from elumbra.core.glass import GlassType, Outline
from elumbra.core.measure import MeasuredPane
from elumbra.core.nest import Blank
from elumbra.core.starting import StartingValues
from elumbra.core.work.job import Job, Window, resolve_same_glass
from elumbra.core.work.reasons import goes_on_with
from elumbra.core.work.shade import WindowShade


def goes_on(window: Window) -> bool:
    """Whether the lead gave a reason for the film that is chosen now."""
    return goes_on_with(window.reason, window.film_id)


@dataclass(frozen=True)
class ToCut:
    """Blanks of one film, and the panes they are for."""

    film_id: str
    blanks: tuple[Blank, ...]
    panes: Mapping[str, PaneToCut]


def cannot_cut(window: Window, outline: Outline | None, shade: WindowShade | None = None) -> str | None:
    """Why a window with film chosen cannot be cut yet, with the mend; None when it can.

    An unlawful film is not cut unless the lead gave a reason of a listed kind for that film.
    """
    if window.glass_type is GlassType.PLASTIC:
        return "Plastic takes no film. Take the film off this window."
    if shade and shade.worst and shade.worst.word.unlawful and not goes_on(window):
        state = shade.worst.jurisdiction
        return (
            f"{shade.worst.word.value} in {state}. Choose another film at Shade, or have the lead give a reason there."
        )
    if outline is None:
        return "Not measured. Read its greatest width and height."
    depth = window.readings.get("strip_depth")
    if window.is_strip and (depth is None or depth.mm <= 0):
        return "How deep is the strip? Read its depth from the top of the glass."
    return None


def windows_to_cut(
    job: Job,
    measured: Mapping[str, MeasuredPane],
    shades: Mapping[str, WindowShade],
    *,
    starting: StartingValues,
) -> tuple[dict[str, ToCut], dict[str, str]]:
    """Blanks by film, and windows with film that cannot be cut yet with the reason."""
    panes: dict[str, dict[str, PaneToCut]] = {}
    held: dict[str, str] = {}
    pairs = _mirror_pairs(job.windows)
    for window in resolve_same_glass(job.windows).values():
        if window.film_id is None:
            continue
        outline = measured[window.id].outline
        if reason := cannot_cut(window, outline, shades.get(window.id)):
            held[window.id] = reason
            continue
        assert outline is not None
        group = panes.setdefault(window.film_id, {})
        try:
            found = _pieces(window, outline, pairs.get(window.id, ""), starting)
        except CoreError as error:
            held[window.id] = error.message
            continue
        group |= {pane.id: pane for pane in found}
    by_film = {
        film_id: ToCut(film_id, tuple(blank_for(pane, starting=starting) for pane in group.values()), group)
        for film_id, group in panes.items()
        if group
    }
    return by_film, held


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


def _pieces(window: Window, outline: Outline, pair: str, starting: StartingValues) -> list[PaneToCut]:
    """What is cut for a window: its pane, or the one or two pieces of its strip."""
    whole = PaneToCut(
        id=window.id, label=window.label, kind=window.kind, curve=window.curve, outline=outline, pair=pair,
        window_id=window.id,
    )  # fmt: skip
    if not window.is_strip:
        return [whole]
    plan = lay_out_strip(window, outline, window.readings["strip_depth"].mm, starting=starting)
    sides = ("left", "right") if len(plan.pieces) == 2 else ("",)
    return [
        replace(
            whole,
            id=f"{window.id}:{side}" if side else window.id,
            label=f"{window.label} strip{', ' + side if side else ''}",
            outline=Outline(ring, ring, outline.measured),
            is_strip=True,
            pair="",
        )
        for side, ring in zip(sides, plan.pieces, strict=True)
    ]


def _mirror_pairs(windows: Sequence[Window]) -> dict[str, str]:
    """Windows that are each other's mirror image and get the same film, by a shared name."""
    by_id = {window.id: window for window in windows}
    pairs: dict[str, str] = {}
    for window in windows:
        other = by_id.get(window.same_as or "")
        if other and window.same_as_mirrored and other.film_id == window.film_id and other.id not in pairs:
            pairs[window.id] = pairs[other.id] = other.id
    return pairs
