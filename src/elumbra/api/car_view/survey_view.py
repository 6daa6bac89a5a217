"""What the survey found and measured, as the screens show it."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from elumbra.api.car_view.schemas import (
    ClosingChangeOut,
    FitOut,
    FollowsOut,
    KeyLabel,
    PaneOut,
    ReadingLineOut,
    ServesOut,
    ShelfLink,
)
from elumbra.core.glass import Position, Side, WindowKind
from elumbra.core.measure import (
    ClosingChange,
    CornerFit,
    Figure,
    MeasuredPane,
    describe_change,
    describe_swap,
    label,
    leans,
    read_mirrored,
    reading_lines,
    serves,
    sketch,
)
from elumbra.core.starting import StartingValues
from elumbra.core.survey import Follows
from elumbra.core.units import MM_PER_INCH, format_inches
from elumbra.core.words import WORDS
from elumbra.core.work import Car, Window, findings_asked, readings_stand, size_in_doubt
from elumbra.storage.records import WindowRecord
from elumbra.storage.shelf_records import ShelfCarRecord, ShelfPaneRecord


def follows_out(found: Iterable[Follows]) -> list[FollowsOut]:
    """What findings change."""
    return [
        FollowsOut(
            finding=one.finding,
            found=one.found,
            words=one.what.words,
            read_by=one.what.read_by,
            minutes=one.what.minutes,
            dollars=one.what.dollars,
            tool=one.what.tool,
            caution=one.what.caution,
            no_film=one.what.no_film,
            section=one.what.section,
        )
        for one in found
    ]


def _size_doubt(window: Window, car: Car) -> str:
    """Whether sizes far from what glass of its kind has are meant, as a question; empty where somebody said so."""
    pane = car.panes[window.id]
    usual = size_in_doubt(window.kind, pane, starting=car.starting)
    if usual is None or pane.outline is None or readings_stand(window, car.job.windows):
        return ""
    size = f"{format_inches(pane.outline.width)} × {format_inches(pane.outline.height)} in"
    low, high = (round(mm / MM_PER_INCH) for mm in (usual.low, usual.high))
    kind = WORDS[WindowKind][window.kind].capitalize()
    return f"{size}: is that meant? {kind} is usually {low} to {high} in long."


def pane_out(window: Window, car: Car) -> PaneOut:
    """A window's pane."""
    pane, starting = car.panes[window.id], car.starting
    outline, measures = pane.outline, window.measures
    corners = outline.corners if outline and outline.measured else sketch(measures.figure)
    return PaneOut(
        measured=bool(outline and outline.measured),
        ring=_points(outline.ring) if outline else [],
        corners=_points(corners) if measures.figure is not Figure.DRAWN else [],
        width_mm=outline.width if outline else None,
        height_mm=outline.height if outline else None,
        problem=pane.problem,
        missing=_labels(pane.missing),
        cautions=list(pane.cautions),
        size_doubt=_size_doubt(window, car),
        fit=_fit_out(pane.fit, starting) if pane.fit else None,
        crowns_read=pane.crowns_read,
        radius_across_mm=pane.surface.radius_across,
        radius_up_mm=pane.surface.radius_up,
        lines=[
            ReadingLineOut(key=one.key, kind=one.kind, start=_point(one.start), end=_point(one.end))
            for one in (reading_lines(measures.figure, corners) if not window.mirrored else ())
        ],
        serves=[ServesOut(level=one.level, words=one.words, missing=_labels(one.missing)) for one in serves(measures)],
        mirror_doubt=_mirror_doubt(window, car),
    )


def _points(points: Any) -> list[list[float]]:
    return [[round(x, 2), round(y, 2)] for x, y in points.tolist()]


def _point(at: tuple[float, float]) -> list[float]:
    return [round(at[0], 1), round(at[1], 1)]


def _labels(keys: Iterable[str]) -> list[KeyLabel]:
    return [KeyLabel(key=key, label=label(key)) for key in keys]


