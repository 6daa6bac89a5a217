"""A car looked over: flaws with their place, cause and decision, readings with the law's word; screens and papers."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import UTC, datetime
from functools import cached_property
from typing import TypeVar

from sqlalchemy.orm import Session

from elumbra.car.as_read import fitted_of
from elumbra.car.bay import Bay, load_bay, seconds, settings_for
from elumbra.car.records import JobParts
from elumbra.car.spoilt import unsettled_scrap
from elumbra.core.bay import Event, Happened, Progress, strip_key
from elumbra.core.deeds import Lack, WindowWork, lacks, looked_after
from elumbra.core.errors import CoreError
from elumbra.core.glass import Outline
from elumbra.core.inspection import (
    Certified,
    Decision,
    Fitted,
    FlawBook,
    Judged,
    Part,
    Place,
    RunRecord,
    Seen,
    Standard,
    Told,
    Wetness,
    Zone,
    certify,
    evidence_of,
    judge_flaws,
    parse_standard,
    place_of,
    verdicts_on_reading,
)
from elumbra.core.law import Verdict
from elumbra.core.survey import length_of
from elumbra.core.work import Car, Station, Window, comes_off, is_held, is_off, no_film_reason, readings_stand
from elumbra.storage import data_files
from elumbra.storage.kept import flaws, looks, same_flaw_of_lot
from elumbra.storage.kept_records import DeliveryRecord, FlawRecord, LookRecord
from elumbra.storage.kept_settings import kept, kept_then
from elumbra.storage.ledger import counts, stock_with_left
from elumbra.storage.records import InstalledReadingRecord
from elumbra.storage.store import installed_readings

OfWindow = TypeVar("OfWindow", FlawRecord, LookRecord, InstalledReadingRecord)

STANDARD = "look_standard"
LEAVING, FINAL, CALLBACK = "leaving", "final", "callback"
GONE, KEPT, REDONE = "gone", "kept", "redone"
_DAY_SECONDS = 86_400


@dataclass(frozen=True)
class LookedAt:
    """One window as it was looked over."""

    window: Window
    looks: Mapping[str, LookRecord]  # by when, the newest
    flaws: Sequence[FlawRecord]  # all that were ever put on it, oldest first
    readings: Sequence[InstalledReadingRecord]  # of the film that is on, oldest first
    fitted: Fitted
    certified: Certified
    fitted_at: float | None  # when the last step of its run was ticked [s]
    made: bool  # whether the film that is chosen is on
    made_at: float | None  # when the last of that work was done [s]

    @property
    def final(self) -> LookRecord | None:
        """The look at the end that counts: not one before the last work."""
        found = self.looks.get(FINAL)
        return found if found and looked_after(seconds(found.at), self.made_at) else None


@dataclass(frozen=True)
class CarLook:
    """A car looked over."""

    session: Session
    car: Car
    parts: JobParts
    bay: Bay
    book: FlawBook
    standard: Standard
    standard_version: int
    windows: Mapping[str, LookedAt]
    now: float
    places: Mapping[str, Place] = field(default_factory=dict)  # by flaw
    judged: Mapping[str, Judged] = field(default_factory=dict)  # by flaw that stands open

    @cached_property
    def open_flaws(self) -> list[FlawRecord]:
        """Flaws that were neither mended nor settled."""
        return [one for window in self.windows.values() for one in window.flaws if not one.closed]

    def decision(self, flaw: FlawRecord) -> Decision:
        """What becomes of a flaw: as a person decided, else by the standard."""
        return Decision(flaw.decision) if flaw.decision else self.judged[flaw.id].decision

    def settled(self, flaw: FlawRecord) -> bool:
        """Whether nothing more is done about it: it stays, and whoever must accept it has."""
        if flaw.closed:
            return True
        if self.decision(flaw) is not Decision.KEEP:
            return False
        return bool(flaw.accepted_by or flaw.because) or not self.judged[flaw.id].asks_owner

    def unsettled(self, window_id: str) -> list[FlawRecord]:
        """What of a window still stands between it and the customer."""
        return [one for one in self.windows[window_id].flaws if not self.settled(one)]

    def evidence(self, flaw: FlawRecord) -> dict[str, Told]:
        """What this window's run recorded, as facts for and against causes."""
        seen = self.windows[flaw.window_id]
        return evidence_of(self.book, self._record(flaw, seen), starting=self.car.starting)

    def _record(self, flaw: FlawRecord, seen: LookedAt) -> RunRecord:
        window, runs = seen.window, self.bay.runs
        told = runs.told.get(window.id)
        pane = self.car.panes[window.id]
        doubted = None
        if pane.fit is not None:
            doubted = (pane.fit.alarm or pane.fit.softened) and not readings_stand(window, self.car.job.windows)
        days = None if seen.fitted_at is None else max(0.0, (self.now - seen.fitted_at) / _DAY_SECONDS)
        return RunRecord(
            progress=runs.progress.get(window.id),
            events=[one for one in self.bay.events if one.window_id in (window.id, None)],
            situation=told.situation if told else {},
            findings=window.findings,
            film=self.car.job.films.get(flaw.film_id),
            day_said=any(one.kind is Happened.CONDITIONS for one in self.bay.events),
            film_off=comes_off(window),
            glue=_glue(self.bay.events, window.id),
            readings_doubted=doubted,
            twin_same=self._twin_same(flaw),
            lot_repeats=self._lot_repeats(flaw),
            days=days,
            cure_days=runs.answer.cure_days,
            parts=self.places[flaw.id].parts,
            answers={name: Told(one) for name, one in flaw.answers.items() if one in list(Told)},
        )

    def _twin_same(self, flaw: FlawRecord) -> bool | None:
        """Whether the other piece of a double cut shows it too; None where it was not looked at yet."""
        twin = self.bay.runs.twins.get(flaw.window_id)
        told = self.bay.runs.told.get(flaw.window_id)
        if twin is None or told is None or told.situation.get("paired") != "yes" or twin not in self.windows:
            return None
        other = self.windows[twin]
        if any(one.kind == flaw.kind for one in other.flaws):
            return True
        return False if other.looks else None

    def _lot_repeats(self, flaw: FlawRecord) -> bool | None:
        if not flaw.lot:
            return None
        number = same_flaw_of_lot(self.session, flaw.kind, flaw.film_id, flaw.lot, but=flaw.window_id)
        return number + 1 >= self.car.starting["look_lot_repeats"]


