"""What hand-over and its papers go by, put together once."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from functools import cached_property

from sqlalchemy.orm import Session

from elumbra.api.base.roles import sees_prices
from elumbra.api.car_view.letterhead import NOBODY, letterhead
from elumbra.api.car_view.view import load_car
from elumbra.car import CarLook, LookedAt, Quoted, load_look, load_quote
from elumbra.core.bay import END, Event, Happened, Phase, RunStep
from elumbra.core.film import Warranty
from elumbra.core.inspection import Certified, Wording
from elumbra.core.work import Station
from elumbra.documents.sheet import Letterhead
from elumbra.storage import clock
from elumbra.storage.finding import FoundJob, owner_of
from elumbra.storage.kept import signatures_of
from elumbra.storage.kept_records import SignatureRecord
from elumbra.storage.records import PersonRecord


@dataclass(frozen=True)
class Missing:
    """A fact that a paper needs, and where it is given."""

    words: str
    station: Station | None
    at: str


@dataclass(frozen=True)
class HandoverParts:
    """A car about to be handed over."""

    session: Session
    look: CarLook
    quoted: Quoted
    owner: FoundJob
    head: Letterhead
    signatures: Sequence[SignatureRecord]
    prices: bool  # whether who asks sees them

    @property
    def ordered(self) -> list[LookedAt]:
        """Windows that get film, in walkaround order."""
        return [at for at in self.look.windows.values() if at.window.film_id is not None]

    @property
    def filmed(self) -> list[LookedAt]:
        """Windows with film on, in walkaround order; what went out of the shop was made, by whatever release."""
        gone = bool(self.look.parts.job.handed_over_on)
        return [at for at in self.ordered if gone or at.made]

    @property
    def let_go(self) -> list[tuple[str, Event]]:
        """What a lead delivered the car without, in words, in walkaround order."""
        found = []
        for window in self.look.car.job.windows:
            for one in self.look.bay.events:
                if one.kind is Happened.LET_GO and one.window_id == window.id:
                    what = [str(one.value.get("film", "")), "old film off" if one.value.get("removal") else ""]
                    words = " and ".join(word for word in what if word)
                    found.append((f"{window.label}, {words}: {one.value.get('reason', '')}", one))
        return found

    @property
    def handed(self) -> SignatureRecord | None:
        """Who took the car; None while it is here."""
        found = [one for one in self.signatures if one.what == "handover"]
        return found[-1] if found and self.look.parts.job.handed_over_on else None

    @property
    def day(self) -> date:
        """The day it goes, or today."""
        return date.fromisoformat(self.look.parts.job.handed_over_on or clock.today_iso())

    @property
    def cure_days(self) -> int:
        """How long windows stay up [days]."""
        return self.look.bay.runs.answer.cure_days

    @property
    def up_until(self) -> date:
        """The day until which windows stay up."""
        return self.day + timedelta(days=self.cure_days)

    @property
    def conditions_said(self) -> bool:
        """Whether anybody said how cold it will be."""
        return self.look.bay.day.outside_low_c is not None

    @cached_property
    def told(self) -> str:
        """Which job, which car, whose."""
        one = self.owner
        words = (str(one.job.number), one.vehicle, one.plate, one.vin, one.customer)
        return " · ".join(word for word in words if word)

    def lot(self, window_id: str) -> str:
        """The lot of a window's film; empty where nobody booked it."""
        mark = self.look.parts.cuts.get(window_id)
        return mark.lot if mark else ""

    def certified(self, window_id: str) -> Certified:
        """What a certificate may say of a window: nothing where the lead's reason put the film on."""
        return self.look.windows[window_id].certified

    @property
    def labelled(self) -> list[LookedAt]:
        """Windows that a certificate speaks of."""
        return [at for at in self.filmed if at.certified.wording is not Wording.NONE]

    def checklist(self) -> list[tuple[str, RunStep]]:
        """What is put back and counted before the car goes, from this car's own run."""
        runs = self.look.bay.runs
        found = [
            (name, step)
            for name in runs.windows
            for step in runs.progress[name].run.steps
            if step.phase is Phase.PUT_BACK and step.step.effects and not step.again
        ]
        return [*found, *((END, step) for step in runs.progress[END].run.steps if step.phase is Phase.CLOSE)]

    @property
    def acknowledged(self) -> list[tuple[str, str]]:
        """What the customer acknowledged: of what, and who."""
        labels = {window.id: window.label for window in self.look.car.job.windows}
        found = [
            (f"{labels.get(window_id, '')}: old film off, a defroster line may lift", str(event.value.get("name", "")))
            for window_id, event in self.look.bay.acknowledged.items()
            if event.kind is Happened.ACKNOWLEDGED
        ]
        for flaw in (one for at in self.filmed for one in at.flaws if one.accepted_by):
            words = self.look.book.flaw(flaw.kind).words
            found.append((f"{labels.get(flaw.window_id, '')}: {words}, accepted", flaw.accepted_by))
        counts = self.quoted.counts
        if counts is not None and counts.accepted_by:
            found.append((f"Quote, version {counts.number}", counts.accepted_by))
        return found


