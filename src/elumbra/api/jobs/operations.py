"""What can be done with a job. Plain arguments, no web framework."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from datetime import UTC, datetime
from typing import Any

from sqlalchemy.orm import Session

from elumbra.api.job_documents import (
    build_job_file,
    input_hash,
    load_job_file,
    shop_starting_values,
    window_part,
)
from elumbra.api.jobs.schemas import (
    BoardOut,
    History,
    HistoryEntry,
    JobBrief,
    JobCreate,
    JobList,
    JobOut,
    JobPatch,
    ReadingIn,
    WindowCreate,
    WindowPatch,
)
from elumbra.api.jobs.view import Shop, job_brief, job_out, shop_of, solved_pane
from elumbra.core.errors import CoreError, LengthError, ReadingError
from elumbra.core.measure import Figure, known_keys, label
from elumbra.core.units import parse_length
from elumbra.core.work import resolve_same_glass
from elumbra.documents.job_file import JobFile, core_job, core_window, parse_job_file
from elumbra.storage import data_files, solves
from elumbra.storage.records import FilmRecord, JobRecord, StockRecord, WindowRecord
from elumbra.storage.store import (
    NotFoundError,
    films,
    job_history,
    jobs,
    new_id,
    next_job_number,
    now,
    people,
    shop_values,
    stock,
    windows,
)

_OPEN = ("booked", "in_bay", "paused")
_NEVER = datetime(9999, 1, 1)  # noqa: DTZ001  stored times carry no zone


def _shop(session: Session) -> tuple[Shop, list[FilmRecord], list[StockRecord]]:
    all_films, all_stock = films(session).all(), stock(session).all(order="label")
    stocked = {record.film_id for record in all_stock if record.length_left_mm > 0}
    shop = shop_of(all_films, stocked, data_files.law_book(), shop_starting_values(session))
    return shop, all_films, all_stock


def get_job(session: Session, job_id: str) -> JobOut:
    """A job as its screens show it."""
    shop, all_films, all_stock = _shop(session)
    job = jobs(session).get(job_id)
    records = windows(session).all(order="ordinal", job_id=job_id)
    own = {record.id: record.value for record in shop_values(session).all()}
    document = build_job_file(job, records, all_films, all_stock, own)
    return job_out(job, records, shop, input_hash=input_hash(document))


def _briefs(session: Session, chosen: Sequence[JobRecord]) -> list[JobBrief]:
    shop, _, _ = _shop(session)
    by_job: dict[str, list[WindowRecord]] = defaultdict(list)
    for record in windows(session).all(order="ordinal"):
        by_job[record.job_id].append(record)
    plans = solves.latest_plans(session, [job.id for job in chosen])
    return [job_brief(job, by_job[job.id], shop, plans[job.id].plan if job.id in plans else None) for job in chosen]


def list_jobs(session: Session) -> JobList:
    """All jobs, newest number first."""
    everything = sorted(jobs(session).all(), key=lambda job: -job.number)
    return JobList(jobs=_briefs(session, everything))


def board(session: Session) -> BoardOut:
    """What is in the bays, what is next, what is stuck."""
    still_open = [job for job in jobs(session).all() if job.status in _OPEN]
    still_open.sort(key=lambda job: (job.promised_at or _NEVER, job.number))
    briefs = _briefs(session, still_open)
    return BoardOut(
        in_bays=sorted((b for b in briefs if b.status == "in_bay"), key=lambda b: b.bay),
        next=[b for b in briefs if b.status != "in_bay"],
        stuck=[b for b in briefs if b.problems],
    )


def create_job(session: Session, body: JobCreate, *, person_id: str) -> JobOut:
    """A new job with its body style's windows.

    Raises
    ------
    CoreError
        Unknown body style or state.
    """
    bodies = data_files.bodies()
    if body.body not in bodies:
        known = ", ".join(bodies)
        raise CoreError(f"There is no body style “{body.body}”.", fields={"body": f"One of {known}."})
    _check_states(body.states)
    style = bodies[body.body]
    number = next_job_number(session)
    job = jobs(session).create(
        {
            "number": number,
            "title": body.title or f"Job {number}",
            "customer": body.customer,
            "note": "",
            "status": "booked",
            "bay": "",
            "promised_at": None,
            "vehicle_label": body.vehicle_label,
            "body": body.body,
            "vehicle_class": style["vehicle_class"],
            "states": body.states,
            "mirrors_both_sides": body.mirrors_both_sides,
            "model_year": body.model_year,
            "created_at": now(),
        },
        person_id=person_id,
    )
    _create_windows(session, job, style["windows"], person_id=person_id)
    return get_job(session, job.id)


def _create_windows(session: Session, job: JobRecord, rows: Sequence[Mapping[str, Any]], *, person_id: str) -> None:
    starting = shop_starting_values(session)
    ids: dict[str, str] = {}
    for ordinal, row in enumerate(rows):
        ids[row["key"]] = new_id()
        windows(session).create(
            _window_values(
                job.id,
                ordinal,
                label=row["label"],
                position=row["position"],
                side=row["side"],
                kind=row["kind"],
                glass_type=row["glass_type"],
                curve=row["curve"],
                figure=row.get("figure", "four"),
                bare_vlt_percent=100 * starting[f"assumed_{row['glass']}_glass_vlt"],
                same_as_id=ids.get(row.get("same_as", "")),
                same_as_mirrored="same_as" in row,
            ),
            person_id=person_id,
            record_id=ids[row["key"]],
        )


def _window_values(job_id: str, ordinal: int, **given: Any) -> dict[str, Any]:
    values: dict[str, Any] = {
        "job_id": job_id,
        "ordinal": ordinal,
        "side": "centre",
        "glass_type": "unknown",
        "bare_vlt_percent": None,
        "bare_vlt_source": "assumed",
        "old_film": False,
        "film_id": None,
        "coverage": "full",
        "curve": "flat",
        "level": "size",
        "figure": "four",
        "readings": {},
        "same_as_id": None,
        "same_as_mirrored": False,
    }
    return values | given


def _check_states(states: Sequence[str]) -> None:
    for code in states:
        data_files.law_book().of(code)
    if len(set(states)) != len(states):
        raise CoreError("A state stands twice.", fields={"states": "Name each state once."})


def change_job(session: Session, job_id: str, body: JobPatch, *, person_id: str) -> JobOut:
    """Change what was sent."""
    changes = {name: getattr(body, name) for name in body.model_fields_set if name != "version"}
    for name in ("title", "vehicle_label", "vehicle_class", "states", "status"):
        if name in changes and changes[name] is None:
            raise CoreError(f"A job needs its {name.replace('_', ' ')}.", fields={name: "Cannot be empty."})
    for name in ("customer", "note", "bay"):
        if name in changes and changes[name] is None:
            changes[name] = ""
    if changes.get("states"):
        _check_states(changes["states"])
    if isinstance(changes.get("promised_at"), datetime):
        changes["promised_at"] = _stored_time(changes["promised_at"])
    jobs(session).update(job_id, changes, version=body.version, person_id=person_id)
    return get_job(session, job_id)


def _stored_time(moment: datetime) -> datetime:
    zoned = moment if moment.tzinfo else moment.replace(tzinfo=UTC)
    return zoned.astimezone(UTC).replace(tzinfo=None, microsecond=0)


def remove_job(session: Session, job_id: str, *, version: int, person_id: str) -> JobOut:
    """Take a job off the lists; ``restore_job`` undoes it."""
    jobs(session).remove(job_id, version=version, person_id=person_id)
    return get_job(session, job_id)


def restore_job(session: Session, job_id: str, *, version: int, person_id: str) -> JobOut:
    """Bring a removed job back."""
    jobs(session).restore(job_id, version=version, person_id=person_id)
    return get_job(session, job_id)


def change_window(session: Session, window_id: str, body: WindowPatch, *, person_id: str) -> JobOut:
    """Change a window; the readings are checked as a whole before anything is kept.

    Raises
    ------
    ReadingError, LengthError
        ``fields`` is keyed ``readings.<key>``.
    """
    record = windows(session).get(window_id)
    changes = {name: getattr(body, name) for name in body.model_fields_set if name not in ("version", "readings")}
    for name, value in changes.items():
        if value is None and name not in ("bare_vlt_percent", "film_id", "same_as_id"):
            raise CoreError(f"A window needs its {name.replace('_', ' ')}.", fields={name: "Cannot be empty."})
    if changes.get("film_id"):
        films(session).get(changes["film_id"])
    figure = Figure(changes.get("figure") or record.figure)
    if body.readings is not None:
        changes["readings"] = _merged_readings(record, body.readings, figure)
    elif "figure" in changes:
        kept = {key: value for key, value in record.readings.items() if key in known_keys(figure)}
        changes["readings"] = kept
    stored = {name: value.value if hasattr(value, "value") else value for name, value in changes.items()}
    windows(session).update(window_id, stored, version=body.version, person_id=person_id)
    _check_windows(session, record.job_id, blame=window_id)
    return get_job(session, record.job_id)


def _merged_readings(
    record: WindowRecord, given: Mapping[str, ReadingIn | None], figure: Figure
) -> dict[str, dict[str, Any]]:
    merged = {key: dict(value) for key, value in record.readings.items()}
    problems: dict[str, str] = {}
    for key, reading in given.items():
        if reading is None:
            merged.pop(key, None)
            continue
        if key not in known_keys(figure):
            problems[f"readings.{key}"] = f"“{key}” is not a reading of a {figure.value}-cornered pane."
            continue
        try:
            length = parse_length(reading.typed)
        except LengthError as error:
            problems[f"readings.{key}"] = error.message
            continue
        merged[key] = {"typed": length.typed, "mm": length.mm, "mode": reading.mode.value}
    if problems:
        place, sentence = next(iter(problems.items()))
        raise LengthError(f"{label(place.removeprefix('readings.')).capitalize()}: {sentence}", fields=problems)
    return merged


def _check_windows(session: Session, job_id: str, *, blame: str) -> None:
    """Every pane of the job must still make sense; a problem is told by its reading."""
    starting = shop_starting_values(session)
    records = windows(session).all(order="ordinal", job_id=job_id)
    for window in resolve_same_glass([core_window(window_part(record)) for record in records]).values():
        try:
            solved_pane(window, starting)
        except ReadingError as error:
            fields = {f"readings.{key}": sentence for key, sentence in error.fields.items()}
            raise ReadingError(error.message, fields=fields if window.id == blame else {}) from error


def add_window(session: Session, job_id: str, body: WindowCreate, *, person_id: str) -> JobOut:
    """A further window, last in the walkaround order."""
    jobs(session).get(job_id)
    present = windows(session).all(order="ordinal", job_id=job_id)
    values = {name: value.value if hasattr(value, "value") else value for name, value in body.model_dump().items()}
    ordinal = max((window.ordinal for window in present), default=-1) + 1
    windows(session).create(_window_values(job_id, ordinal, **values), person_id=person_id)
    _check_windows(session, job_id, blame="")
    return get_job(session, job_id)


def remove_window(session: Session, window_id: str, *, version: int, person_id: str) -> JobOut:
    """Take a window out; those that share its glass must be measured first.

    Raises
    ------
    CoreError
        Another window has the same glass as this one.
    """
    record = windows(session).get(window_id)
    present = windows(session).all(order="ordinal", job_id=record.job_id)
    if users := [window.label for window in present if window.same_as_id == window_id]:
        raise CoreError(
            f"{', '.join(users)} takes its measures from {record.label}. "
            "Measure it by itself first, then take this out."
        )
    windows(session).remove(window_id, version=version, person_id=person_id)
    return get_job(session, record.job_id)


def restore_window(session: Session, window_id: str, *, version: int, person_id: str) -> JobOut:
    """Bring a removed window back."""
    record = windows(session).restore(window_id, version=version, person_id=person_id)
    return get_job(session, record.job_id)


def film_for_many(
    session: Session, job_id: str, film_id: str | None, window_ids: Sequence[str], *, person_id: str
) -> JobOut:
    """One film, or none, on several windows."""
    if film_id is not None:
        films(session).get(film_id)
    store = windows(session)
    for window_id in window_ids:
        record = store.get(window_id)
        if record.job_id != job_id:
            raise NotFoundError("window", window_id)
        store.update(window_id, {"film_id": film_id}, version=record.version, person_id=person_id)
    return get_job(session, job_id)


def history(session: Session, job_id: str) -> History:
    """Who changed what on a job."""
    names = {person.id: person.name for person in people(session).all()}
    labels = {window.id: window.label for window in windows(session).all(job_id=job_id)}
    return History(
        entries=[
            HistoryEntry(
                at=entry.at.replace(tzinfo=UTC),
                person=names.get(entry.person_id, entry.person_id),
                action=entry.action,
                what=labels.get(entry.record_id, entry.record_kind),
                fields=sorted(entry.changes),
            )
            for entry in job_history(session, job_id)
        ]
    )


def export_job(session: Session, job_id: str) -> tuple[JobFile, int]:
    """A job as a job file, and its number for the file's name."""
    job = jobs(session).get(job_id)
    return load_job_file(session, job), job.number


