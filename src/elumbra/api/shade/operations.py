"""Films on windows and what the law asks of them. Plain arguments, no web framework."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Literal, cast

from sqlalchemy.orm import Session

from elumbra.api.base.refusals import ApiError
from elumbra.api.car_view.law_books import judged_now
from elumbra.api.car_view.verdicts import percent_of, question_out
from elumbra.api.car_view.view import load_car
from elumbra.api.shade.schemas import (
    Elsewhere,
    ElsewhereWindow,
    EverywhereOut,
    InstalledIn,
    Looks,
    ProposalOut,
    ProposalsOut,
    ProposedWindowOut,
    ReachOut,
    ReasonIn,
    RulerOut,
    StripOut,
    WindowFilm,
)
from elumbra.car import verdicts_as_read
from elumbra.core.cut import StripPlan
from elumbra.core.errors import CoreError
from elumbra.core.film import Film
from elumbra.core.glass import Position
from elumbra.core.law import (
    Jurisdiction,
    LawBook,
    Question,
    Reach,
    StripRule,
    VehicleClass,
    Verdict,
    VerdictWord,
    allowed_reach,
    clauses_for,
    worst,
)
from elumbra.core.light import Hour, LitPane, Seat, combine, glass_pm, look
from elumbra.core.work import (
    Car,
    Proposal,
    Reason,
    ReasonKind,
    ShadedCar,
    Window,
    check_covered,
    check_reason,
    glass_under,
    lay_out_strip,
    propose,
    unmetered_of,
    worst_word,
)
from elumbra.storage import clock
from elumbra.storage.film_uses import check_film_present
from elumbra.storage.records import InstalledReadingRecord, PersonRecord, ReasonRecord, WindowRecord
from elumbra.storage.store import installed_readings, jobs, reasons, windows

_SAME_MM = 0.5


def judge_again(session: Session, job_id: str, *, version: int, person_id: str) -> str:
    """Judge a job by the rule book as it stands today."""
    record = replace(jobs(session).get_present(job_id), version=version, **judged_now(session))
    jobs(session).update(record, person_id=person_id, action="judged again")
    return job_id


def give_reason(session: Session, window_id: str, body: ReasonIn, *, lead: PersonRecord) -> str:
    """A lead's reason for an unlawful film, or the record that the wish was declined. The job's id.

    The verdict stays. A declined wish changes the film at once, and is refused where the new
    film is no more lawful.

    Raises
    ------
    CoreError
        The reason does not hold; ``fields`` says why.
    ApiError
        The film was changed since the lead looked.
    """
    record = windows(session).get_present(window_id)
    if record.film_id != body.film_id:
        raise ApiError("stale_version", f"The film on {record.label} was changed meanwhile. Look at the verdict again.")
    car, _, shop = load_car(session, record.job_id)
    before = car.shades[window_id]
    read = verdicts_as_read(session, car, car.window(window_id))
    wish = _wish(worst(read) or before.worst, car.job.films[body.film_id], record.label)
    film_id: str | None = body.film_id
    if body.kind is ReasonKind.DECLINED_FILM_CHANGED:
        if before.worst is None or not before.worst.word.unlawful:
            raise CoreError("This film is lawful as it is: no wish was declined.", fields={"kind": "Nothing declined."})
        if body.change_to is None:
            raise CoreError("Which film goes on instead?", fields={"change_to": "Choose a film that clears."})
        check_film_present(session, body.change_to, where=record.label)
        film_id = body.change_to
        record = windows(session).update(replace(record, version=body.version, film_id=film_id), person_id=lead.id)
        after = load_car(session, record.job_id)[0].shades[window_id]
    else:
        # The window itself stays as it is, and is held to the version that the lead saw.
        windows(session).update(replace(record, version=body.version), person_id=lead.id)
        after = before
    asked = [*after.verdicts, *([] if body.kind is ReasonKind.DECLINED_FILM_CHANGED else read)]
    film = film_id or ""
    reason = Reason(
        body.kind, film, wish, body.document, body.expires_on, body.note, lead.name, shop.today, body.state,
        body.issued_on, body.no_expiry, None if body.least_percent is None else body.least_percent / 100, body.citation,
    )  # fmt: skip
    check_reason(
        reason,
        today=shop.today,
        words={verdict.word for verdict in asked},
        under_old_film=after.hangs_on_old_film,
        unmetered=bool(unmetered_of(car, car.window(window_id))),
    )
    check_covered(reason, asked, record.label)
    _keep_reason(session, record, reason, lead)
    for window_id in dict.fromkeys(body.also):
        _apply_too(session, car, window_id, reason, lead)
    return record.job_id


def _apply_too(session: Session, car: Car, window_id: str, reason: Reason, lead: PersonRecord) -> None:
    """The same document on one more window of the car."""
    record = windows(session).get_present(window_id)
    if window_id not in car.shades or record.film_id is None or reason.kind is not ReasonKind.MEDICAL_EXEMPTION:
        raise CoreError("Pick windows of this car with film on them.", fields={"also": "Not a window of this car."})
    asked = [*car.shades[window_id].verdicts, *verdicts_as_read(session, car, car.window(window_id))]
    of_it = replace(
        reason, film_id=record.film_id, wish=_wish(worst(asked), car.job.films[record.film_id], record.label)
    )
    check_covered(of_it, asked, record.label)
    windows(session).update(record, person_id=lead.id)
    _keep_reason(session, record, of_it, lead)


def _keep_reason(session: Session, record: WindowRecord, reason: Reason, lead: PersonRecord) -> None:
    """A window's reason, in place of the one before."""
    for old in reasons(session).all(window_id=record.id):
        reasons(session).remove(old.id, version=old.version, person_id=lead.id)
    reasons(session).create(
        ReasonRecord(
            job_id=record.job_id,
            window_id=record.id,
            film_id=reason.film_id,
            kind=reason.kind.value,
            wish=reason.wish,
            document=reason.document,
            expires_on=reason.expires_on,
            note=reason.note,
            person_name=lead.name,
            on_day=reason.on,
            state=reason.state,
            issued_on=reason.issued_on,
            no_expiry=reason.no_expiry,
            least_percent=None if reason.least is None else 100 * reason.least,
            citation=reason.citation,
        ),
        person_id=lead.id,
    )