def load_handover(session: Session, job_id: str, person: PersonRecord) -> HandoverParts:
    """A job about to be handed over, for who asks.

    Raises
    ------
    CoreError
        Its car cannot be put together.
    """
    car, parts, _ = load_car(session, job_id)
    look = load_look(session, car, parts)
    owner = owner_of(session, job_id)
    assert owner is not None
    head, signed = letterhead(session, parts.delivered), signatures_of(session, job_id)
    prices = sees_prices(person.role, person.facts)
    return HandoverParts(session, look, load_quote(session, car, parts), owner, head, signed, prices)


def lacks_name(parts: HandoverParts) -> list[Missing]:
    """Who the papers are from and for."""
    found = []
    if parts.head.shop == NOBODY:
        found.append(Missing("the shop’s name", None, "Shop"))
    if not parts.owner.customer:
        found.append(Missing("the customer’s name", Station.HANDOVER, "Handover"))
    return found


def lacks_car(parts: HandoverParts) -> list[Missing]:
    """What tells this car from others."""
    if parts.owner.plate or parts.owner.vin:
        return []
    return [Missing("the car’s plate or VIN", Station.HANDOVER, "Handover")]


def _lacks_film(parts: HandoverParts) -> list[Missing]:
    """Film on the car, chosen or on already."""
    if parts.filmed:
        return []
    if parts.ordered:
        return [Missing("no film is on this car yet", Station.BAY, "Bay")]
    return [Missing("no film is on this car", Station.SHADE, "Shade")]


def lacks_certificate(parts: HandoverParts) -> list[Missing]:
    """What a certificate needs: a name, a car, and at least one window that it may speak of."""
    found = [*lacks_name(parts), *lacks_car(parts)]
    if not parts.labelled:
        found += [
            Missing(f"{at.window.label}: {at.certified.why.split(':')[0]}", Station.LOOK, "Look")
            for at in parts.ordered
        ]
        found += _lacks_film(parts)
    return found


def lacks_warranty(parts: HandoverParts) -> list[Missing]:
    """What a warranty needs: void unless lot and car are on record."""
    found = [*lacks_name(parts), *lacks_car(parts)]
    found += _lacks_film(parts)
    found += [
        Missing(f"{at.window.label}: the film’s lot", Station.CUT, "Cut")
        for at in parts.ordered
        if not parts.lot(at.window.id)
    ]
    films = {at.window.film_id: parts.look.car.job.films[at.window.film_id or ""] for at in parts.ordered}
    return found + [
        Missing(f"{film.name}: what its maker promises", None, "Films")
        for film in films.values()
        if film.warranty is Warranty.UNKNOWN
    ]


def lacks_invoice(parts: HandoverParts) -> list[Missing]:
    """What an invoice needs: what was accepted, that nothing of it was done otherwise, and somebody who sees prices."""
    if not parts.prices:
        return [Missing("somebody who sees prices", None, "People")]
    found = lacks_name(parts)
    counts = parts.quoted.counts
    if counts is None or counts.status != "accepted":
        found.append(Missing("an accepted quote", Station.QUOTE, "Quote"))
    elif parts.quoted.unsettled:
        found.append(Missing(f"a change that is not accepted: {parts.quoted.unsettled[0]}", Station.QUOTE, "Quote"))
    return found


def lacks_acknowledged(parts: HandoverParts) -> list[Missing]:
    """Whether anything was acknowledged at all."""
    return [] if parts.acknowledged else [Missing("nothing was acknowledged on this car", None, "Handover")]