def _fit_out(fit: CornerFit, starting: StartingValues) -> FitOut:
    corners = [name.replace("_", " ") for name in fit.suspicion.inward]
    inward = f"It closes if {' and '.join(corners)} point{'s' if len(corners) == 1 else ''} inward." if corners else ""
    return FitOut(
        redundancy=fit.redundancy,
        misclosure_sigma=fit.misclosure_sigma,
        alarm_sigma=starting["misclosure_alarm_sigma"],
        amber_sigma=starting["misclosure_amber_sigma"],
        closing=fit.closing,
        alarm=fit.alarm,
        changes=[_change_out(change) for change in fit.changes],
        ask_for=KeyLabel(key=fit.ask_for, label=label(fit.ask_for)) if fit.ask_for else None,
        culprit=_change_out(fit.culprit) if fit.culprit else None,
        swapped=list(fit.swap or ()),
        swap=f"{describe_swap(fit.swap)}." if fit.swap else "",
        inward=inward,
        softened=fit.softened,
        read_crowns=fit.read_crowns,
        spread_mm=fit.spread_mm,
        unseen_mm=fit.unseen_mm,
    )


def _change_out(change: ClosingChange) -> ClosingChangeOut:
    return ClosingChangeOut(
        key=change.key,
        label=label(change.key),
        sentence=describe_change(change),
        closing_mm=change.closing_mm,
        change_mm=change.change_mm,
        slip=change.slip,
    )


def other_side(window: Window, windows: Sequence[Window]) -> Window | None:
    """A window's counterpart: the same kind and position on the other side, as far along the walk back."""
    if window.side is Side.CENTRE:
        return None
    across = Side.PASSENGER if window.side is Side.DRIVER else Side.DRIVER
    alike = [one for one in windows if (one.kind, one.position) == (window.kind, window.position)]
    own = [one for one in alike if one.side is window.side]
    others = [one for one in alike if one.side is across]
    if len(own) != len(others):
        return others[0] if others and len(own) == 1 else None
    return others[len(own) - 1 - own.index(window)]


def _mirror_doubt(window: Window, car: Car) -> str:
    """Why a pane may have been read as its own mirror image, which always closes."""
    pane, tell = car.panes[window.id], car.starting["mirror_tell_mm"]
    fit, outline = pane.fit, pane.outline
    if window.seen_from_outside or window.same_as is not None or fit is None or outline is None or fit.alarm:
        return ""
    if window.measures.figure.corners < 3 or leans(outline) < tell:
        return ""
    other = other_side(window, car.job.windows)
    measured = _own_outline(other, car.panes) if other else None
    if measured is None or other is None:
        return _question(window)
    if read_mirrored(outline, measured, tell_from=tell):
        return (
            f"It is like {other.label} as it is; it should be its mirror image. "
            "Was one of them read the wrong way round?"
        )
    return ""


def _own_outline(window: Window, panes: Mapping[str, MeasuredPane]) -> Any:
    pane = panes[window.id]
    measured = pane.outline is not None and pane.outline.measured and window.same_as is None
    return pane.outline if measured else None


def _question(window: Window) -> str:
    if window.position in (Position.WINDSHIELD, Position.REAR_WINDOW) and window.side is Side.CENTRE:
        return ""
    return "Seen from outside, does the glass lean as it is drawn here?"


def suggested(window: Window, car: Car, shelf_says: Mapping[str, Any]) -> dict[str, Any]:
    """Answers to start from: what the shelf's record, else the other side, says where nobody answered here."""
    other = other_side(window, car.job.windows)
    says = {**(other.findings if other else {}), **shelf_says}
    return {
        name: list(answer) if isinstance(answer, tuple | list) else answer
        for name, answer in says.items()
        if name in findings_asked(window) and name not in window.findings
    }


def shelf_link(
    record: WindowRecord, panes: Mapping[str, ShelfPaneRecord], cars: Mapping[str, ShelfCarRecord]
) -> ShelfLink | None:
    """The shelf's record that a window's measures came from."""
    pane = panes.get(record.shelf_pane_id or "")
    if pane is None or record.shelf_revision is None:
        return None
    car = cars[pane.car_id]
    return ShelfLink(
        car_id=car.id,
        pane_id=pane.id,
        version=pane.version,
        revision=record.shelf_revision,
        car=f"{car.name} {car.years}".strip(),
        newest=pane.revision,
    )
