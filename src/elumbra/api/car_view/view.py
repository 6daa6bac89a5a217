"""A looked-over car into what the job screens show."""

from __future__ import annotations

from collections.abc import Mapping, Sequence, Set
from datetime import UTC
from typing import Any

from sqlalchemy.orm import Session

from elumbra.api.base.bodies import zoned
from elumbra.api.car_view.cuttings import cut_out, cutting_out, holds_out
from elumbra.api.car_view.deeds import deeds_out, redos_out
from elumbra.api.car_view.law_books import changes_since
from elumbra.api.car_view.schemas import (
    FilmBrief,
    FilmChoice,
    FilmGroupOut,
    JobLaw,
    JobOut,
    LawChangeOut,
    LeastSheet,
    LotOut,
    PhotoOut,
    ReadingOut,
    ShelfLink,
    StatePapers,
    TicksOut,
    WindowOut,
)
from elumbra.api.car_view.shade_view import heat_out, reason_out, shade_out
from elumbra.api.car_view.survey_view import follows_out, other_side, pane_out, shelf_link, suggested
from elumbra.api.car_view.verdicts import question_out, verdict_out
from elumbra.api.car_view.work_ticks import Seen, bay_if_begun, seen_on, work_ticks
from elumbra.car import Bay, JobParts, Shop, assemble, input_hash, job_file, load_parts, load_shop, shop_then
from elumbra.core.deeds import State
from elumbra.core.errors import CoreError
from elumbra.core.glass import Position
from elumbra.core.law import Jurisdiction, VerdictWord
from elumbra.core.measure import MeasuredPane, asked_keys, corner_names, refining_keys
from elumbra.core.starting import StartingValues
from elumbra.core.survey import car_follows
from elumbra.core.work import (
    Car,
    Window,
    WindowFacts,
    asked_facts,
    class_contradiction,
    darkest_that_clears,
    facts_of,
    film_groups,
    findings_asked,
    follows_of,
    lay_out_strip,
    least_sheet_for,
    nearest_match,
    no_film_reason,
    readiness,
    readings_apart,
    rear_vlt,
    shades_by_film,
    ticks,
    unmetered_of,
    window_shrinking,
)
from elumbra.documents.job_file import JobFile
from elumbra.storage import data_files
from elumbra.storage.photos import photos_of
from elumbra.storage.records import WindowRecord
from elumbra.storage.store import jobs, people, shelf_cars, shelf_panes


def job_screen(session: Session, job_id: str) -> JobOut:
    """A job as its screens show it, from the database as it stands."""
    shop = load_shop(session)
    parts = load_parts(session, jobs(session).get(job_id))
    try:
        document = job_file(parts, shop)
        shop = _as_it_was(parts, shop, document)
        car = car_of(document, shop)
    except CoreError as error:
        return _job_out(session, parts, shop, None, stuck=error.message, hashed="")
    screen = _Screen(parts, shop, car, ShelfOf(session, parts.windows), bay_if_begun(session, car, parts),
                     seen_on(session, parts))  # fmt: skip
    return _job_out(session, parts, shop, screen, stuck=None, hashed=input_hash(document))


def car_of(document: JobFile, shop: Shop) -> Car:
    """A stored job's car; the same road as its plan's.

    Raises
    ------
    CoreError
        It cannot be put together; the message says why.
    """
    return assemble(document, data_files.law_file(), data_files.starting_values(), today=shop.today)


def load_car(session: Session, job_id: str) -> tuple[Car, JobParts, Shop]:
    """A stored job's car with what it was made from.

    Raises
    ------
    CoreError
        It cannot be put together; the message says why.
    """
    shop = load_shop(session)
    parts = load_parts(session, jobs(session).get(job_id))
    document = job_file(parts, shop)
    shop = _as_it_was(parts, shop, document)
    return car_of(document, shop), parts, shop


def _as_it_was(parts: JobParts, shop: Shop, document: JobFile) -> Shop:
    """The shop of today, or of the day on which the car went."""
    return shop if parts.delivered is None else shop_then(shop, document, parts.job.handed_over_on)


