"""Records into what the job screens show: panes solved, shades computed, law asked."""

from __future__ import annotations

from collections.abc import Mapping, Sequence, Set
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal, cast

from elumbra.api.job_documents import film_part, vehicle_part, window_part
from elumbra.api.jobs.schemas import (
    BandPane,
    ClosingChangeOut,
    FilmBrief,
    FilmChoice,
    FitOut,
    JobBrief,
    JobOut,
    JobStatus,
    KeyLabel,
    PaneOut,
    ReadingOut,
    ShadeOut,
    VerdictOut,
    WindowOut,
)
from elumbra.api.unit_of_work import zoned
from elumbra.core.film import Film
from elumbra.core.law import LawBook, Verdict, VerdictWord
from elumbra.core.light import GlassSource, shade_hex
from elumbra.core.measure import ClosingChange, MeasuredPane, describe_change, label
from elumbra.core.starting import StartingValues
from elumbra.core.work import (
    Vehicle,
    Window,
    WindowShade,
    cannot_cut,
    measure_window,
    resolve_same_glass,
    shade_window,
    shades_by_film,
)
from elumbra.documents.job_file import core_film, core_vehicle, core_window
from elumbra.documents.plan import PlanDocument
from elumbra.storage.records import FilmRecord, JobRecord, WindowRecord

_NO_GLASS = "bare glass not known"
_DEFAULT_BACKDROP = shade_hex(0.75)


@dataclass(frozen=True)
class Shop:
    """What every job is looked at with."""

    films: Mapping[str, Film]
    names: Mapping[str, FilmRecord]
    stocked: Set[str]
    law: LawBook
    starting: StartingValues


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


def shop_of(films: Sequence[FilmRecord], stocked: Set[str], law: LawBook, starting: StartingValues) -> Shop:
    """The shop's films and law, ready for use."""
    cores = {film.id: core_film(film_part(film)) for film in films}
    return Shop(cores, {film.id: film for film in films}, stocked, law, starting)


def job_out(job: JobRecord, records: Sequence[WindowRecord], shop: Shop, *, input_hash: str) -> JobOut:
    """A whole job as its screens show it."""
    windows = _core_windows(records)
    vehicle = core_vehicle(vehicle_part(job))
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
        vehicle_class=vehicle.vehicle_class,
        states=job.states,
        mirrors_both_sides=job.mirrors_both_sides,
        model_year=job.model_year,
        removed=job.removed,
        windows=[_window_out(record, windows[record.id], vehicle, shop) for record in records],
        films=[
            FilmBrief(
                id=film.id, name=film.name, vlt_percent=film.vlt_percent, construction=film.construction,
                stocked=film.id in shop.stocked,
            )
            for film in sorted(shop.names.values(), key=lambda film: (film.vlt_percent, film.name))
        ],
        input_hash=input_hash,
    )  # fmt: skip


def job_brief(job: JobRecord, records: Sequence[WindowRecord], shop: Shop, latest_plan: str | None) -> JobBrief:
    """A job as a list shows it, with what keeps it from going on."""
    windows = _core_windows(records)
    vehicle = core_vehicle(vehicle_part(job))
    problems: list[str] = []
    words: list[VerdictWord] = []
    band: list[BandPane] = []
    measured = filmed = 0
    for record in records:
        window = windows[record.id]
        pane, shade = solved_pane(window, shop.starting), _shade(window, vehicle, shop)
        measured += pane.outline is not None
        filmed += record.film_id is not None
        band.append(_band_pane(pane, shade))
        if shade.worst:
            words.append(shade.worst.word)
            if shade.worst.word in (VerdictWord.NOT_ALLOWED, VerdictWord.TOO_DARK, VerdictWord.CANNOT_TELL):
                problems.append(f"{record.label}: {shade.worst.word.value} in {shade.worst.jurisdiction}")
        if pane.fit and pane.fit.alarm:
            problems.append(f"{record.label}: readings do not close")
        if record.film_id and (reason := cannot_cut(window, pane.outline)):
            problems.append(f"{record.label}: {reason}")
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
        windows=len(records),
        band=band,
    )


