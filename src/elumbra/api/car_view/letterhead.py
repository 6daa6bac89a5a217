"""In whose name papers go out."""

from __future__ import annotations

from sqlalchemy.orm import Session

from elumbra.documents.sheet import Letterhead
from elumbra.storage.kept_settings import kept

LETTERHEAD = "letterhead"
NOBODY = "This shop"


def letterhead(session: Session) -> Letterhead:
    """The shop's name and address, as it said them at Shop."""
    said, _ = kept(session, LETTERHEAD, {})
    lines = [one for one in (said.get("address", ""), said.get("contact", "")) if one]
    return Letterhead(str(said.get("name") or NOBODY), lines)
