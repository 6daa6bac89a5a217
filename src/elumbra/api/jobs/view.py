"""Records into what the job screens show: panes solved, shades computed, law asked."""

from __future__ import annotations

from collections.abc import Mapping, Sequence, Set
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal, cast

from elumbra.api.job_documents import JobStock, film_part, standing_reasons, vehicle_part, window_part
from elumbra.api.jobs.schemas import (
    BandPane,
    ClosingChangeOut,
    FilmBrief,
    FilmChoice,
    FitOut,
    JobBrief,
    JobLaw,
    JobOut,
    JobStatus,
    KeyLabel,
    LawChangeOut,
    LeastSheet,
    LotOut,
    PaneOut,
    ReadingOut,
    StatePapers,
    WindowOut,
)
from elumbra.api.jobs.shade_view import DEFAULT_BACKDROP, heat_out, reason_out, shade_out
from elumbra.api.law_books import changes_since
from elumbra.api.unit_of_work import zoned
from elumbra.api.verdicts import verdict_out
from elumbra.core.cut import StripShape
from elumbra.core.errors import CoreError
from elumbra.core.film import Film
from elumbra.core.glass import Position
from elumbra.core.law import Jurisdiction, LawBook, VerdictWord
from elumbra.core.light import GlassSource, shade_hex
from elumbra.core.measure import ClosingChange, MeasuredPane, describe_change, label
from elumbra.core.starting import StartingValues
from elumbra.core.work import (
    Job,
    ShadedCar,
    Window,
    WindowShade,
    cannot_cut,
    darkest_that_clears,
    goes_on,
    lay_out_strip,
    least_sheet_for,
    measure_window,
    nearest_match,
    rear_vlt,
    resolve_same_glass,
    shade_car,
    shades_by_film,
)
from elumbra.documents.job_file import core_film, core_vehicle, core_window
from elumbra.documents.plan import PlanDocument
from elumbra.storage.records import FilmRecord, JobRecord, ReasonRecord, WindowRecord


@dataclass(frozen=True)
class Shop:
    """What every job is looked at with."""

    films: Mapping[str, Film]
    names: Mapping[str, FilmRecord]
    stocked: Set[str]
    starting: StartingValues
    today: str

    @property
    def on_rack(self) -> list[Film]:
        """Films of which something is left."""
        return [film for film in self.films.values() if film.id in self.stocked]


@dataclass(frozen=True)
class JobParts:
    """A stored job with all that its screens are made from."""

    job: JobRecord
    windows: Sequence[WindowRecord]
    reasons: Mapping[str, ReasonRecord]
    law: LawBook
    current_law: LawBook


@dataclass(frozen=True)
class _FrozenReadings:
    """A window's measures as a key of the cache of solved panes."""

    window: Window
    key: tuple[object, ...]
    starting: StartingValues

    def __hash__(self) -> int:
        return hash(self.key)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _FrozenReadings) and self.key == other.key


@lru_cache(maxsize=2048)
def _solved(frozen: _FrozenReadings) -> MeasuredPane:
    return measure_window(frozen.window, starting=frozen.starting)


def solved_pane(window: Window, starting: StartingValues) -> MeasuredPane:
    """A resolved window's pane; the same readings are solved once.

    Raises
    ------
    ReadingError
        Readings that no pane can have.
    """
    readings = tuple(sorted((key, r.typed, r.mm, r.mode.value) for key, r in window.readings.items()))
    measures = (window.level, window.figure, window.curve, window.same_as is None, window.same_as_mirrored)
    figures = tuple(starting[name] for name in ("tape_sigma_mm", "reading_max_mm", "misclosure_alarm_sigma"))
    return _solved(_FrozenReadings(window, (readings, measures, figures, window.label), starting))


def shop_of(stock: JobStock, starting: StartingValues, *, today: str) -> Shop:
    """The shop's films, ready for use."""
    cores = {film.id: core_film(film_part(film, stock.lots.get(film.id))) for film in stock.films}
    stocked = {record.film_id for record in stock.stock if record.length_left_mm > 0}
    return Shop(cores, {film.id: film for film in stock.films}, stocked, starting, today)


def core_of(parts: JobParts, shop: Shop) -> tuple[Job, dict[str, Window]]:
    """The job as the core knows it, and its windows with shared glass resolved, by id."""
    standing = standing_reasons(list(parts.reasons.values()), today=shop.today)
    own = [core_window(window_part(record, standing.get(record.id))) for record in parts.windows]
    resolved = resolve_same_glass(own)
    job = Job(core_vehicle(vehicle_part(parts.job)), tuple(resolved.values()), shop.films)
    return job, resolved