def _wish(verdict: Verdict | None, film: Film, label: str) -> str:
    if verdict is None:
        return f"{film.name} on {label}"
    return f"{film.name} on {label}: {verdict.word.value} in {verdict.jurisdiction}. {verdict.sentence}"[:400]


def withdraw_reason(session: Session, reason_id: str, *, version: int, person_id: str) -> str:
    """Take a reason back; the window is held again. The job's id."""
    return reasons(session).remove(reason_id, version=version, person_id=person_id).job_id


def films_by_window(session: Session, job_id: str, chosen: Mapping[str, WindowFilm], *, person_id: str) -> str:
    """A film, or none, on several windows at once: a group of them, or a whole proposal."""
    present = {window.id: window for window in windows(session).all(job_id=job_id)}
    jobs(session).get_present(job_id)
    for window_id, change in chosen.items():
        if window_id not in present:
            raise CoreError("This is of another car. Look at the car again.", fields={"films": window_id})
        record = replace(present[window_id], version=change.version, film_id=change.film_id)
        check_film_present(session, change.film_id, where=record.label)
        windows(session).update(record, person_id=person_id)
    return job_id


def everywhere(session: Session, job_id: str) -> EverywhereOut:
    """The plan in every jurisdiction on file, by the rule book of today."""
    car, parts, _ = load_car(session, job_id)
    book = parts.current_law
    answers = []
    for record in sorted(book.records.values(), key=lambda one: one.name):
        found = car.shaded.judge(record, starting=car.starting)
        answers.append(
            Elsewhere(
                code=record.code,
                name=record.name,
                word=worst_word(verdict.word for verdict in found.values()),
                windows=[
                    ElsewhereWindow(
                        window_id=window_id,
                        label=car.window(window_id).label,
                        word=verdict.word,
                        sentence=verdict.sentence,
                    )
                    for window_id, verdict in found.items()
                    if verdict.word is not VerdictWord.CLEARS
                ],
            )
        )
    return EverywhereOut(day=book.day, states=answers)