def load_look(session: Session, car: Car, parts: JobParts, *, person_id: str | None = None) -> CarLook:
    """A car looked over, with the run of its work."""
    bay = load_bay(session, car, parts, settings_for(session, person_id))
    book = data_files.flaw_book()
    standard, version = standard_of(session, book, parts.delivered)
    by_window = _by_window(flaws(session).all(order="at", job_id=parts.job.id))
    looked = _by_window(looks(session).all(order="at", job_id=parts.job.id))
    read = _by_window(installed_readings(session).all(order="on_day", job_id=parts.job.id))
    windows = {
        window.id: _looked_at(car, bay, window, by_window, looked, read)
        for window in car.job.windows
        if window.film_id is not None or by_window.get(window.id)
    }
    places = {one.id: place(car, one) for at in windows.values() for one in at.flaws}
    stands = [_seen(car, one, places[one.id]) for at in windows.values() for one in at.flaws if not one.closed]
    judged = judge_flaws(book, stands, standard, starting=car.starting)
    now = datetime.now(UTC).timestamp()
    return CarLook(session, car, parts, bay, book, standard, version, windows, now, places, judged)


def standard_of(session: Session, book: FlawBook, delivered: DeliveryRecord | None = None) -> tuple[Standard, int]:
    """The shop's written standard, ours where it has none; and its version. Of a car that is gone, that of then."""
    said, version = (kept_then(session, delivered, STANDARD), 0) if delivered else kept(session, STANDARD)
    return (parse_standard(said, book.flaws, own=True) if said else book.standard), version


