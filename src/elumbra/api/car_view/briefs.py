"""Jobs as lists show them. What a list tells is worked out once for what a job says, and kept."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from contextlib import AbstractContextManager

from sqlalchemy.orm import Session

from elumbra import __version__
from elumbra.api.base.bodies import zoned
from elumbra.api.car_view.brief_schemas import BandPane, JobBrief, JobSummary, KeptSummary, PieceBrief
from elumbra.api.car_view.law_books import changes_since
from elumbra.api.car_view.shade_view import DEFAULT_BACKDROP
from elumbra.api.car_view.view import car_of
from elumbra.car import JobParts, Shop, job_file, load_parts_of, load_shop
from elumbra.core.deeds import DONE_WITH, State
from elumbra.core.errors import CoreError
from elumbra.core.light import shade_hex
from elumbra.core.starting import StartingValues
from elumbra.core.work import Car, ToCut, window_problems
from elumbra.storage import clock, summaries, tasks
from elumbra.storage.database import BusyError, DiskFullError
from elumbra.storage.job_lists import still_open
from elumbra.storage.records import JobRecord
from elumbra.storage.store import shop_stamp

_LAW_CHANGED = "The law on file has changed since this job was judged: judge again"
OpenSession = Callable[[], AbstractContextManager[Session]]


def briefs(session: Session, chosen: Sequence[JobRecord], *, to_keep: dict[str, tuple[str, str]]) -> list[JobBrief]:
    """Jobs as a list shows them; ``to_keep`` gets the summaries that had to be worked out, for ``keep``."""
    kept = _summaries(session, chosen, to_keep)
    plans = tasks.latest_summaries(session, "plan", list(kept))
    return [
        _brief(job, JobSummary.model_validate_json(kept[job.id]), list(plans.get(job.id, {}).get("unplaced", ())))
        for job in chosen
    ]


def _summaries(session: Session, chosen: Sequence[JobRecord], to_keep: dict[str, tuple[str, str]]) -> dict[str, str]:
    """By job its summary: as kept, or worked out now and put down in ``to_keep``."""
    common = f"{shop_stamp(session)}:{clock.today_iso()}"
    # What is done stays as it was looked over; what is open follows films, rack, figures, law and day.
    basis = {job.id: f"{job.stamp}:{__version__}:{'done' if job.status in DONE_WITH else common}" for job in chosen}
    kept = summaries.kept(session, basis)
    missing = load_parts_of(session, [job for job in chosen if job.id not in kept])
    if missing:
        shop = load_shop(session)
        for job_id, parts in missing.items():
            kept[job_id] = _summary(parts, shop).model_dump_json()
            to_keep[job_id] = (basis[job_id], kept[job_id])
    return kept


def keep(open_session: OpenSession, to_keep: dict[str, tuple[str, str]]) -> None:
    """Keep worked-out summaries; where that cannot be done now, they are worked out again next time."""
    if not to_keep:
        return
    try:
        with open_session() as session:
            summaries.keep(session, to_keep)
    except (BusyError, DiskFullError):
        return


def _brief(job: JobRecord, summary: JobSummary, unplaced: list[str]) -> JobBrief:
    shown = dict(summary) | {"problems": [*summary.problems, *unplaced]}
    return JobBrief(
        **shown,
        id=job.id,
        version=job.version,
        number=job.number,
        title=job.title,
        customer=job.customer,
        vehicle_label=job.vehicle_label,
        states=job.states,
        status=State(job.status),
        bay=job.bay,
        promised_at=zoned(job.promised_at),
    )


def pieces_wanted(session: Session) -> list[tuple[JobRecord, list[PieceBrief]]]:
    """Booked jobs with the blanks that they still need."""
    chosen = still_open(session)
    kept = _summaries(session, chosen, {})
    return [(job, KeptSummary.model_validate_json(kept[job.id]).pieces) for job in chosen]


def _summary(parts: JobParts, shop: Shop) -> KeptSummary:
    """What keeps a job from going on; one that cannot be put together says why and shows no glass."""
    filmed = sum(record.film_id is not None for record in parts.windows)
    try:
        car = car_of(job_file(parts, shop), shop)
    except CoreError as error:
        return KeptSummary(
            worst=None, problems=[f"Stuck: {error.message}"], stuck=True, filmed=filmed, measured=0,
            windows=len(parts.windows), band=[],
        )  # fmt: skip
    problems = [_LAW_CHANGED] if changes_since(parts.job, parts.law, parts.current_law) else []
    for record in parts.windows:
        problems += window_problems(car, record.id)
    return KeptSummary(
        pieces=[piece for film_id, to_cut in car.to_cut.items() for piece in _pieces(film_id, to_cut, shop.starting)],
        worst=car.worst,
        problems=problems,
        stuck=False,
        filmed=filmed,
        measured=sum(pane.outline is not None for pane in car.panes.values()),
        windows=len(parts.windows),
        band=[_band_pane(car, record.id) for record in parts.windows],
    )


def _pieces(film_id: str, to_cut: ToCut, starting: StartingValues) -> list[PieceBrief]:
    """The film that each blank takes, and each pattern with its margins."""
    around = 2 * starting["edge_margin_mm"]
    blanks = [
        PieceBrief(label=blank.label, film_id=film_id, ways=[[way.along, way.across] for way in blank.turns])
        for blank in to_cut.blanks
    ]
    patterns = [
        PieceBrief(
            label=pattern.label, film_id=film_id,
            ways=[(pattern.turned(turn).max(axis=0) + around).tolist() for turn in pattern.turns],
        )
        for pattern in to_cut.patterns
    ]  # fmt: skip
    return blanks + patterns


def _band_pane(car: Car, window_id: str) -> BandPane:
    outline, shade = car.panes[window_id].outline, car.shades[window_id]
    seen = shade.bare if car.window(window_id).is_strip else shade.combined
    ring = outline.ring.tolist() if outline else []
    return BandPane(
        ring=[[round(x, 1), round(y, 1)] for x, y in ring],
        measured=bool(outline and outline.measured),
        backdrop=shade_hex(seen.vlt) if seen else DEFAULT_BACKDROP,
    )
