"""Between windows of a job and panes of the glass shelf: what is kept of one, and filled into the other."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from sqlalchemy.orm import Session

from elumbra.car.records import stored_facts, window_part
from elumbra.car.shop import shop_starting_values
from elumbra.core.errors import CoreError
from elumbra.core.glass import Outline
from elumbra.core.measure import STRIP_KEYS, Figure, Level
from elumbra.core.starting import StartingValues
from elumbra.core.survey import lasting_answers
from elumbra.core.units import format_inches
from elumbra.core.work import GlassFacts, Window, WindowFacts, assumed_as, facts_of, facts_of_model
from elumbra.documents.job_core import core_window
from elumbra.documents.shelf import CarPart, PanePart, measured, pane_measures, pane_part, plain
from elumbra.storage import shelf
from elumbra.storage.records import WindowRecord
from elumbra.storage.shelf_records import ShelfCarRecord, ShelfPaneRecord
from elumbra.storage.store import shelf_cars, shelf_panes, windows

_DRAWN_POINTS = 80  # of a ring in a list


@dataclass(frozen=True)
class Drawn:
    """What lists draw of a pane, and what it is found by."""

    width_mm: float | None
    height_mm: float | None
    ring: list[list[float]]


def drawn_of(part: PanePart, *, starting: StartingValues) -> Drawn:
    """A pane as lists draw it.

    Raises
    ------
    ReadingError, LengthError, FindingError
        A pane that cannot be.
    """
    outline = measured(part, starting=starting).outline
    if outline is None:
        return Drawn(None, None, [])
    return Drawn(outline.width, outline.height, _thinned(outline.ring))


def _thinned(ring: np.ndarray) -> list[list[float]]:
    step = max(1, len(ring) // _DRAWN_POINTS)
    return [[round(x, 1), round(y, 1)] for x, y in ring[::step].tolist()]


def search_words(name: str, years: str, body: str, trim: str, panes: Sequence[PanePart]) -> str:
    """Everything a car can be found by, lower case."""
    labels = " ".join(dict.fromkeys(pane.label for pane in panes))
    return f"{name} {years} {body.replace('_', ' ')} {trim} {labels}".lower()


def found_anew(session: Session, record: ShelfCarRecord, *, person_id: str) -> None:
    """Keep a car with the words that it is found by."""
    panes = [pane_part(one.content) for one in shelf.panes_of(session, [record.id])[record.id]]
    words = search_words(record.name, record.years, record.body, record.trim, panes)
    shelf_cars(session).update(replace(record, search=words), person_id=person_id)


def put_on_shelf(session: Session, part: CarPart, *, person_id: str, why: str) -> ShelfCarRecord:
    """A new car with its panes.

    Raises
    ------
    ReadingError, LengthError, FindingError
        A pane that cannot be; nothing is kept then.
    """
    starting = shop_starting_values(session)
    record = ShelfCarRecord(
        name=part.name,
        years=part.years,
        body=part.body,
        doors=part.doors,
        trim=part.trim,
        search=search_words(part.name, part.years, part.body, part.trim, part.panes),
    )
    shelf_cars(session).create(record, person_id=person_id)
    for ordinal, pane in enumerate(part.panes):
        drawn = _drawn_with_source(part, pane, starting)
        made = ShelfPaneRecord(car_id=record.id, ordinal=ordinal, content=plain(pane), **vars(drawn))
        shelf.add_pane(session, made, person_id=person_id, why=why)
    return record


def mirrored(drawn: Drawn) -> Drawn:
    """The other side of a pane, as lists draw it."""
    wide = max((x for x, _ in drawn.ring), default=0.0)
    return replace(drawn, ring=[[round(wide - x, 1), y] for x, y in reversed(drawn.ring)])


def _drawn_with_source(car: CarPart, pane: PanePart, starting: StartingValues) -> Drawn:
    """A pane that is the mirror image of another has no readings of its own."""
    if pane.same_as is None:
        return drawn_of(pane, starting=starting)
    outline = measured(car.panes[pane.same_as], starting=starting).outline
    if outline is None:
        return Drawn(None, None, [])
    return Drawn(outline.width, outline.height, _thinned(outline.mirrored().ring))


def car_part(record: ShelfCarRecord, panes: Sequence[ShelfPaneRecord]) -> CarPart:
    """A car of the shelf as its file has it: there a pane names another by its place, here by its ordinal."""
    places = {pane.ordinal: k for k, pane in enumerate(panes)}

    def part(pane: ShelfPaneRecord) -> PanePart:
        content = pane_part(pane.content)
        if content.same_as is None:
            return content
        return replace(content, same_as=places.get(content.same_as))

    return CarPart(
        name=record.name,
        years=record.years,
        body=record.body,
        doors=record.doors,
        trim=record.trim,
        panes=tuple(part(pane) for pane in panes),
    )


def panes_of_job(records: Sequence[WindowRecord], *, measured_by: str) -> list[PanePart]:
    """A job's windows as panes of a shelf car, in walkaround order; what is of this very car is left out."""
    at = {record.id: i for i, record in enumerate(records)}
    return [_pane_of(record, at, measured_by) for record in records]


