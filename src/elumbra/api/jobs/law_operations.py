"""What the law asks of a job: judging again, reasons, other states, strips, proposals, readings after."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Literal, cast

from sqlalchemy.orm import Session

from elumbra.api.errors import ApiError
from elumbra.api.jobs.operations import get_job, judged_now, load_parts, load_shop
from elumbra.api.jobs.schemas import (
    Elsewhere,
    ElsewhereWindow,
    EverywhereOut,
    InstalledIn,
    JobOut,
    Looks,
    ProposalOut,
    ProposalsOut,
    ProposedWindowOut,
    ReachOut,
    ReasonIn,
    RulerOut,
    StripOut,
)
from elumbra.api.jobs.view import Shop, core_of, solved_pane
from elumbra.api.verdicts import percent_of, question_out
from elumbra.core.cut import StripPlan, StripShape
from elumbra.core.errors import CoreError
from elumbra.core.film import Film
from elumbra.core.law import LawBook, Question, Reach, StripRule, VerdictWord, allowed_reach
from elumbra.core.light import Hour, LitPane, Seat, combine, glass_pm, look
from elumbra.core.work import (
    Job,
    Proposal,
    Reason,
    ReasonKind,
    ShadedCar,
    Window,
    WindowShade,
    check_reason,
    glass_under,
    lay_out_strip,
    propose,
    shade_car,
)
from elumbra.storage.clock import today_iso
from elumbra.storage.records import PersonRecord, WindowRecord
from elumbra.storage.store import films, installed_readings, jobs, reasons, windows

_SAME_MM = 0.5


def judge_again(session: Session, job_id: str, *, version: int, person_id: str) -> JobOut:
    """Judge a job by the rule book as it stands today."""
    jobs(session).update(job_id, judged_now(session), version=version, person_id=person_id, action="judged again")
    return get_job(session, job_id)


def _car(session: Session, job_id: str) -> tuple[Job, ShadedCar, LawBook, LawBook, Shop]:
    shop, _ = load_shop(session)
    parts = load_parts(session, jobs(session).get(job_id))
    job, _ = core_of(parts, shop)
    return job, shade_car(job, starting=shop.starting), parts.law, parts.current_law, shop


def _shade_of(session: Session, record: WindowRecord) -> tuple[WindowShade, Window, Shop]:
    job, car, law, _, shop = _car(session, record.job_id)
    window = next(window for window in job.windows if window.id == record.id)
    return car.shade(record.id, law, starting=shop.starting), window, shop


def give_reason(session: Session, window_id: str, body: ReasonIn, *, lead: PersonRecord) -> JobOut:
    """A lead's reason for an unlawful film, or the record that the wish was declined.

    The verdict stays. A declined wish changes the film at once, and is refused where the new
    film is no more lawful.

    Raises
    ------
    CoreError
        The reason does not hold; ``fields`` says why.
    ApiError
        The film was changed since the lead looked.
    """
    record = windows(session).get(window_id)
    if record.film_id != body.film_id:
        raise ApiError("stale_version", f"The film on {record.label} was changed meanwhile. Look at the verdict again.")
    before, _, shop = _shade_of(session, record)
    wish = _wish(before, shop.films[body.film_id], record.label)
    film_id = body.film_id
    if body.kind is ReasonKind.DECLINED_FILM_CHANGED:
        if before.worst is None or not before.worst.word.unlawful:
            raise CoreError("This film is lawful as it is: no wish was declined.", fields={"kind": "Nothing declined."})
        if body.change_to is None:
            raise CoreError("Which film goes on instead?", fields={"change_to": "Choose a film that clears."})
        films(session).get(body.change_to)
        film_id = body.change_to
        record = windows(session).update(
            window_id, {"film_id": film_id}, version=record.version, person_id=lead.id
        )  # fmt: skip
    after, _, _ = _shade_of(session, record)
    reason = Reason(body.kind, film_id, wish, body.document, body.expires_on, body.note, lead.name, today_iso())
    check_reason(reason, today=today_iso(), unlawful_now=bool(after.worst and after.worst.word.unlawful))
    for old in reasons(session).all(window_id=window_id):
        reasons(session).remove(old.id, version=old.version, person_id=lead.id)
    reasons(session).create(
        {
            "job_id": record.job_id,
            "window_id": window_id,
            "film_id": film_id,
            "kind": body.kind.value,
            "wish": wish,
            "document": body.document,
            "expires_on": body.expires_on,
            "note": body.note,
            "person_name": lead.name,
            "on_day": today_iso(),
        },
        person_id=lead.id,
    )
    return get_job(session, record.job_id)


def _wish(shade: WindowShade, film: Film, label: str) -> str:
    verdict = shade.worst
    if verdict is None:
        return f"{film.name} on {label}"
    return f"{film.name} on {label}: {verdict.word.value} in {verdict.jurisdiction}. {verdict.sentence}"[:400]


def withdraw_reason(session: Session, reason_id: str, *, version: int, person_id: str) -> JobOut:
    """Take a reason back; the window is held again."""
    record = reasons(session).remove(reason_id, version=version, person_id=person_id)
    return get_job(session, record.job_id)


def films_by_window(session: Session, job_id: str, chosen: Mapping[str, str | None], *, person_id: str) -> JobOut:
    """A whole proposal put on at once."""
    present = {window.id: window for window in windows(session).all(job_id=job_id)}
    for window_id, film_id in chosen.items():
        if window_id not in present:
            raise CoreError("This proposal is of another car. Ask for it again.", fields={"films": window_id})
        if film_id is not None:
            films(session).get(film_id)
        windows(session).update(
            window_id, {"film_id": film_id}, version=present[window_id].version, person_id=person_id
        )  # fmt: skip
    return get_job(session, job_id)


def everywhere(session: Session, job_id: str) -> EverywhereOut:
    """The plan in every jurisdiction on file, by the rule book of today."""
    job, car, _, book, shop = _car(session, job_id)
    labels = {window.id: window.label for window in job.windows}
    answers = []
    for record in sorted(book.records.values(), key=lambda one: one.name):
        found = car.judge(record, starting=shop.starting)
        answers.append(
            Elsewhere(
                code=record.code,
                name=record.name,
                word=_worst_word([verdict.word for verdict in found.values()]),
                windows=[
                    ElsewhereWindow(
                        window_id=window_id, label=labels[window_id], word=verdict.word, sentence=verdict.sentence
                    )
                    for window_id, verdict in found.items()
                    if verdict.word is not VerdictWord.CLEARS
                ],
            )
        )
    return EverywhereOut(day=book.day, states=answers)


def _worst_word(words: list[VerdictWord]) -> VerdictWord | None:
    order = list(VerdictWord)
    return min(words, key=order.index, default=None)


def proposals(session: Session, job_id: str) -> ProposalsOut:
    """Up to four whole-car proposals, and how each looks by day, at dusk and by night."""
    job, car, law, _, shop = _car(session, job_id)
    found = propose(job, shop.on_rack, law, starting=shop.starting)
    return ProposalsOut(
        now=_looks(car, job, shop),
        proposals=[_proposal_out(one, car, job, shop) for one in found],
    )


def _proposal_out(proposal: Proposal, car: ShadedCar, job: Job, shop: Shop) -> ProposalOut:
    changed = car
    for window_id, film_id in proposal.films.items():
        film = shop.films[film_id] if film_id else None
        changed = changed.with_film(window_id, film, starting=shop.starting)
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
        looks=_looks(changed, job, shop),
    )


def _looks(car: ShadedCar, job: Job, shop: Shop) -> list[Looks]:
    """Colours of the panes whose glass is known; the others light the cabin as little as a wall."""
    lit: dict[str, LitPane] = {}
    for window in job.windows:
        optics = car.optics(window.id, starting=shop.starting, main_field=True)
        outline = solved_pane(window, shop.starting).outline
        if optics is not None:
            lit[window.id] = LitPane(optics, outline.area if outline else 1.0)
    looks = []
    for hour in Hour:
        for seat in Seat:
            colours = look(list(lit.values()), hour=hour, seat=seat, starting=shop.starting)
            looks.append(Looks(hour=hour, seat=seat, colours=dict(zip(lit, colours, strict=True))))
    return looks


def strip(session: Session, window_id: str) -> StripOut:
    """A windshield's strip: how deep each state lets it reach, and how it lies on this glass."""
    record = windows(session).get(window_id)
    job, car, law, _, shop = _car(session, record.job_id)
    window = next(window for window in job.windows if window.id == window_id)
    pane = car.by_window[window_id]
    reaches = []
    for code in job.vehicle.states:
        rule = law.of(code).windshield[job.vehicle.vehicle_class]
        reaches.append((code, allowed_reach(rule.strip, rule.strip_inches, pane), rule.strip))
    allowed = _least_reach([reach for _, reach, _ in reaches])
    depth = pane.strip_depth or allowed
    plan, refused = _lay_out(window, depth, shop)
    return StripOut(
        window_id=window_id,
        reaches=[_reach_out(code, reach, rule, law) for code, reach, rule in reaches],
        allowed_mm=allowed,
        depth_mm=depth,
        over_mm=max(0.0, depth - allowed - _SAME_MM) if depth and allowed else 0.0,
        shape=StripShape(record.strip_shape),
        pieces_wanted=record.strip_pieces,
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


def _least_reach(reaches: list[Reach]) -> float | None:
    depths = [reach.depth for reach in reaches]
    return None if any(depth is None for depth in depths) else min((d for d in depths if d is not None), default=None)


def _reach_out(code: str, reach: Reach, rule: StripRule, law: LawBook) -> ReachOut:
    question: Question | None = reach.question
    return ReachOut(
        state=code,
        state_name=law.of(code).name,
        words=reach.words,
        depth_mm=reach.depth,
        question=question_out(question) if question else None,
        none_allowed=reach.none_allowed or rule is StripRule.NONE,
    )


def _lay_out(window: Window, depth: float | None, shop: Shop) -> tuple[StripPlan | None, str | None]:
    outline = solved_pane(window, shop.starting).outline
    if outline is None:
        return None, "The windshield is not measured. Read its greatest width and height at Survey, better its shape."
    if depth is None:
        return None, "How deep it may reach is not known yet. Answer what is open, or read the depth you want."
    try:
        return lay_out_strip(window, outline, depth, starting=shop.starting), None
    except CoreError as error:
        return None, error.message


def record_installed(session: Session, window_id: str, body: InstalledIn, *, person_id: str) -> JobOut:
    """Keep a reading of the finished pane; it corrects the lot's figure from then on.

    Raises
    ------
    CoreError
        The window has no film, or its glass is not known, so nothing was foretold.
    """
    record = windows(session).get(window_id)
    if record.film_id is None:
        raise CoreError(f"{record.label} has no film to read through.", fields={"read_percent": "Choose its film."})
    _, window, shop = _shade_of(session, record)
    glass = glass_under(window)
    if glass is None:
        raise CoreError(
            f"The bare glass of {record.label} is not known, so nothing was foretold. Meter it first next time.",
            fields={"read_percent": "Needs the bare glass."},
        )
    maker = _as_the_maker_says(shop.films[record.film_id])
    layers = [shop.films[layer] for layer in window.layers] if not glass.through_old_film else []
    foretold = combine(glass, maker, starting=shop.starting, layers=layers)
    share = foretold.vlt / glass.vlt if glass.vlt else 0.0
    installed_readings(session).create(
        {
            "job_id": record.job_id,
            "window_id": window_id,
            "film_id": record.film_id,
            "lot": body.lot,
            "predicted_percent": 100 * foretold.vlt,
            "predicted_pm": 100 * share * glass_pm(glass, starting=shop.starting),
            "read_percent": body.read_percent,
            "on_day": today_iso(),
        },
        person_id=person_id,
    )
    return get_job(session, record.job_id)


def _as_the_maker_says(film: Film) -> Film:
    """The film without what the shop has read of its lot."""
    return replace(film, lot=None)
