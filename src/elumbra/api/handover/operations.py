"""Handing a car over: what holds it, its papers, the signature. Plain arguments, no web framework."""

from __future__ import annotations

import json
from collections.abc import Callable, Mapping
from dataclasses import replace
from datetime import UTC, datetime
from types import MappingProxyType

from sqlalchemy.orm import Session

from elumbra.api.base.refusals import ApiError
from elumbra.api.car_view.view import car_of, load_car
from elumbra.api.handover import sheets
from elumbra.api.handover.parts import (
    HandoverParts,
    Missing,
    lacks_acknowledged,
    lacks_certificate,
    lacks_invoice,
    lacks_warranty,
    load_handover,
)
from elumbra.api.handover.schemas import (
    CheckBody,
    CheckOut,
    HandoverOut,
    KeptHereOut,
    LetGoOut,
    LetterheadBody,
    LetterheadOut,
    MissingOut,
    PaperName,
    PaperOut,
    SignBody,
    SignedOut,
    TakeBackBody,
)
from elumbra.car import (
    LETTERHEAD,
    ShopCopy,
    accept_version,
    freeze,
    hold_back,
    job_file,
    load_bay,
    load_quote,
    not_put_back,
    prices_of,
    settings_for,
)
from elumbra.core.bay import END, Happened
from elumbra.core.deeds import HERE, Deed, State
from elumbra.core.errors import CoreError
from elumbra.core.pricing import dollars
from elumbra.core.work import Station
from elumbra.documents.paper import Paper
from elumbra.documents.sheet import Sheet, sheets_pdf
from elumbra.documents.sheet_html import sheets_html
from elumbra.storage import clock, deeds
from elumbra.storage.declared import new_id, now
from elumbra.storage.deliveries import keep_paper, kept_paper
from elumbra.storage.kept import sign
from elumbra.storage.kept_records import DeliveryRecord, PaperRecord, SignatureRecord
from elumbra.storage.kept_settings import keep, kept
from elumbra.storage.ledger import StepEvent, note_event
from elumbra.storage.records import PersonRecord
from elumbra.storage.store import jobs
from elumbra.storage.sums import worked_minutes

_MOST_PICTURES = 24


def _nothing(_: HandoverParts) -> list[Missing]:
    return []


_PAPERS: Mapping[PaperName, tuple[str, Callable[[HandoverParts], Sheet], Callable[[HandoverParts], list[Missing]]]] = (
    MappingProxyType(
        {
            PaperName.CARE: ("Care card", sheets.care_sheet, _nothing),
            PaperName.CERTIFICATE: ("Certificate and label", sheets.certificate_sheet, lacks_certificate),
            PaperName.WARRANTY: ("Warranty", sheets.warranty_sheet, lacks_warranty),
            PaperName.INVOICE: ("Invoice", sheets.invoice_sheet, lacks_invoice),
            PaperName.ACKNOWLEDGED: ("Acknowledgements", sheets.acknowledged_sheet, lacks_acknowledged),
            PaperName.RECORD: ("Job record", sheets.record_sheet, _nothing),
        }
    )
)


def handover(session: Session, job_id: str, *, person: PersonRecord) -> HandoverOut:
    """A car about to be handed over.

    Raises
    ------
    CoreError
        It cannot be put together.
    """
    parts = load_handover(session, job_id, person)
    job = parts.look.parts.job
    held = _held(parts)
    ticks = parts.look.bay.runs.progress
    last = parts.handed
    return HandoverOut(
        job_id=job_id,
        version=job.version,
        headline=_headline(parts, held),
        held=held,
        accepts=_accepts(parts),
        let_go=[
            LetGoOut(words=words, person=one.person, at=datetime.fromtimestamp(one.at, UTC))
            for words, one in parts.let_go
        ],
        checklist=[
            CheckOut(
                run=run, key=step.key, words=_check_words(parts, run, step.say), done=step.key in ticks[run].ticks,
                person=ticks[run].ticks[step.key].person if step.key in ticks[run].ticks else "",
            )
            for run, step in parts.checklist()
        ],
        cure_days=parts.cure_days,
        cure_told=(
            "Nobody read the forecast: the longer time is given."
            if not parts.conditions_said
            else "By the forecast that was read in the bay."
        ),
        up_until=parts.up_until,
        normal=list(sheets.NORMAL),
        papers=[_paper(parts, name) for name in _PAPERS],
        signed=SignedOut(name=last.name, how=last.how, at=last.at.replace(tzinfo=UTC)) if last else None,  # type: ignore[arg-type]
        handed_over_on=job.handed_over_on,
        customer=parts.owner.customer,
        lead=person.leads,
    )  # fmt: skip


def _check_words(parts: HandoverParts, run: str, say: str) -> str:
    return say if run == END else f"{parts.look.car.window(run).label}: {say}"


