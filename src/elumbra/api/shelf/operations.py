"""What can be done with the glass shelf. Plain arguments, no web framework."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import UTC

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from elumbra.api.base.bodies import sent
from elumbra.api.shelf.schemas import (
    CarFields,
    CarFromJob,
    CarPatch,
    RevisionOut,
    ShelfBandPane,
    ShelfCarBrief,
    ShelfCarOut,
    ShelfList,
    ShelfPaneOut,
    ShelfQuery,
    UseOut,
)
from elumbra.car import glass_shelf, shop_starting_values
from elumbra.core.errors import CoreError
from elumbra.core.starting import StartingValues
from elumbra.core.survey import WINDOW_FINDINGS
from elumbra.documents.shelf import (
    CarPart,
    PanePart,
    pane_part,
)
from elumbra.storage import data_files, shelf
from elumbra.storage.records import JobRecord, PersonRecord
from elumbra.storage.shelf_records import ShelfCarRecord, ShelfPaneRecord, ShelfRevisionRecord
from elumbra.storage.store import jobs, people, shelf_cars, windows
from elumbra.storage.tables import ShelfPaneRow

_ON_PAGE = 12


def find(session: Session, query: ShelfQuery) -> ShelfList:
    """Cars by words in any order."""
    found, total = shelf.find_cars(session, query.words, most=_ON_PAGE, skip=(query.page - 1) * _ON_PAGE)
    panes = shelf.panes_of(session, [car.id for car in found]) if found else {}
    everything = session.scalar(select(func.count()).select_from(ShelfPaneRow).where(ShelfPaneRow.removed.is_(False)))
    return ShelfList(
        cars=[_brief(car, panes[car.id]) for car in found],
        page=query.page,
        pages=max(1, -(-total // _ON_PAGE)),
        total=total,
        total_panes=everything or 0,
    )


def _body_label(key: str) -> str:
    """What a body style is called; a car that came with a file may have one of its own."""
    style = data_files.bodies().get(key)
    return str(style["label"]) if style else key.replace("_", " ")


def _brief(car: ShelfCarRecord, panes: Sequence[ShelfPaneRecord]) -> ShelfCarBrief:
    return ShelfCarBrief(
        id=car.id,
        version=car.version,
        name=car.name,
        years=car.years,
        body=car.body,
        body_label=_body_label(car.body),
        doors=car.doors,
        trim=car.trim,
        made_up=any(pane.content.get("made_up") for pane in panes),
        panes=[
            ShelfBandPane(
                id=pane.id,
                label=pane.content["label"],
                ring=pane.ring,
                fitted=(pane.content.get("fitted") or {}).get("word"),
            )
            for pane in panes
        ],
    )


def show(session: Session, car_id: str) -> ShelfCarOut:
    """A car with its panes, their revisions, and the jobs that used them."""
    car = shelf_cars(session).get(car_id)
    panes = shelf.panes_of(session, [car_id])[car_id]
    ids = [pane.id for pane in panes]
    names = {person.id: person.name for person in people(session).all(removed_too=True)}
    old = shelf.revisions(session, ids) if ids else []
    uses = shelf.jobs_using(session, ids) if ids else []
    starting = shop_starting_values(session)
    labels = {pane.ordinal: str(pane.content["label"]) for pane in panes}
    return ShelfCarOut(
        id=car.id,
        version=car.version,
        removed=car.removed,
        name=car.name,
        years=car.years,
        body=car.body,
        body_label=_body_label(car.body),
        doors=car.doors,
        trim=car.trim,
        panes=[_pane_out(session, pane, old, uses, names, labels, starting) for pane in panes],
    )


def _pane_out(
    session: Session,
    pane: ShelfPaneRecord,
    old: Sequence[ShelfRevisionRecord],
    uses: Sequence[tuple[str, int | None, str, JobRecord]],
    names: Mapping[str, str],
    labels: Mapping[int, str],
    starting: StartingValues,
) -> ShelfPaneOut:
    content, problem, outline = pane_part(pane.content), "", None
    try:
        outline = glass_shelf.outline_of(session, pane, starting=starting)
    except CoreError as error:
        problem = error.message
    return ShelfPaneOut(
        id=pane.id,
        version=pane.version,
        ordinal=pane.ordinal,
        revision=pane.revision,
        content=content,
        same_as=labels.get(content.same_as, "") if content.same_as is not None else "",
        ring=[[round(x, 2), round(y, 2)] for x, y in outline.ring.tolist()] if outline else [],
        width_mm=outline.width if outline else None,
        height_mm=outline.height if outline else None,
        measured=bool(outline and outline.measured),
        told=_told(content),
        problem=problem,
        revisions=[
            RevisionOut(
                revision=one.revision,
                why=one.why,
                person=names.get(one.person_id, one.person_id),
                at=one.at.replace(tzinfo=UTC),
                content=pane_part(one.content),
            )
            for one in old
            if one.pane_id == pane.id
        ],
        uses=[
            UseOut(job_id=job.id, number=job.number, title=job.title, window=window, revision=revision)
            for pane_id, revision, window, job in uses
            if pane_id == pane.id
        ],
    )


def _told(content: PanePart) -> str:
    """What was found on a pane, in words."""
    words = [
        f"{WINDOW_FINDINGS[name].label}: {WINDOW_FINDINGS[name].words(answer)}"
        for name, answer in content.findings.items()
        if name in WINDOW_FINDINGS
    ]
    return "; ".join(words)


def keep_job(session: Session, body: CarFromJob, *, person: PersonRecord) -> str:
    """A job's glass as a car of the shelf; its windows then came from there. The car's id.

    Raises
    ------
    CoreError
        Nothing on that car is measured.
    """
    job = jobs(session).get_present(body.job_id)
    records = windows(session).all(order="ordinal", job_id=job.id)
    panes = glass_shelf.panes_of_job(records, measured_by=person.name)
    if not any(pane.readings or pane.drawn for pane in panes):
        raise CoreError("Nothing on this car is measured yet, so there is nothing to keep.")
    part = _car_part(body, body_style=job.body, panes=panes)
    car = glass_shelf.put_on_shelf(session, part, person_id=person.id, why=f"measured on job {job.number}")
    made = shelf.panes_of(session, [car.id])[car.id]
    for record, pane in zip(records, made, strict=True):
        linked = replace(record, shelf_pane_id=pane.id, shelf_revision=pane.revision)
        windows(session).update(linked, person_id=person.id, action="kept on the shelf")
    return car.id


def _car_part(body: CarFields, *, body_style: str, panes: Sequence[PanePart]) -> CarPart:
    return CarPart(
        name=body.name, years=body.years, body=body_style, doors=body.doors, trim=body.trim, panes=tuple(panes)
    )


def change_car(session: Session, car_id: str, body: CarPatch, *, person_id: str) -> str:
    """Change what a car is called. Its id."""
    changes = sent(body)
    for name in ("name", "years", "trim"):
        if name in changes and changes[name] is None:
            changes[name] = ""
    if changes.get("name") == "":
        raise CoreError("A car of the shelf needs a name.", fields={"name": "Cannot be empty."})
    record = replace(shelf_cars(session).get_present(car_id), version=body.version, **changes)
    glass_shelf.found_anew(session, record, person_id=person_id)
    return car_id


def duplicate(session: Session, car_id: str, body: CarFields, *, person_id: str) -> str:
    """The same glass under another name, to be changed there. The new car's id."""
    car = shelf_cars(session).get_present(car_id)
    part = glass_shelf.car_part(car, shelf.panes_of(session, [car_id])[car_id])
    fresh = [replace(pane, fitted=None) for pane in part.panes]
    copy = _car_part(body, body_style=car.body, panes=fresh)
    return glass_shelf.put_on_shelf(session, copy, person_id=person_id, why=f"copied from {car.name}").id
