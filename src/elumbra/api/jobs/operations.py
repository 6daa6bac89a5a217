"""What can be done with a job. Plain arguments, no web framework."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from datetime import UTC, datetime
from typing import Any

from sqlalchemy.orm import Session

from elumbra.api.job_documents import (
    JobStock,
    build_job_file,
    input_hash,
    load_job_file,
    load_stock,
    shop_starting_values,
    standing_reasons,
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
from elumbra.api.jobs.view import JobParts, Shop, job_brief, job_out, shop_of, solved_pane
from elumbra.api.law_books import current_book, job_book
from elumbra.core.errors import CoreError, LengthError, ReadingError
from elumbra.core.measure import Figure, known_keys, label
from elumbra.core.units import parse_length
from elumbra.core.work import resolve_same_glass
from elumbra.documents.job_file import JobFile, ReasonPart, core_job, core_window, parse_job_file
from elumbra.storage import data_files, solves
from elumbra.storage.clock import today_iso
from elumbra.storage.law_words import Shelf
from elumbra.storage.records import JobRecord, ReasonRecord, WindowRecord
from elumbra.storage.store import (
    NotFoundError,
    films,
    job_history,
    jobs,
    new_id,
    next_job_number,
    now,
    people,
    reasons,
    windows,
)

_OPEN = ("booked", "in_bay", "paused")
_MAY_BE_EMPTY = ("bare_vlt_percent", "film_id", "same_as_id", "factory_glass", "as1_mark")
_NEVER = datetime(9999, 1, 1)  # noqa: DTZ001  stored times carry no zone


def load_shop(session: Session) -> tuple[Shop, JobStock]:
    """The shop's films, rack and figures, ready for looking at jobs."""
    stock = load_stock(session)
    starting = data_files.starting_values().with_shop_values(stock.shop_changes)
    return shop_of(stock, starting, today=today_iso()), stock


def load_parts(session: Session, job: JobRecord) -> JobParts:
    """A job with its windows, reasons and law."""
    shelf = Shelf(session)
    return JobParts(
        job,
        windows(session).all(order="ordinal", job_id=job.id),
        {record.window_id: record for record in reasons(session).all(order="on_day", job_id=job.id)},
        job_book(shelf, job),
        shelf.current(),
    )


def get_job(session: Session, job_id: str) -> JobOut:
    """A job as its screens show it."""
    shop, stock = load_shop(session)
    parts = load_parts(session, jobs(session).get(job_id))
    standing = standing_reasons(list(parts.reasons.values()), today=shop.today)
    document = build_job_file(parts.job, parts.windows, standing, stock, parts.law)
    return job_out(parts, shop, input_hash=input_hash(document))


def _briefs(session: Session, chosen: Sequence[JobRecord]) -> list[JobBrief]:
    shop, _ = load_shop(session)
    by_job: dict[str, list[WindowRecord]] = defaultdict(list)
    for record in windows(session).all(order="ordinal"):
        by_job[record.job_id].append(record)
    given: dict[str, dict[str, ReasonRecord]] = defaultdict(dict)
    for reason in reasons(session).all(order="on_day"):
        given[reason.job_id][reason.window_id] = reason
    plans = solves.latest_plans(session, [job.id for job in chosen])
    shelf = Shelf(session)
    book = shelf.current()
    return [
        job_brief(
            JobParts(
                job, by_job[job.id], given[job.id], job_book(shelf, job), book
            ),
            shop,
            plans[job.id].plan if job.id in plans else None,
        )
        for job in chosen
    ]  # fmt: skip


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
    check_states(session, body.states)
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
            **judged_now(session),
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
        "bare_readings_percent": [],
        "bare_vlt_through_old_film": False,
        "old_film": False,
        "old_film_stays": False,
        "layers": [],
        "factory_glass": None,
        "as1_mark": None,
        "features": [],
        "strip_shape": "straight",
        "strip_pieces": 1,
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


def check_states(session: Session, states: Sequence[str]) -> None:
    """Refuse a state that is not in the rule book, or stands twice."""
    book = current_book(session)
    for code in states:
        book.of(code)
    if len(set(states)) != len(states):
        raise CoreError("A state stands twice.", fields={"states": "Name each state once."})


def judged_now(session: Session) -> dict[str, Any]:
    """The law of today, as a job keeps it."""
    return {"law_day": today_iso(), "law_revision": Shelf(session).latest}