def _headline(parts: HandoverParts, held: list[KeptHereOut]) -> str:
    job = parts.look.parts.job
    if job.handed_over_on:
        who = f" to {parts.handed.name}" if parts.handed else ""
        return f"Handed over{who} on {job.handed_over_on}"
    if held:
        return f"{len(held)} to settle before the car goes"
    return f"The car may go; windows stay up until {parts.up_until:%B} {parts.up_until.day}"


def _held(parts: HandoverParts) -> list[KeptHereOut]:
    """What keeps a car here; nothing once it is gone."""
    if parts.look.parts.job.handed_over_on:
        return []
    held = [
        KeptHereOut(words=one.words, station=one.station, window_id=one.window_id, may_be_let_go=one.may_be_let_go)
        for one in hold_back(parts.look)
    ]
    apart = not_put_back(parts.session, parts.look.car, parts.look.parts)
    if State(parts.look.parts.job.status) not in HERE:
        words = "The car is not in the shop: touch Arrived or Start at the top"
        held.append(KeptHereOut(words=words, station=Station.BAY, window_id=None))
    held += [KeptHereOut(words=f"Not put back: {one}", station=Station.BAY, window_id=None) for one in apart]
    return held


def _accepts(parts: HandoverParts) -> str:
    """What of the quote the signature accepts with the car; empty where nothing is open."""
    version = parts.quoted.open
    if version is None or parts.look.parts.job.handed_over_on:
        return ""
    return f"version {version.number} of the quote" + (f", {dollars(version.total_cents)}" if parts.prices else "")


def _paper(parts: HandoverParts, name: PaperName) -> PaperOut:
    words, _, lacks = _PAPERS[name]
    missing = lacks(parts)
    told = ""
    if name is PaperName.CERTIFICATE and not missing:
        told = f"speaks of {len(parts.labelled)} of {len(parts.filmed)} windows"
    return PaperOut(
        name=name, words=words, ready=not missing, told=told,
        missing=[MissingOut(words=one.words, station=one.station, at=one.at) for one in missing],
    )  # fmt: skip


def paper(session: Session, job_id: str, name: PaperName, size: Paper, *, person: PersonRecord) -> tuple[str, bytes]:
    """A paper, or all that are ready: a name for the file, and the PDF.

    Raises
    ------
    ApiError
        Facts are missing: which, and where to give them.
    """
    parts = load_handover(session, job_id, person)
    delivery = parts.look.parts.delivered
    if name is not PaperName.SET:
        words, _, lacks = _PAPERS[name]
        if missing := lacks(parts):
            told = "; ".join(f"{one.words} (at {one.at})" for one in missing)
            raise ApiError("refused", f"{words} cannot be printed yet. Missing: {told}.")
    # The set has the invoice in it: who sees no prices gets his own.
    if delivery is not None and (parts.prices or name is not PaperName.SET):
        as_it_went = kept_paper(session, delivery.id, name.value, size.value)
        if as_it_went is not None:
            return f"{parts.owner.job.number} {_title(name)}", as_it_went
    return _drawn(parts, name, size)


def _drawn(parts: HandoverParts, name: PaperName, size: Paper) -> tuple[str, bytes]:
    """A paper, or all that are ready: a name for the file, and the PDF."""
    title = f"{parts.owner.job.number} {_title(name)}"
    made = _ready(parts) if name is PaperName.SET else [_PAPERS[name][1](parts)]
    return title, sheets_pdf(made, parts.head, title=f"{title}, {parts.owner.vehicle}", paper=size)


def _title(name: PaperName) -> str:
    return "all papers" if name is PaperName.SET else _PAPERS[name][0]


def _ready(parts: HandoverParts) -> list[Sheet]:
    return [make(parts) for _, make, lacks in _PAPERS.values() if not lacks(parts)]


def customer_file(session: Session, job_id: str, *, person: PersonRecord) -> tuple[str, bytes]:
    """Everything for the customer in one file that needs nothing else: a name, and the HTML."""
    parts = load_handover(session, job_id, person)
    ready = _ready(parts)
    title = f"{parts.owner.job.number} {parts.owner.vehicle}"
    pdf = sheets_pdf(ready, parts.head, title=title)
    pictures = sheets.pictures_sheet(parts, most=_MOST_PICTURES)
    return title, sheets_html([*ready, *([pictures] if pictures else [])], parts.head, title=title, pdf=pdf)


def check(session: Session, job_id: str, body: CheckBody, *, person: PersonRecord) -> str:
    """Tick a line of the checklist in this car's run; the job's id.

    Raises
    ------
    CoreError
        There is no such line.
    """
    parts = load_handover(session, job_id, person)
    if (body.run, body.key) not in {(run, step.key) for run, step in parts.checklist()}:
        raise CoreError("This line is not on the checklist any more. Look again.", fields={"key": "Gone."})
    value = {"steps": [body.key], "level": "step", **({"run": "end"} if body.run == END else {})}
    note_event(
        session,
        StepEvent(
            id=new_id(), job_id=job_id, step=body.key, kind=Happened.TICK.value, happened_at=now(),
            window_id=None if body.run == END else body.run, value=json.dumps(value),
        ),
        person_id=person.id,
    )  # fmt: skip
    return job_id