def _by_window(records: Iterable[OfWindow]) -> dict[str, list[OfWindow]]:
    found: dict[str, list[OfWindow]] = {}
    for one in records:
        found.setdefault(one.window_id, []).append(one)
    return found


def _looked_at(
    car: Car,
    bay: Bay,
    window: Window,
    by_window: Mapping[str, list[FlawRecord]],
    looked: Mapping[str, list[LookRecord]],
    read: Mapping[str, list[InstalledReadingRecord]],
) -> LookedAt:
    newest, readings, fitted = fitted_of(window, looked.get(window.id, []), read.get(window.id, []))
    certified = certify(verdicts_on_reading(car, window.id, fitted), fitted, strip=window.is_strip)
    run = bay.runs.progress.get(window.id)
    return LookedAt(
        window=window,
        looks=newest,
        flaws=by_window.get(window.id, []),
        readings=readings,
        fitted=fitted,
        certified=certified,
        fitted_at=max((one.at for one in run.ticks.values()), default=None) if run else None,
        made=run is not None and run.made,
        made_at=run.made_at if run else None,
    )


def place(car: Car, flaw: FlawRecord) -> Place:
    """Where on its pane a flaw is; in view where the pane changed so that the mark lies beside it."""
    window = car.window(flaw.window_id)
    outline = car.panes[flaw.window_id].outline
    try:
        return place_of(outline, flaw.x, flaw.y, starting=car.starting, hidden=hidden_of(window))
    except CoreError:
        return Place(Zone.VIEW, frozenset({Part.MIDDLE}), 0.0)


_BORDERS = {"top": Part.TOP, "bottom": Part.FOOT, "left": Part.SIDE, "right": Part.SIDE}


def hidden_of(window: Window) -> dict[Part, float]:
    """How far from each edge the dark border covers the pane [mm], where the survey read it; the lesser side counts."""
    found: dict[Part, float] = {}
    for edge, part in _BORDERS.items():
        mm = length_of(window.findings, f"border_{edge}")
        if mm:
            found[part] = min(mm, found.get(part, mm))
    return found


def _seen(car: Car, flaw: FlawRecord, where: Place) -> Seen:
    outline: Outline | None = car.panes[flaw.window_id].outline
    width, height = (outline.width, outline.height) if outline else (1.0, 1.0)
    return Seen(
        id=flaw.id, window_id=flaw.window_id, kind=flaw.kind, zone=where.zone, state=Wetness(flaw.state),
        size_mm=flaw.size_mm, count=flaw.count, x_mm=flaw.x * width, y_mm=flaw.y * height, tries=flaw.tries,
    )  # fmt: skip


def _glue(events: Sequence[Event], window_id: str) -> str | None:
    """What was said of glue when old film came off a window."""
    said = [one for one in events if one.kind is Happened.STRIP_RESULT and one.window_id == window_id]
    return str(said[-1].value.get("glue", "")) or None if said else None


@dataclass(frozen=True)
class Redo:
    """What it costs to cut and fit a window once more; dollars and minutes."""

    film: float
    minutes: float
    labour: float
    twin: str  # label of the pane that was cut together with it

    @property
    def total(self) -> float:
        """Film and labour."""
        return round(self.film + self.labour, 2)


def redo_cost(look: CarLook, window_id: str) -> Redo:
    """What a redo costs: the film that the piece used, and the minutes from cutting to pressing."""
    mark = look.parts.cuts.get(window_id)
    film = 0.0
    if mark is not None and mark.count:
        roll = stock_with_left(look.session, mark.stock_id)
        film = mark.count / counts(1.0) * roll.width_mm / 1e6 * roll.price_per_m2
    progress: Progress | None = look.bay.runs.progress.get(window_id)
    minutes = sum(one.minutes for one in progress.run.steps if not one.again) if progress else 0.0
    labour = minutes / 60 * look.car.starting["labour_per_hour"]
    twin = look.bay.runs.twins.get(window_id, "")
    label = look.windows[twin].window.label if twin in look.windows else ""
    return Redo(round(film, 2), round(minutes, 1), round(labour, 2), label)