def change_job(session: Session, job_id: str, body: JobPatch, *, person_id: str) -> JobOut:
    """Change what was sent."""
    changes = {name: getattr(body, name) for name in body.model_fields_set if name != "version"}
    for name in ("title", "vehicle_label", "vehicle_class", "states", "status", "no_glass_at"):
        if name in changes and changes[name] is None:
            raise CoreError(f"A job needs its {name.replace('_', ' ')}.", fields={name: "Cannot be empty."})
    for name in ("customer", "note", "bay"):
        if name in changes and changes[name] is None:
            changes[name] = ""
    if changes.get("states"):
        check_states(session, changes["states"])
    if isinstance(changes.get("promised_at"), datetime):
        changes["promised_at"] = _stored_time(changes["promised_at"])
    stored = {name: _plain(value) for name, value in changes.items()}
    jobs(session).update(job_id, stored, version=body.version, person_id=person_id)
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
        if value is None and name not in _MAY_BE_EMPTY:
            raise CoreError(f"A window needs its {name.replace('_', ' ')}.", fields={name: "Cannot be empty."})
    for film_id in [changes.get("film_id"), *(changes.get("layers") or [])]:
        if film_id:
            films(session).get(film_id)
    changes |= _metered(changes)
    figure = Figure(changes.get("figure") or record.figure)
    if body.readings is not None:
        changes["readings"] = _merged_readings(record, body.readings, figure)
    elif "figure" in changes:
        kept = {key: value for key, value in record.readings.items() if key in known_keys(figure)}
        changes["readings"] = kept
    stored = {name: _plain(value) for name, value in changes.items()}
    windows(session).update(window_id, stored, version=body.version, person_id=person_id)
    _check_windows(session, record.job_id, blame=window_id)
    return get_job(session, record.job_id)


def _plain(value: Any) -> Any:
    if isinstance(value, list):
        return [_plain(one) for one in value]
    return value.value if hasattr(value, "value") else value


def _metered(changes: Mapping[str, Any]) -> dict[str, Any]:
    """The glass's figure that follows from readings of the meter; one typed by itself replaces them."""
    readings = changes.get("bare_readings_percent")
    if readings:
        mean = round(sum(readings) / len(readings), 4)
        return {"bare_vlt_percent": mean, "bare_vlt_source": "metered"}
    if "bare_vlt_percent" in changes:
        return {"bare_readings_percent": []}
    return {}


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
    check_states(session, document.job.vehicle.states)
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
            "registered_as": vehicle.registered_as.value if vehicle.registered_as else None,
            "no_glass_at": [position.value for position in vehicle.no_glass_at],
            **judged_now(session),
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
        values = part.model_dump(mode="json", exclude={"id", "film", "same_as", "readings", "reason"})
        values["layers"] = [film_ids[layer] for layer in part.layers]
        readings = {key: {"typed": r.typed, "mm": r.mm, "mode": r.mode.value} for key, r in core.readings.items()}
        film_id = film_ids[part.film] if part.film else None
        windows(session).create(
            _window_values(job_id, ordinal, **values, readings=readings, film_id=film_id),
            person_id=person_id,
            record_id=ids[part.id],
        )
        if part.reason and part.reason.film in film_ids:
            _import_reason(session, job_id, ids[part.id], part.reason, film_ids, person_id=person_id)
        if part.same_as:
            links[ids[part.id]] = (ids[part.same_as.window], part.same_as.mirrored)
    for window_id, (source, turned) in links.items():
        link = {"same_as_id": source, "same_as_mirrored": turned}
        windows(session).update(window_id, link, version=1, person_id=person_id)


def _import_reason(
    session: Session, job_id: str, window_id: str, part: ReasonPart, film_ids: Mapping[str, str], *, person_id: str
) -> None:
    values = part.model_dump(mode="json", exclude={"film", "person", "on"})
    values |= {"film_id": film_ids[part.film], "person_name": part.person, "on_day": part.on}
    reasons(session).create(values | {"job_id": job_id, "window_id": window_id}, person_id=person_id)


def _films_of(session: Session, document: JobFile, *, person_id: str) -> dict[str, str]:
    """The shop's films for those of a file: the same name and VLT is the same film."""
    present = {(film.name, film.vlt_percent): film.id for film in films(session).all()}
    used = {window.film for window in document.job.windows if window.film}
    used = used.union(*(window.layers for window in document.job.windows))
    used |= {window.reason.film for window in document.job.windows if window.reason}
    found: dict[str, str] = {}
    for part in document.films:
        if part.id not in used:
            continue
        same = present.get((part.name, part.vlt_percent))
        if same is None:
            values = part.model_dump(mode="json", exclude={"id", "lot"}) | {"price_per_m2": 0.0}
            same = films(session).create(values, person_id=person_id).id
        found[part.id] = same
    return found
