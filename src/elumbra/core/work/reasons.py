"""Why a film goes on although the law says no: the verdict stays, the reason is printed beside it."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from elumbra.core.errors import CoreError


class ReasonKind(StrEnum):
    """The only reasons a lead can give (handbook, section 9)."""

    MEDICAL_EXEMPTION = "medical_exemption"  # document number and expiry
    OFF_ROAD_OR_SHOW = "off_road_or_show"  # the owner's signed statement
    DECLINED_FILM_CHANGED = "declined_film_changed"  # the shop refused; a lawful film goes on instead


KIND_WORDS = {
    ReasonKind.MEDICAL_EXEMPTION: "medical exemption",
    ReasonKind.OFF_ROAD_OR_SHOW: "off-road or show vehicle, owner's statement",
    ReasonKind.DECLINED_FILM_CHANGED: "customer declined, film changed",
}


@dataclass(frozen=True)
class Reason:
    """A lead's reason for one window and one film; days as ISO text."""

    kind: ReasonKind
    film_id: str  # what it was given for; another film needs another reason
    wish: str  # the unlawful wish in words, with its verdict
    document: str = ""
    expires_on: str = ""
    note: str = ""
    person: str = ""
    on: str = ""  # day it was given


def check_reason(reason: Reason, *, today: str, unlawful_now: bool) -> None:
    """Refuse a reason that does not hold, all fields at once.

    Parameters
    ----------
    reason
        What the lead entered.
    today
        ISO day.
    unlawful_now
        Whether the window's film is Too dark or Not allowed as it stands.

    Raises
    ------
    CoreError
        ``fields`` names what is missing or past.
    """
    fields: dict[str, str] = {}
    if reason.kind is ReasonKind.DECLINED_FILM_CHANGED:
        if unlawful_now:
            fields["kind"] = "The film on this window is still unlawful. Change it first, then record the wish."
    elif not unlawful_now:
        fields["kind"] = "This film is not unlawful here, so it needs no reason."
    if reason.kind is ReasonKind.MEDICAL_EXEMPTION:
        if not reason.document.strip():
            fields["document"] = "The number on the exemption, as it stands on the paper."
        if not reason.expires_on:
            fields["expires_on"] = "The day it expires, as it stands on the paper."
        elif reason.expires_on < today:
            fields["expires_on"] = f"It expired on {reason.expires_on}. The customer needs a new one."
    if reason.kind is ReasonKind.OFF_ROAD_OR_SHOW and not reason.document.strip():
        fields["document"] = "Where the owner's signed statement is kept, or its number."
    if fields:
        raise CoreError(next(iter(fields.values())), fields=fields)


def goes_on_with(reason: Reason | None, film_id: str | None) -> bool:
    """Whether an unlawful film may go on by this reason."""
    return reason is not None and reason.kind is not ReasonKind.DECLINED_FILM_CHANGED and reason.film_id == film_id


def has_expired(reason: Reason, *, today: str) -> bool:
    """Whether a reason's document has run out."""
    return bool(reason.expires_on) and reason.expires_on < today


def reason_words(reason: Reason) -> str:
    """A reason as it stands on every paper.

    Examples
    --------
    >>> reason_words(Reason(ReasonKind.MEDICAL_EXEMPTION, "f", "w", "M-71", "2027-05-01", "", "A. Lead", "2026-11-24"))
    'medical exemption, document M-71, expires 2027-05-01; by A. Lead on 2026-11-24'
    """
    words = KIND_WORDS[reason.kind]
    words += f", document {reason.document}" if reason.document else ""
    words += f", expires {reason.expires_on}" if reason.expires_on else ""
    words += f"; {reason.note}" if reason.note else ""
    words += f"; by {reason.person} on {reason.on}" if reason.person else ""
    return words