def hand_over(session: Session, job_id: str, body: SignBody, *, person: PersonRecord) -> str:
    """The customer takes the car and signs for it; the job's id.

    Raises
    ------
    CoreError
        Something keeps the car here, it went already, or nothing was signed.
    StaleWriteError
        Somebody changed the job meanwhile: two sign at once.
    """
    parts = load_handover(session, job_id, person)
    job = parts.look.parts.job
    if job.handed_over_on and job.version == body.version:
        raise CoreError(f"This car was handed over on {job.handed_over_on} already.", fields={"version": "Gone."})
    if held := _held(parts):
        told = "; ".join(one.words for one in held[:5])
        raise CoreError(f"The car cannot go yet. {told}.", fields={"held": f"{len(held)} to settle."})
    if body.how == "signature" and not any(len(stroke) > 1 for stroke in body.signature):
        raise CoreError("Nothing was signed. Sign in the box, or take the paper.", fields={"signature": "Empty."})
    if version := parts.quoted.open:
        accept_version(session, version, name=body.name, how=body.how, strokes=body.signature, person=person)
    freeze_car(session, job_id, person_id=person.id)
    changed = replace(job, version=body.version, handed_over_on=clock.today_iso())
    deeds.do(session, changed, Deed.DELIVER, person_id=person.id, action="handed over")
    signed_for = {
        "windows": {at.window.label: [at.window.film_id, at.fitted.reading] for at in parts.filmed},
        "up_until": parts.up_until.isoformat(),
        "planned_minutes": _planned(parts),
        "worked_minutes": round(worked_minutes(session, job_id), 1),
    }
    sign(
        session,
        SignatureRecord(
            job_id=job_id, what="handover", name=body.name, how=body.how, strokes=body.signature, told=signed_for,
            person_id=person.id,
        ),
    )  # fmt: skip
    _keep_papers(session, load_handover(session, job_id, person))
    return job_id


def freeze_car(session: Session, job_id: str, *, person_id: str, then: ShopCopy | None = None) -> None:
    """Keep a car as it stands, to be read from once it is gone; ``then``: by what the shop said at its upgrade.

    Raises
    ------
    CoreError
        It cannot be put together.
    """
    car, parts, shop = load_car(session, job_id)
    if then is None:
        bay = load_bay(session, car, parts, settings_for(session, None))
        freeze(session, parts, shop, bay, load_quote(session, car, parts), person_id=person_id)
        return
    shop = then.over(shop)
    car = car_of(job_file(parts, shop), shop)
    said = DeliveryRecord(job_id=job_id, number=0, release="", job_file={}, settings=then.settings, person_id=person_id)
    bay = load_bay(session, car, parts, settings_for(session, None, said))
    quoted = load_quote(session, car, parts, prices=prices_of(session, said)[0])
    freeze(session, parts, shop, bay, quoted, person_id=person_id, settings=then.settings)


def _keep_papers(session: Session, parts: HandoverParts) -> None:
    """Every paper that is ready, and all of them in one, as they go with the car."""
    delivery = parts.look.parts.delivered
    if delivery is None:
        return
    whole = replace(parts, prices=True)
    for name in PaperName:
        if name is not PaperName.SET and _PAPERS[name][2](whole):
            continue
        _, drawn = _drawn(whole, name, Paper.LETTER)
        record = PaperRecord(delivery_id=delivery.id, name=name.value, size=Paper.LETTER.value, content=drawn)
        keep_paper(session, record)


def _planned(parts: HandoverParts) -> float:
    """What the runs of the whole car ask for, without what had to be done again [min]."""
    runs = parts.look.bay.runs.progress.values()
    return round(sum(step.minutes for one in runs for step in one.run.steps if not step.again), 1)


def take_back(session: Session, job_id: str, body: TakeBackBody, *, person_id: str) -> str:
    """It was not handed over after all; deed and signature stay on record. The job's id.

    Raises
    ------
    CoreError
        It is here, or nobody said why.
    """
    job = jobs(session).get_present(job_id)
    if job.status != State.DELIVERED:
        raise CoreError("This car was not handed over.", fields={"version": "Still here."})
    changed = replace(job, version=body.version, handed_over_on="")
    deeds.do(
        session, changed, Deed.STEP_BACK, person_id=person_id, reason=body.reason, action="not handed over after all"
    )
    return job_id


def show_letterhead(session: Session) -> LetterheadOut:
    """In whose name papers go out."""
    said, version = kept(session, LETTERHEAD, {})
    return LetterheadOut(
        name=said.get("name", ""), address=said.get("address", ""), contact=said.get("contact", ""), version=version
    )


def keep_letterhead(session: Session, body: LetterheadBody, *, person_id: str) -> str:
    """Say in whose name papers go out."""
    said = {"name": body.name, "address": body.address, "contact": body.contact}
    return keep(session, LETTERHEAD, said, version=body.version, person_id=person_id)
