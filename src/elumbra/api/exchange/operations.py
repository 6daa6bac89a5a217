"""Whole jobs as files. Plain arguments, no web framework."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

from sqlalchemy.orm import Session

from elumbra.api.car_view.law_books import check_states, judged_now
from elumbra.car import JobParts, assemble, job_file, load_parts, load_shop, stored_facts, stored_links
from elumbra.core.errors import CoreError
from elumbra.core.film import FilmFacts
from elumbra.core.work import (
    Car,
    ReasonKind,
    VehicleFacts,
    WindowFacts,
    check_reason,
    releases_by_itself,
    resolve_same_glass,
    unmetered_of,
)
from elumbra.documents.job_core import core_reason, core_window
from elumbra.documents.job_file import JobFile, ReasonPart, WindowPart
from elumbra.storage import data_files
from elumbra.storage.declared import new_id
from elumbra.storage.records import CuttingRecord, FilmRecord, JobRecord, PersonRecord, ReasonRecord, WindowRecord
from elumbra.storage.store import cuttings, films, jobs, next_job_number, reasons, shelf_panes, windows

_NEW_FILM = "only a lead puts a new film on file: enter it at Films first, or have the lead open this file"


@dataclass(frozen=True)
class Importer:
    """Who opens a file, and whether as a lead."""

    person: PersonRecord
    is_lead: bool


def export_job(session: Session, job_id: str) -> tuple[JobFile, int]:
    """A job as a job file, and its number for the file's name."""
    job = jobs(session).get(job_id)
    return job_file(load_parts(session, job), load_shop(session)), job.number


def import_job(session: Session, document: JobFile, importer: Importer) -> str:
    """Open a job file as a new job; its id.

    Films that the shop does not have come along where a lead opens the file. So do reasons, each
    checked like one that is typed, under the name of who opened the file: no file brings a name.

    Raises
    ------
    CoreError
        The file holds something that cannot be. Nothing is saved then.
    """
    check_states(session, document.job.vehicle.states)
    resolve_same_glass([core_window(part) for part in document.job.windows])
    film_ids = _films_of(session, document, importer)
    vehicle, person_id = document.job.vehicle, importer.person.id
    job = JobRecord(
        number=next_job_number(session),
        title=document.job.title,
        customer=document.job.customer,
        note=document.job.note,
        vehicle_label=vehicle.label,
        body="imported",
        facts=stored_facts(vehicle, VehicleFacts),
        **judged_now(session),
    )
    jobs(session).create(job, person_id=person_id)
    ids = {window.id: new_id() for window in document.job.windows}
    _import_windows(session, job, document, ids, film_ids, person_id=person_id)
    _import_cuts(session, job, document, ids, film_ids, person_id=person_id)
    parts = load_parts(session, jobs(session).get(job.id))
    shop = load_shop(session)
    car = assemble(job_file(parts, shop), data_files.law_file(), data_files.starting_values(), today=shop.today)
    for window in car.job.windows:
        if car.panes[window.id].problem:
            raise CoreError(f"{window.label}: {car.panes[window.id].problem}")
    if importer.is_lead:
        for part in document.job.windows:
            if part.reason is not None:
                _import_reason(session, parts, car, ids[part.id], part.reason, film_ids, importer, today=shop.today)
    return job.id


def _import_windows(
    session: Session,
    job: JobRecord,
    document: JobFile,
    ids: Mapping[str, str],
    film_ids: Mapping[str, str],
    *,
    person_id: str,
) -> None:
    linked: list[WindowRecord] = []
    for ordinal, part in enumerate(document.job.windows):
        record = windows(session).create(_record(session, part, job.id, ordinal, ids, film_ids), person_id=person_id)
        if part.same_as:
            source = ids[part.same_as.window]
            linked.append(replace(record, same_as_id=source, same_as_mirrored=part.same_as.mirrored))
    for record in linked:
        windows(session).update(record, person_id=person_id)


