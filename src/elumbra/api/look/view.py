"""A looked-over car into what Look's screens show."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import UTC

from sqlalchemy.orm import Session

from elumbra.api.look.operations import look_of, redo_is_open
from elumbra.api.look.schemas import (
    AskOut,
    CauseOut,
    FlawKindOut,
    FlawKindsOut,
    FlawOut,
    HoldOn,
    HuntOut,
    LookedOut,
    LookOut,
    LookWindowOut,
    ReadOut,
    RedoOut,
    RemedyOut,
    SaidOut,
    StandardOut,
    StandardRuleOut,
)
from elumbra.car import CarLook, KeptHere, hold_back, redo_cost, standard_of, unlawful_of
from elumbra.car.look import FINAL, LEAVING, LookedAt
from elumbra.core.glass import WindowKind
from elumbra.core.inspection import (
    Causes,
    Decision,
    FlawBook,
    HuntSide,
    RankedCause,
    Said,
    Standard,
    Wetness,
    rank_causes,
)
from elumbra.core.law import Verdict, VerdictWord
from elumbra.storage import data_files
from elumbra.storage.kept_records import FlawRecord, LookRecord
from elumbra.storage.photos import photos_of
from elumbra.storage.records import PersonRecord

_BACK = frozenset({WindowKind.BACK_GLASS, WindowKind.HATCH, WindowKind.SLIDER})


def look_screen(session: Session, job_id: str, *, person: PersonRecord) -> LookOut:
    """A car at Look.

    Raises
    ------
    CoreError
        It cannot be put together.
    """
    look = look_of(session, job_id, person_id=person.id)
    photos: dict[str, list[str]] = {}
    for one in photos_of(session, job_id):
        if one.flaw_id:
            photos.setdefault(one.flaw_id, []).append(one.id)
    view = _View(look, photos)
    holds = hold_back(look)
    return LookOut(
        job_id=job_id,
        headline=_headline(look, holds),
        lead=person.leads,
        kinds=_kinds(look.book),
        hunt=[HuntOut(id=one.id, side=one.side, say=one.say) for one in look.book.hunt],
        standard=standard_out(look.standard, look.standard_version),
        windows=[view.window(at) for at in look.windows.values()],
        holds=[HoldOn(window_id=one.window_id, words=one.words) for one in holds],
    )  # fmt: skip


def kinds_screen() -> FlawKindsOut:
    """What can be seen on a filmed pane."""
    return FlawKindsOut(kinds=_kinds(data_files.flaw_book()))


def _kinds(book: FlawBook) -> list[FlawKindOut]:
    return [
        FlawKindOut(id=one.id, short=one.short, words=one.words, note=one.note, section=one.section)
        for one in book.flaws.values()
    ]


def standard_screen(session: Session) -> StandardOut:
    """The written standard as it stands."""
    return standard_out(*standard_of(session, data_files.flaw_book()))


def standard_out(standard: Standard, version: int) -> StandardOut:
    """The written standard."""
    rules = [StandardRuleOut(kind=one.kind, zone=one.zone, most=one.most, mm=one.mm) for one in standard.rules]
    return StandardOut(unit=standard.unit, rules=rules, own=standard.own, version=version)


def _headline(look: CarLook, holds: Sequence[KeptHere]) -> str:
    filmed = [at for at in look.windows.values() if at.window.film_id is not None]
    if not filmed:
        return "No film on this car"
    if not holds:
        return f"All {len(filmed)} windows looked over: the car may go" if len(filmed) > 1 else "The car may go"
    redo = sum(look.decision(one) is Decision.REDO for one in look.open_flaws)
    mend = sum(look.decision(one) is Decision.TOUCH_UP for one in look.open_flaws)
    left = sum(at.final is None for at in filmed)
    told = [f"{redo} to redo" if redo else "", f"{mend} to touch up" if mend else ""]
    told.append(f"{left} of {len(filmed)} windows to look over" if left else "")
    words = ", ".join(one for one in told if one) or f"{len(holds)} to settle before the car may go"
    return words[0].upper() + words[1:]


class _View:
    def __init__(self, look: CarLook, photos: dict[str, list[str]]) -> None:
        self.look, self.photos = look, photos

    def window(self, at: LookedAt) -> LookWindowOut:
        """One window."""
        window, look = at.window, self.look
        run = look.bay.runs.progress.get(window.id)
        shade = look.car.shades[window.id]
        mark = look.parts.cuts.get(window.id)
        worst = min(at.certified.verdicts, key=_badness, default=None)
        newest = at.final or at.looks.get(LEAVING)
        film = look.car.job.films.get(window.film_id or "")
        return LookWindowOut(
            window_id=window.id,
            made=at.made,
            label=window.label,
            film=film.name if film else "",
            film_id=window.film_id or "",
            lot=mark.lot if mark else "",
            strip=window.is_strip,
            work_done=run is not None and run.done,
            hunt=[one.id for one in look.book.hunt if self._applies(one.id, at)],
            leaving=_looked(at.looks.get(LEAVING)),
            final=_looked(at.final),
            flaws=[self.flaw(one) for one in at.flaws],
            readings=[
                ReadOut(
                    id=one.id, version=one.version, percent=one.read_percent, predicted_percent=one.predicted_percent,
                    predicted_pm=one.predicted_pm, on_day=one.on_day,
                )
                for one in at.readings
            ],
            predicted_percent=_percent(shade.combined.vlt) if shade.combined else None,
            predicted_low=_percent(shade.combined.low) if shade.combined else None,
            predicted_high=_percent(shade.combined.high) if shade.combined else None,
            word=worst.word if worst else None,
            sentence=worst.sentence if worst else at.certified.why,
            asks_reason=bool(at.certified.verdicts) and unlawful_of(look, window) is not None,
            wording=at.certified.wording,
            rulers=dict(newest.rulers) if newest else {},
            deepest_mm=at.fitted.deepest_mm,
            answer=self._answer(at),
        )  # fmt: skip

    def _applies(self, step: str, at: LookedAt) -> bool:
        if step == "in_strip":
            return at.window.is_strip
        return step != "in_brake" or at.window.kind in _BACK

    def _answer(self, at: LookedAt) -> str:
        stands = self.look.unsettled(at.window.id)
        redo = [one for one in stands if self.look.decision(one) is Decision.REDO]
        if redo:
            return f"Redo: {self.look.book.flaw(redo[0].kind).short}"
        if stands:
            first = stands[0]
            words = self.look.book.flaw(first.kind).short
            more = f", and {len(stands) - 1} more" if len(stands) > 1 else ""
            asks = self.look.decision(first) is Decision.KEEP
            return f"{'Ask the owner' if asks else 'Touch up'}: {words}{more}"
        kept = [one for one in at.flaws if not one.closed]
        if at.final is not None:
            return f"Good to go, {len(kept)} kept" if kept else "Clean"
        if not at.made:
            return "Film is not on yet"
        if FINAL in at.looks:
            return "Worked on since the last look: look again"
        return "Look once more at the end" if LEAVING in at.looks else "Not looked over yet"

    def flaw(self, one: FlawRecord) -> FlawOut:
        """A flaw, with causes while it stands open."""
        look, kind = self.look, self.look.book.flaw(one.kind)
        judged = look.judged.get(one.id)
        causes = self._causes(one) if judged else Causes((), ())
        decision = look.decision(one) if judged else Decision(one.decision or Decision.KEEP)
        place = look.places[one.id]
        cost = redo_cost(look, one.window_id) if judged else None
        return FlawOut(
            id=one.id,
            version=one.version,
            window_id=one.window_id,
            kind=one.kind,
            short=kind.short,
            words=kind.words,
            note_of_kind=kind.note,
            x=one.x,
            y=one.y,
            zone=place.zone,
            where=", ".join(_PARTS[part.value] for part in sorted(place.parts)),
            seen_from=HuntSide(one.seen_from),
            state=Wetness(one.state),
            size_mm=one.size_mm,
            count=one.count,
            when=one.when,  # type: ignore[arg-type]
            note=one.note,
            decision=decision,
            standard_says=judged.decision if judged else None,
            because=one.because or (judged.because if judged else ""),
            overruled=bool(one.decision and judged and one.decision != judged.decision.value),
            asks_owner=bool(judged and judged.asks_owner),
            accepted_by=one.accepted_by,
            tries=one.tries,
            closed=one.closed,  # type: ignore[arg-type]
            settled=look.settled(one),
            redo_open=redo_is_open(look, one),
            causes=[_cause(ranked) for ranked in causes.ranked],
            questions=[AskOut(fact=ask.fact, ask=ask.ask) for ask in causes.questions],
            remedy=[RemedyOut(**vars(step)) for step in kind.remedy[Wetness(one.state)]],
            redo=RedoOut(film=cost.film, minutes=cost.minutes, labour=cost.labour, total=cost.total, twin=cost.twin)
            if cost else None,
            photos=self.photos.get(one.id, []),
            person=one.person_name,
            at=one.at.replace(tzinfo=UTC),
        )  # fmt: skip

    def _causes(self, one: FlawRecord) -> Causes:
        book: FlawBook = self.look.book
        return rank_causes(book, one.kind, self.look.evidence(one), starting=self.look.car.starting)


def _badness(verdict: Verdict) -> int:
    return list(VerdictWord).index(verdict.word)


_PARTS = {"top": "at the top", "foot": "at the foot", "side": "at a side", "corner": "in a corner",
          "middle": "in the middle"}  # fmt: skip


def _percent(share: float) -> float:
    return round(100 * share, 2)


def _looked(record: LookRecord | None) -> LookedOut | None:
    if record is None:
        return None
    return LookedOut(
        id=record.id, version=record.version, clean=record.clean, person=record.person_name,
        at=record.at.replace(tzinfo=UTC),
    )  # fmt: skip


def _said(said: Said) -> SaidOut:
    return SaidOut(words=said.words, told=said.told)


def _cause(ranked: RankedCause) -> CauseOut:
    return CauseOut(
        id=ranked.cause.id,
        words=ranked.cause.words,
        percent=round(100 * ranked.share, 1),
        section=ranked.cause.section,
        speaks_for=[_said(one) for one in ranked.speaks_for],
        against=[_said(one) for one in ranked.against],
        unknown=[_said(one) for one in ranked.unknown],
    )