def import_job(session: Session, content: bytes, *, person_id: str) -> JobOut:
    """Open a job file as a new job; films that the shop does not have come along.

    Raises
    ------
    CoreError
        The file cannot be opened, or holds something that cannot be. Nothing is saved then.
    """
    document = parse_job_file(content)
    starting = shop_starting_values(session)
    _check_states(document.job.vehicle.states)
    resolve_same_glass(core_job(document, starting=starting).windows)
    film_ids = _films_of(session, document, person_id=person_id)
    vehicle = document.job.vehicle
    job = jobs(session).create(
        {
            "number": next_job_number(session),
            "title": document.job.title,
            "customer": document.job.customer,
            "note": document.job.note,
            "status": "booked",
            "bay": "",
            "promised_at": None,
            "vehicle_label": vehicle.label,
            "body": "imported",
            "vehicle_class": vehicle.vehicle_class.value,
            "states": vehicle.states,
            "mirrors_both_sides": vehicle.mirrors_both_sides,
            "model_year": vehicle.model_year,
            "created_at": now(),
        },
        person_id=person_id,
    )
    _import_windows(session, job.id, document, film_ids, person_id=person_id)
    _check_windows(session, job.id, blame="")
    return get_job(session, job.id)


def _import_windows(
    session: Session, job_id: str, document: JobFile, film_ids: Mapping[str, str], *, person_id: str
) -> None:
    ids = {window.id: new_id() for window in document.job.windows}
    links: dict[str, tuple[str, bool]] = {}
    for ordinal, part in enumerate(document.job.windows):
        core = core_window(part)
        values = part.model_dump(mode="json", exclude={"id", "film", "same_as", "readings"})
        readings = {key: {"typed": r.typed, "mm": r.mm, "mode": r.mode.value} for key, r in core.readings.items()}
        film_id = film_ids[part.film] if part.film else None
        windows(session).create(
            _window_values(job_id, ordinal, **values, readings=readings, film_id=film_id),
            person_id=person_id,
            record_id=ids[part.id],
        )
        if part.same_as:
            links[ids[part.id]] = (ids[part.same_as.window], part.same_as.mirrored)
    for window_id, (source, turned) in links.items():
        link = {"same_as_id": source, "same_as_mirrored": turned}
        windows(session).update(window_id, link, version=1, person_id=person_id)


def _films_of(session: Session, document: JobFile, *, person_id: str) -> dict[str, str]:
    """The shop's films for those of a file: the same name and VLT is the same film."""
    present = {(film.name, film.vlt_percent): film.id for film in films(session).all()}
    used = {window.film for window in document.job.windows if window.film}
    found: dict[str, str] = {}
    for part in document.films:
        if part.id not in used:
            continue
        same = present.get((part.name, part.vlt_percent))
        if same is None:
            values = part.model_dump(mode="json", exclude={"id"}) | {"price_per_m2": 0.0}
            same = films(session).create(values, person_id=person_id).id
        found[part.id] = same
    return found