def _pane_of(record: WindowRecord, at: Mapping[str, int], measured_by: str) -> PanePart:
    part = window_part(record)
    source = at.get(record.same_as_id or "")
    own = {key: one for key, one in part.readings.items() if key not in STRIP_KEYS or key.startswith("housing_")}
    return PanePart(
        label=part.label,
        **facts_of(part, GlassFacts),
        curve=part.curve,
        level=part.level,
        figure=part.figure,
        readings={} if source is not None else own,
        reentrant=part.reentrant,
        drawn=part.drawn if source is None else (),
        findings=dict(lasting_answers(part.findings)),
        measured_by=measured_by,
        same_as=source if record.same_as_mirrored else None,
    )


def window_rows(session: Session, car_id: str, style: Sequence[Mapping[str, Any]]) -> list[dict[str, Any]]:
    """Windows of a new job as the shelf's car has them, then those of the body style that it lacks."""
    car = shelf_cars(session).get_present(car_id)
    rows = []
    for pane in shelf.panes_of(session, [car.id])[car.id]:
        content = pane_part(pane.content)
        like = next((row for row in style if (row["position"], row["side"]) == (content.position, content.side)), None)
        glass = assumed_as(content, unless_said="clear" if like is None else str(like["glass"]))
        said = {name: one for name, one in facts_of_model(content).items() if one is not None}
        rows.append(said | {"key": pane.id, "label": content.label, "curve": content.curve, "glass": glass})
    places = {(row["position"], row["side"]) for row in rows}
    lacking = [dict(row) for row in style if (row["position"], row["side"]) not in places]
    kept = {row["key"] for row in lacking}
    for row in lacking:
        if row.get("same_as") not in kept:
            row.pop("same_as", None)
    return rows + lacking


def fill_job(
    session: Session, job_id: str, car_id: str, *, person_id: str, versions: Mapping[str, int] | None = None
) -> int:
    """Give a job's windows the glass of a shelf car; further panes become windows. How many were filled.

    Parameters
    ----------
    session, job_id, car_id, person_id
        Which job takes which car's glass, and who says so.
    versions
        Of the windows as somebody looked at them, by id; None for windows that were just made.

    Raises
    ------
    NotFoundError
        There is no such car.
    StaleWriteError
        A window is another than the one that was looked at.
    """
    car = shelf_cars(session).get_present(car_id)
    panes = shelf.panes_of(session, [car.id])[car.id]
    present = windows(session).all(order="ordinal", job_id=job_id)
    pairs = _matched(present, panes)
    next_ordinal = max((one.ordinal for one in present), default=-1) + 1
    filled: list[tuple[WindowRecord, ShelfPaneRecord]] = []
    for window, pane in pairs:
        if window is None:
            made = windows(session).create(_new_window(job_id, next_ordinal, pane), person_id=person_id)
            next_ordinal += 1
        filled.append((window or made, pane))
    of_pane = {pane.ordinal: window.id for window, pane in filled}
    for window, pane in filled:
        content = pane_part(pane.content)
        source = of_pane.get(content.same_as) if content.same_as is not None else None
        changed = filled_window(window, content, pane, same_as=source)
        if versions is not None and window in present:
            changed = replace(changed, version=versions.get(window.id, 0))
        windows(session).update(changed, person_id=person_id, action="filled from the shelf")
    return len(filled)