def proposals(session: Session, job_id: str) -> ProposalsOut:
    """Up to four whole-car proposals, and how each looks by day, at dusk and by night."""
    car, _, shop = load_car(session, job_id)
    films = {film.id: film for film in shop.on_file}
    stocked = [film for film in films.values() if film.id in shop.stocked]
    found = propose(car.job, stocked, car.law, starting=car.starting)
    return ProposalsOut(
        now=_looks(car.shaded, car),
        proposals=[_proposal_out(one, car, films) for one in found],
    )


def _proposal_out(proposal: Proposal, car: Car, films: Mapping[str, Film]) -> ProposalOut:
    changed = car.shaded
    for window_id, film_id in proposal.films.items():
        film = films[film_id] if film_id else None
        changed = changed.with_film(window_id, film, starting=car.starting)
    return ProposalOut(
        kinds=list(proposal.kinds),
        title=proposal.title,
        windows=[
            ProposedWindowOut(
                window_id=one.window_id,
                film_id=one.film_id,
                vlt_percent=percent_of(one.vlt),
                word=one.word,
                alternatives=list(one.alternatives),
            )
            for one in proposal.windows
        ],
        open_windows=list(proposal.open_windows),
        looks=_looks(changed, car),
    )


def _looks(shaded: ShadedCar, car: Car) -> list[Looks]:
    """Colours of the panes whose glass is known; the others light the cabin as little as a wall."""
    lit: dict[str, LitPane] = {}
    for window in car.job.windows:
        optics = shaded.optics(window.id, starting=car.starting, main_field=True)
        outline = car.panes[window.id].outline
        if optics is not None:
            lit[window.id] = LitPane(optics, outline.area if outline else 1.0)
    looks = []
    for hour in Hour:
        for seat in Seat:
            colours = look(list(lit.values()), hour=hour, seat=seat, starting=car.starting)
            looks.append(Looks(hour=hour, seat=seat, colours=dict(zip(lit, colours, strict=True))))
    return looks


def strip(session: Session, window_id: str) -> StripOut:
    """A pane's strip: how deep each state lets it reach, and how it lies on this glass."""
    record = windows(session).get_present(window_id)
    car, _, _ = load_car(session, record.job_id)
    law, vehicle = car.law, car.job.vehicle
    window, pane = car.window(window_id), car.shaded.by_window[window_id]
    reaches = []
    for code in vehicle.states:
        rule, inches, words = _strip_rule(law.of(code), vehicle.vehicle_class, window.position)
        reach = allowed_reach(rule, inches, pane) if rule else Reach(None, words)
        reaches.append((code, reach, rule))
    allowed = _least_reach([reach for _, reach, rule in reaches if rule])
    depth = pane.strip_depth or allowed
    plan, refused = _lay_out(window, depth, car)
    return StripOut(
        window_id=window_id,
        reaches=[_reach_out(code, reach, rule, law) for code, reach, rule in reaches],
        allowed_mm=allowed,
        depth_mm=depth,
        over_mm=max(0.0, depth - allowed - _SAME_MM) if depth and allowed else 0.0,
        shape=window.strip_shape,
        pieces_wanted=window.strip_pieces,
        edge=plan.edge.round(2).tolist() if plan else [],
        pieces=[piece.round(2).tolist() for piece in plan.pieces] if plan else [],
        rulers=[
            RulerOut(
                at=cast(Literal["left", "middle", "right"], ruler.at), x_mm=ruler.x, top_mm=ruler.top,
                reads_mm=ruler.reads,
            )
            for ruler in (plan.rulers if plan else ())
        ],
        blank_width_mm=plan.blank_width if plan else None,
        blank_height_mm=plan.blank_height if plan else None,
        cautions=list(plan.cautions) if plan else [],
        refused=refused,
    )  # fmt: skip