def job_out(parts: JobParts, shop: Shop, *, input_hash: str) -> JobOut:
    """A whole job as its screens show it."""
    job = parts.job
    core, resolved = core_of(parts, shop)
    car = shade_car(core, starting=shop.starting)
    rear = rear_vlt(car)
    return JobOut(
        id=job.id,
        version=job.version,
        number=job.number,
        title=job.title,
        customer=job.customer,
        note=job.note,
        status=cast(JobStatus, job.status),
        bay=job.bay,
        promised_at=zoned(job.promised_at),
        vehicle_label=job.vehicle_label,
        body=job.body,
        vehicle_class=core.vehicle.vehicle_class,
        states=job.states,
        mirrors_both_sides=job.mirrors_both_sides,
        model_year=job.model_year,
        registered_as=core.vehicle.registered_as,
        no_glass_at=sorted(core.vehicle.no_glass_at),
        removed=job.removed,
        windows=[_window_out(record, resolved[record.id], car, parts, shop, rear) for record in parts.windows],
        films=[_film_brief(film, shop) for film in sorted(shop.names.values(), key=lambda f: (f.vlt_percent, f.name))],
        rear_percent=None if rear is None else 100 * rear,
        law=_law_out(parts),
        input_hash=input_hash,
    )


def _film_brief(film: FilmRecord, shop: Shop) -> FilmBrief:
    lot = shop.films[film.id].lot
    return FilmBrief(
        id=film.id,
        name=film.name,
        vlt_percent=film.vlt_percent,
        construction=film.construction,
        stocked=film.id in shop.stocked,
        lot=LotOut(lot=lot.lot, vlt_percent=100 * lot.vlt, pm_points=100 * lot.pm, readings=lot.readings)
        if lot
        else None,
    )