def _import_cuts(
    session: Session,
    job: JobRecord,
    document: JobFile,
    ids: Mapping[str, str],
    film_ids: Mapping[str, str],
    *,
    person_id: str,
) -> None:
    """Film that another shop has cut stays cut; nothing comes off this rack."""
    by_day: dict[tuple[str, str], list[dict[str, str]]] = {}
    for part in document.job.windows:
        if part.cut is not None:
            mark = {
                "window_id": ids[part.id], "label": part.label, "film_id": film_ids[part.cut.film],
                "lot": part.cut.lot, "roll": part.cut.roll,
            }  # fmt: skip
            by_day.setdefault((part.cut.on, part.cut.person), []).append(mark)
    for (on_day, person), marks in sorted(by_day.items()):
        record = CuttingRecord(job_id=job.id, on_day=on_day, person_name=person, content={"windows": marks})
        cuttings(session).create(record, person_id=person_id)


def _record(
    session: Session, part: WindowPart, job_id: str, ordinal: int, ids: Mapping[str, str], film_ids: Mapping[str, str]
) -> WindowRecord:
    readings = core_window(part).readings
    return WindowRecord(
        **stored_links(part),
        id=ids[part.id],
        job_id=job_id,
        ordinal=ordinal,
        facts=stored_facts(part, WindowFacts),
        film_id=film_ids[part.film] if part.film else None,
        layers=[film_ids[layer] for layer in part.layers],
        readings={key: {"typed": r.typed, "mm": r.mm, "mode": r.mode.value} for key, r in readings.items()},
        **_shelf_link(session, part),
    )


def _shelf_link(session: Session, part: WindowPart) -> dict[str, Any]:
    """The shelf's record that the measures came from, where this shop's shelf has it."""
    if part.shelf is None:
        return {}
    pane = shelf_panes(session).find(part.shelf.pane)
    if pane is None or part.shelf.revision > pane.revision:
        return {}
    return {"shelf_pane_id": pane.id, "shelf_revision": part.shelf.revision}


def _import_reason(
    session: Session,
    parts: JobParts,
    car: Car,
    window_id: str,
    part: ReasonPart,
    film_ids: Mapping[str, str],
    importer: Importer,
    *,
    today: str,
) -> None:
    """A reason of the file, checked as if it were typed now; a document is weighed by the gate, day by day."""
    person = importer.person.name
    reason = replace(core_reason(part), film_id=film_ids[part.film], person=person, on=today, lapsed=False)
    verdicts = car.shades[window_id].verdicts
    asked = {ReasonKind.DECLINED_FILM_CHANGED, ReasonKind.BARE_GLASS_ASSUMED, ReasonKind.GLASS_NOT_METERED}
    if all(map(releases_by_itself, verdicts)) and reason.kind not in asked:
        return  # the film may be cut here and now: nothing to give a reason for
    under = car.shades[window_id].hangs_on_old_film
    if reason.kind is not ReasonKind.MEDICAL_EXEMPTION:
        check_reason(
            reason,
            today=today,
            words={verdict.word for verdict in verdicts},
            under_old_film=under,
            unmetered=bool(unmetered_of(car, car.window(window_id))),
        )
    reasons(session).create(
        ReasonRecord(
            job_id=parts.job.id,
            window_id=window_id,
            film_id=reason.film_id,
            kind=reason.kind.value,
            wish=reason.wish,
            document=reason.document,
            expires_on=reason.expires_on,
            note=reason.note,
            person_name=reason.person,
            on_day=today,
            state=reason.state,
            issued_on=reason.issued_on,
            no_expiry=reason.no_expiry,
            least_percent=part.least_percent,
            citation=reason.citation,
        ),
        person_id=importer.person.id,
    )


def _films_of(session: Session, document: JobFile, importer: Importer) -> dict[str, str]:
    """The shop's films for those of a file: the same name and VLT is the same film."""
    present = {(film.name, film.facts.get("vlt_percent")): film.id for film in films(session).all()}
    needed = {window.film for window in document.job.windows if window.film}
    needed = needed.union(*(window.layers for window in document.job.windows))
    if importer.is_lead:
        needed |= {window.cut.film for window in document.job.windows if window.cut}
        needed |= {window.reason.film for window in document.job.windows if window.reason}
    found: dict[str, str] = {}
    for part in document.films:
        if part.id not in needed:
            continue
        same = present.get((part.name, part.vlt_percent))
        if same is None and not importer.is_lead:
            raise CoreError(f"{part.name}, {part.vlt_percent:g} %, is not on file here, and {_NEW_FILM}.")
        if same is None:
            record = FilmRecord(facts=stored_facts(part, FilmFacts))
            same = films(session).create(record, person_id=importer.person.id).id
        found[part.id] = same
    return found