def _strip_rule(
    law: Jurisdiction, vehicle_class: VehicleClass, position: Position
) -> tuple[StripRule | None, float | None, str]:
    """The strip rule of the pane that the strip is on; none where it keeps what the whole pane keeps, in words."""
    if position is Position.WINDSHIELD:
        rule = law.windshield[vehicle_class]
        return rule.strip, rule.strip_inches, ""
    clauses = clauses_for(law, vehicle_class, position, strip=True)
    for clause in clauses:
        if clause.condition.strip is not None:
            return clause.condition.strip, clause.condition.inches, clause.sentence
    floor = next(clause.sentence for clause in clauses if clause.id == "floor")
    return None, None, f"no rule of its own: it keeps what the whole pane keeps. {floor}"


def _least_reach(reaches: list[Reach]) -> float | None:
    depths = [reach.depth for reach in reaches]
    return None if any(depth is None for depth in depths) else min((d for d in depths if d is not None), default=None)


def _reach_out(code: str, reach: Reach, rule: StripRule | None, law: LawBook) -> ReachOut:
    question: Question | None = reach.question
    return ReachOut(
        state=code,
        state_name=law.of(code).name,
        words=reach.words,
        depth_mm=reach.depth,
        question=question_out(question) if question else None,
        none_allowed=reach.none_allowed or rule is StripRule.NONE,
    )


def _lay_out(window: Window, depth: float | None, car: Car) -> tuple[StripPlan | None, str | None]:
    outline = car.panes[window.id].outline
    if outline is None:
        return None, "This pane is not measured. Read its greatest width and height at Survey, better its shape."
    if depth is None:
        return None, "How deep it may reach is not known yet. Answer what is open, or read the depth you want."
    try:
        return lay_out_strip(window, outline, depth, starting=car.starting), None
    except CoreError as error:
        return None, error.message


def record_installed(session: Session, window_id: str, body: InstalledIn, *, person_id: str) -> str:
    """Keep a reading of the finished pane; it corrects the lot's figure from then on. The job's id.

    Raises
    ------
    CoreError
        The window has no film, or its glass is not known, so nothing was foretold.
    ApiError
        The film was changed since the pane was looked through.
    """
    record = windows(session).get_present(window_id)
    if record.film_id is None:
        raise CoreError(f"{record.label} has no film to read through.", fields={"read_percent": "Choose its film."})
    if record.film_id != body.film_id:
        raise ApiError("stale_version", f"The film on {record.label} was changed meanwhile. Is it the film you read?")
    car, _, _ = load_car(session, record.job_id)
    window = car.window(window_id)
    glass = glass_under(window, starting=car.starting)
    if glass is None:
        raise CoreError(
            f"The bare glass of {record.label} is not known, so nothing was foretold. Meter it first next time.",
            fields={"read_percent": "Needs the bare glass."},
        )
    maker = _as_the_maker_says(car.job.films[record.film_id])
    layers = [car.job.films[layer] for layer in window.layers] if not glass.through_old_film else []
    foretold = combine(glass, maker, starting=car.starting, layers=layers)
    share = foretold.vlt / glass.vlt if glass.vlt else 0.0
    installed_readings(session).create(
        InstalledReadingRecord(
            job_id=record.job_id,
            window_id=window_id,
            film_id=record.film_id,
            lot=body.lot,
            predicted_percent=100 * foretold.vlt,
            predicted_pm=100 * share * glass_pm(glass, starting=car.starting),
            read_percent=body.read_percent,
            on_day=clock.today_iso(),
        ),
        person_id=person_id,
    )
    return record.job_id


def _as_the_maker_says(film: Film) -> Film:
    """The film without what the shop has read of its lot."""
    return replace(film, lot=None)