def _job_out(
    session: Session, parts: JobParts, shop: Shop, screen: _Screen | None, *, stuck: str | None, hashed: str
) -> JobOut:
    job = parts.job
    car = screen.car if screen else None
    rear = rear_vlt(car.shaded) if car else None
    named = {window.film_id for window in parts.windows}.union(*(window.layers for window in parts.windows))
    return JobOut(
        **job.facts,
        id=job.id,
        version=job.version,
        number=job.number,
        title=job.title,
        customer=job.customer,
        note=job.note,
        status=State(job.status),
        **deeds_out(session, job),
        **redos_out(session, job),
        bay=job.bay,
        promised_at=zoned(job.promised_at),
        vehicle_label=job.vehicle_label,
        body=job.body,
        removed=job.removed,
        stuck=stuck,
        windows=screen.windows(rear) if screen else [],
        films=_films(shop, named),
        film_groups=[
            FilmGroupOut(words=group.words, window_ids=list(group.window_ids))
            for group in (film_groups(car.job) if car else ())
        ],
        readiness=readiness(car).headline if car else "",
        class_contradiction=class_contradiction(car.job.vehicle) if car else "",
        cuttings=[cutting_out(one, parts, shop.today) for one in parts.cuttings],
        holds=holds_out(job.id, shop),
        rear_percent=None if rear is None else 100 * rear,
        worst=car.worst if car else None,
        follows=follows_out(car_follows(car.job.vehicle.findings) if car else ()),
        photos=_photos(session, job.id),
        law=_law_out(parts),
        input_hash=hashed,
    )


def _photos(session: Session, job_id: str) -> list[PhotoOut]:
    names = {person.id: person.name for person in people(session).all(removed_too=True)}
    return [
        PhotoOut(
            id=one.id,
            window_id=one.window_id,
            flaw_id=one.flaw_id,
            at=one.at.replace(tzinfo=UTC),
            person=names.get(one.person_id, ""),
        )
        for one in photos_of(session, job_id)
    ]


class ShelfOf:
    """The shelf's records that some windows' measures came from."""

    def __init__(self, session: Session, records: Sequence[WindowRecord]) -> None:
        ids = [record.shelf_pane_id for record in records if record.shelf_pane_id]
        self._panes = {one.id: one for one in shelf_panes(session).all(id=ids, removed_too=True)} if ids else {}
        cars = [one.car_id for one in self._panes.values()]
        self._cars = {one.id: one for one in shelf_cars(session).all(id=cars, removed_too=True)} if cars else {}

    def link(self, record: WindowRecord) -> ShelfLink | None:
        """Where a window's measures came from."""
        return shelf_link(record, self._panes, self._cars)

    def says(self, record: WindowRecord) -> Mapping[str, Any]:
        """What was found on that pane last."""
        pane = self._panes.get(record.shelf_pane_id or "")
        found: Mapping[str, Any] = pane.content.get("findings", {}) if pane else {}
        return found


def _films(shop: Shop, named: Set[str | None]) -> list[FilmBrief]:
    briefs = []
    for film_id, part in shop.parts.items():
        removed = shop.films[film_id].removed
        if removed and film_id not in named:
            continue
        lot = part.lot
        briefs.append(
            FilmBrief(
                id=film_id,
                name=part.name,
                vlt_percent=part.vlt_percent,
                construction=part.construction,
                stocked=film_id in shop.stocked,
                removed=removed,
                lot=LotOut.model_validate(lot.model_dump()) if lot else None,
            )
        )
    return sorted(briefs, key=lambda film: (film.vlt_percent, film.name))


def _law_out(parts: JobParts) -> JobLaw:
    changes = changes_since(parts.job, parts.law, parts.current_law)
    return JobLaw(
        version=parts.law.version,
        day=parts.law.day,
        revision=parts.job.law_revision,
        changes=[LawChangeOut(state=c.state, field=c.field, before=c.before, now=c.now) for c in changes],
        papers=[_papers(parts.law.records[code]) for code in parts.job.states if code in parts.law.records],
    )


def _papers(record: Jurisdiction) -> StatePapers:
    return StatePapers(
        state=record.code,
        state_name=record.name,
        sticker=record.row["sticker_or_label"],
        sticker_note=record.row["sticker_note"],
        medical=record.row["medical_exemption"],
        medical_note=record.row["medical_note"],
        unconfirmed=bool(record.unconfirmed & {"sticker_or_label", "medical_exemption"}),
    )