def _law_out(parts: JobParts) -> JobLaw:
    changes = changes_since(parts.job, parts.law, parts.current_law)
    return JobLaw(
        version=parts.law.version,
        day=parts.law.day,
        revision=parts.job.law_revision,
        changes=[LawChangeOut(state=c.state, field=c.field, before=c.before, now=c.now) for c in changes],
        papers=[_papers(parts.law.of(code)) for code in parts.job.states],
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


def job_brief(parts: JobParts, shop: Shop, latest_plan: str | None) -> JobBrief:
    """A job as a list shows it, with what keeps it from going on."""
    job = parts.job
    core, resolved = core_of(parts, shop)
    car = shade_car(core, starting=shop.starting)
    problems: list[str] = []
    words: list[VerdictWord] = []
    band: list[BandPane] = []
    measured = filmed = 0
    if changes_since(job, parts.law, parts.current_law):
        problems.append("The law on file has changed since this job was judged: judge again")
    for record in parts.windows:
        window = resolved[record.id]
        pane = solved_pane(window, shop.starting)
        shade = car.shade(record.id, parts.law, starting=shop.starting)
        measured += pane.outline is not None
        filmed += record.film_id is not None
        band.append(_band_pane(window, pane, shade))
        if shade.worst:
            words.append(shade.worst.word)
        problems += _window_problems(record, window, pane, shade)
    if latest_plan:
        for film in PlanDocument.model_validate_json(latest_plan).films:
            problems += [f"{item.label}: no film. {item.reason}" for item in film.unplaced]
    order = list(VerdictWord)
    return JobBrief(
        id=job.id,
        version=job.version,
        number=job.number,
        title=job.title,
        customer=job.customer,
        vehicle_label=job.vehicle_label,
        states=job.states,
        status=cast(JobStatus, job.status),
        bay=job.bay,
        promised_at=zoned(job.promised_at),
        worst=min(words, key=order.index, default=None),
        problems=problems,
        filmed=filmed,
        measured=measured,
        windows=len(parts.windows),
        band=band,
    )


def _window_problems(record: WindowRecord, window: Window, pane: MeasuredPane, shade: WindowShade) -> list[str]:
    problems = []
    worst = shade.worst
    held = worst is not None and worst.word.unlawful and not goes_on(window)
    if worst and (held or worst.word is VerdictWord.CANNOT_TELL):
        problems.append(f"{record.label}: {worst.word.value} in {worst.jurisdiction}")
    if pane.fit and pane.fit.alarm:
        problems.append(f"{record.label}: readings do not close")
    if record.film_id and (reason := cannot_cut(window, pane.outline)):
        problems.append(f"{record.label}: {reason}")
    return problems


def _band_pane(window: Window, pane: MeasuredPane, shade: WindowShade) -> BandPane:
    ring = pane.outline.ring.tolist() if pane.outline else []
    seen = shade.bare if window.is_strip else shade.combined
    backdrop = shade_hex(seen.vlt) if seen else DEFAULT_BACKDROP
    rounded = [[round(x, 1), round(y, 1)] for x, y in ring]
    return BandPane(ring=rounded, measured=bool(pane.outline and pane.outline.measured), backdrop=backdrop)


def _window_out(
    record: WindowRecord, window: Window, car: ShadedCar, parts: JobParts, shop: Shop, rear: float | None
) -> WindowOut:
    starting, law = shop.starting, parts.law
    pane, shade = solved_pane(window, starting), car.shade(window.id, law, starting=starting)
    tried = shades_by_film(car, window.id, list(shop.films.values()), law, starting=starting)
    on_rack = [one for one in tried if one.film.id in shop.stocked]
    darkest = darkest_that_clears(on_rack)
    nearest = nearest_match(on_rack, rear) if rear is not None and window.position is Position.FRONT_SIDE else None
    least = least_sheet_for(window, car, law, starting=starting)
    film = shop.films.get(record.film_id or "")
    reason = parts.reasons.get(record.id)
    return WindowOut(
        id=record.id,
        version=record.version,
        ordinal=record.ordinal,
        label=record.label,
        position=window.position,
        side=window.side,
        kind=window.kind,
        glass_type=window.glass_type,
        bare_vlt_percent=record.bare_vlt_percent,
        bare_vlt_source=GlassSource(record.bare_vlt_source),
        bare_readings_percent=record.bare_readings_percent,
        bare_vlt_through_old_film=record.bare_vlt_through_old_film,
        old_film=record.old_film,
        old_film_stays=record.old_film_stays,
        layers=record.layers,
        factory_glass=record.factory_glass,
        as1_mark=record.as1_mark,
        features=sorted(window.features),
        strip_shape=StripShape(record.strip_shape),
        strip_pieces=record.strip_pieces,
        film_id=record.film_id,
        coverage=cast(Literal["full", "strip"], record.coverage),
        curve=window.curve,
        level=window.level,
        figure=window.figure,
        readings={key: ReadingOut(typed=r.typed, mm=r.mm, mode=r.mode) for key, r in window.readings.items()},
        same_as_id=record.same_as_id,
        same_as_mirrored=record.same_as_mirrored,
        pane=_pane_out(pane, starting),
        strip_rings=_strip_rings(window, pane, starting),
        shade=shade_out(shade, car, window, starting),
        verdicts=[verdict_out(verdict) for verdict in shade.verdicts],
        worst=shade.worst.word if shade.worst else None,
        choices=[
            FilmChoice(
                film_id=one.film.id,
                vlt_percent=100 * one.shade.combined.vlt if one.shade.combined else None,
                word=one.shade.worst.word if one.shade.worst else VerdictWord.NO_RULE,
                spoils=list(one.spoils),
                stocked=one.film.id in shop.stocked,
            )
            for one in tried
        ],
        darkest_clearing=darkest.id if darkest else None,
        nearest_rear=nearest.id if nearest else None,
        least_sheet=LeastSheet(limit_percent=100 * least[0], sheet_percent=100 * least[1]) if least else None,
        heat=heat_out(film, window, pane, shade, starting) if film else None,
        reason=reason_out(reason, window, shop.today) if reason else None,
        cannot_cut=cannot_cut(window, pane.outline, shade) if window.film_id else None,
    )


def _strip_rings(window: Window, pane: MeasuredPane, starting: StartingValues) -> list[list[list[float]]]:
    depth = window.readings.get("strip_depth")
    if not window.is_strip or pane.outline is None or depth is None:
        return []
    try:
        plan = lay_out_strip(window, pane.outline, depth.mm, starting=starting)
    except CoreError:
        return []  # the strip planner says why
    return [piece.round(1).tolist() for piece in plan.pieces]


def _pane_out(pane: MeasuredPane, starting: StartingValues) -> PaneOut:
    outline, fit = pane.outline, pane.fit
    fit_out = None
    if fit:
        fit_out = FitOut(
            redundancy=fit.redundancy,
            misclosure_sigma=fit.misclosure_sigma,
            alarm_sigma=starting["misclosure_alarm_sigma"],
            alarm=fit.alarm,
            changes=[_change_out(change) for change in fit.changes],
            ask_for=KeyLabel(key=fit.ask_for, label=label(fit.ask_for)) if fit.ask_for else None,
            culprit=_change_out(fit.culprit) if fit.culprit else None,
        )
    return PaneOut(
        measured=bool(outline and outline.measured),
        ring=[[round(x, 2), round(y, 2)] for x, y in outline.ring.tolist()] if outline else [],
        corners=[[round(x, 2), round(y, 2)] for x, y in outline.corners.tolist()] if outline else [],
        width_mm=outline.width if outline else None,
        height_mm=outline.height if outline else None,
        missing=[KeyLabel(key=key, label=label(key)) for key in pane.missing],
        cautions=list(pane.cautions),
        fit=fit_out,
    )


def _change_out(change: ClosingChange) -> ClosingChangeOut:
    return ClosingChangeOut(
        key=change.key,
        label=label(change.key),
        sentence=describe_change(change),
        closing_mm=change.closing_mm,
        slip=change.slip,
    )
