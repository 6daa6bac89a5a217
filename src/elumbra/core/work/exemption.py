"""Whether a document of a medical exemption covers a window's film: by the state's own record, not by a number."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

from elumbra.core.errors import CoreError
from elumbra.core.law import FloorKind, Grants, Means, State, Verdict
from elumbra.core.work.reasons import Reason, ReasonKind

_UNCITED = "is not on file. The lead says where it is written"


def releases_by_itself(verdict: Verdict) -> bool:
    """Whether the law's answer alone lets the film be cut."""
    whole = verdict.whole
    return whole.state is State.KEPT and (not whole.within or verdict.works_inside)


def uncovered(verdict: Verdict, reason: Reason) -> str:
    """Why an exemption does not release one state's answer, in a sentence; empty where it does.

    It speaks of darkness alone: colour, mirror, tolerance of a strip's depth and what no record tells are judged as
    before. What the record does not say is asked of the lead, who cites it.

    Parameters
    ----------
    verdict
        The state's answer on the film as it stands.
    reason
        The document, applied to this window.
    """
    rule, name = verdict.law.exemption, verdict.law.name
    cover = rule.at(verdict.position)
    if not reason.document.strip() or not (reason.expires_on or reason.no_expiry):
        return "The exemption’s number or the day it expires was not read."
    if reason.lapsed:
        return f"The exemption {reason.document} expired on {reason.expires_on}."
    if reason.state and reason.state != verdict.law.code:
        return f"The exemption {reason.document} is of {reason.state}, not of {verdict.law.code}."
    if rule.grants is Grants.NO:
        return f"{name} grants no medical exemption by the record. The lead changes that in the rule book, if it does."
    if rule.means is Means.DEVICE:
        return f"In {name} the exemption is for a removable device, not for film."
    if rule.issued_until and not "" < reason.issued_on <= rule.issued_until:
        return f"{name} honors exemptions issued until {rule.issued_until} only."
    if beside := _beside_light(verdict):
        return f"An exemption speaks of darkness alone. {beside}"
    place = verdict.position.value.replace("_", " ") if verdict.position else "glass"
    if cover.kind is FloorKind.NONE_ALLOWED:
        return f"In {name} the exemption does not cover the {place}."
    if not reason.citation.strip() and (cover.kind is FloorKind.UNKNOWN or rule.grants is Grants.UNKNOWN):
        return f"What an exemption covers at the {place} in {name} {_UNCITED}."
    return _too_dark(verdict, cover.value, name) or _too_dark(verdict, reason.least, "the document")


def check_covered(reason: Reason, verdicts: Iterable[Verdict], label: str) -> None:
    """Refuse a document that releases no answer of its window.

    Raises
    ------
    CoreError
        ``fields`` names the citation where that is all that is missing.
    """
    if reason.kind is not ReasonKind.MEDICAL_EXEMPTION:
        return
    told = [(one, uncovered(one, reason)) for one in verdicts if not releases_by_itself(one)]
    if any(not why for _, why in told):
        return
    for one, why in told:
        cited = replace(reason, citation="?")
        field = "citation" if asks_citation(one) and not uncovered(one, cited) else "document"
        raise CoreError(f"{label}: {why}", fields={field: why})
    raise CoreError(f"{label}: this film is not unlawful here, so it needs no reason.", fields={"also": "Lawful."})


def asks_citation(verdict: Verdict) -> bool:
    """Whether the record leaves open what an exemption covers here, so that the lead has to cite it."""
    rule = verdict.law.exemption
    open_here = rule.at(verdict.position).kind is FloorKind.UNKNOWN or rule.grants is Grants.UNKNOWN
    return open_here and rule.grants is not Grants.NO and rule.means is not Means.DEVICE


def _beside_light(verdict: Verdict) -> str:
    """What is not kept besides the least light: its sentence, or nothing."""
    if verdict.rules is None:
        return "Nothing is on file for this glass."
    for clause, one in zip(verdict.rules.clauses, verdict.found, strict=True):
        if one.state is not State.KEPT and clause.id != "floor" and one.light is None:
            return one.words
    return ""


def _too_dark(verdict: Verdict, least: float | None, by: str) -> str:
    if least is None:
        return ""
    if verdict.passes is None:
        return f"By {by} at least {100 * least:g} % must be left under the exemption, and nobody knows how much is."
    if verdict.passes >= least:
        return ""
    return f"Under the exemption at least {100 * least:g} % must be left by {by}; this is {100 * verdict.passes:.1f} %."
