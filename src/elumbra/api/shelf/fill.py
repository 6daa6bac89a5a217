"""A window or a whole job takes its glass from the shelf or from a drawing. Plain arguments, no web framework."""

from __future__ import annotations

from dataclasses import replace

from sqlalchemy.orm import Session

from elumbra.api.shelf.schemas import (
    DrawingIn,
    DrawingOut,
    DrawnIn,
    FillJob,
    FillWindow,
    NearList,
    NearOut,
    OutlineFindingOut,
)
from elumbra.car import glass_shelf, shop_starting_values, stored_facts
from elumbra.core.errors import CoreError, LengthError
from elumbra.core.measure import STRIP_KEYS, Figure, Level, measure_pane
from elumbra.core.units import parse_length
from elumbra.core.work import WindowFacts
from elumbra.documents.outline_in import read_outline
from elumbra.documents.shelf import (
    drawn_part,
    pane_measures,
    pane_part,
)
from elumbra.storage.store import jobs, windows


def near(session: Session, window_id: str) -> NearList:
    """Records near a window's size."""
    window = windows(session).get_present(window_id)
    return NearList(
        near=[
            NearOut(
                pane_id=one.pane.id,
                car=f"{one.car.name} {one.car.years}".strip(),
                label=str(one.pane.content["label"]),
                ring=one.pane.ring,
                told=one.told,
                misfit_mm=one.misfit_mm,
                made_up=bool(one.pane.content.get("made_up")),
            )
            for one in glass_shelf.nearest(session, window)
        ]
    )


def fill_job(session: Session, job_id: str, body: FillJob, *, person_id: str) -> str:
    """Give every window of a job the glass of a car on the shelf. The job's id."""
    jobs(session).get_present(job_id)
    glass_shelf.fill_job(session, job_id, body.car_id, person_id=person_id, versions=body.versions)
    return job_id


def fill_window(session: Session, window_id: str, body: FillWindow, *, person_id: str) -> str:
    """Give a window a pane of the shelf. Its job's id."""
    return glass_shelf.fill_window(
        session, window_id, body.pane_id, version=body.version, scaled=body.scaled, person_id=person_id
    )


def read_drawing(body: DrawingIn) -> DrawingOut:
    """The outline in a drawing, to be looked at before it is taken."""
    try:
        width = parse_length(body.width).mm if body.width else None
    except LengthError as error:
        raise LengthError(error.message, fields={"width": error.message}) from error
    if width is not None and width <= 0:
        raise CoreError("A pane's width is more than nothing.", fields={"width": "More than nothing."})
    found = read_outline(body.content.encode("utf-8"), width=width)
    wide, high = (float(one) for one in found.ring.max(axis=0) - found.ring.min(axis=0))
    return DrawingOut(
        ring=[[round(x, 4), round(y, 4)] for x, y in found.ring.tolist()],
        scale_known=found.scale_known,
        width_mm=wide,
        height_mm=high,
        findings=[
            OutlineFindingOut(number=one.number, words=one.words, repaired=one.repaired) for one in found.findings
        ],
    )


def take_drawing(session: Session, window_id: str, body: DrawnIn, *, person_id: str) -> str:
    """An outline from a drawing as a window's. Its job's id.

    Raises
    ------
    ReadingError
        It crosses itself or is no pane.
    """
    record = windows(session).get_present(window_id)
    part = pane_part(
        {"label": record.label, "position": record.facts["position"], "kind": record.facts["kind"]}
        | drawn_part(body.ring)
    )
    measure_pane(pane_measures(part), starting=shop_starting_values(session))
    facts = {**record.facts, "readings_kept": False, "seen_from_outside": False}
    strip = {key: one for key, one in record.readings.items() if key in STRIP_KEYS}
    changed = replace(
        record,
        version=body.version,
        figure=Figure.DRAWN.value,
        level=Level.SHAPE.value,
        drawn=[list(point) for point in part.drawn],
        readings=strip,
        reentrant=[],
        same_as_id=None,
        same_as_mirrored=False,
        shelf_pane_id=None,
        shelf_revision=None,
        facts=stored_facts(facts, WindowFacts),
    )
    windows(session).update(changed, person_id=person_id, action="given an outline from a drawing")
    return record.job_id