class _Screen:
    """A car's windows as its screens show them."""

    def __init__(self, parts: JobParts, shop: Shop, car: Car, shelf: ShelfOf, bay: Bay | None, seen: Seen) -> None:
        self.parts, self.shop, self.car, self.shelf, self.bay, self.seen = parts, shop, car, shelf, bay, seen
        self.on_file = shop.on_file

    def windows(self, rear: float | None) -> list[WindowOut]:
        """Every window, in walkaround order."""
        return [self._window(record, rear) for record in self.parts.windows]

    def _window(self, record: WindowRecord, rear: float | None) -> WindowOut:
        car, starting = self.car, self.car.starting
        window, pane, shade = car.window(record.id), car.panes[record.id], car.shades[record.id]
        hold = car.held.get(record.id)
        film = car.job.films.get(record.film_id or "")
        reason = self.parts.reasons.get(record.id)
        other = other_side(window, car.job.windows)
        return WindowOut(
            **facts_of(window, WindowFacts),
            id=record.id,
            version=record.version,
            ordinal=record.ordinal,
            label=record.label,
            layers=record.layers,
            film_id=record.film_id,
            curve=window.measures.curve,
            level=window.measures.level,
            figure=window.measures.figure,
            readings={key: ReadingOut(typed=r.typed, mm=r.mm, mode=r.mode) for key, r in window.readings.items()},
            reentrant=sorted(window.measures.reentrant),
            corner_names=list(corner_names(window.measures.figure)),
            findings_asked=list(findings_asked(window)),
            follows=follows_out(follows_of(window)),
            no_film=no_film_reason(window),
            other_side_id=other.id if other else None,
            suggested=suggested(window, car, self.shelf.says(record)),
            under_old_film=shade.hangs_on_old_film,
            shelf=self.shelf.link(record),
            same_as_id=record.same_as_id,
            same_as_mirrored=record.same_as_mirrored,
            asks=list(asked_facts(window)),
            asked_readings=list(asked_keys(window.measures)),
            refining_readings=list(refining_keys(window.measures)),
            pane=pane_out(window, car),
            strip_rings=_strip_rings(window, pane, starting),
            shade=shade_out(shade, car.shaded, window, starting),
            verdicts=[verdict_out(verdict) for verdict in shade.verdicts],
            worst=shade.worst.word if shade.worst else None,
            **self._choices(window, rear),
            heat=heat_out(film, window, pane, shade, starting) if film else None,
            reason=reason_out(reason, window, shade.verdicts) if reason else None,
            meter_doubt=readings_apart(window, starting=starting),
            unmetered_percent=round(100 * unmetered_of(car, window), 1) if film and not window.is_cut else 0.0,
            cut=cut_out(self.parts.cuts.get(record.id), window),
            held=hold.reason if hold else None,
            held_at=hold.station if hold else None,
            settled_by=_settled_by(car, window),
            held_by=[question_out(question) for question in hold.questions] if hold else [],
            ticks=TicksOut.model_validate({**ticks(car, record.id), **work_ticks(window, self.bay, self.seen)}),
        )

    def _choices(self, window: Window, rear: float | None) -> Mapping[str, Any]:
        """What each film would give on a window, and the picks that the law leaves."""
        car, starting, stocked = self.car, self.car.starting, self.shop.stocked
        tried = shades_by_film(car.shaded, window.id, self.on_file, car.law, starting=starting)
        on_rack = [one for one in tried if one.film.id in stocked]
        darkest = darkest_that_clears(on_rack)
        nearest = nearest_match(on_rack, rear) if rear is not None and window.position is Position.FRONT_SIDE else None
        least = least_sheet_for(window, car.shaded, car.law, starting=starting)
        return {
            "choices": [
                FilmChoice(
                    film_id=one.film.id,
                    vlt_percent=100 * one.shade.combined.vlt if one.shade.combined else None,
                    word=one.shade.worst.word if one.shade.worst else VerdictWord.NO_RULE,
                    spoils=list(one.spoils),
                    stocked=one.film.id in stocked,
                )
                for one in tried
            ],
            "darkest_clearing": darkest.id if darkest else None,
            "nearest_rear": nearest.id if nearest else None,
            "least_sheet": LeastSheet(limit_percent=100 * least[0], sheet_percent=100 * least[1]) if least else None,
        }


def _settled_by(car: Car, window: Window) -> str:
    """The reading that would settle whether its film goes on in one piece."""
    if window.film_id is None or car.panes[window.id].outline is None:
        return ""
    try:
        return window_shrinking(car, window.id).settled_by
    except CoreError:
        return ""  # Heat says why


def _strip_rings(window: Window, pane: MeasuredPane, starting: StartingValues) -> list[list[list[float]]]:
    depth = window.readings.get("strip_depth")
    if not window.is_strip or pane.outline is None or depth is None:
        return []
    try:
        plan = lay_out_strip(window, pane.outline, depth.mm, starting=starting)
    except CoreError:
        return []  # the strip planner says why
    return [piece.round(1).tolist() for piece in plan.pieces]