def _matched(
    present: Sequence[WindowRecord], panes: Sequence[ShelfPaneRecord]
) -> list[tuple[WindowRecord | None, ShelfPaneRecord]]:
    """Each pane with the window it goes on: same name, else same place and kind, else same place."""
    free = list(present)
    found: dict[str, WindowRecord] = {}
    for alike in (_same_label, _same_place_and_kind, _same_place):
        for pane in panes:
            if pane.id in found:
                continue
            window = next((one for one in free if alike(one, pane.content)), None)
            if window is not None:
                found[pane.id] = window
                free.remove(window)
    return [(found.get(pane.id), pane) for pane in panes]


def _same_label(window: WindowRecord, content: Mapping[str, Any]) -> bool:
    return window.label.lower() == content["label"].lower() and _same_place(window, content)


def _same_place_and_kind(window: WindowRecord, content: Mapping[str, Any]) -> bool:
    return _same_place(window, content) and window.facts.get("kind") == content["kind"]


def _same_place(window: WindowRecord, content: Mapping[str, Any]) -> bool:
    return (window.facts.get("position"), window.facts.get("side")) == (content["position"], content["side"])


def _new_window(job_id: str, ordinal: int, pane: ShelfPaneRecord) -> WindowRecord:
    facts = facts_of_model(pane_part(pane.content))
    return WindowRecord(
        job_id=job_id, ordinal=ordinal, label=pane.content["label"], facts=stored_facts(facts, WindowFacts)
    )


def filled_window(
    window: WindowRecord, content: PanePart, pane: ShelfPaneRecord, *, same_as: str | None = None
) -> WindowRecord:
    """A window with a pane's measures and what was found on it that belongs to the model of car."""
    own = {key: one for key, one in window.readings.items() if key in STRIP_KEYS}
    readings = {
        key: {"typed": one.typed, "mm": one.mm, "mode": one.mode.value} for key, one in _core_readings(content).items()
    }
    findings = {**lasting_answers(content.findings), **window.facts.get("findings", {})}
    told = facts_of_model(content)
    shared = {name: one for name, one in told.items() if name != "side" and one is not None}
    facts = {**window.facts, **shared, "findings": findings, "readings_kept": False, "seen_from_outside": True}
    return replace(
        window,
        facts=stored_facts(facts, WindowFacts),
        curve=content.curve.value,
        level=content.level.value,
        figure=content.figure.value,
        readings=readings | own,
        reentrant=list(content.reentrant),
        drawn=[list(point) for point in content.drawn],
        same_as_id=same_as,
        same_as_mirrored=same_as is not None,
        shelf_pane_id=pane.id,
        shelf_revision=pane.revision,
    )


def _core_readings(content: PanePart) -> Mapping[str, Any]:
    return pane_measures(content).readings


@dataclass(frozen=True)
class Near:
    """A record of the shelf beside a window of known size."""

    pane: ShelfPaneRecord
    car: ShelfCarRecord
    wider_mm: float  # the window is wider than the record by
    higher_mm: float
    misfit_mm: float  # greatest distance of a corner or reading after it was stretched to the size
    told: str


def nearest(session: Session, window: WindowRecord, *, most: int = 6) -> list[Near]:
    """Records whose outline comes nearest to a window's two sizes, nearest first.

    Raises
    ------
    CoreError
        The window's sizes are not read.
    """
    starting = shop_starting_values(session)
    core = core_window(window_part(window))
    width, height = (core.readings.get(key) for key in ("width", "height"))
    if width is None or height is None:
        raise CoreError("Read the greatest width and height first: the shelf is searched by them.")
    kind = str(window.facts["kind"])
    found = shelf.panes_near(
        session, width=width.mm, height=height.mm, kind=kind, within=starting["shelf_within_mm"], most=most * 3
    )
    cars = {one.id: one for one in shelf_cars(session).all(id=[pane.car_id for pane in found])}
    near = []
    for pane in found:
        outline = outline_of(session, pane, starting=starting)
        if outline is None or not outline.measured:
            continue
        wider, higher = width.mm - outline.width, height.mm - outline.height
        near.append(
            Near(pane, cars[pane.car_id], wider, higher, _misfit(outline, core, wider, higher), _told(wider, higher))
        )
    return sorted(near, key=lambda one: (abs(one.wider_mm) + abs(one.higher_mm), one.misfit_mm))[:most]