def redos_open(look: CarLook) -> list[str]:
    """Windows of which something must be redone, in sentences."""
    return [
        f"{look.windows[one.window_id].window.label}: {look.book.flaw(one.kind).words} must be redone"
        for one in look.open_flaws
        if not look.settled(one) and look.decision(one) is Decision.REDO
    ]


@dataclass(frozen=True)
class KeptHere:
    """Something that keeps a car here, and where it is settled."""

    window_id: str
    words: str
    station: Station
    lack: Lack | None = None  # None: seen on it, or the law says no

    @property
    def may_be_let_go(self) -> bool:
        """Whether a lead may deliver without it."""
        return self.lack is not None and self.lack.may_be_let_go


_STATION = {
    Lack.FILM: Station.CUT,
    Lack.WORK: Station.BAY,
    Lack.REMOVAL: Station.STRIP_OFF,
    Lack.SCRAP: Station.BAY,
    Lack.LOOK: Station.LOOK,
}


def hold_back(look: CarLook) -> list[KeptHere]:
    """What keeps a car from being handed over; empty where it may go.

    All that this job ordered is made and looked over after that, nothing on it stands unsettled; what the law says no
    to has the lead's reason.
    """
    found: list[KeptHere] = []
    scrap = unsettled_scrap(look.bay.events, look.parts.cuttings)
    for window in look.car.job.windows:
        work = _work_of(look, window, [one.id for one in scrap.get(window.id, ())])
        found += [KeptHere(window.id, words, _STATION[lack], lack) for lack, words in lacks(work)]
        if window.film_id is not None:
            found += [KeptHere(window.id, words, Station.LOOK) for words in _seen_or_unlawful(look, window)]
    return found


def _work_of(look: CarLook, window: Window, scrap: Sequence[str]) -> WindowWork:
    """What was ordered for a window, and how far that is."""
    run, strip = (look.bay.runs.progress.get(name) for name in (window.id, strip_key(window.id)))
    at = look.windows.get(window.id)
    final = at.looks.get(FINAL) if at else None
    step = next((one for one in run.makes if one.key not in run.ticks), None) if run else None
    return WindowWork(
        label=window.label,
        film=window.film_id is not None,
        booked=window.is_cut,
        begun=run is not None and run.begun,
        made=run is not None and run.made,
        next_step=step.say if step else "",
        refusal=no_film_reason(window),
        made_at=run.made_at if run else None,
        looked_at=seconds(final.at) if final else None,
        removal=comes_off(window),
        removed=is_off(window) or (strip is not None and strip.made),
        scrap=scrap,
    )


def unlawful_of(look: CarLook, window: Window) -> Verdict | None:
    """The first state's no that no reason of the lead covers, by the finished pane's reading; else as foretold."""
    asked = look.windows[window.id].certified.verdicts or look.car.shades[window.id].verdicts
    no = (one for one in asked if one.word.unlawful and is_held(one, window.reason, window.film_id))
    return next(no, None)


def _seen_or_unlawful(look: CarLook, window: Window) -> list[str]:
    """What was seen on a window and nobody settled, and what the law says no to without a lead's reason."""
    found: list[str] = []
    for flaw in look.unsettled(window.id):
        words = look.book.flaw(flaw.kind).words
        what = {Decision.REDO: "must be redone", Decision.TOUCH_UP: "is to be touched up"}.get(
            look.decision(flaw), "asks for the owner’s word"
        )
        found.append(f"{window.label}: {words} {what}")
    unlawful = unlawful_of(look, window)
    if unlawful is not None:
        by_reading = look.windows[window.id].certified.verdicts
        told = f"{unlawful.word.value} by the reading" if by_reading else unlawful.word.value
        found.append(f"{window.label}: {told}. {unlawful.sentence}")
    return found