def _band_pane(pane: MeasuredPane, shade: WindowShade) -> BandPane:
    ring = pane.outline.ring.tolist() if pane.outline else []
    backdrop = shade_hex(shade.combined.vlt) if shade.combined else _DEFAULT_BACKDROP
    rounded = [[round(x, 1), round(y, 1)] for x, y in ring]
    return BandPane(ring=rounded, measured=bool(pane.outline and pane.outline.measured), backdrop=backdrop)


def _core_windows(records: Sequence[WindowRecord]) -> dict[str, Window]:
    return resolve_same_glass([core_window(window_part(record)) for record in records])


def _shade(window: Window, vehicle: Vehicle, shop: Shop) -> WindowShade:
    film = shop.films.get(window.film_id or "")
    return shade_window(window, film, vehicle, shop.law, starting=shop.starting)


def _window_out(record: WindowRecord, window: Window, vehicle: Vehicle, shop: Shop) -> WindowOut:
    pane, shade = solved_pane(window, shop.starting), _shade(window, vehicle, shop)
    tried = shades_by_film(window, list(shop.films.values()), vehicle, shop.law, starting=shop.starting)
    clearing = [
        film.id
        for film, found in tried
        if film.id in shop.stocked and found.worst and found.worst.word is VerdictWord.CLEARS
    ]
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
        old_film=record.old_film,
        film_id=record.film_id,
        coverage=cast(Literal["full", "strip"], record.coverage),
        curve=window.curve,
        level=window.level,
        figure=window.figure,
        readings={key: ReadingOut(typed=r.typed, mm=r.mm, mode=r.mode) for key, r in window.readings.items()},
        same_as_id=record.same_as_id,
        same_as_mirrored=record.same_as_mirrored,
        pane=_pane_out(pane, shop.starting),
        shade=_shade_out(shade),
        verdicts=[verdict_out(verdict, shop.law) for verdict in shade.verdicts],
        worst=shade.worst.word if shade.worst else None,
        choices=[
            FilmChoice(
                film_id=film.id,
                vlt_percent=100 * found.combined.vlt if found.combined else None,
                word=found.worst.word if found.worst else VerdictWord.NO_RULE,
                stocked=film.id in shop.stocked,
            )
            for film, found in tried
        ],
        darkest_clearing=clearing[0] if clearing else None,
        cannot_cut=cannot_cut(window, pane.outline) if window.film_id else None,
    )


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


def _shade_out(shade: WindowShade) -> ShadeOut:
    combined = shade.combined
    if combined is None:
        return ShadeOut(
            bare_percent=None, vlt_percent=None, bonded_percent=None, bench_percent=None, pm_points=None,
            formula=_NO_GLASS, backdrop=_DEFAULT_BACKDROP,
        )  # fmt: skip
    return ShadeOut(
        bare_percent=100 * shade.bare.vlt if shade.bare else None,
        vlt_percent=100 * combined.vlt,
        bonded_percent=100 * combined.bonded if combined.bonded is not None else None,
        bench_percent=100 * combined.bench,
        pm_points=100 * combined.pm,
        formula=combined.formula,
        backdrop=shade_hex(combined.vlt),
    )


def verdict_out(verdict: Verdict, law: LawBook) -> VerdictOut:
    """A verdict as the screens show it."""
    return VerdictOut(
        word=verdict.word,
        state=verdict.jurisdiction,
        state_name=law.of(verdict.jurisdiction).name,
        sentence=verdict.sentence,
        citation=verdict.citation,
        vlt_percent=None if verdict.vlt is None else 100 * verdict.vlt,
        limit_percent=None if verdict.limit is None else 100 * verdict.limit,
        margin_points=verdict.margin_points,
        risk=verdict.risk,
        questions=list(verdict.questions),
        notes=list(verdict.notes),
        unconfirmed=list(verdict.unconfirmed),
    )