def outline_of(session: Session, pane: ShelfPaneRecord, *, starting: StartingValues) -> Outline | None:
    """A pane's outline, that of the other side where it is its mirror image."""
    content = pane_part(pane.content)
    if content.same_as is None:
        return measured(content, starting=starting).outline
    siblings = shelf.panes_of(session, [pane.car_id])[pane.car_id]
    source = next((one for one in siblings if one.ordinal == content.same_as), None)
    if source is None:
        return None
    outline = measured(pane_part(source.content), starting=starting).outline
    return outline.mirrored() if outline else None


def _misfit(outline: Outline, core: Window, wider: float, higher: float) -> float:
    """By how much the stretched outline misses further readings; without any, by how much it was stretched."""
    scaled = stretched(outline, wider=wider, higher=higher)
    misses = [abs(found - core.readings[key].mm) for key, found in _sides(scaled).items() if key in core.readings]
    return max([*misses, abs(wider) / 2, abs(higher) / 2])


def _sides(outline: Outline) -> dict[str, float]:
    corners = outline.corners
    if len(corners) != 4:
        return {}
    bl, br, tr, tl = corners
    pairs = {"bottom": (bl, br), "right": (br, tr), "top": (tr, tl), "left": (tl, bl), "diagonal_rising": (bl, tr),
             "diagonal_falling": (tl, br)}  # fmt: skip
    return {key: float(np.hypot(*(a - b))) for key, (a, b) in pairs.items()}


def stretched(outline: Outline, *, wider: float, higher: float) -> Outline:
    """An outline stretched to another size."""
    scale = np.array([(outline.width + wider) / outline.width, (outline.height + higher) / outline.height])
    return Outline(outline.ring * scale, outline.corners * scale, measured=True)


def _told(wider: float, higher: float) -> str:
    def one(mm: float, way: str) -> str:
        if abs(mm) < 0.8:
            return f"as {way} as it"
        more = {"wide": ("wider", "narrower"), "high": ("higher", "lower")}[way]
        return f"{format_inches(abs(mm))} in {more[0] if mm > 0 else more[1]}"

    return f"Your pane is {one(wider, 'wide')} and {one(higher, 'high')}."


def fill_window(session: Session, window_id: str, pane_id: str, *, version: int, scaled: bool, person_id: str) -> str:
    """Give one window a pane of the shelf, as it is or stretched to its own two sizes. The job's id.

    Raises
    ------
    CoreError
        It is to be stretched and its sizes are not read.
    """
    starting = shop_starting_values(session)
    window = replace(windows(session).get_present(window_id), version=version)
    pane = shelf_panes(session).get_present(pane_id)
    content = pane_part(pane.content)
    outline = outline_of(session, pane, starting=starting)
    if scaled:
        if outline is None:
            raise CoreError("That record has no outline yet. Measure the pane.")
        core = core_window(window_part(window))
        width, height = (core.readings.get(key) for key in ("width", "height"))
        if width is None or height is None:
            raise CoreError("Read the greatest width and height first: the outline is stretched to them.")
        made = stretched(outline, wider=width.mm - outline.width, higher=height.mm - outline.height)
        sizes = {key: part for key, part in window_part(window).readings.items() if key in ("width", "height")}
        content = replace(content, **_as_drawn(made), readings=sizes, same_as=None)
    elif content.same_as is not None and outline is not None:
        content = replace(content, **_as_drawn(outline), readings={}, same_as=None)
    filled = filled_window(window, content, pane)
    kept = {name: window.facts[name] for name in ("kind", "position") if name in window.facts}
    filled = replace(filled, facts=stored_facts({**filled.facts, **kept}, WindowFacts))
    windows(session).update(filled, person_id=person_id, action="filled from the shelf")
    return window.job_id


def _as_drawn(outline: Outline) -> dict[str, Any]:
    return {
        "figure": Figure.DRAWN,
        "level": Level.SHAPE,
        "drawn": tuple((round(x, 4), round(y, 4)) for x, y in outline.ring.tolist()),
        "reentrant": (),
    }
