"""A lead's reason as its screens show it."""

from __future__ import annotations

from pydantic import BaseModel

from elumbra.core.work import ReasonKind


class ReasonOut(BaseModel):
    """A lead's reason for an unlawful film; the verdict stays."""

    id: str
    version: int
    kind: ReasonKind
    words: str
    wish: str
    document: str
    expires_on: str
    note: str
    state: str
    issued_on: str
    no_expiry: bool
    least_percent: float | None
    citation: str
    standing: bool  # given for the film that is chosen now, not run out, and it releases what it was given for
    expired: bool
    uncovered: str  # what an exemption does not cover here, in a sentence
