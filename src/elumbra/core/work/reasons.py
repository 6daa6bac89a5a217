"""Why a film goes on although the law says no: the verdict stays, the reason is printed beside it."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from enum import StrEnum

from elumbra.core.errors import CoreError
from elumbra.core.law import VerdictWord


class ReasonKind(StrEnum):
    """The only reasons a lead can give (handbook, section 9)."""

    MEDICAL_EXEMPTION = "medical_exemption"  # document number and expiry
    OFF_ROAD_OR_SHOW = "off_road_or_show"  # the owner's signed statement
    RULE_LOOKED_UP = "rule_looked_up"  # nothing on file; where the lead looked, and found no bar
    GLASS_NOT_METERED = "glass_not_metered"  # a meter may read under the limit: the lead takes that on
    BARE_GLASS_ASSUMED = "bare_glass_assumed"  # old film still on: the lead takes the glass for granted
    DECLINED_FILM_CHANGED = "declined_film_changed"  # the shop refused; a lawful film goes on instead


KIND_WORDS = {
    ReasonKind.MEDICAL_EXEMPTION: "medical exemption",
    ReasonKind.OFF_ROAD_OR_SHOW: "off-road or show vehicle, owner's statement",
    ReasonKind.RULE_LOOKED_UP: "no rule on file, looked up by the lead",
    ReasonKind.GLASS_NOT_METERED: "glass not metered, the lead takes that on",
    ReasonKind.BARE_GLASS_ASSUMED: "bare glass under old film assumed by the lead",
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
    state: str = ""  # that issued an exemption; empty on reasons of before 2026-12
    issued_on: str = ""
    no_expiry: bool = False  # the document says none
    least: float | None = None  # least light that the document itself asks for, 0 to 1
    citation: str = ""  # where it is written what an exemption covers, where the record does not say
    lapsed: bool = False  # it had run out on the day that counts: the day of the cut, or today


def check_reason(
    reason: Reason,
    *,
    today: str,
    words: Collection[VerdictWord],
    under_old_film: bool = False,
    unmetered: bool = False,
) -> None:
    """Refuse a reason that does not hold, all fields at once.

    Parameters
    ----------
    reason
        What the lead entered.
    today
        ISO day.
    words
        What the states say of the window's film as it stands.
    under_old_film
        Whether that hangs on glass that nobody could meter yet, for old film is on it.
    unmetered
        Whether it is held for a meter may read under the limit on glass that nobody metered.

    Raises
    ------
    CoreError
        ``fields`` names what is missing or past.
    """
    fields = _kind_problems(reason, words, under_old_film, unmetered) | _paper_problems(reason, today)
    if fields:
        raise CoreError(next(iter(fields.values())), fields=fields)


def _kind_problems(
    reason: Reason, words: Collection[VerdictWord], under_old_film: bool, unmetered: bool
) -> dict[str, str]:
    """A kind of reason that the verdicts do not call for."""
    unlawful = any(word.unlawful for word in words)
    if unlawful and reason.kind in _BARRED:
        return {"kind": _BARRED[reason.kind]}
    match reason.kind:
        case ReasonKind.BARE_GLASS_ASSUMED if not under_old_film:
            return {"kind": "Nothing here hangs on glass under old film. Meter it, or go on."}
        case ReasonKind.GLASS_NOT_METERED if not unmetered:
            return {"kind": "Nothing here hangs on a meter: the glass is metered, or the film is far enough over."}
        case ReasonKind.RULE_LOOKED_UP if VerdictWord.NO_RULE not in words:
            return {"kind": "There is a rule on file for this window, so nothing is to be looked up."}
        case ReasonKind.MEDICAL_EXEMPTION | ReasonKind.OFF_ROAD_OR_SHOW if not (
            unlawful or _NEEDS_REASON.intersection(words)
        ):
            return {"kind": "This film is not unlawful here, so it needs no reason."}
    return {}


_BARRED = {
    ReasonKind.DECLINED_FILM_CHANGED: "The film on this window is still unlawful. Change it, then record the wish.",
    ReasonKind.BARE_GLASS_ASSUMED: "Even on the glass as assumed, this film is unlawful. Choose a lighter one.",
    ReasonKind.GLASS_NOT_METERED: "Even on the glass as assumed, this film is unlawful. Choose a lighter one.",
    ReasonKind.RULE_LOOKED_UP: "A rule on file says no: looking it up elsewhere does not change that.",
}


def _paper_problems(reason: Reason, today: str) -> dict[str, str]:
    """What a kind of reason must have in writing, and has not."""
    fields: dict[str, str] = {}
    if reason.kind is ReasonKind.RULE_LOOKED_UP and not reason.document.strip():
        fields["document"] = "Where it was looked up: the section, the page, who was asked and when."
    if reason.kind is ReasonKind.MEDICAL_EXEMPTION:
        if not reason.document.strip():
            fields["document"] = "The number on the exemption, as it stands on the paper."
        if not reason.issued_on:
            fields["issued_on"] = "The day it was issued, as it stands on the paper."
        elif reason.issued_on > today:
            fields["issued_on"] = "It is not issued yet."
        if not reason.state:
            fields["state"] = "The state that issued it."
        if not reason.expires_on and not reason.no_expiry:
            fields["expires_on"] = "The day it expires as it stands on the paper, or say that it names none."
        elif reason.expires_on and reason.expires_on < reason.issued_on:
            fields["expires_on"] = "It expires before it was issued."
        elif reason.expires_on and reason.expires_on < today:
            fields["expires_on"] = f"It expired on {reason.expires_on}. The customer needs a new one."
    if reason.kind is ReasonKind.GLASS_NOT_METERED and not reason.document.strip():
        fields["document"] = "Why it is cut before anybody metered the glass."
    if reason.kind is ReasonKind.OFF_ROAD_OR_SHOW and not reason.document.strip():
        fields["document"] = "Where the owner's signed statement is kept, or its number."
    return fields


_NEEDS_REASON = frozenset({VerdictWord.NO_RULE, VerdictWord.WITHIN_TOLERANCE})


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
    words += f" of {reason.state}" if reason.state else ""
    words += f", issued {reason.issued_on}" if reason.issued_on else ""
    words += f", expires {reason.expires_on}" if reason.expires_on else ""
    words += ", no expiry on the document" if reason.no_expiry and not reason.expires_on else ""
    words += f", at least {100 * reason.least:g} %" if reason.least is not None else ""
    words += f", by {reason.citation}" if reason.citation else ""
    words += f"; {reason.note}" if reason.note else ""
    words += f"; by {reason.person} on {reason.on}" if reason.person else ""
    return words
